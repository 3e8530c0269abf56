//! Reading lubricants and specifications of fasteners.

use crate::document::Table;
use crate::fastener::{Strength, Thread};
use crate::friction::{FILMS, Film, Friction, Lubricant, Lubrication};
use crate::joint::{
    BoltEnd, BoltHead, Fastening, Neck, PartKind, Parts, Section, Segment, bolt_resilience, part_resilience,
};
use crate::message;
use crate::plan::document::FastenerSpec;
use crate::plan::open::OpenFigure;
use crate::quantity::{Dimension, Quantity, in_mm, mm, mpa, unit_of};

/// Mean bearing diameter of an ordinary hexagon head (ISO 4014) over a clearance hole (ISO 273), in nominal diameters.
const USUAL_BEARING: f64 = 1.3;
/// What stands in for a thread or a strength that cannot be read, until it can.
const STAND_IN_THREAD: &str = "M10x1.5";
const STAND_IN_STRENGTH: &str = "8.8";
/// Where a bolt yields of which only the strength that it breaks at is known: as class 10.9 and 12.9 do.
const YIELD_OF_TENSILE: f64 = 0.9;
/// Young's modulus of steel, `MPa`.
const STEEL_MPA: f64 = 205_000.0;

pub(super) fn lubricant(table: &Table<'_>) -> Lubricant {
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
        film: if table.has("film") {
            table.choice("film", &FILMS).unwrap_or_default()
        } else {
            Film::default()
        },
        version: 0,
    };
    table.finish();
    lubricant
}

pub(super) fn spec(
    table: &Table<'_>,
    lubricants: &[Lubricant],
    opens: &mut Vec<OpenFigure>,
) -> Option<FastenerSpec> {
    let (id, name, designation) = (table.text("id"), table.text("name"), table.text("thread"));
    let read_thread = Thread::parse(&designation)
        .map_err(|error| {
            if !designation.is_empty() {
                table.error("thread", error.message());
            }
        })
        .ok();
    // Something stands in for what cannot be read, so that one wrong field takes nothing else off the page.
    let thread = read_thread.or_else(|| Thread::parse(STAND_IN_THREAD).ok());
    // What nobody has looked up yet has something stand in for it, and no clamp load is computed.
    let open = table.open_of(&["strength", "yield", "tensile", "bearing_diameter"]);
    let read_strength = strength(table, thread);
    let strength = read_strength.or_else(|| {
        let nominal_mm = thread.map_or(10.0, |thread| thread.nominal_mm());
        Strength::class(STAND_IN_STRENGTH, nominal_mm).ok()
    });
    let given = table.has("bearing_diameter") && !table.is_open("bearing_diameter");
    let given = given.then(|| table.positive("bearing_diameter", Dimension::Length)).flatten();
    let bearing = given.or_else(|| thread.map(|thread| USUAL_BEARING * thread.nominal_mm()));
    if let (Some(thread), Some(db)) = (thread, bearing)
        && !(thread.nominal_mm()..4.0 * thread.nominal_mm()).contains(&db)
    {
        table.error(
            "bearing_diameter",
            message!(
                "{bearing} does not go with {thread}: one to four diameters",
                bearing = Quantity::written_in(db, table.unit("bearing_diameter", Dimension::Length)),
                thread = &designation,
            ),
        );
    }
    let ids = lubricants.iter().map(|lubricant| lubricant.id.as_str());
    let lubrication = Lubrication {
        thread: lubricants[table.reference("thread_lubricant", "lubricant", ids.clone())].clone(),
        bearing: lubricants[table.reference("bearing_lubricant", "lubricant", ids)].clone(),
    };
    let bolt = table.table("bolt").and_then(|table| bolt(&table, thread));
    let parts = table.table("parts").and_then(|table| parts(&table));
    let (to_yield, single_use) = (table.flag("to_yield"), table.flag("single_use"));
    let source = table.text_or("source", "");
    table.finish();
    let known = open.is_empty() && read_thread.is_some() && read_strength.is_some();
    opens.extend(open.into_iter().map(|(key, note)| OpenFigure::of_fastener(table.path(), key, &name, note)));
    Some(FastenerSpec {
        id,
        name,
        designation,
        fastening: Fastening {
            thread: thread?,
            strength: strength?,
            bearing_diameter_mm: bearing?,
            friction: lubrication.friction(),
            neck: Neck::of(&thread?, bolt.iter().flat_map(|bolt| bolt.shanks_mm.iter().copied())),
            bolt: bolt.map(|bolt| bolt.mm_per_n),
            parts,
            known,
            converted: 1.0,
        },
        lubrication,
        to_yield,
        single_use,
        source,
    })
}

fn strength(table: &Table<'_>, thread: Option<Thread>) -> Option<Strength> {
    if ["strength", "yield", "tensile"].iter().any(|key| table.is_open(key)) {
        table.text_or("strength", "");
        let _ = (table.word("yield"), table.word("tensile"));
        return None;
    }
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
    // A strength as a card prints it, with its unit, is what the bolt breaks at.
    if unit_of(&class, Dimension::Pressure).is_some() {
        let tensile = table.positive("strength", Dimension::Pressure)?;
        let strength = Strength::figures(mpa(tensile * YIELD_OF_TENSILE), mpa(tensile));
        return strength.map_err(|error| table.error("strength", error.message())).ok();
    }
    let nominal = thread.map_or(10.0, |thread| thread.nominal_mm());
    Strength::class(&class, nominal).map_err(|error| table.error("strength", error.message())).ok()
}

/// A bolt as it is drawn.
struct Bolt {
    /// Its elastic resilience, mm/N.
    mm_per_n: f64,
    /// The diameters of its shanks, mm.
    shanks_mm: Vec<f64>,
}

fn bolt(table: &Table<'_>, thread: Option<Thread>) -> Option<Bolt> {
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
    let shank = |segment: &Segment| match segment.section {
        Section::Shank(diameter) => Some(in_mm(diameter)),
        Section::FreeThread => None,
    };
    Some(Bolt {
        mm_per_n: bolt_resilience(&thread?, &segments, head?, end?, mpa(modulus)),
        shanks_mm: segments.iter().filter_map(shank).collect(),
    })
}

fn parts(table: &Table<'_>) -> Option<f64> {
    let bearing_od = table.positive("bearing_od", Dimension::Length);
    let hole = table.positive("hole", Dimension::Length);
    let clamp_length = table.positive("clamp_length", Dimension::Length);
    let outer = table.positive("outer", Dimension::Length);
    let modulus = table.positive("modulus", Dimension::Pressure);
    let kind = table.choice("kind", &[("tapped", PartKind::Tapped), ("through", PartKind::Through)]);
    if let (Some(od), Some(hole), Some(outer)) = (bearing_od, hole, outer)
        && (hole >= od || hole >= outer)
    {
        let written = |key, mm| Quantity::written_in(mm, table.unit(key, Dimension::Length));
        table.error(
            "hole",
            message!(
                "{hole} leaves nothing to clamp: bearing_od {od}, outer {outer}",
                hole = written("hole", hole),
                od = written("bearing_od", od),
                outer = written("outer", outer),
            ),
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
