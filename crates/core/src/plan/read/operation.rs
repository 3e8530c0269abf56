//! Reading the line of work.

use super::parts::{hardware, sketch, slots_of};
use crate::document::Table;
use crate::plan::document::{Item, Joint, Kind, Operation, Plan, Purpose, Share, Task, Tightens, Work};
use crate::plan::index::{JointIx, OperationIx, SiteIx};
use crate::plan::parts::{Counting, Hardware, Turning};
use crate::plan::sites::Clearance;
use crate::quantity::Dimension;
use std::ops::Range;

const KINDS: [(&str, Kind); 11] = [
    ("take-in", Kind::TakeIn),
    ("prepare", Kind::Prepare),
    ("fit", Kind::Fit),
    ("check", Kind::Check),
    ("seal", Kind::Seal),
    ("count", Kind::Count),
    ("tighten", Kind::Tighten),
    ("loosen", Kind::Loosen),
    ("measure", Kind::Measure),
    ("turn", Kind::Turn),
    ("sign", Kind::Sign),
];
const PURPOSES: [(&str, Purpose); 2] = [("trial", Purpose::Trial), ("final", Purpose::Final)];

pub(super) fn operations(top: &Table<'_>, plan: &mut Plan) {
    let tables = top.tables("operation");
    if tables.is_empty() {
        top.error("operation", "a plan has at least one operation");
    }
    for table in &tables {
        let operation = operation(table, plan);
        plan.operations.extend(operation);
    }
    let ids: Vec<String> = plan.operations.iter().map(|operation| operation.id.clone()).collect();
    for (operation, table) in plan.operations.iter_mut().zip(&tables) {
        let needs = table.references("needs", "operation", ids.iter().map(String::as_str));
        operation.needs = needs.into_iter().map(OperationIx).collect();
        table.finish();
    }
    for clearance in &mut plan.clearances {
        clearance.judged_in = judged_in(clearance, &plan.operations, |site| plan.sites[site.0].family);
    }
}

/// The last operation that measures something which a clearance is computed from.
fn judged_in(
    clearance: &Clearance,
    line: &[Operation],
    family_of: impl Fn(SiteIx) -> crate::plan::FamilyIx,
) -> Option<OperationIx> {
    let measures = |operation: &Operation| match &operation.work {
        Work::Measure(sites) => {
            sites.iter().any(|site| clearance.families().any(|family| family == family_of(*site)))
        }
        _ => false,
    };
    line.iter().rposition(measures).map(OperationIx)
}

fn operation(table: &Table<'_>, plan: &mut Plan) -> Option<Operation> {
    let (id, name, cautions) = (table.text("id"), table.text("name"), table.texts("cautions"));
    let kind = table.choice("kind", &KINDS)?;
    let work = match kind {
        Kind::TakeIn => Work::Parts(slots_of(table, plan)),
        Kind::Count => Work::Count(counting(table, plan)),
        Kind::Tighten => Work::Tighten(tightens(table, plan, Task::Tighten)),
        Kind::Loosen => Work::Tighten(tightens(table, plan, Task::Loosen)),
        Kind::Measure => Work::Measure(sites(table, plan)),
        Kind::Turn => Work::Turn(Turning {
            suspect: table.text("suspect"),
            most_nm: table.quantity_if("most", Dimension::Torque),
            rise_nm: table.quantity_if("rise", Dimension::Torque),
        }),
        Kind::Sign => Work::Sign,
        Kind::Prepare | Kind::Fit | Kind::Check | Kind::Seal => Work::Items(items(table)),
    };
    Some(Operation { id, name, kind, needs: Vec::new(), cautions, work })
}

