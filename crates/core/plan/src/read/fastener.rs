//! Reading lubricants and specifications of fasteners.

use crate::document::{FastenerSpec, StudEnd};
use crate::missing_figure::MissingFigure;
use crate::running_loads::{ClampedParts, Washer};
use crate::toml_reader::TomlTable;
use rigore_mechanics::fastener::{Material, Strength, Thread};
use rigore_mechanics::friction::{FILMS, Friction, Lubricant, Lubrication, SurfaceFilm};
use rigore_mechanics::joint::{
    BearingFace, BoltEnd, BoltHead, BoltResilience, BoltSegment, ClampedSleeve, Fastening, JointKind,
    PartLayer, Resilience, SegmentSection, WeakestSection, bolt_resilience, end_resilience, part_resilience,
    read_resilience,
};
use rigore_mechanics::message;
use rigore_mechanics::quantity::{Dimension, Pressure, Quantity, in_mm, in_mpa, mm, mpa, unit_of};

/// What stands in for a thread or a strength that cannot be read, until it can.
const STAND_IN_THREAD: &str = "M10x1.5";
const STAND_IN_STRENGTH: &str = "8.8";
/// Where a bolt yields of which only the strength that it breaks at is known: as class 10.9 and 12.9 do.
const YIELD_OF_TENSILE: f64 = 0.9;
/// Young's modulus of steel, `MPa`.
const STEEL_MPA: f64 = 205_000.0;

pub(super) fn lubricant(table: &TomlTable<'_>) -> Lubricant {
    let range = |key| match table.numbers(key)[..] {
        [low, typical, high] if 0.0 < low && low <= typical && typical <= high && high <= 1.0 => {
            [low, typical, high]
        }
        _ => {
            table.error(key, message!("read-three-rising-coefficients-low-typical-high"));
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
            SurfaceFilm::default()
        },
        version: 0,
    };
    table.finish();
    lubricant
}

