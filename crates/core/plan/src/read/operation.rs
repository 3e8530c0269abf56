//! Reading one operation.

use super::parts::{hardware, joints_among, sketch, slots_among, slots_of};
use super::rework::again;
use crate::document::{
    ChecklistItem, EngineStand, Joint, JointShare, Operation, OperationKind, OperationWork, Plan,
    RoundPurpose, TemporaryItemSpec, TightenSpec, TightenTask,
};
use crate::index::{JointIx, OperationIx, SiteIx};
use crate::parts::{Hardware, HardwareCounting, TurningCheck};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;
use rigore_mechanics::quantity::Dimension;
use std::ops::Range;

const KINDS: [(&str, OperationKind); 11] = [
    ("take-in", OperationKind::TakeIn),
    ("prepare", OperationKind::Prepare),
    ("fit", OperationKind::Fit),
    ("check", OperationKind::Check),
    ("seal", OperationKind::Seal),
    ("count", OperationKind::Count),
    ("tighten", OperationKind::Tighten),
    ("loosen", OperationKind::Loosen),
    ("measure", OperationKind::Measure),
    ("turn", OperationKind::Turn),
    ("sign", OperationKind::Sign),
];
const STANDS: [(&str, EngineStand); 4] = [
    ("upright", EngineStand::Upright),
    ("upside-down", EngineStand::UpsideDown),
    ("front-up", EngineStand::FrontUp),
    ("on-its-side", EngineStand::OnItsSide),
];
const PURPOSES: [(&str, RoundPurpose); 2] = [("trial", RoundPurpose::Trial), ("final", RoundPurpose::Final)];

pub(super) fn operation(table: &TomlTable<'_>, plan: &mut Plan) -> Option<Operation> {
    let (id, name, cautions) = (table.text("id"), table.text("name"), table.texts("cautions"));
    let kind = table.choice("kind", &KINDS)?;
    let work = match kind {
        OperationKind::TakeIn => OperationWork::Parts(slots_of(table, plan)),
        OperationKind::Count => OperationWork::Count(counting(table, plan)),
        OperationKind::Tighten => OperationWork::Tighten(tightens(table, plan, TightenTask::Tighten)),
        OperationKind::Loosen => OperationWork::Tighten(tightens(table, plan, TightenTask::Loosen)),
        OperationKind::Measure => OperationWork::Measure(sites(table, plan)),
        OperationKind::Turn => OperationWork::Turn(TurningCheck {
            suspect: table.text("suspect"),
            most_nm: table.quantity_if("most", Dimension::Torque),
            rise_nm: table.quantity_if("rise", Dimension::Torque),
            again: again(table, plan),
        }),
        OperationKind::Sign => OperationWork::Sign,
        OperationKind::Prepare | OperationKind::Fit | OperationKind::Check | OperationKind::Seal => {
            OperationWork::Items(items(table, plan))
        }
    };
    Some(Operation {
        family: id.clone(),
        id,
        written: table.path().to_owned(),
        member: None,
        step: name.clone(),
        name,
        kind,
        needs: Vec::new(),
        parts: slots_among(table, "parts", plan),
        closes: table.flag("closes"),
        minutes: table.quantity_if("takes", Dimension::Time),
        stand: if table.has("stand") { table.choice("stand", &STANDS) } else { None },
        cautions,
        work,
    })
}

/// Joints in the round of the operation's purpose: operations of one purpose share a round.
fn tightens(table: &TomlTable<'_>, plan: &mut Plan, task: TightenTask) -> TightenSpec {
    let joints = if table.has("joints") {
        joints_among(table, "joints", plan)
    } else {
        vec![table.reference("joint", "joint", plan.joints.iter().map(|joint| joint.id.as_str()))]
    };
    let purpose = if table.has("purpose") { table.choice("purpose", &PURPOSES) } else { None };
    let purpose = purpose.unwrap_or(RoundPurpose::Final);
    let headings = table.texts("stages");
    let fasteners = table.has("fasteners").then(|| table.text("fasteners"));
    let mut shares: Vec<JointShare> = Vec::new();
    for joint in joints {
        let Some(planned) = plan.joints.get_mut(joint) else { continue };
        if shares.iter().any(|share| share.joint == JointIx(joint)) {
            table.error("joints", message!("read-comes-twice", id = planned.id));
            continue;
        }
        let round = planned.rounds.iter().position(|known| *known == purpose).unwrap_or_else(|| {
            planned.rounds.push(purpose);
            planned.rounds.len() - 1
        });
        let stages = stages_of(table, planned, &headings);
        shares.push(JointShare { joint: JointIx(joint), round, stages });
    }
    TightenSpec { task, shares, fasteners }
}

