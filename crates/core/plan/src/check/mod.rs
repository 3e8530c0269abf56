//! Whether a plan that can be read is a good one: what a person who adds it should be told.
//!
//! Every check walks the plan and reports by path; the report knows the lines.

mod keys;
mod line;
mod loads;
mod pieces;

use super::document::Plan;
use crate::toml_reader::FaultReport;
use std::collections::{BTreeMap, BTreeSet};

/// Runs every check, so that all faults come at once. Where something could not be read, only what
/// does not depend on it is judged.
pub(super) fn plan(plan: &Plan, report: &FaultReport) {
    let whole = every_operation(plan, report);
    if whole && report.counts("fastener", plan.specs.len()) {
        keys::check(plan, report);
        pieces::check(plan, report);
    }
    if report.is_sound("fastener") && report.is_sound("lubricant") {
        loads::check(plan, report);
    }
    if whole {
        line::check(plan, report);
    }
}

/// Whether every operation of the document could be read, those that are repeated among them.
fn every_operation(plan: &Plan, report: &FaultReport) -> bool {
    let mut lists: BTreeMap<&str, BTreeSet<&str>> = BTreeMap::from([("operation", BTreeSet::new())]);
    for operation in &plan.operations {
        let mut path = operation.written.as_str();
        while let Some(start) = path.rfind('[') {
            lists.entry(&path[..start]).or_default().insert(path);
            path = path[..start].trim_end_matches(".step");
        }
    }
    lists.iter().all(|(list, items)| report.counts(list, items.len()))
}
