//! From TOML to a [`Plan`]: fields, units and references. Whether the plan is a good one is judged in
//! [`super::check`].
//!
//! Reading is not judging. `read` makes a plan of a text or says why it is none; `check` judges it when
//! it is added. A check that is added later leaves older builds readable.

mod clearance;
mod drawing;
mod fastener;
mod joint;
mod line;
mod manual;
mod members;
mod operation;
mod parts;
mod procedure;
mod repeat;
mod rework;
mod running_loads;
mod site;
mod stage;
mod window;

use super::document::Plan;
use crate::toml_reader::{self, FaultReport, TomlTable};
use rigore_mechanics::friction;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;

pub(super) use procedure::WrittenOut;

/// The only version of the format so far.
const FORMAT: f64 = 1.0;

/// The stages that a text writes out for a joint.
pub(super) fn written(table: &TomlTable<'_>, joint: &super::document::Joint) -> Vec<super::document::Stage> {
    stage::written(table, joint, &mut Vec::new())
}

/// What a text says, and what is wrong with it.
pub(super) fn plan(file: &str, source: &str) -> (Plan, FaultReport) {
    toml_reader::read(file, source, read)
}

/// The stages that the line of a joint stands for; a question stands for a torque of every group.
///
/// # Errors
/// Where the joint has no line, or one that is not certain.
pub(super) fn written_out(source: &str, at: usize) -> Result<WrittenOut, Message> {
    let out = |top: &TomlTable<'_>| {
        let plan = read(top);
        let tables = top.tables("joint");
        let joint = plan.joints.iter().find(|joint| joint.written == at);
        let (table, joint) = tables.get(at).filter(|table| table.has("procedure")).zip(joint)?;
        Some(procedure::written_out(table, joint, &plan.specs))
    };
    let (written, _) = toml_reader::read("plan", source, out);
    written.unwrap_or_else(|| Err(message!("edit-joint-has-no-line")))
}

fn read(top: &TomlTable<'_>) -> Plan {
    if top.number_if("format") != Some(FORMAT) {
        top.error("format", message!("read-must-1-version-plan-format"));
    }
    let mut plan = Plan {
        id: top.text("id"),
        name: top.text("name"),
        about: top.text_or("about", ""),
        lubricants: friction::shipped(),
        ..Plan::default()
    };
    for table in top.tables("lubricant") {
        let lubricant = fastener::lubricant(&table);
        plan.lubricants.retain(|shipped| shipped.id != lubricant.id);
        plan.lubricants.push(lubricant);
    }
    for table in top.tables("fastener") {
        let spec = fastener::spec(&table, &plan.lubricants, &mut plan.open);
        plan.specs.extend(spec);
    }
    plan.drawings = top.tables("drawing").iter().map(drawing::drawing).collect();
    plan.adapters = top.tables("adapter").iter().filter_map(joint::adapter).collect();
    plan.manual = top.tables("manual").iter().map(manual::page).collect();
    plan.part_sizes = top.tables("size").iter().map(parts::size).collect();
    for (set, table) in top.tables("slot").iter().enumerate() {
        plan.slots.extend(parts::slots(table, set, &plan.part_sizes));
    }
    for (written, table) in top.tables("joint").iter().enumerate() {
        let mut opens = Vec::new();
        let joints = joint::joints(table, written, &plan, &mut opens);
        plan.joints.extend(joints);
        plan.ask(opens);
    }
    joint::put_bolts_in_their_holes(&mut plan);
    for table in top.tables("site") {
        site::family(&table, &mut plan);
    }
    for table in top.tables("clearance") {
        let (clearance, opens) = clearance::clearance(&table, &plan);
        plan.clearances.push(clearance);
        plan.ask(opens);
    }
    line::operations(top, &mut plan);
    plan.find_waiting();
    plan
}