/// Joints in the round of the operation's purpose: operations of one purpose share a round.
fn tightens(table: &Table<'_>, plan: &mut Plan, task: Task) -> Tightens {
    let ids: Vec<String> = plan.joints.iter().map(|joint| joint.id.clone()).collect();
    let ids = || ids.iter().map(String::as_str);
    let joints = if table.has("joints") {
        table.references("joints", "joint", ids())
    } else {
        vec![table.reference("joint", "joint", ids())]
    };
    let purpose = if table.has("purpose") { table.choice("purpose", &PURPOSES) } else { None };
    let purpose = purpose.unwrap_or(Purpose::Final);
    let headings = table.texts("stages");
    let fasteners = table.has("fasteners").then(|| table.text("fasteners"));
    let mut shares: Vec<Share> = Vec::new();
    for joint in joints {
        let Some(planned) = plan.joints.get_mut(joint) else { continue };
        if shares.iter().any(|share| share.joint == JointIx(joint)) {
            table.error("joints", format!("`{}` comes twice", planned.id));
            continue;
        }
        let round = planned.rounds.iter().position(|known| *known == purpose).unwrap_or_else(|| {
            planned.rounds.push(purpose);
            planned.rounds.len() - 1
        });
        let stages = stages_of(table, planned, &headings);
        shares.push(Share { joint: JointIx(joint), round, stages });
    }
    Tightens { task, shares, fasteners }
}

/// The stages of a joint that an operation names by their headings; all of them where it names none.
fn stages_of(table: &Table<'_>, joint: &Joint, headings: &[String]) -> Range<usize> {
    let all = 0..joint.stages.len();
    if headings.is_empty() {
        return all;
    }
    let mut known: Vec<&str> = joint.stages.iter().map(|stage| stage.heading.as_str()).collect();
    if let Some(unknown) = headings.iter().find(|heading| !known.contains(&heading.as_str())) {
        known.dedup();
        let message =
            format!("`{}` has no stage called `{unknown}`; there is {}", joint.id, known.join(", "));
        table.error("stages", message);
        return all;
    }
    let of_it: Vec<usize> = all.filter(|at| headings.iter().any(|heading| heading == known[*at])).collect();
    let range = of_it.first().map_or(0..0, |first| *first..of_it.last().unwrap_or(first) + 1);
    if range.len() != of_it.len() {
        table.error("stages", format!("the stages of `{}` that it names do not follow each other", joint.id));
    }
    range
}

/// Hardware counted out, or the same counted back.
fn counting(table: &Table<'_>, plan: &Plan) -> Counting {
    if !table.has("back_of") {
        return Counting { hardware: hardware(table, plan), back_of: None };
    }
    let out =
        |(at, operation)| counts_out(operation).map(|hardware| (OperationIx(at), &operation.id, hardware));
    let counts: Vec<_> = plan.operations.iter().enumerate().filter_map(out).collect();
    let what = "operation that counts out before this one";
    let at = table.reference("back_of", what, counts.iter().map(|(_, id, _)| id.as_str()));
    match counts.get(at) {
        Some((out, _, hardware)) => Counting { hardware: hardware.to_vec(), back_of: Some(*out) },
        None => Counting { hardware: Vec::new(), back_of: None },
    }
}

fn counts_out(operation: &Operation) -> Option<&[Hardware]> {
    match &operation.work {
        Work::Count(Counting { hardware, back_of: None }) => Some(hardware),
        _ => None,
    }
}

/// The sites an operation measures, every member of each family.
fn sites(table: &Table<'_>, plan: &Plan) -> Vec<SiteIx> {
    let named = table.references("sites", "site", plan.families.iter().map(|family| family.id.as_str()));
    if table.texts("sites").is_empty() {
        table.error("sites", "at least one site to measure is needed");
    }
    named.into_iter().flat_map(|family| plan.families[family].sites.clone().map(SiteIx)).collect()
}

fn items(table: &Table<'_>) -> Vec<Item> {
    let item = |table: &Table<'_>| {
        let item = Item {
            id: table.text("id"),
            text: table.text("text"),
            right: table.text_or("right", ""),
            wrong: table.text_or("wrong", ""),
            sketch: sketch(table),
        };
        table.finish();
        item
    };
    let items: Vec<Item> = table.tables("item").iter().map(item).collect();
    if items.is_empty() {
        table.error("item", "at least one item to confirm is needed");
    }
    items
}
