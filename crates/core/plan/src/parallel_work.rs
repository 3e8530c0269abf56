//! The line of work as rails: what may run beside what.

use super::document::Plan;
use super::index::OperationIx;
use std::collections::BTreeSet;

/// One row of the line of work: an operation, or a repeat with all of its own.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RailRow {
    /// Its operations.
    pub operations: Vec<OperationIx>,
    /// The rail that it lies on, from 0.
    pub rail: usize,
    /// Rails that come to it from above.
    pub from: Vec<RailLink>,
    /// Rails that go on from it below.
    pub to: Vec<RailLink>,
    /// Rails that pass it by.
    pub past: Vec<RailLink>,
}

/// A rail at one row.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct RailLink {
    /// Which, from 0.
    pub rail: usize,
    /// The row that it comes from.
    pub of: usize,
}

impl Plan {
    /// The line of work as rails.
    pub fn rails(&self) -> Vec<RailRow> {
        let rows = rows(self);
        let needs = needs(self, &rows);
        let rails = rails(&needs);
        let bare = rows.into_iter().zip(&rails);
        let (from, to, past) = (Vec::new(), Vec::new(), Vec::new());
        let mut drawn: Vec<RailRow> = bare
            .map(|(operations, rail)| RailRow {
                operations,
                rail: *rail,
                from: from.clone(),
                to: to.clone(),
                past: past.clone(),
            })
            .collect();
        // From a row to a later one: along the rail of the later one where that begins with it, else along its own.
        for (row, of) in needs.iter().enumerate() {
            for need in of {
                let begins = !of.iter().any(|other| rails[*other] == rails[row]) && of.first() == Some(need);
                let rail = if begins { rails[row] } else { rails[*need] };
                let link = RailLink { rail, of: *need };
                drawn[row].from.push(link);
                drawn[*need].to.push(link);
                for between in drawn.iter_mut().take(row).skip(need + 1) {
                    between.past.push(link);
                }
            }
        }
        drawn
    }
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
