//! The line of work as it is drawn: one row for each operation or repeat, on rails that say what may run beside
//! what.

use crate::state::BuildState;
use crate::status::operations::{OperationStatus, OperationView};
use rigore_plan::{EngineStand, RailLink, RailRow};
use serde::Serialize;

/// One row of the line of work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SequenceRow {
    /// Key of the operation, or of the repeat.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What a repeat goes by, where it is one: `cylinder`.
    pub by: Option<String>,
    /// Keys of its operations; one where it is no repeat.
    pub operations: Vec<String>,
    /// Where it stands: a repeat as the operation of it that is to be done first.
    pub status: OperationStatus,
    /// Operations of it that are signed.
    pub signed: usize,
    /// Steps done.
    pub done: usize,
    /// Steps in all.
    pub total: usize,
    /// Keys of the operations of a repeat that one signature can cover now, the last of them last: all of it is done.
    pub signs: Vec<String>,
    /// How the engine stands for it, where that changes here.
    pub stand: Option<EngineStand>,
    /// The rail that it lies on, from 0.
    pub rail: usize,
    /// Rails that come to it from above.
    pub from: Vec<SequenceRail>,
    /// Rails that go on from it below.
    pub to: Vec<SequenceRail>,
    /// Rails that pass it by.
    pub past: Vec<SequenceRail>,
}

/// A rail at one row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SequenceRail {
    /// Which, from 0.
    pub rail: usize,
    /// Whether what it comes from is done.
    pub done: bool,
}

/// How much of an engine is left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RemainingCounts {
    /// Operations that are not signed.
    pub operations: usize,
    /// Steps in them that are not done.
    pub steps: usize,
}

impl BuildState {
    /// The line of work as it is drawn.
    pub(crate) fn line_of_work(&self, operations: &[OperationView]) -> Vec<SequenceRow> {
        let plan = &self.plan;
        let rows = plan.rails();
        let done =
            |row: &RailRow| row.operations.iter().all(|at| operations[at.0].status == OperationStatus::Done);
        let done: Vec<bool> = rows.iter().map(done).collect();
        let rails = |links: &[RailLink]| {
            let mut all = Vec::new();
            for link in links {
                put(&mut all, SequenceRail { rail: link.rail, done: done[link.of] });
            }
            all
        };
        let mut stood = None;
        let row = |drawn: &RailRow| {
            let row = &drawn.operations;
            let views: Vec<&OperationView> = row.iter().map(|of| &operations[of.0]).collect();
            let repeat = plan.repeat(row[0]);
            let stand = row
                .iter()
                .find_map(|of| plan[*of].stand)
                .filter(|stand| stood.replace(*stand) != Some(*stand));
            SequenceRow {
                id: repeat.map_or(&plan[row[0]].id, |repeat| &repeat.id).clone(),
                name: repeat.map_or(&plan[row[0]].name, |repeat| &repeat.name).clone(),
                by: repeat.map(|repeat| repeat.by.clone()),
                operations: views.iter().map(|view| view.id.clone()).collect(),
                status: status(&views),
                signed: views.iter().filter(|view| view.signed_by.is_some()).count(),
                done: views.iter().map(|view| view.done).sum(),
                total: views.iter().map(|view| view.total).sum(),
                signs: if repeat.is_some_and(|repeat| repeat.signed_once) {
                    signs(&views)
                } else {
                    Vec::new()
                },
                stand,
                rail: drawn.rail,
                from: rails(&drawn.from),
                to: rails(&drawn.to),
                past: rails(&drawn.past),
            }
        };
        rows.iter().map(row).collect()
    }

    /// How much is left.
    pub(crate) fn left(operations: &[OperationView]) -> RemainingCounts {
        let open = operations.iter().filter(|view| view.signed_by.is_none());
        RemainingCounts {
            operations: open.clone().count(),
            steps: open.map(|view| view.total - view.done.min(view.total)).sum(),
        }
    }
}

fn put(list: &mut Vec<SequenceRail>, rail: SequenceRail) {
    match list.iter_mut().find(|known| known.rail == rail.rail) {
        Some(known) => known.done &= rail.done,
        None => list.push(rail),
    }
}

/// What is left to sign of operations of which all are done.
fn signs(views: &[&OperationView]) -> Vec<String> {
    use OperationStatus::{Done, ToSign};
    if !views.iter().all(|view| matches!(view.status, Done | ToSign)) {
        return Vec::new();
    }
    views.iter().filter(|view| view.status == ToSign).map(|view| view.id.clone()).collect()
}

/// Where a row stands: as what of it is to be done first.
fn status(views: &[&OperationView]) -> OperationStatus {
    use OperationStatus::{Done, Held, InWork, Ready, ToSign, Waiting};
    let has = |wanted: OperationStatus| views.iter().any(|view| view.status == wanted);
    let begun = views.iter().any(|view| view.done > 0 || view.signed_by.is_some());
    match () {
        () if has(Held) => Held,
        () if has(InWork) => InWork,
        () if has(Ready) && begun => InWork,
        () if has(Ready) => Ready,
        () if has(ToSign) => ToSign,
        () if has(Waiting) => Waiting,
        () => Done,
    }
}
