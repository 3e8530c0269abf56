//! From TOML to a [`Plan`], with every check a plan has to pass.

use super::document::{Fastener, Plan};
use super::read_joint::{read_drawing, read_joint};
use super::read_measuring::{read_clearance, read_site};
use super::read_operations::read_operations;
use super::read_parts::read_slot;
use super::reader::{Fault, Severity, Sheet, Table};
use crate::fastener::{Strength, Thread};
use crate::friction::{self, Friction, Lubricant};
use crate::joint::{BoltEnd, BoltHead, PartKind, Parts, Section, Segment, bolt_resilience, part_resilience};
use crate::quantity::{Dimension, mm, mpa};
use toml::de::DeTable;

/// Young's modulus of steel, MPa.
const STEEL_MPA: f64 = 205_000.0;

/// The only version of the format so far.
const FORMAT: f64 = 1.0;

pub(super) fn plan(file: &str, source: &str) -> Result<(Plan, Vec<Fault>), Vec<Fault>> {
    let sheet = Sheet::new(file, source);
    let (document, errors) = DeTable::parse_recoverable(source);
    for error in errors {
        let offset = error.span().map_or(0, |span| span.start);
        sheet.fault(Severity::Error, offset, "TOML", error.message());
    }
    let plan = read_plan(Table::new(&sheet, String::new(), 0, document.get_ref()));
    let faults = sheet.take();
    if faults.iter().any(|fault| fault.severity == Severity::Error) {
        Err(faults)
    } else {
        Ok((plan, faults))
    }
}

fn read_plan(top: Table<'_>) -> Plan {
    if top.number_if("format") != Some(FORMAT) {
        top.error("format", "must be 1, the version of the plan format");
    }
    let mut plan = Plan {
        id: top.text("id"),
        name: top.text("name"),
        about: top.text_or("about", ""),
        lubricants: friction::shipped(),
        fasteners: Vec::new(),
        drawings: Vec::new(),
        joints: Vec::new(),
        slots: Vec::new(),
        sites: Vec::new(),
        clearances: Vec::new(),
        operations: Vec::new(),
    };
    for table in top.tables("lubricant") {
        let lubricant = read_lubricant(table);
        plan.lubricants.retain(|shipped| shipped.id != lubricant.id);
        plan.lubricants.push(lubricant);
    }
    for table in top.tables("fastener") {
        once(&table, "fastener", plan.fasteners.iter().map(|f| f.id.as_str()));
        plan.fasteners.extend(read_fastener(table, &plan.lubricants));
    }
    for table in top.tables("drawing") {
        once(&table, "drawing", plan.drawings.iter().map(|d| d.id.as_str()));
        plan.drawings.push(read_drawing(table));
    }
    for table in top.tables("joint") {
        once(&table, "joint", plan.joints.iter().map(|j| j.id.as_str()));
        let joint = read_joint(table, &plan);
        plan.joints.push(joint);
    }
    for table in top.tables("slot") {
        once(&table, "slot", plan.slots.iter().map(|s| s.family.as_str()));
        plan.slots.extend(read_slot(table));
    }
    for table in top.tables("site") {
        once(&table, "site", plan.sites.iter().map(|s| s.family.as_str()));
        plan.sites.extend(read_site(table));
    }
    for table in top.tables("clearance") {
        once(&table, "clearance", plan.clearances.iter().map(|c| c.id.as_str()));
        let clearance = read_clearance(table, &plan);
        plan.clearances.push(clearance);
    }
    read_operations(&top, &mut plan);
    top.finish();
    plan
}

/// Records an error where a table's `id` was used before.
pub(super) fn once<'a>(table: &Table<'_>, what: &str, mut before: impl Iterator<Item = &'a str>) {
    let id = table.text_or("id", "");
    if !id.is_empty() && before.any(|other| other == id) {
        table.error("id", format!("another {what} is called `{id}`"));
    }
}

fn read_lubricant(table: Table<'_>) -> Lubricant {
    let range = |key| match table.numbers(key)[..] {
        [low, typical, high] if 0.0 < low && low <= typical && typical <= high && high <= 1.0 => {
            [low, typical, high]
        }
        _ => {
            table.error(key, "three rising coefficients [low, typical, high] between 0 and 1 are needed");
            [0.1, 0.1, 0.1]
        }
    };
    let thread = range("thread");
    let bearing = if table.has("bearing") { range("bearing") } else { thread };
    let at = |i: usize| Friction { thread: thread[i], bearing: bearing[i] };
    let lubricant = Lubricant {
        id: table.text("id"),
        name: table.text("name"),
        low: at(0),
        typical: at(1),
        high: at(2),
        source: table.text("source"),
    };
    table.finish();
    lubricant
}

