//! Reading what an engine is made of besides its joints: slots, loose hardware, sketches.

use super::members::{keys, of};
use crate::document::Plan;
use crate::index::SlotIx;
use crate::parts::{Hardware, ItemSketch, PartSize, PartSlot, RingGap};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;

/// The most of anything that a plan counts.
const MOST: u32 = 10_000;

/// One `[[slot]]`, which stands for as many slots as it counts.
pub(super) fn slots(table: &TomlTable<'_>, set: usize, sizes: &[PartSize]) -> Vec<PartSlot> {
    let (family, kind) = (table.text("id"), table.text("name"));
    let uses_allowed = table.whole("uses_allowed", 1..=MOST);
    let (numbered, returns) = (table.flag("numbered"), table.flag("returns"));
    let sizes = table.references("sizes", message!("read-size"), sizes.iter().map(|size| size.id.as_str()));
    let members = keys(table);
    if numbered && members.len() < 2 {
        table.error("numbered", message!("read-numbered-goes-with-several"));
    }
    let slot = |member: String| PartSlot {
        id: of(&family, "-", &member),
        family: family.clone(),
        set,
        name: of(&kind, " ", &member),
        kind: kind.clone(),
        uses_allowed,
        member,
        numbered,
        returns,
        sizes: sizes.clone(),
    };
    let slots = members.into_iter().map(slot).collect();
    table.finish();
    slots
}

/// A size that several slots share.
pub(super) fn size(table: &TomlTable<'_>) -> PartSize {
    let size = PartSize { id: table.text("id"), name: table.text("name"), choices: table.texts("choices") };
    let is_known = |choice: &String| size.choices.iter().filter(|other| *other == choice).count() == 1;
    if size.choices.len() < 2 || !size.choices.iter().all(is_known) {
        table.error("choices", message!("read-two-different-sizes-or-more"));
    }
    table.finish();
    size
}

/// The slots an operation takes in, every member of each family.
pub(super) fn slots_of(table: &TomlTable<'_>, plan: &Plan) -> Vec<SlotIx> {
    if table.texts("slots").is_empty() {
        table.error("slots", message!("read-at-least-one-slot-log-needed"));
    }
    slots_among(table, "slots", plan)
}

/// The slots that a field names.
pub(super) fn slots_among(table: &TomlTable<'_>, key: &'static str, plan: &Plan) -> Vec<SlotIx> {
    let known: Vec<_> = plan.slots.iter().map(|slot| (slot.id.as_str(), slot.family.as_str())).collect();
    table.references_among(key, "slot", &known).into_iter().map(SlotIx).collect()
}

/// The joints that a field names.
pub(super) fn joints_among(table: &TomlTable<'_>, key: &'static str, plan: &Plan) -> Vec<usize> {
    let known: Vec<_> = plan.joints.iter().map(|joint| (joint.id.as_str(), joint.family.as_str())).collect();
    table.references_among(key, "joint", &known)
}

/// The hardware of an operation: the fasteners of the joints it names, and what it lists.
pub(super) fn hardware(table: &TomlTable<'_>, plan: &Plan) -> Vec<Hardware> {
    let mut hardware: Vec<Hardware> = Vec::new();
    for joint in joints_among(table, "joints", plan) {
        for group in &plan.joints[joint].groups {
            let Some(spec) = plan.specs.get(group.spec.0) else { continue };
            let count = u32::try_from(group.fasteners.len()).unwrap_or(MOST);
            match hardware.iter_mut().find(|line| line.id == spec.id) {
                Some(line) => line.count += count,
                None => hardware.push(Hardware { id: spec.id.clone(), name: spec.name.clone(), count }),
            }
        }
    }
    for line in table.tables("hardware") {
        if !line.has("count") {
            line.error("count", message!("read-missing-how-many-engine-takes-needed"));
        }
        let count = line.whole("count", 1..=MOST).unwrap_or(1);
        hardware.push(Hardware { id: line.text("id"), name: line.text("name"), count });
        line.finish();
    }
    if hardware.is_empty() {
        table.error("hardware", message!("read-joints-whose-fasteners-counted-or-hardware"));
    }
    hardware
}

/// The `sketch` of an item.
pub(super) fn sketch(item: &TomlTable<'_>) -> Option<ItemSketch> {
    #[derive(Clone, Copy)]
    enum Kind {
        CapArrows,
        TangSide,
        RingClocking,
        GasketFront,
        WasherChamfer,
    }
    const KINDS: [(&str, Kind); 5] = [
        ("cap-arrows", Kind::CapArrows),
        ("tang-side", Kind::TangSide),
        ("ring-clocking", Kind::RingClocking),
        ("gasket-front", Kind::GasketFront),
        ("washer-chamfer", Kind::WasherChamfer),
    ];
    let table = item.table("sketch")?;
    let sketch = match table.choice("kind", &KINDS) {
        Some(Kind::CapArrows) => {
            let caps = table.whole("caps", 1..=12);
            if !table.has("caps") {
                table.error("caps", message!("read-missing-whole-number-from-1-12"));
            }
            Some(ItemSketch::CapArrows { caps: caps.unwrap_or(1) })
        }
        Some(Kind::TangSide) => Some(ItemSketch::TangSide),
        Some(Kind::RingClocking) => Some(ItemSketch::RingClocking { gaps: gaps(&table) }),
        Some(Kind::GasketFront) => Some(ItemSketch::GasketFront),
        Some(Kind::WasherChamfer) => Some(ItemSketch::WasherChamfer),
        None => None,
    };
    table.finish();
    sketch
}

fn gaps(table: &TomlTable<'_>) -> Vec<RingGap> {
    let mut gaps = Vec::new();
    for gap in table.tables("gaps") {
        let at_deg = gap.number_if("at").unwrap_or(-1.0);
        if !(0.0..360.0).contains(&at_deg) {
            gap.error("at", message!("read-degrees-clockwise-from-front-needed-from"));
        }
        gaps.push(RingGap { ring: gap.text("ring"), at_deg });
        gap.finish();
    }
    if gaps.is_empty() {
        table.error("gaps", message!("read-at-least-one-ring-with-place"));
    }
    gaps
}