pub(super) fn spec(
    table: &TomlTable<'_>,
    lubricants: &[Lubricant],
    opens: &mut Vec<MissingFigure>,
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
    let bearing = given.or_else(|| thread.map(|thread| in_mm(BearingFace::usual(&thread).mean_diameter)));
    if let (Some(thread), Some(db)) = (thread, bearing)
        && !(BearingFace { mean_diameter: mm(db) }).fits(&thread)
    {
        table.error(
            "bearing_diameter",
            message!(
                "read-does-not-go-with-one-four",
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
    let (parts, clamped) = table.table("parts").map(|table| parts(&table)).unwrap_or_default();
    let elongation_allowed_mm = table
        .has("elongation_allowed")
        .then(|| table.positive("elongation_allowed", Dimension::Length))
        .flatten();
    let stud = table.table("stud").and_then(|table| stud_end(&table, lubricants));
    let (to_yield, single_use) = (table.flag("to_yield"), table.flag("single_use"));
    let source = table.text_or("source", "");
    table.check_assumed();
    table.finish();
    let known = open.is_empty() && read_thread.is_some() && read_strength.is_some();
    opens.extend(
        open.into_iter().map(|(key, note)| MissingFigure::of_fastener(table.path(), key, &name, note)),
    );
    Some(FastenerSpec {
        id,
        name,
        designation,
        fastening: Fastening {
            thread: thread?,
            strength: strength?,
            bearing_diameter_mm: bearing?,
            friction: lubrication.friction(),
            neck: WeakestSection::of(&thread?, bolt.iter().flat_map(|bolt| bolt.shanks_mm.iter().copied())),
            bolt: bolt.as_ref().map(|bolt| bolt.resilience),
            parts,
            known,
            converted: 1.0,
        },
        lubrication,
        clamped,
        expansion_per_k: bolt.as_ref().map_or(Material::Steel, |bolt| bolt.material).expansion_per_k(),
        elongation_allowed_mm,
        end_by_hole: bolt.is_some_and(|bolt| bolt.end_by_hole),
        stud,
        to_yield,
        single_use,
        source,
    })
}

/// The end of a stud that goes into the part.
fn stud_end(table: &TomlTable<'_>, lubricants: &[Lubricant]) -> Option<StudEnd> {
    let designation = table.text("thread");
    let thread = Thread::parse(&designation);
    if let Err(error) = &thread
        && !designation.is_empty()
    {
        table.error("thread", error.message());
    }
    let ids = lubricants.iter().map(|lubricant| lubricant.id.as_str());
    let lubricant = lubricants[table.reference("lubricant", "lubricant", ids)].clone();
    table.finish();
    Some(StudEnd { thread: thread.ok()?, designation, lubricant })
}

fn strength(table: &TomlTable<'_>, thread: Option<Thread>) -> Option<Strength> {
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
    /// Its elastic resilience.
    resilience: BoltResilience,
    /// Whether it goes into a hole of which only the groups say what it is cut into.
    end_by_hole: bool,
    /// What it is made of.
    material: Material,
    /// The diameters of its shanks, mm.
    shanks_mm: Vec<f64>,
}

fn bolt(table: &TomlTable<'_>, thread: Option<Thread>) -> Option<Bolt> {
    let measured = resilience(table);
    let asked = |key: &str| measured.is_none() || table.has(key);
    let heads = [("hex", BoltHead::Hex), ("socket", BoltHead::Socket)];
    let ends = [("tapped", BoltEnd::Tapped), ("nut", BoltEnd::Nut)];
    let head = if asked("head") { table.choice("head", &heads) } else { None };
    let end = if asked("end") { table.choice("end", &ends) } else { None };
    let named = table.has("material").then(|| table.choice("material", &Material::ALL)).flatten();
    let material = named.unwrap_or(Material::Steel);
    let given = table.quantity_if("modulus", Dimension::Pressure).map(mpa);
    let modulus = given.unwrap_or_else(|| material.modulus());
    let end_material =
        table.has("end_material").then(|| table.choice("end_material", &Material::ALL)).flatten();
    let segments = segments(table);
    if segments.is_empty() && measured.is_none() {
        table.error("segment", message!("read-at-least-one-segment-with-length"));
    }
    table.finish();
    let shank = |segment: &BoltSegment| match segment.section {
        SegmentSection::Shank(diameter) => Some(in_mm(diameter)),
        SegmentSection::FreeThread => None,
    };
    let end_modulus = end_material.map_or(mpa(STEEL_MPA), Material::modulus);
    let resilience = match (measured, end) {
        (Some(own), None) => BoltResilience { own, end: 0.0 },
        (Some(own), Some(end)) => BoltResilience { own, end: end_resilience(&thread?, end, end_modulus) },
        (None, end) => bolt_resilience(&thread?, &segments, head?, end?, [modulus, end_modulus]),
    };
    Some(Bolt {
        resilience,
        end_by_hole: end == Some(BoltEnd::Tapped) && end_material.is_none(),
        material,
        shanks_mm: segments.iter().filter_map(shank).collect(),
    })
}

fn segments(table: &TomlTable<'_>) -> Vec<BoltSegment> {
    let mut segments = Vec::new();
    for segment in table.tables("segment") {
        let length = segment.positive("length", Dimension::Length);
        let section = if segment.text_or("diameter", "") == "thread" {
            Some(SegmentSection::FreeThread)
        } else {
            segment.positive("diameter", Dimension::Length).map(|d| SegmentSection::Shank(mm(d)))
        };
        if let (Some(length), Some(section)) = (length, section) {
            segments.push(BoltSegment { length: mm(length), section });
        }
        segment.finish();
    }
    segments
}

/// A resilience that was measured: `4.51e-6 mm/N`, or `4.51 µm/kN`, which is the same.
fn resilience(table: &TomlTable<'_>) -> Option<Resilience> {
    let text = if table.has("resilience") { table.text("resilience") } else { return None };
    let believable = read_resilience(&text);
    if believable.is_none() {
        table.error("resilience", message!("read-no-resilience-such-as-4-51e", text));
    }
    believable.map(Resilience::measured)
}

/// The resilience of the clamped parts, where it is known, and what they are.
fn parts(table: &TomlTable<'_>) -> (Option<Resilience>, ClampedParts) {
    let measured = resilience(table);
    let asked = |key: &str| measured.is_none() || table.has(key);
    let length = |key| if asked(key) { table.positive(key, Dimension::Length) } else { None };
    let (bearing_od, hole, outer) = (length("bearing_od"), length("hole"), length("outer"));
    let layers = if measured.is_none() || table.has("layer") || table.has("clamp_length") {
        layers(table)
    } else {
        Some(Vec::new())
    };
    let kinds = [("tapped", JointKind::Tapped), ("through", JointKind::Through)];
    let kind = if asked("kind") { table.choice("kind", &kinds) } else { None };
    let under_head = table.table("washer").and_then(|washer| self::washer(&washer, bearing_od));
    let limit =
        table.has("pressure_limit").then(|| table.positive("pressure_limit", Dimension::Pressure)).flatten();
    table.finish();
    if let (Some(od), Some(hole)) = (bearing_od, hole)
        && (hole >= od || outer.is_some_and(|outer| hole >= outer))
    {
        let written = |key, mm| Quantity::written_in(mm, table.unit(key, Dimension::Length));
        table.error(
            "hole",
            message!(
                "read-leaves-nothing-clamp-bearing-od-outer",
                hole = written("hole", hole),
                od = written("bearing_od", od),
                outer = written("outer", outer.unwrap_or_default()),
            ),
        );
        return Default::default();
    }
    let layers = layers.unwrap_or_default();
    let usual = layers.first().and_then(|layer| layer.material).map(|of| in_mpa(of.usual_bearing_limit()));
    let clamped = ClampedParts {
        face_mm: bearing_od.zip(hole),
        washer: under_head,
        limit_mpa: limit.map(|mpa| (mpa, true)).or_else(|| usual.map(|mpa| (mpa, false))),
        layers: layers
            .iter()
            .map(|of| (in_mm(of.layer.thickness), of.material.map(Material::expansion_per_k)))
            .collect(),
    };
    let computed = || {
        let parts =
            ClampedSleeve { bearing_od: mm(bearing_od?), hole: mm(hole?), outer: mm(outer?), kind: kind? };
        let layers: Vec<PartLayer> = layers.iter().map(|of| of.layer).collect();
        (!layers.is_empty()).then(|| Resilience::computed(part_resilience(&parts, &layers)))
    };
    (measured.or_else(computed), clamped)
}

/// A washer under the head, which is no smaller than what stands on it.
fn washer(table: &TomlTable<'_>, bearing_od: Option<f64>) -> Option<Washer> {
    let (outer, thickness) =
        (table.positive("outer", Dimension::Length), table.positive("thickness", Dimension::Length));
    table.finish();
    let washer = Washer { outer_mm: outer?, thickness_mm: thickness? };
    if bearing_od.is_some_and(|face| washer.outer_mm < face) {
        table.error("outer", message!("read-washer-no-smaller-than-face-stands"));
    }
    Some(washer)
}

/// A layer as it is written: with the name of its material, where that is given.
struct WrittenLayer {
    layer: PartLayer,
    material: Option<Material>,
}

/// What lies under the head, from the head down: layers, or one part of a clamp length.
fn layers(table: &TomlTable<'_>) -> Option<Vec<WrittenLayer>> {
    let one = |table: &TomlTable<'_>, key| {
        let thickness = table.positive(key, Dimension::Length);
        let (modulus, material) = modulus(table);
        Some(WrittenLayer { layer: PartLayer { thickness: mm(thickness?), modulus: modulus? }, material })
    };
    if !table.has("layer") {
        return Some(vec![one(table, "clamp_length")?]);
    }
    let layer = |table: TomlTable<'_>| {
        table.text_or("name", "");
        let layer = one(&table, "thickness");
        table.finish();
        layer
    };
    table.tables("layer").into_iter().map(layer).collect()
}

/// Young's modulus of a part, by its material or as a figure, which counts before.
fn modulus(table: &TomlTable<'_>) -> (Option<Pressure>, Option<Material>) {
    let material = table.has("material").then(|| table.choice("material", &Material::ALL)).flatten();
    if material.is_some() && !table.has("modulus") {
        return (material.map(Material::modulus), material);
    }
    (table.positive("modulus", Dimension::Pressure).map(mpa), material)
}
