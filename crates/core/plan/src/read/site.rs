//! Reading what is measured.

use super::members;
use super::rework::again;
use crate::document::Plan;
use crate::index::{FamilyIx, SlotIx};
use crate::sites::{MeasuringPlace, Site, SiteFamily, SiteForm};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;
use rigore_mechanics::quantity::Dimension;

/// Thermal expansion per kelvin by material.
const MATERIALS: [(&str, f64); 4] =
    [("steel", 11.5e-6), ("cast-iron", 10.5e-6), ("aluminium", 23e-6), ("none", 0.0)];
const FORMS: [(&str, SiteForm); 15] = [
    ("journal", SiteForm::Journal),
    ("bore", SiteForm::Bore),
    ("gap", SiteForm::Gap),
    ("length", SiteForm::Length),
    ("strip", SiteForm::Strip),
    ("ring", SiteForm::Ring),
    ("deck", SiteForm::Deck),
    ("chamber", SiteForm::Chamber),
    ("valve", SiteForm::Valve),
    ("angle", SiteForm::Angle),
    ("count", SiteForm::Count),
    ("torque", SiteForm::Torque),
    ("pressure", SiteForm::Pressure),
    ("temperature", SiteForm::Temperature),
    ("mass", SiteForm::Mass),
];

/// One `[[site]]`: a family of as many sites as it counts.
pub(super) fn family(table: &TomlTable<'_>, plan: &mut Plan) {
    let form = table.choice("form", &FORMS).unwrap_or(SiteForm::Length);
    let dimension = form.dimension();
    let places = places(table, form);
    let plausible = if table.has("plausible") { plausible(table, dimension) } else { form.plausible() };
    if table.has("material") && !dimension.is_length() {
        table.error("material", message!("read-only-length-brought-20-c"));
    }
    let expansion_per_k =
        if table.has("material") { table.choice("material", &MATERIALS).unwrap_or(0.0) } else { 0.0 };
    let strip_mm = table.quantity_if("strip", Dimension::Length);
    if (form == SiteForm::Strip) != strip_mm.is_some_and(|strip| strip > 0.0) {
        table.error("strip", message!("read-form-strip-strips-diameter-above-zero"));
    }
    let shells_in = shells_in(table, form, &places);
    let slot = table
        .has("part")
        .then(|| SlotIx(table.reference("part", "slot", plan.slots.iter().map(|slot| slot.id.as_str()))));
    let family = FamilyIx(plan.families.len());
    let first = plan.sites.len();
    let (id, name) = (table.text("id"), table.text("name"));
    let keys = members::keys(table);
    let site = |(number, key): (usize, &String)| Site {
        id: members::of(&id, "-", key),
        family,
        name: members::of(&name, " ", key),
        member: key.clone(),
        again: again(&table.of_member(key), plan),
        number,
        form,
        dimension,
        places: places.clone(),
        plausible,
        expansion_per_k,
        strip_mm,
        shells_in,
    };
    let sites: Vec<Site> = (1..).zip(&keys).map(site).collect();
    plan.sites.extend(sites);
    plan.families.push(SiteFamily {
        id: table.text_or("id", ""),
        name,
        slot,
        sites: first..plan.sites.len(),
    });
    table.check_assumed();
    table.finish();
}

/// Whether a bore is read with its shells in; there is a place on its load line then.
fn shells_in(table: &TomlTable<'_>, form: SiteForm, places: &[MeasuringPlace]) -> bool {
    let shells_in = table.flag("shells_in");
    if shells_in && form != SiteForm::Bore {
        table.error("shells_in", message!("read-only-form-bore-has-shells"));
    } else if shells_in && !places.iter().any(MeasuringPlace::on_load_line) {
        table.error("shells_in", message!("read-direction-on-load-line-needed-among"));
    }
    shells_in
}

fn plausible(table: &TomlTable<'_>, dimension: Dimension) -> [f64; 2] {
    if let [low, high] = table.quantities("plausible", dimension)[..]
        && low < high
    {
        return [low, high];
    }
    let (word, symbol) = (dimension.word(), dimension.base().symbol);
    let example = format!("[\"54.9 {symbol}\", \"55.1 {symbol}\"]");
    table.error("plausible", message!("read-two-rising-s-such-as-needed", word, example));
    [0.0, 0.0]
}

/// Every plane in every direction, or every crank angle of a series; one nameless place where
/// none is given.
fn places(table: &TomlTable<'_>, form: SiteForm) -> Vec<MeasuringPlace> {
    let (planes, angles, series) = (table.texts("planes"), table.numbers("angles"), table.numbers("series"));
    let rising = series.windows(2).all(|pair| pair[0] < pair[1]);
    if (form == SiteForm::Valve) != (series.len() >= 3 && rising) {
        table.error("series", message!("read-form-valve-at-least-three-rising"));
    }
    if !series.is_empty() {
        return series.into_iter().map(crank_place).collect();
    }
    let planes = if planes.is_empty() { vec![String::new()] } else { planes };
    let directions: Vec<Option<f64>> =
        if angles.is_empty() { vec![None] } else { angles.iter().copied().map(Some).collect() };
    let place = |plane: usize, angle_deg: Option<f64>| {
        let angle = angle_deg.map(|angle| format!("{angle:.0}°")).unwrap_or_default();
        MeasuringPlace {
            name: format!("{} {angle}", planes[plane]).trim().to_owned(),
            plane_name: planes[plane].clone(),
            plane,
            planes: planes.len(),
            angle_deg,
            crank_deg: None,
        }
    };
    let of_plane = |plane| directions.iter().map(move |&angle| (plane, angle));
    (0..planes.len()).flat_map(of_plane).map(|(plane, angle)| place(plane, angle)).collect()
}

fn crank_place(crank_deg: f64) -> MeasuringPlace {
    let name = match crank_deg {
        before if before < 0.0 => format!("{:.0}° before top", -before),
        after if after > 0.0 => format!("{after:.0}° after top"),
        _ => "TDC".to_owned(),
    };
    MeasuringPlace {
        name,
        plane_name: String::new(),
        plane: 0,
        planes: 1,
        angle_deg: None,
        crank_deg: Some(crank_deg),
    }
}
