//! Reading joints.

use super::{members, procedure, running_loads, stage};
use crate::document::{FastenerGroup, FastenerSpec, Hole, Joint, Plan};
use crate::fastener_row::FastenerRow;
use crate::index::{FastenerIx, SlotIx, SpecIx};
use crate::missing_figure::MissingFigure;
use crate::procedure::LineOrder;
use crate::toml_reader::TomlTable;
use rigore_mechanics::fastener::Material;
use rigore_mechanics::joint::{BoltEnd, end_resilience};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity, mpa};
use rigore_mechanics::tightening::adapter::Adapter;
use rigore_mechanics::tightening::{FastenerPosition, SequencePattern, order};
use std::collections::BTreeSet;

pub(super) fn adapter(table: &TomlTable<'_>) -> Option<Adapter> {
    let (id, name) = (table.text("id"), table.text("name"));
    let length_mm = table.positive("length", Dimension::Length);
    let angle_deg = table.quantity("angle", Dimension::Angle);
    let wrench_mm = table.positive("wrench", Dimension::Length);
    table.finish();
    let (length_mm, angle_deg, wrench_mm) = (length_mm?, angle_deg?, wrench_mm?);
    if !(0.0..=180.0).contains(&angle_deg) {
        table.error("angle", message!("read-from-0-straight-on-180-folded"));
    }
    if length_mm >= wrench_mm {
        let written = |key, mm| Quantity::written_in(mm, table.unit(key, Dimension::Length));
        let (length, wrench) = (written("length", length_mm), written("wrench", wrench_mm));
        table.error("length", message!("read-longer-than-wrench", length, wrench));
    }
    Some(Adapter { id, name, length_mm, angle_deg, wrench_mm })
}

/// One `[[joint]]`, which stands for as many joints as it counts.
pub(super) fn joints(
    table: &TomlTable<'_>,
    written: usize,
    plan: &Plan,
    opens: &mut Vec<MissingFigure>,
) -> Vec<Joint> {
    let offset = if table.has("offset") { table.place("offset") } else { [0.0, 0.0] };
    let mut member = |(at, key): (usize, &String)| {
        let at = u32::try_from(at).map_or(0.0, f64::from);
        let own = if key.is_empty() { None } else { Some(table.of_member(key)) };
        joint(own.as_ref().unwrap_or(table), (written, key), offset.map(|step| step * at), plan, opens)
    };
    let joints: Vec<Joint> = members::keys(table).iter().enumerate().map(&mut member).collect();
    table.finish();
    // What is written once is asked for once, by the name that all of them have.
    if let Some(first) = joints.first().filter(|_| joints.len() > 1) {
        let name = table.word("name").replace('#', "").trim().to_owned();
        for figure in opens {
            figure.what = figure.what.replacen(&first.name, &name, 1);
        }
    }
    joints
}

fn joint(
    table: &TomlTable<'_>,
    (written, member): (usize, &str),
    offset: [f64; 2],
    plan: &Plan,
    opens: &mut Vec<MissingFigure>,
) -> Joint {
    let (family, name) = (table.text("id"), table.text("name"));
    let mut joint = Joint {
        id: members::of(&family, "-", member),
        name: members::of(&name, " ", member),
        family,
        written,
        drawing: table.reference("drawing", "drawing", plan.drawings.iter().map(|d| d.id.as_str())),
        groups: Vec::new(),
        fasteners: Vec::new(),
        adapted: Vec::new(),
        stages: Vec::new(),
        rounds: Vec::new(),
        source: String::new(),
        manual: table.references(
            "manual",
            message!("read-manual-page"),
            plan.manual.iter().map(|page| page.id.as_str()),
        ),
        running: None,
        was: Vec::new(),
        gone: Vec::new(),
        unclear: Vec::new(),
    };
    let order = procedure::order(table);
    for table in table.tables("group") {
        let group = group(&table, offset, order.as_ref(), plan, &mut joint);
        joint.groups.push(group);
    }
    if joint.groups.is_empty() {
        table.error("group", message!("read-joint-has-at-least-one-group"));
    }
    (joint.stages, joint.unclear) = stage::of_joint(table, &joint, &plan.specs, opens);
    if let Some(LineOrder::Listed(names)) = &order {
        joint.unclear.extend(unclear_order(&joint, names));
    }
    joint.source = table.text_or("source", "");
    joint.running = table.table("running").map(|table| running_loads::running(&table));
    joint
}

