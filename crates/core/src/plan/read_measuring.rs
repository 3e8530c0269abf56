//! Reading sites and clearances.

use super::document::Plan;
use super::measuring::{Clearance, Cylinder, Place, Rule, Site, SiteForm, Size, UseWindow};
use super::read_parts::{members, read_count};
use super::reader::Table;
use crate::clearance::{ShellGrade, Window};
use crate::quantity::{self, Dimension};

/// Uses that a plan may give windows for.
const USES: [&str; 4] = ["street", "vintage", "endurance", "boost"];
/// Thermal expansion per kelvin by material.
const MATERIALS: [(&str, f64); 4] =
    [("steel", 11.5e-6), ("cast-iron", 10.5e-6), ("aluminium", 23e-6), ("none", 0.0)];
const FORMS: [(&str, SiteForm); 9] = [
    ("journal", SiteForm::Journal),
    ("bore", SiteForm::Bore),
    ("gap", SiteForm::Gap),
    ("length", SiteForm::Length),
    ("strip", SiteForm::Strip),
    ("ring", SiteForm::Ring),
    ("deck", SiteForm::Deck),
    ("chamber", SiteForm::Chamber),
    ("valve", SiteForm::Valve),
];

pub(super) fn families(plan: &Plan) -> Vec<&str> {
    let mut families: Vec<&str> = plan.sites.iter().map(|site| site.family.as_str()).collect();
    families.dedup();
    families
}

