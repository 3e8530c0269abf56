//! Reading what makes something be done again.

use super::parts::{joints_among, slots_among};
use crate::document::Plan;
use crate::index::JointIx;
use crate::rework::{ReworkCause, ReworkTrigger};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;

const WHEN: [(&str, ReworkTrigger); 3] = [
    ("loosened", ReworkTrigger::Loosened),
    ("replaced", ReworkTrigger::Replaced),
    ("apart", ReworkTrigger::Apart),
];

/// The `again` of a table: fasteners of a joint, or a slot.
pub(super) fn again(table: &TomlTable<'_>, plan: &Plan) -> Vec<ReworkCause> {
    table.tables("again").iter().flat_map(|cause| causes(cause, plan)).collect()
}

fn causes(table: &TomlTable<'_>, plan: &Plan) -> Vec<ReworkCause> {
    let causes = if table.has("part") {
        slots_among(table, "part", plan).into_iter().map(ReworkCause::Part).collect()
    } else {
        let when = table.choice("when", &WHEN).unwrap_or(ReworkTrigger::Loosened);
        let fasteners = table.texts("fasteners");
        let of = |joint: usize| {
            let planned = &plan.joints[joint];
            let only = fasteners.iter().filter_map(|id| {
                let found = planned.fastener(id);
                if found.is_none() {
                    table.error("fasteners", message!("read-has-no-fastener", id));
                }
                found
            });
            ReworkCause::Fasteners { joint: JointIx(joint), only: only.collect(), when }
        };
        joints_among(table, "joint", plan).into_iter().map(of).collect()
    };
    table.finish();
    causes
}