fn group(
    table: &TomlTable<'_>,
    [dx, dy]: [f64; 2],
    said: Option<&LineOrder>,
    plan: &Plan,
    joint: &mut Joint,
) -> FastenerGroup {
    let (id, name) = (table.text("id"), table.text("name"));
    let spec = SpecIx(table.reference("fastener", "fastener", plan.specs.iter().map(|s| s.id.as_str())));
    let parts = table
        .has("parts")
        .then(|| SlotIx(table.reference("parts", "slot", plan.slots.iter().map(|slot| slot.id.as_str()))));
    let hole = table.table("hole").and_then(|hole| read_hole(&hole, plan.specs.get(spec.0)));
    let (mut positions, mut adapted) = (Vec::new(), Vec::new());
    for place in table.tables("position") {
        let id = place.text("id");
        let [x_mm, y_mm] = place.place("at");
        if place.has("adapter") {
            let adapters = plan.adapters.iter().map(|adapter| adapter.id.as_str());
            adapted.push((id.clone(), place.reference("adapter", "adapter", adapters)));
        }
        positions.push(FastenerPosition { id, x_mm: x_mm + dx, y_mm: y_mm + dy });
        place.finish();
    }
    for row in table.tables("row") {
        let of_row = in_a_row(&row).into_iter();
        positions.extend(of_row.map(|at| FastenerPosition { x_mm: at.x_mm + dx, y_mm: at.y_mm + dy, ..at }));
    }
    let pattern = match said {
        // What the line of the procedure says goes for every group that does not say otherwise.
        _ if table.has("pattern") => {
            table.choice("pattern", &SequencePattern::ALL).unwrap_or(SequencePattern::Listed)
        }
        Some(LineOrder::Pattern(pattern)) => *pattern,
        Some(LineOrder::Listed(names)) if positions.iter().all(|position| names.contains(&position.id)) => {
            SequencePattern::Listed
        }
        Some(LineOrder::Listed(_)) | None => SequencePattern::CentreOut,
    };
    let mut listed = table.texts("order");
    if let (Some(LineOrder::Listed(names)), SequencePattern::Listed, true) =
        (said, pattern, listed.is_empty())
    {
        listed = names.iter().filter(|name| positions.iter().any(|of| of.id == **name)).cloned().collect();
    }
    if pattern == SequencePattern::Listed {
        positions = in_listed_order(table, positions, &listed);
    } else if !listed.is_empty() {
        table.error("order", message!("read-order-goes-with-pattern-listed-only"));
    }
    match order(pattern, &positions) {
        Ok(sequence) => positions = sequence.into_iter().map(|i| positions[i].clone()).collect(),
        Err(error) => table.error("position", error.to_string()),
    }
    table.check_assumed();
    table.finish();
    let first = joint.fasteners.len();
    let place_of = |id: &String| positions.iter().position(|position| position.id == *id);
    let adapted =
        adapted.iter().filter_map(|(id, adapter)| Some((FastenerIx(first + place_of(id)?), *adapter)));
    joint.adapted.extend(adapted);
    joint.fasteners.extend(positions);
    FastenerGroup { id, name, spec, parts, hole, pattern, fasteners: first..joint.fasteners.len() }
}

/// What is unclear in an order that a line lists: it names whole groups, and nothing else.
fn unclear_order(joint: &Joint, names: &[String]) -> Vec<Message> {
    let known: Vec<&str> = joint.fasteners.iter().map(|fastener| fastener.id.as_str()).collect();
    let unknown: Vec<&str> = names.iter().map(String::as_str).filter(|name| !known.contains(name)).collect();
    if !unknown.is_empty() {
        return vec![message!(
            "read-order-names-fasteners",
            unknown = unknown.join(", "),
            known = known.join(", ")
        )];
    }
    let missed = joint.groups.iter().filter_map(|group| {
        let of_group = known[group.fasteners.clone()].iter().copied();
        let missed: Vec<&str> = of_group.filter(|id| !names.iter().any(|name| name == id)).collect();
        let some = !missed.is_empty() && missed.len() < group.fasteners.len();
        some.then(|| message!("read-order-misses", missed = missed.join(", ")))
    });
    missed.collect()
}

