//! The line of work as it is drawn: one row for each operation or repeat, on rails that say what may run beside
//! what.

use super::standing::{OperationStatus, OperationView};
use super::state::State;
use crate::plan::{OperationIx, Plan, Stand};
use serde::Serialize;
use std::collections::BTreeSet;

/// One row of the line of work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RouteRow {
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
    pub stand: Option<Stand>,
    /// The rail that it lies on, from 0.
    pub rail: usize,
    /// Rails that come to it from above.
    pub from: Vec<Rail>,
    /// Rails that go on from it below.
    pub to: Vec<Rail>,
    /// Rails that pass it by.
    pub past: Vec<Rail>,
}

/// A rail at one row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rail {
    /// Which, from 0.
    pub rail: usize,
    /// Whether what it comes from is done.
    pub done: bool,
}

/// How much of an engine is left.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Left {
    /// Operations that are not signed.
    pub operations: usize,
    /// Steps in them that are not done.
    pub steps: usize,
}

/// The rows of a plan: operations, and repeats as one each.
fn rows(plan: &Plan) -> Vec<Vec<OperationIx>> {
    let mut rows: Vec<Vec<OperationIx>> = Vec::new();
    let repeat = |at: OperationIx| plan[at].member.map(|member| member.repeat);
    for at in plan.line() {
        match rows.last_mut().filter(|row| repeat(at).is_some() && repeat(row[0]) == repeat(at)) {
            Some(row) => row.push(at),
            None => rows.push(vec![at]),
        }
    }
    rows
}

/// What each row waits for, without what follows from the rest.
fn needs(plan: &Plan, rows: &[Vec<OperationIx>]) -> Vec<Vec<usize>> {
    let row_of = |at: OperationIx| rows.iter().position(|row| row.contains(&at));
    let mut behind: Vec<BTreeSet<usize>> = Vec::new();
    let mut needs = Vec::new();
    for (at, row) in rows.iter().enumerate() {
        let direct: BTreeSet<usize> = row
            .iter()
            .flat_map(|of| &plan[*of].needs)
            .filter_map(|need| row_of(*need))
            .filter(|n| *n < at)
            .collect();
        let through: BTreeSet<usize> = direct.iter().flat_map(|need| behind[*need].iter().copied()).collect();
        needs.push(direct.difference(&through).copied().collect());
        behind.push(direct.union(&through).copied().collect());
    }
    needs
}

/// The rail of each row: it goes on on the rail of something that it waits for, where that rail is free.
fn rails(needs: &[Vec<usize>]) -> Vec<usize> {
    let last_use = |row: usize| needs.iter().rposition(|of| of.contains(&row)).unwrap_or(row);
    // By rail: the row that it leads on from.
    let mut open: Vec<Option<usize>> = Vec::new();
    let mut rails: Vec<usize> = Vec::new();
    for (row, of) in needs.iter().enumerate() {
        let own = of
            .iter()
            .map(|need| rails[*need])
            .filter(|rail| open[*rail].is_some_and(|tip| of.contains(&tip)));
        let rail = own.min().or_else(|| open.iter().position(Option::is_none)).unwrap_or(open.len());
        if rail == open.len() {
            open.push(None);
        }
        open[rail] = Some(row);
        rails.push(rail);
        for tip in &mut open {
            if tip.is_some_and(|tip| last_use(tip) <= row && tip != row) {
                *tip = None;
            }
        }
    }
    rails
}

impl State {
    /// The line of work as it is drawn.
    pub(super) fn route(&self, operations: &[OperationView]) -> Vec<RouteRow> {
        let plan = &self.plan;
        let rows = rows(plan);
        let needs = needs(plan, &rows);
        let rails = rails(&needs);
        let done =
            |row: &[OperationIx]| row.iter().all(|at| operations[at.0].status == OperationStatus::Done);
        let done: Vec<bool> = rows.iter().map(|row| done(row)).collect();
        // From a row to a later one: along the rail of the later one where that begins with it, else along its own.
        let mut drawn = vec![Drawn::default(); rows.len()];
        for (row, of) in needs.iter().enumerate() {
            for need in of {
                let begins = !of.iter().any(|other| rails[*other] == rails[row]) && of.first() == Some(need);
                let rail = if begins { rails[row] } else { rails[*need] };
                let rail = Rail { rail, done: done[*need] };
                put(&mut drawn[row].from, rail);
                put(&mut drawn[*need].to, rail);
                for past in drawn.iter_mut().take(row).skip(need + 1) {
                    put(&mut past.past, rail);
                }
            }
        }
        let mut stood = None;
        let row = |(at, (row, drawn)): (usize, (&Vec<OperationIx>, Drawn))| {
            let views: Vec<&OperationView> = row.iter().map(|of| &operations[of.0]).collect();
            let repeat = plan.repeat(row[0]);
            let stand = row
                .iter()
                .find_map(|of| plan[*of].stand)
                .filter(|stand| stood.replace(*stand) != Some(*stand));
            RouteRow {
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
                rail: rails[at],
                from: drawn.from,
                to: drawn.to,
                past: drawn.past,
            }
        };
        rows.iter().zip(drawn).enumerate().map(row).collect()
    }

    /// How much is left.
    pub(super) fn left(operations: &[OperationView]) -> Left {
        let open = operations.iter().filter(|view| view.signed_by.is_none());
        Left {
            operations: open.clone().count(),
            steps: open.map(|view| view.total - view.done.min(view.total)).sum(),
        }
    }
}

/// The rails of one row.
#[derive(Debug, Clone, Default)]
struct Drawn {
    from: Vec<Rail>,
    to: Vec<Rail>,
    past: Vec<Rail>,
}

fn put(list: &mut Vec<Rail>, rail: Rail) {
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

#[cfg(test)]
mod tests {
    use super::rails;

    #[test]
    fn what_may_run_beside_something_lies_on_a_rail_of_its_own_and_comes_together_again() {
        // 0 splits into 1 and 2, which meet in 3; 4 stands alone until 5.
        let needs = [vec![], vec![0], vec![0], vec![1, 2], vec![], vec![3, 4]];
        assert_eq!(rails(&needs), [0, 0, 1, 0, 1, 0]);
        // One after the other: one rail.
        assert_eq!(rails(&[vec![], vec![0], vec![1]]), [0, 0, 0]);
        // A long way round keeps its rail until it is met.
        assert_eq!(rails(&[vec![], vec![0], vec![0], vec![2], vec![1, 3]]), [0, 0, 1, 1, 0]);
    }
}