fn read_fastener(table: Table<'_>, lubricants: &[Lubricant]) -> Option<Fastener> {
    let (id, name, designation) = (table.text("id"), table.text("name"), table.text("thread"));
    let thread = Thread::parse(&designation)
        .map_err(|error| {
            if !designation.is_empty() {
                table.error("thread", error.to_string());
            }
        })
        .ok();
    let strength = read_strength(&table, thread);
    let bearing = table.positive("bearing_diameter", Dimension::Length);
    if let (Some(thread), Some(db)) = (thread, bearing)
        && !(thread.nominal_mm()..4.0 * thread.nominal_mm()).contains(&db)
    {
        table.error(
            "bearing_diameter",
            format!("{db} mm does not go with {designation}: one to four diameters"),
        );
    }
    let ids: Vec<&str> = lubricants.iter().map(|l| l.id.as_str()).collect();
    let thread_lubricant = table.reference("thread_lubricant", "lubricant", &ids);
    let bearing_lubricant = table.reference("bearing_lubricant", "lubricant", &ids);
    let bolt_resilience = table.table("bolt").and_then(|bolt| read_bolt(bolt, thread));
    let part_resilience = table.table("parts").and_then(read_parts);
    let (to_yield, single_use) = (table.flag("to_yield"), table.flag("single_use"));
    if to_yield && !single_use {
        table.warn("to_yield", "a fastener taken past yield is single use; say single_use = true");
    }
    table.finish();
    Some(Fastener {
        id,
        name,
        designation,
        thread: thread?,
        strength: strength?,
        bearing_diameter_mm: bearing?,
        thread_lubricant,
        bearing_lubricant,
        bolt_resilience,
        part_resilience,
        to_yield,
        single_use,
    })
}

fn read_strength(table: &Table<'_>, thread: Option<Thread>) -> Option<Strength> {
    if table.has("yield") || table.has("tensile") {
        let proof = table.positive("yield", Dimension::Pressure);
        let tensile = table.positive("tensile", Dimension::Pressure);
        return Strength::figures(mpa(proof?), mpa(tensile?))
            .map_err(|e| table.error("yield", e.to_string()))
            .ok();
    }
    let class = table.text("strength");
    if class.is_empty() {
        return None;
    }
    let nominal = thread.map_or(10.0, |thread| thread.nominal_mm());
    Strength::class(&class, nominal).map_err(|error| table.error("strength", error.to_string())).ok()
}

fn read_bolt(table: Table<'_>, thread: Option<Thread>) -> Option<f64> {
    let head = table.choice("head", &[("hex", BoltHead::Hex), ("socket", BoltHead::Socket)]);
    let end = table.choice("end", &[("tapped", BoltEnd::Tapped), ("nut", BoltEnd::Nut)]);
    let modulus = table.quantity_if("modulus", Dimension::Pressure).unwrap_or(STEEL_MPA);
    let mut segments = Vec::new();
    for segment in table.tables("segment") {
        let length = segment.positive("length", Dimension::Length);
        let section = if segment.text_or("diameter", "") == "thread" {
            Some(Section::FreeThread)
        } else {
            segment.positive("diameter", Dimension::Length).map(|d| Section::Shank(mm(d)))
        };
        if let (Some(length), Some(section)) = (length, section) {
            segments.push(Segment { length: mm(length), section });
        }
        segment.finish();
    }
    if segments.is_empty() {
        table.error("segment", "at least one segment with length and diameter is needed");
    }
    table.finish();
    Some(bolt_resilience(&thread?, &segments, head?, end?, mpa(modulus)))
}

fn read_parts(table: Table<'_>) -> Option<f64> {
    let bearing_od = table.positive("bearing_od", Dimension::Length);
    let hole = table.positive("hole", Dimension::Length);
    let clamp_length = table.positive("clamp_length", Dimension::Length);
    let outer = table.positive("outer", Dimension::Length);
    let modulus = table.positive("modulus", Dimension::Pressure);
    let kind = table.choice("kind", &[("tapped", PartKind::Tapped), ("through", PartKind::Through)]);
    if let (Some(od), Some(hole), Some(outer)) = (bearing_od, hole, outer)
        && (hole >= od || hole >= outer)
    {
        table.error(
            "hole",
            format!("{hole} mm leaves nothing to clamp: bearing_od {od} mm, outer {outer} mm"),
        );
        return None;
    }
    table.finish();
    Some(part_resilience(&Parts {
        bearing_od: mm(bearing_od?),
        hole: mm(hole?),
        clamp_length: mm(clamp_length?),
        outer: mm(outer?),
        modulus: mpa(modulus?),
        kind: kind?,
    }))
}