/// The stages of a joint that an operation names by their headings; all of them where it names none.
fn stages_of(table: &TomlTable<'_>, joint: &Joint, headings: &[String]) -> Range<usize> {
    let all = 0..joint.stages.len();
    if headings.is_empty() {
        return all;
    }
    let mut known: Vec<&str> = joint.stages.iter().map(|stage| stage.heading.as_str()).collect();
    if let Some(unknown) = headings.iter().find(|heading| !known.contains(&heading.as_str())) {
        known.dedup();
        let message =
            message!("read-has-no-stage-called-there", id = joint.id, unknown, known = known.join(", "));
        table.error("stages", message);
        return all;
    }
    let of_it: Vec<usize> = all.filter(|at| headings.iter().any(|heading| heading == known[*at])).collect();
    let range = of_it.first().map_or(0..0, |first| *first..of_it.last().unwrap_or(first) + 1);
    if range.len() != of_it.len() {
        table.error("stages", message!("read-stages-names-do-not-follow-each", id = joint.id));
    }
    range
}

/// Hardware counted out, or the same counted back.
fn counting(table: &TomlTable<'_>, plan: &Plan) -> HardwareCounting {
    if !table.has("back_of") {
        return HardwareCounting { hardware: hardware(table, plan), back_of: None };
    }
    let out =
        |(at, operation)| counts_out(operation).map(|hardware| (OperationIx(at), &operation.id, hardware));
    let counts: Vec<_> = plan.operations.iter().enumerate().filter_map(out).collect();
    let what = message!("read-operation-counts-out-before-this-one");
    let at = table.reference("back_of", what, counts.iter().map(|(_, id, _)| id.as_str()));
    match counts.get(at) {
        Some((out, _, hardware)) => HardwareCounting { hardware: hardware.to_vec(), back_of: Some(*out) },
        None => HardwareCounting { hardware: Vec::new(), back_of: None },
    }
}

fn counts_out(operation: &Operation) -> Option<&[Hardware]> {
    match &operation.work {
        OperationWork::Count(HardwareCounting { hardware, back_of: None }) => Some(hardware),
        _ => None,
    }
}

/// The sites an operation measures, every member of each family.
fn sites(table: &TomlTable<'_>, plan: &Plan) -> Vec<SiteIx> {
    if table.texts("sites").is_empty() {
        table.error("sites", message!("read-at-least-one-site-measure-needed"));
    }
    let known: Vec<_> =
        plan.sites.iter().map(|site| (site.id.as_str(), plan[site.family].id.as_str())).collect();
    table.references_among("sites", "site", &known).into_iter().map(SiteIx).collect()
}

fn puts_in(table: &TomlTable<'_>) -> TemporaryItemSpec {
    let puts_in = TemporaryItemSpec {
        id: table.text("id"),
        name: table.text("name"),
        count: table.whole("count", 1..=1000).unwrap_or(1),
    };
    table.finish();
    puts_in
}

fn items(table: &TomlTable<'_>, plan: &Plan) -> Vec<ChecklistItem> {
    let item = |table: &TomlTable<'_>, (id, place): (String, &str)| {
        let text = table.text("text");
        let item = ChecklistItem {
            id,
            text: if place.is_empty() { text } else { format!("{text}: {place}") },
            right: table.text_or("right", ""),
            wrong: table.text_or("wrong", ""),
            sketch: sketch(table),
            again: again(table, plan),
            puts_in: table.table("puts_in").map(|table| puts_in(&table)),
            takes_out: table.has("takes_out").then(|| table.text("takes_out")),
        };
        table.finish();
        item
    };
    // Looked at in several positions, it is an item for each.
    let each = |table: &TomlTable<'_>| {
        let (id, places) = (table.text("id"), table.texts("at"));
        if places.is_empty() {
            return vec![item(table, (id, ""))];
        }
        let numbered = (1..).zip(&places);
        numbered.map(|(number, place)| item(table, (format!("{id}-{number}"), place))).collect()
    };
    let items: Vec<ChecklistItem> = table.tables("item").iter().flat_map(each).collect();
    if items.is_empty() {
        table.error("item", message!("read-at-least-one-item-confirm-needed"));
    }
    items
}
