//! Reading what a joint stands while its engine runs.

use crate::running_loads::{FaceSettling, RodRunning, RunningLoads, Temperatures};
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{RodAssembly, Roughness, USUAL_LOAD_INTRODUCTION};
use rigore_mechanics::message;
use rigore_mechanics::quantity::Dimension;

/// Most that a gasket is believed to creep.
const MOST_CREEP: f64 = 0.3;

pub(super) fn running(table: &TomlTable<'_>) -> RunningLoads {
    let axial_kn = table.has("axial").then(|| table.positive("axial", Dimension::Force)).flatten();
    let needed_kn = table.quantity_if("needed", Dimension::Force).unwrap_or_default();
    let introduction = table.number_if("load_introduction").unwrap_or(USUAL_LOAD_INTRODUCTION);
    if !(0.01..=1.0).contains(&introduction) {
        table.error("load_introduction", message!("read-number-from-0-01-1-needed"));
    }
    let loads = RunningLoads {
        axial_kn,
        introduction: introduction.clamp(0.01, 1.0),
        needed_kn: needed_kn.max(0.0),
        rod: table.table("rod").and_then(|table| rod(&table)),
        hot: table.table("hot").and_then(|table| temperatures(&table)),
        cold: table.table("cold").and_then(|table| temperatures(&table)),
        settling: table.table("settling").and_then(|table| settling(&table)),
    };
    if loads.axial_kn.is_some() && loads.rod.is_some() {
        table.error("axial", message!("read-load-or-rod-given-not-both"));
    }
    table.finish();
    loads
}

fn rod(table: &TomlTable<'_>) -> Option<RodRunning> {
    let mass = |key| table.positive(key, Dimension::Mass).map(|grams| grams / 1000.0);
    let (reciprocating_kg, rotating_kg) = (mass("reciprocating"), mass("rotating"));
    let stroke_mm = table.positive("stroke", Dimension::Length);
    let rod_mm = table.positive("length", Dimension::Length);
    let speed = table.whole("speed", 100..=50_000);
    if speed.is_none() && !table.has("speed") {
        table.error("speed", message!("read-speed-rpm-needed"));
    }
    table.finish();
    let (stroke_mm, rod_mm) = (stroke_mm?, rod_mm?);
    if rod_mm <= stroke_mm / 2.0 {
        table.error("length", message!("read-rod-longer-than-half-stroke"));
        return None;
    }
    let assembly =
        RodAssembly { reciprocating_kg: reciprocating_kg?, rotating_kg: rotating_kg?, stroke_mm, rod_mm };
    Some(RodRunning { assembly, speed_rpm: f64::from(speed?) })
}

fn temperatures(table: &TomlTable<'_>) -> Option<Temperatures> {
    let (parts_c, bolt_c) =
        (table.quantity("parts", Dimension::Temperature), table.quantity("bolt", Dimension::Temperature));
    table.finish();
    Some(Temperatures { parts_c: parts_c?, bolt_c: bolt_c? })
}

fn settling(table: &TomlTable<'_>) -> Option<FaceSettling> {
    let roughness = table.choice("roughness", &Roughness::ALL);
    let heads = table.whole("heads", 1..=4).unwrap_or(1);
    let interfaces = table.whole("interfaces", 0..=20).unwrap_or(1);
    let creep = table.number_if("creep").unwrap_or_default();
    if !(0.0..=MOST_CREEP).contains(&creep) {
        table.error("creep", message!("read-share-clamp-load-from-0-0"));
    }
    table.finish();
    Some(FaceSettling { roughness: roughness?, heads, interfaces, creep: creep.clamp(0.0, MOST_CREEP) })
}
