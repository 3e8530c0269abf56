//! Reading the line of work: operations and repeats, what they need, and where clearances are judged.

use super::operation::operation;
use super::repeat;
use crate::document::{Operation, OperationWork, Plan};
use crate::index::{OperationIx, SiteIx};
use crate::sites::Clearance;
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;

pub(super) fn operations(top: &TomlTable<'_>, plan: &mut Plan) {
    let tables = top.tables("operation");
    if tables.is_empty() {
        top.error("operation", message!("read-plan-has-at-least-one-operation"));
    }
    // The tables that say what an operation needs, with those that it needs besides.
    let mut needing: Vec<(TomlTable<'_>, Vec<OperationIx>)> = Vec::new();
    for table in &tables {
        if table.word("kind") == "repeat" {
            needing.extend(repeat::repeat(table, plan));
        } else if let Some(operation) = operation(table, plan) {
            plan.operations.push(operation);
            needing.push((table.clone(), Vec::new()));
        }
    }
    let known = repeat::KnownNames::of(plan);
    for (at, (table, besides)) in needing.into_iter().enumerate() {
        let named = known.needs(&table);
        plan.operations[at].needs = named.into_iter().chain(besides).collect();
        plan.operations[at].needs.dedup();
    }
    for table in &tables {
        table.finish();
    }
    for at in 0..plan.clearances.len() {
        plan.clearances[at].judged_in = judged_in(&plan.clearances[at], plan);
    }
}

/// By member of a clearance: the last operation that measures something which it is computed from.
fn judged_in(clearance: &Clearance, plan: &Plan) -> Vec<Option<OperationIx>> {
    let last = |member: usize| {
        let sites: Vec<SiteIx> =
            clearance.families().filter_map(|family| plan.member(family, member)).collect();
        let measures = |operation: &Operation| match &operation.work {
            OperationWork::Measure(measured) => measured.iter().any(|site| sites.contains(site)),
            _ => false,
        };
        plan.operations.iter().rposition(measures).map(OperationIx)
    };
    (0..plan.members(clearance)).map(last).collect()
}
