//! Whether a plan that can be read is a good one: what a person who adds it should be told.
//!
//! Every check walks the plan and reports by path; the report knows the lines.

mod keys;
mod line;
mod loads;
mod pieces;

use super::document::Plan;
use crate::document::Report;

/// Runs every check, so that all faults come at once. Where something could not be read, only what
/// does not depend on it is judged.
pub(super) fn plan(plan: &Plan, report: &Report) {
    let whole = report.counts("operation", plan.operations.len());
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
