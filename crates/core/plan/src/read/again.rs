//! Reading what makes something be done again.

use super::parts::{joints_among, slots_among};
use crate::again::{Cause, When};
use crate::document::Plan;
use crate::index::JointIx;
use crate::toml_reader::Table;

const WHEN: [(&str, When); 3] =
    [("loosened", When::Loosened), ("replaced", When::Replaced), ("apart", When::Apart)];

/// The `again` of a table: fasteners of a joint, or a slot.
pub(super) fn again(table: &Table<'_>, plan: &Plan) -> Vec<Cause> {
    table.tables("again").iter().flat_map(|cause| causes(cause, plan)).collect()
}

fn causes(table: &Table<'_>, plan: &Plan) -> Vec<Cause> {
    let causes = if table.has("part") {
        slots_among(table, "part", plan).into_iter().map(Cause::Part).collect()
    } else {
        let when = table.choice("when", &WHEN).unwrap_or(When::Loosened);
        let fasteners = table.texts("fasteners");
        let of = |joint: usize| {
            let planned = &plan.joints[joint];
            let only = fasteners.iter().filter_map(|id| {
                let found = planned.fastener(id);
                if found.is_none() {
                    table.error("fasteners", format!("`{}` has no fastener `{id}`", planned.id));
                }
                found
            });
            Cause::Fasteners { joint: JointIx(joint), only: only.collect(), when }
        };
        joints_among(table, "joint", plan).into_iter().map(of).collect()
    };
    table.finish();
    causes
}