/// Positions in a row, evenly from one end to the other; `*` in their key is their number.
fn in_a_row(row: &TomlTable<'_>) -> Vec<FastenerPosition> {
    let (id, from, to) = (row.text("id"), row.place("from"), row.place("to"));
    let count = row.whole("count", 2..=200).unwrap_or(2);
    let first = row.whole("first", 0..=200).unwrap_or(1);
    if !row.has("count") || !id.contains('*') {
        row.error_here(message!("read-row-has-count-key-with-for"));
    }
    row.finish();
    let row = FastenerRow { id: &id, count, from, to, first };
    row.places().map(|(id, [x_mm, y_mm])| FastenerPosition { id, x_mm, y_mm }).collect()
}

/// Turns of a chamfered hole that do not count.
const CHAMFER_TURNS: f64 = 1.5;

fn read_hole(table: &TomlTable<'_>, spec: Option<&FastenerSpec>) -> Option<Hole> {
    let given = table.has("tensile").then(|| table.positive("tensile", Dimension::Pressure)).flatten();
    let named = table.has("material") || !table.has("tensile");
    let material = if named { table.choice("material", &Material::ALL) } else { None };
    let tensile = given.map(mpa).or_else(|| material.map(Material::usual_tensile));
    let shear_ratio = table.number_if("shear_ratio").filter(|ratio| {
        let right = (0.3..=1.5).contains(ratio);
        if !right {
            table.error("shear_ratio", message!("read-share-tensile-strength-from-0-3"));
        }
        right
    });
    let engaged = table.positive("engaged", Dimension::Length);
    let (chamfered, blind) = (table.flag("chamfered"), table.flag("blind"));
    table.finish();
    let pitch_mm = spec.map_or(0.0, |spec| spec.hole_thread().pitch_mm());
    let engaged_mm = engaged? - if chamfered { CHAMFER_TURNS * pitch_mm } else { 0.0 };
    Some(Hole { material, tensile: tensile?, shear_ratio, engaged_mm, blind })
}

/// Positions in the order a plan lists; says which are missed, doubled or unknown.
fn in_listed_order(
    table: &TomlTable<'_>,
    mut positions: Vec<FastenerPosition>,
    listed: &[String],
) -> Vec<FastenerPosition> {
    let mut faults = Vec::new();
    let mut seen = BTreeSet::new();
    for id in listed {
        if !positions.iter().any(|p| p.id == *id) {
            faults.push(message!("read-not-position-this-group", id));
        }
        if !seen.insert(id) {
            faults.push(message!("read-comes-twice", id));
        }
    }
    let missed: Vec<_> = positions.iter().filter(|p| !seen.contains(&p.id)).map(|p| p.id.as_str()).collect();
    if !missed.is_empty() {
        faults.push(message!("read-sequence-misses", missed = missed.join(", ")));
    }
    if faults.is_empty() {
        positions.sort_by_key(|p| listed.iter().position(|id| *id == p.id));
    } else {
        table.error("order", Message::join(faults, "; "));
    }
    positions
}

/// The bolts of a plan as they are in the holes that its groups go into: aluminium gives more than steel (M-5).
pub(super) fn put_bolts_in_their_holes(plan: &mut Plan) {
    for at in 0..plan.specs.len() {
        let materials = plan.hole_materials(SpecIx(at));
        let spec = &mut plan.specs[at];
        if let ([material], Some(bolt)) = (&materials[..], &mut spec.fastening.bolt) {
            bolt.end = end_resilience(&spec.fastening.thread, BoltEnd::Tapped, material.modulus());
        }
    }
}