/// One `[[site]]`, which stands for as many sites as it counts.
pub(super) fn read_site(table: Table<'_>) -> Vec<Site> {
    let (family, name) = (table.text("id"), table.text("name"));
    let count = read_count(&table);
    let form = table.choice("form", &FORMS).unwrap_or(SiteForm::Length);
    let dimension = if form == SiteForm::Chamber { Dimension::Volume } else { Dimension::Length };
    let places = read_places(&table, form);
    let range = quantities(&table, "plausible", dimension);
    let plausible = match range[..] {
        [low, high] if low < high => [low, high],
        _ => {
            let symbol = dimension.base().symbol;
            let message = format!(
                "two rising {}s such as [\"54.9 {symbol}\", \"55.1 {symbol}\"] are needed",
                dimension.word()
            );
            table.error("plausible", message);
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
    let site = |(number, (id, name))| Site {
        id,
        family: family.clone(),
        name,
        number,
        form,
        dimension,
        places: places.clone(),
        plausible,
        expansion_per_k,
        strip_mm,
    };
    (1..).zip(members(&family, &name, count)).map(site).collect()
}

/// Every plane in every direction, or every crank angle of a series; one nameless place where
/// none is given.
fn read_places(table: &Table<'_>, form: SiteForm) -> Vec<Place> {
    let (planes, angles, series) = (table.texts("planes"), table.numbers("angles"), table.numbers("series"));
    let rising = series.windows(2).all(|pair| pair[0] < pair[1]);
    if (form == SiteForm::Valve) != (series.len() >= 3 && rising) {
        table.error("series", "form \"valve\" and at least three rising crank angles go together");
    }
    if !series.is_empty() {
        return series.into_iter().map(crank_place).collect();
    }
    let planes = if planes.is_empty() { vec![String::new()] } else { planes };
    let directions: Vec<Option<f64>> =
        if angles.is_empty() { vec![None] } else { angles.iter().copied().map(Some).collect() };
    let place = |plane: usize, angle_deg: Option<f64>| {
        let angle = angle_deg.map(|angle| format!("{angle:.0}°")).unwrap_or_default();
        Place {
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

fn crank_place(crank_deg: f64) -> Place {
    let name = match crank_deg {
        before if before < 0.0 => format!("{:.0}° before top", -before),
        after if after > 0.0 => format!("{after:.0}° after top"),
        _ => "top dead centre".to_owned(),
    };
    Place {
        name,
        plane_name: String::new(),
        plane: 0,
        planes: 1,
        angle_deg: None,
        crank_deg: Some(crank_deg),
    }
}

/// A list of quantities in their base unit.
fn quantities(table: &Table<'_>, key: &'static str, dimension: Dimension) -> Vec<f64> {
    let read = |text: String| {
        quantity::read(&text, dimension, dimension.base())
            .map_err(|error| table.error(key, error.to_string()))
            .ok()
    };
    table.texts(key).into_iter().filter_map(read).collect()
}

pub(super) fn read_clearance(table: Table<'_>, plan: &Plan) -> Clearance {
    let rule = read_rule(&table, plan);
    let other = |key: &'static str| table.has(key).then(|| table.reference(key, "site", &families(plan)));
    let (second, per_bore) = (other("second"), other("per_bore"));
    let mut shells: Vec<ShellGrade> = Vec::new();
    for grade in table.tables("shell") {
        let thickness_mm = grade.positive("thickness", Dimension::Length).unwrap_or(1.0);
        shells.push(ShellGrade { name: grade.text("grade"), thickness_mm });
        grade.finish();
    }
    shells.sort_by(|a, b| a.thickness_mm.total_cmp(&b.thickness_mm));
    let plain = matches!(rule, Rule::Compression(_)) || per_bore.is_some();
    let windows = read_windows(&table, plain);
    let trusts = [("first", false), ("second", true)];
    let trust_second = table.has("trust") && table.choice("trust", &trusts).unwrap_or(false);
    let filed = table.flag("filed");
    let (id, name) = (table.text("id"), table.text("name"));
    let clearance =
        Clearance { id, name, rule, second, trust_second, shells, windows, per_bore, filed, judged_in: None };
    check_members(&table, plan, &clearance);
    table.finish();
    clearance
}

/// One of `plus` (with `minus` and `add`), `least` and `compression`.
fn read_rule(table: &Table<'_>, plan: &Plan) -> Rule {
    let known = families(plan);
    if table.has("least") {
        return Rule::Least { of: table.reference("least", "site", &known) };
    }
    if let Some(cylinder) = table.table("compression") {
        let size = |key, dimension| read_size(&cylinder, key, dimension, &known);
        let cylinder_read = Cylinder {
            bore: size("bore", Dimension::Length),
            stroke: size("stroke", Dimension::Length),
            chamber: size("chamber", Dimension::Volume),
            piston: size("piston", Dimension::Volume),
            gasket_bore: size("gasket_bore", Dimension::Length),
            gasket: size("gasket", Dimension::Length),
            deck: size("deck", Dimension::Length),
            crevice: if cylinder.has("crevice") {
                size("crevice", Dimension::Volume)
            } else {
                Size::Fixed(0.0)
            },
        };
        cylinder.finish();
        return Rule::Compression(Box::new(cylinder_read));
    }
    Rule::Difference {
        plus: table.reference("plus", "site", &known),
        minus: table.has("minus").then(|| table.reference("minus", "site", &known)),
        add_mm: table.quantity_if("add", Dimension::Length).unwrap_or(0.0),
    }
}

/// A quantity, or the name of a site whose mean it is.
fn read_size(table: &Table<'_>, key: &'static str, dimension: Dimension, families: &[&str]) -> Size {
    let text = table.text_or(key, "");
    if families.contains(&text.as_str()) {
        return Size::Measured(text);
    }
    Size::Fixed(table.quantity(key, dimension).unwrap_or(1.0))
}

/// Windows by use: lengths, or plain numbers where the figure is a ratio or goes by the bore.
fn read_windows(table: &Table<'_>, plain: bool) -> Vec<UseWindow> {
    let mut windows = Vec::new();
    let kind = if plain { "plain numbers" } else { "lengths" };
    if let Some(by_use) = table.table("window") {
        for name in USES.into_iter().filter(|name| by_use.has(name)) {
            let figures =
                if plain { by_use.numbers(name) } else { quantities(&by_use, name, Dimension::Length) };
            match figures[..] {
                [low, target, high] if low <= target && target <= high => {
                    windows.push(UseWindow { name: name.to_owned(), window: Window { low, high, target } });
                }
                _ => by_use.error(name, format!("three rising {kind} [low, target, high] are needed")),
            }
        }
        by_use.finish();
    }
    if windows.is_empty() {
        table.error("window", format!("at least one use with a window is needed: {}", USES.join(", ")));
    }
    windows
}

/// Every family of a clearance has the same number of members.
fn check_members(table: &Table<'_>, plan: &Plan, clearance: &Clearance) {
    let count = |family: &str| plan.sites.iter().filter(|site| site.family == family).count();
    let Some(first) = clearance.first_family() else {
        table.error_here("nothing of it is measured: at least one size has to be a site");
        return;
    };
    for family in clearance.all_families() {
        if count(family) > 0 && count(first) > 0 && count(family) != count(first) {
            let message =
                format!("`{family}` has {} sites and `{first}` has {}", count(family), count(first));
            table.error_here(message);
        }
    }
}
