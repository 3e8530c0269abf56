//! The build sequence as a route: what comes after what, and what can be done in parallel.

use super::document::Plan;
use super::index::OperationIx;

/// One row of the route: an operation, or a repeat with all of its own.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RouteRow {
    /// Its operations.
    pub operations: Vec<OperationIx>,
    /// Its place on the route, from 1. Rows that follow each other and wait for none of each other share one: they
    /// can be done in parallel.
    pub place: usize,
    /// The first place where everything is done that it waits for: it can be done from there on.
    pub earliest: usize,
}

impl Plan {
    /// The build sequence as a route, in the order of the plan.
    pub fn route(&self) -> Vec<RouteRow> {
        let rows = rows(self);
        let places = places(&needs(self, &rows));
        let route = rows.into_iter().zip(places);
        route.map(|(operations, (place, earliest))| RouteRow { operations, place, earliest }).collect()
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

/// The rows before it that each row waits for directly.
fn needs(plan: &Plan, rows: &[Vec<OperationIx>]) -> Vec<Vec<usize>> {
    let row_of = |at: OperationIx| rows.iter().position(|row| row.contains(&at));
    let needs = |(at, row): (usize, &Vec<OperationIx>)| {
        let all = row.iter().flat_map(|of| &plan[*of].needs).filter_map(|need| row_of(*need));
        all.filter(|need| *need < at).collect()
    };
    rows.iter().enumerate().map(needs).collect()
}

/// The place of each row, and the earliest that it could have.
fn places(needs: &[Vec<usize>]) -> Vec<(usize, usize)> {
    let mut places: Vec<(usize, usize)> = Vec::new();
    for of in needs {
        let last = places.last().map_or(1, |(place, _)| *place);
        let earliest = of.iter().map(|need| places[*need].0 + 1).max().unwrap_or(1);
        places.push((earliest.max(last), earliest));
    }
    places
}

#[cfg(test)]
mod tests {
    use super::places;

    #[test]
    fn rows_that_wait_for_none_of_each_other_share_a_place_on_the_route() {
        // 0 splits into 1 and 2, which meet in 3; 4 waits for nothing; 5 waits for both.
        let needs = [vec![], vec![0], vec![0], vec![1, 2], vec![], vec![3, 4]];
        assert_eq!(places(&needs), [(1, 1), (2, 2), (2, 2), (3, 3), (3, 1), (4, 4)]);
        // One after the other: a place each.
        assert_eq!(places(&[vec![], vec![0], vec![1]]), [(1, 1), (2, 2), (3, 3)]);
        // What could be done long before stands where the plan has it, and says from where on.
        assert_eq!(places(&[vec![], vec![0], vec![1], vec![0]]), [(1, 1), (2, 2), (3, 3), (3, 2)]);
    }
}
