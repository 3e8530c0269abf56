//! Reading what an engine is made of besides its joints: slots, loose hardware, sketches.

use super::document::Plan;
use super::parts::{Hardware, RingGap, Sketch, Slot};
use super::read::once;
use super::reader::Table;

/// The most members that a `count` may stand for.
const MOST_MEMBERS: f64 = 64.0;

/// A `count` of members, 1 when it is left out.
pub(super) fn read_count(table: &Table<'_>) -> usize {
    let count = table.number_if("count").unwrap_or(1.0);
    if !(1.0..=MOST_MEMBERS).contains(&count) || count.fract() != 0.0 {
        table.error("count", "a whole number from 1 to 64 is needed");
    }
    count.clamp(1.0, MOST_MEMBERS) as usize
}

/// Ids and names of the members that a `count` stands for, numbered from 1 where there are several.
pub(super) fn members(family: &str, name: &str, count: usize) -> impl Iterator<Item = (String, String)> {
    (1..=count).map(move |number| {
        if count == 1 {
            (family.to_owned(), name.to_owned())
        } else {
            (format!("{family}-{number}"), format!("{name} {number}"))
        }
    })
}

fn whole(table: &Table<'_>, key: &'static str, least: f64) -> Option<u32> {
    let number = table.number_if(key)?;
    if (least..=10_000.0).contains(&number) && number.fract() == 0.0 {
        return Some(number as u32);
    }
    table.error(key, format!("a whole number from {least} to 10000 is needed"));
    None
}

/// One `[[slot]]`, which stands for as many slots as it counts.
pub(super) fn read_slot(table: Table<'_>) -> Vec<Slot> {
    let (family, name) = (table.text("id"), table.text("name"));
    let count = read_count(&table);
    let uses_allowed = whole(&table, "uses_allowed", 1.0);
    table.finish();
    let slot = |(id, name)| Slot { id, family: family.clone(), name, uses_allowed };
    members(&family, &name, count).map(slot).collect()
}

/// The slots an operation takes in, every member of each family.
pub(super) fn read_slots_of(table: &Table<'_>, plan: &Plan) -> Vec<usize> {
    let families: Vec<&str> = plan.slots.iter().map(|slot| slot.family.as_str()).collect();
    let named = table.texts("slots");
    if named.is_empty() {
        table.error("slots", "at least one slot to take in is needed");
    }
    for family in &named {
        table.check_reference("slots", "slot", family, &families);
    }
    let of = |family: &String| {
        let slots = plan.slots.iter().enumerate();
        slots.filter(|(_, slot)| slot.family == *family).map(|(at, _)| at).collect::<Vec<_>>()
    };
    named.iter().flat_map(of).collect()
}

/// The hardware of an operation: the fasteners of the joints it names, and what it lists.
pub(super) fn read_hardware(table: &Table<'_>, plan: &Plan) -> Vec<Hardware> {
    let joints: Vec<&str> = plan.joints.iter().map(|joint| joint.id.as_str()).collect();
    let mut hardware: Vec<Hardware> = Vec::new();
    for id in table.texts("joints") {
        table.check_reference("joints", "joint", &id, &joints);
        for group in plan.joint(&id).into_iter().flat_map(|joint| &joint.groups) {
            let count = group.positions.len() as u32;
            let name = plan.fastener(&group.fastener).map_or(&group.name, |fastener| &fastener.name);
            match hardware.iter_mut().find(|line| line.id == group.fastener) {
                Some(line) => line.count += count,
                None => hardware.push(Hardware { id: group.fastener.clone(), name: name.clone(), count }),
            }
        }
    }
    for line in table.tables("hardware") {
        once(&line, "kind of hardware", hardware.iter().map(|h| h.id.as_str()));
        if !line.has("count") {
            line.error("count", "missing: how many the engine takes is needed");
        }
        let count = whole(&line, "count", 1.0).unwrap_or(1);
        hardware.push(Hardware { id: line.text("id"), name: line.text("name"), count });
        line.finish();
    }
    if hardware.is_empty() {
        table.error("hardware", "joints whose fasteners are counted, or hardware, is needed");
    }
    hardware
}

/// The `sketch` of an item.
pub(super) fn read_sketch(item: &Table<'_>) -> Option<Sketch> {
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
            let caps = whole(&table, "caps", 1.0).filter(|caps| *caps <= 12);
            if caps.is_none() {
                table.error("caps", "a whole number from 1 to 12 is needed");
            }
            Some(Sketch::CapArrows { caps: caps.unwrap_or(1) })
        }
        Some(Kind::TangSide) => Some(Sketch::TangSide),
        Some(Kind::RingClocking) => Some(Sketch::RingClocking { gaps: read_gaps(&table) }),
        Some(Kind::GasketFront) => Some(Sketch::GasketFront),
        Some(Kind::WasherChamfer) => Some(Sketch::WasherChamfer),
        None => None,
    };
    table.finish();
    sketch
}

fn read_gaps(table: &Table<'_>) -> Vec<RingGap> {
    let mut gaps = Vec::new();
    for gap in table.tables("gaps") {
        let at_deg = gap.number_if("at").unwrap_or(-1.0);
        if !(0.0..360.0).contains(&at_deg) {
            gap.error("at", "degrees clockwise from the front are needed, from 0 to below 360");
        }
        gaps.push(RingGap { ring: gap.text("ring"), at_deg });
        gap.finish();
    }
    if gaps.is_empty() {
        table.error("gaps", "at least one ring with the place of its gap is needed");
    }
    gaps
}
