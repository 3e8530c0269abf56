//! Reading one operation.

use super::again::again;
use super::parts::{hardware, joints_among, sketch, slots_among, slots_of};
use crate::document::{
    Item, Joint, Kind, Operation, Plan, Purpose, PutsIn, Share, Stand, Task, Tightens, Work,
};
use crate::index::{JointIx, OperationIx, SiteIx};
use crate::parts::{Counting, Hardware, Turning};
use crate::toml_reader::Table;
use rigore_mechanics::quantity::Dimension;
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
const STANDS: [(&str, Stand); 4] = [
    ("upright", Stand::Upright),
    ("upside-down", Stand::UpsideDown),
    ("front-up", Stand::FrontUp),
    ("on-its-side", Stand::OnItsSide),
];
const PURPOSES: [(&str, Purpose); 2] = [("trial", Purpose::Trial), ("final", Purpose::Final)];

pub(super) fn operation(table: &Table<'_>, plan: &mut Plan) -> Option<Operation> {
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
            again: again(table, plan),
        }),
        Kind::Sign => Work::Sign,
        Kind::Prepare | Kind::Fit | Kind::Check | Kind::Seal => Work::Items(items(table, plan)),
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
fn tightens(table: &Table<'_>, plan: &mut Plan, task: Task) -> Tightens {
    let joints = if table.has("joints") {
        joints_among(table, "joints", plan)
    } else {
        vec![table.reference("joint", "joint", plan.joints.iter().map(|joint| joint.id.as_str()))]
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
    if table.texts("sites").is_empty() {
        table.error("sites", "at least one site to measure is needed");
    }
    let known: Vec<_> =
        plan.sites.iter().map(|site| (site.id.as_str(), plan[site.family].id.as_str())).collect();
    table.references_among("sites", "site", &known).into_iter().map(SiteIx).collect()
}

fn puts_in(table: &Table<'_>) -> PutsIn {
    let puts_in = PutsIn {
        id: table.text("id"),
        name: table.text("name"),
        count: table.whole("count", 1..=1000).unwrap_or(1),
    };
    table.finish();
    puts_in
}

fn items(table: &Table<'_>, plan: &Plan) -> Vec<Item> {
    let item = |table: &Table<'_>, (id, place): (String, &str)| {
        let text = table.text("text");
        let item = Item {
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
    let each = |table: &Table<'_>| {
        let (id, places) = (table.text("id"), table.texts("at"));
        if places.is_empty() {
            return vec![item(table, (id, ""))];
        }
        let numbered = (1..).zip(&places);
        numbered.map(|(number, place)| item(table, (format!("{id}-{number}"), place))).collect()
    };
    let items: Vec<Item> = table.tables("item").iter().flat_map(each).collect();
    if items.is_empty() {
        table.error("item", "at least one item to confirm is needed");
    }
    items
}
