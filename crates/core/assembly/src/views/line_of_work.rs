//! The build sequence as a route: one row for each operation or repeat, with what can be done in parallel.

use crate::state::BuildState;
use crate::status::operations::{OperationStatus, OperationView};
use rigore_plan::{EngineStand, RouteRow};
use serde::Serialize;

/// One row of the route.
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
    /// Its place on the route, from 1. Rows that share one can be done in parallel.
    pub place: usize,
    /// The first place where everything is done that it waits for.
    pub earliest: usize,
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
    /// The build sequence as a route.
    pub(crate) fn line_of_work(&self, operations: &[OperationView]) -> Vec<SequenceRow> {
        let plan = &self.plan;
        let mut stood = None;
        let row = |route: RouteRow| {
            let row = &route.operations;
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
                place: route.place,
                earliest: route.earliest,
            }
        };
        plan.route().into_iter().map(row).collect()
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
