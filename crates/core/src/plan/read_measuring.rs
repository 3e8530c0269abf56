//! Reading sites and clearances.

use super::document::Plan;
use super::measuring::{Clearance, Place, Site, SiteForm, UseWindow};
use super::reader::Table;
use crate::clearance::{ShellGrade, Window};
use crate::quantity::{self, Dimension};

/// Uses that a plan may give windows for.
const USES: [&str; 4] = ["street", "vintage", "endurance", "boost"];
/// Thermal expansion per kelvin by material.
const MATERIALS: [(&str, f64); 4] =
    [("steel", 11.5e-6), ("cast-iron", 10.5e-6), ("aluminium", 23e-6), ("none", 0.0)];
const FORMS: [(&str, SiteForm); 5] = [
    ("journal", SiteForm::Journal),
    ("bore", SiteForm::Bore),
    ("gap", SiteForm::Gap),
    ("length", SiteForm::Length),
    ("strip", SiteForm::Strip),
];

pub(super) fn families(plan: &Plan) -> Vec<&str> {
    let mut families: Vec<&str> = plan.sites.iter().map(|site| site.family.as_str()).collect();
    families.dedup();
    families
}

/// One `[[site]]`, which stands for as many sites as it counts.
pub(super) fn read_site(table: Table<'_>) -> Vec<Site> {
    let (family, name) = (table.text("id"), table.text("name"));
    let count = table.number_if("count").unwrap_or(1.0);
    if !(1.0..=64.0).contains(&count) || count.fract() != 0.0 {
        table.error("count", "a whole number from 1 to 64 is needed");
    }
    let form = table.choice("form", &FORMS).unwrap_or(SiteForm::Length);
    let places = places(&table.texts("planes"), &table.numbers("angles"));
    let range = lengths(&table, "plausible");
    let plausible_mm = match range[..] {
        [low, high] if low < high => [low, high],
        _ => {
            table.error("plausible", "two rising lengths [\"54.9 mm\", \"55.1 mm\"] are needed");
            [0.0, 0.0]
        }
    };
    let expansion_per_k =
        if table.has("material") { table.choice("material", &MATERIALS).unwrap_or(0.0) } else { 0.0 };
    let strip_mm = table.quantity_if("strip", Dimension::Length);
    if (form == SiteForm::Strip) != strip_mm.is_some_and(|strip| strip > 0.0) {
        table.error("strip", "form \"strip\" and the strip's diameter above zero go together");
    }
    table.finish();
    let count = count.clamp(1.0, 64.0) as usize;
    let site = |number: usize| Site {
        id: if count == 1 { family.clone() } else { format!("{family}-{number}") },
        family: family.clone(),
        name: if count == 1 { name.clone() } else { format!("{name} {number}") },
        number,
        form,
        places: places.clone(),
        plausible_mm,
        expansion_per_k,
        strip_mm,
    };
    (1..=count).map(site).collect()
}

/// Every plane in every direction; one nameless place where neither is given.
fn places(planes: &[String], angles: &[f64]) -> Vec<Place> {
    let planes: Vec<&str> =
        if planes.is_empty() { vec![""] } else { planes.iter().map(String::as_str).collect() };
    let directions: Vec<Option<f64>> =
        if angles.is_empty() { vec![None] } else { angles.iter().copied().map(Some).collect() };
    let place = |plane: usize, angle_deg: Option<f64>| {
        let angle = angle_deg.map(|angle| format!("{angle:.0}°")).unwrap_or_default();
        Place {
            name: format!("{} {angle}", planes[plane]).trim().to_owned(),
            plane,
            planes: planes.len(),
            angle_deg,
        }
    };
    let of_plane = |plane| directions.iter().map(move |&angle| place(plane, angle));
    (0..planes.len()).flat_map(of_plane).collect()
}

/// A list of lengths in mm.
fn lengths(table: &Table<'_>, key: &'static str) -> Vec<f64> {
    let base = Dimension::Length.base();
    let read = |text: String| {
        quantity::read(&text, Dimension::Length, base)
            .map_err(|error| table.error(key, error.to_string()))
            .ok()
    };
    table.texts(key).into_iter().filter_map(read).collect()
}

pub(super) fn read_clearance(table: Table<'_>, plan: &Plan) -> Clearance {
    let known = families(plan);
    let count = |family: &str| plan.sites.iter().filter(|site| site.family == family).count();
    let plus = table.reference("plus", "site", &known);
    let other = |key: &'static str| {
        let family = table.has(key).then(|| table.reference(key, "site", &known))?;
        if known.contains(&family.as_str())
            && known.contains(&plus.as_str())
            && count(&family) != count(&plus)
        {
            let message =
                format!("`{family}` has {} sites and `{plus}` has {}", count(&family), count(&plus));
            table.error(key, message);
        }
        Some(family)
    };
    let (minus, second) = (other("minus"), other("second"));
    let mut shells: Vec<ShellGrade> = Vec::new();
    for grade in table.tables("shell") {
        let thickness_mm = grade.positive("thickness", Dimension::Length).unwrap_or(1.0);
        shells.push(ShellGrade { name: grade.text("grade"), thickness_mm });
        grade.finish();
    }
    shells.sort_by(|a, b| a.thickness_mm.total_cmp(&b.thickness_mm));
    let mut windows = Vec::new();
    if let Some(by_use) = table.table("window") {
        for name in USES.into_iter().filter(|name| by_use.has(name)) {
            match lengths(&by_use, name)[..] {
                [low_mm, target_mm, high_mm] if low_mm <= target_mm && target_mm <= high_mm => {
                    let window = Window { low_mm, high_mm, target_mm };
                    windows.push(UseWindow { name: name.to_owned(), window });
                }
                _ => by_use.error(name, "three rising lengths [low, target, high] are needed"),
            }
        }
        by_use.finish();
    }
    if windows.is_empty() {
        table.error("window", format!("at least one use with a window is needed: {}", USES.join(", ")));
    }
    let trusts = [("first", false), ("second", true)];
    let trust_second = table.has("trust") && table.choice("trust", &trusts).unwrap_or(false);
    let clearance = Clearance {
        id: table.text("id"),
        name: table.text("name"),
        plus,
        minus,
        second,
        trust_second,
        shells,
        windows,
    };
    table.finish();
    clearance
}
