//! Reading clearances and other figures that follow from sizes.

use super::window::{self, WrittenWindow};
use crate::document::Plan;
use crate::index::FamilyIx;
use crate::missing_figure::MissingFigure;
use crate::sites::{ChamberSpec, Clearance, ClearanceRule, PlannedValve, SiteForm, SizeSource, UseWindow};
use crate::toml_reader::TomlTable;
use rigore_mechanics::clearance::{ShellGrade, Window};
use rigore_mechanics::geometry::ValveGeometry;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;

/// Uses that a plan may give windows for.
const USES: [&str; 4] = ["street", "vintage", "endurance", "boost"];

/// A clearance, with what of its windows nobody has looked up yet.
pub(super) fn clearance(table: &TomlTable<'_>, plan: &Plan) -> (Clearance, Vec<MissingFigure>) {
    let rule = rule(table, plan);
    let other = |key: &'static str| table.has(key).then(|| family(table, key, plan));
    let (second, said_bore) = (other("second"), other("per_bore"));
    let dimension = dimension(table, &rule, plan);
    // A window that goes by the bore is multiplied by it.
    let plain = said_bore.map_or(dimension, |_| Dimension::Ratio);
    let trusts = [("first", false), ("second", true)];
    let name = table.text("name");
    let Windows { by_use: windows, opens, by_bore } = windows(table, plain, &name);
    let per_bore = said_bore.or_else(|| by_bore.then(|| the_bore(table, &rule, plan)).flatten());
    let clearance = Clearance {
        id: table.text("id"),
        name,
        source: table.text_or("source", ""),
        opens: opens.iter().map(|figure| figure.path.clone()).collect(),
        rule,
        dimension,
        second,
        trust_second: table.has("trust") && table.choice("trust", &trusts).unwrap_or(false),
        shells: shells(table),
        windows,
        per_bore,
        filed: table.flag("filed"),
        judged_in: Vec::new(),
    };
    check_shells(table, plan, &clearance);
    check_members(table, plan, &clearance);
    table.finish();
    (clearance, opens)
}

fn family(table: &TomlTable<'_>, key: &'static str, plan: &Plan) -> FamilyIx {
    FamilyIx(table.reference(key, "site", plan.families.iter().map(|family| family.id.as_str())))
}

fn shells(table: &TomlTable<'_>) -> Vec<ShellGrade> {
    let mut shells: Vec<ShellGrade> = Vec::new();
    for grade in table.tables("shell") {
        let thickness_mm = grade.positive("thickness", Dimension::Length).unwrap_or(1.0);
        shells.push(ShellGrade { name: grade.text("grade"), thickness_mm });
        grade.finish();
    }
    shells.sort_by(|a, b| a.thickness_mm.total_cmp(&b.thickness_mm));
    shells
}

/// One of `plus` (with `minus` and `add`), `least` and `compression`.
fn rule(table: &TomlTable<'_>, plan: &Plan) -> ClearanceRule {
    if table.has("least") {
        let of = family(table, "least", plan);
        let valve = table.table("valve").and_then(|table| valve(&table, of, plan));
        return ClearanceRule::Least { of, valve: valve.map(Box::new) };
    }
    if let Some(cylinder) = table.table("compression") {
        return ClearanceRule::Compression(Box::new(compression(&cylinder, plan)));
    }
    ClearanceRule::Difference {
        plus: family(table, "plus", plan),
        minus: table.has("minus").then(|| family(table, "minus", plan)),
        add_mm: table.quantity_if("add", Dimension::Length).unwrap_or(0.0),
    }
}

/// What a valve's distance is computed from, with a lift for each angle of its series.
fn valve(table: &TomlTable<'_>, of: FamilyIx, plan: &Plan) -> Option<PlannedValve> {
    let angle = if table.has("angle") { table.quantity("angle", Dimension::Angle) } else { Some(0.0) };
    let geometry = ValveGeometry {
        stroke_mm: table.positive("stroke", Dimension::Length)?,
        rod_mm: table.positive("rod", Dimension::Length)?,
        offset_mm: table.quantity_if("offset", Dimension::Length).unwrap_or(0.0),
        valve_angle_deg: angle?,
    };
    let shut = size(table, "shut", Dimension::Clearance, plan);
    let lifts_mm = table.quantities("lift", Dimension::Clearance);
    table.finish();
    if geometry.clearance_mm(0.0, 0.0, 0.0).is_none() {
        table.error("rod", message!("read-does-not-reach-round-stroke"));
        return None;
    }
    if !(0.0..=60.0).contains(&geometry.valve_angle_deg) {
        table.error("angle", message!("read-0-60-between-valve-bore"));
    }
    let site = plan.families.get(of.0).and_then(|family| plan.sites.get(family.sites.start))?;
    if site.form != SiteForm::Valve || lifts_mm.len() != site.places.len() {
        let message =
            message!("read-one-lift-for-each-angles-needed", count = site.places.len(), id = site.id);
        table.error("lift", message);
    }
    if let SizeSource::Measured(family) = shut
        && plan
            .families
            .get(family.0)
            .is_some_and(|family| family.sites.len() != plan.families[of.0].sites.len())
    {
        table.error("shut", message!("read-has-another-number-sites-than-series"));
    }
    Some(PlannedValve { geometry, shut, lifts_mm })
}

fn compression(table: &TomlTable<'_>, plan: &Plan) -> ChamberSpec {
    let size = |key, dimension| size(table, key, dimension, plan);
    let cylinder = ChamberSpec {
        bore: size("bore", Dimension::Length),
        stroke: size("stroke", Dimension::Length),
        chamber: size("chamber", Dimension::Volume),
        piston: size("piston", Dimension::Volume),
        gasket_bore: size("gasket_bore", Dimension::Length),
        gasket: size("gasket", Dimension::Length),
        deck: size("deck", Dimension::Length),
        crevice: if table.has("crevice") {
            size("crevice", Dimension::Volume)
        } else {
            SizeSource::Fixed(0.0)
        },
    };
    table.finish();
    cylinder
}

/// A quantity, or the name of a site whose mean it is.
fn size(table: &TomlTable<'_>, key: &'static str, dimension: Dimension, plan: &Plan) -> SizeSource {
    let text = table.word(key);
    match plan.families.iter().position(|family| family.id == text) {
        Some(family) => SizeSource::Measured(FamilyIx(family)),
        None => SizeSource::Fixed(table.quantity(key, dimension).unwrap_or(1.0)),
    }
}

/// What a figure is: what its sizes are measured in.
fn dimension(table: &TomlTable<'_>, rule: &ClearanceRule, plan: &Plan) -> Dimension {
    let of = |family: FamilyIx| {
        let family = plan.families.get(family.0)?;
        plan.sites.get(family.sites.start).map(|site| site.dimension)
    };
    match rule {
        ClearanceRule::Compression(_) => Dimension::Ratio,
        ClearanceRule::Least { of: family, .. } => of(*family).unwrap_or(Dimension::Clearance),
        ClearanceRule::Difference { plus, minus, add_mm } => {
            let of_plus = of(*plus).unwrap_or(Dimension::Length);
            let alike =
                |of_minus: Dimension| of_minus == of_plus || of_minus.is_length() && of_plus.is_length();
            if minus.is_some_and(|minus| of(minus).is_some_and(|of_minus| !alike(of_minus))) {
                table.error("minus", message!("read-no-as-plus", word = of_plus.word()));
            }
            if *add_mm != 0.0 && !of_plus.is_length() {
                table.error("add", message!("read-goes-with-lengths-only"));
            }
            // What is left between two sizes is small.
            if of_plus.is_length() { Dimension::Clearance } else { of_plus }
        }
    }
}

/// The family of bores that a window multiplies, where the plan does not say which: of those that have a bore for each
/// of its members the largest ones, which are the cylinders.
fn the_bore(table: &TomlTable<'_>, rule: &ClearanceRule, plan: &Plan) -> Option<FamilyIx> {
    let of_rule = match rule {
        ClearanceRule::Difference { plus, .. } => Some(*plus),
        ClearanceRule::Least { of, .. } => Some(*of),
        ClearanceRule::Compression(_) => None,
    };
    let members = plan.families.get(of_rule?.0)?.sites.len();
    let is_bore = |at: &usize| {
        let sites = &plan.families[*at].sites;
        sites.len() == members && plan.sites.get(sites.start).is_some_and(|site| site.form == SiteForm::Bore)
    };
    let size = |at: &usize| plan.sites[plan.families[*at].sites.start].plausible[0];
    let mut bores: Vec<usize> = (0..plan.families.len()).filter(is_bore).collect();
    bores.sort_by(|a, b| size(b).total_cmp(&size(a)));
    match bores[..] {
        [only] => return Some(FamilyIx(only)),
        [largest, next, ..] if size(&largest) > size(&next) => return Some(FamilyIx(largest)),
        _ => {}
    }
    table.error("window", message!("read-goes-by-bore-say-which-bores"));
    None
}

/// The windows of a clearance.
struct Windows {
    by_use: Vec<UseWindow>,
    /// What of them nobody has looked up yet.
    opens: Vec<MissingFigure>,
    /// Whether one of them says that it is multiplied by the bore.
    by_bore: bool,
}

/// Windows by use: quantities, or plain numbers where the figure is a ratio or a number of something.
fn windows(table: &TomlTable<'_>, dimension: Dimension, name: &str) -> Windows {
    let mut windows = Vec::new();
    let mut opens: Vec<MissingFigure> = Vec::new();
    let mut by_bore: Vec<bool> = Vec::new();
    let mut ask = |path: String, of: Option<&str>, note: String| {
        let what = of.map_or_else(|| format!("{name}: window"), |of| format!("{name}, {of}: window"));
        opens.push(MissingFigure {
            path,
            what,
            note,
            use_for: of.map(str::to_owned),
            operations: Vec::new(),
        });
    };
    if let [(_, note)] = &table.open_of(&["window"])[..] {
        ask(format!("{}.window", table.path()), None, note.clone());
        return Windows { by_use: windows, opens, by_bore: false };
    }
    let plain = matches!(dimension, Dimension::Ratio | Dimension::Count);
    if let Some(by_use) = table.table("window") {
        for (name, note) in by_use.open_of(&USES) {
            ask(format!("{}.{name}", by_use.path()), Some(name), note);
        }
        for name in USES.into_iter().filter(|name| by_use.has(name) && !by_use.is_open(name)) {
            let read = if by_use.is_text(name) {
                window::read(&by_use.text(name), dimension)
            } else {
                let figures = if plain { by_use.numbers(name) } else { by_use.quantities(name, dimension) };
                listed(&figures)
            };
            match read {
                Ok(written) => {
                    by_bore.push(written.by_bore);
                    windows.push(UseWindow { name: name.to_owned(), window: written.window });
                }
                Err(message) => by_use.error(name, message),
            }
        }
        by_use.finish();
    }
    // Without any window, whatever the engine is for waits for the one that is asked for.
    if windows.is_empty() {
        for figure in &mut opens {
            figure.use_for = None;
        }
    }
    if windows.is_empty() && opens.is_empty() {
        table.error("window", message!("read-at-least-one-use-with-window", uses = USES.join(", ")));
    }
    let some = by_bore.contains(&true);
    if some && by_bore.contains(&false) {
        table.error("window", message!("read-every-use-goes-by-bore-or"));
    }
    Windows { by_use: windows, opens, by_bore: some }
}

/// A window that is given as a list: the least and the most, and in between what is aimed at.
fn listed(figures: &[f64]) -> Result<WrittenWindow, Message> {
    let window = match *figures {
        [low, high] => Window { low, high, target: f64::midpoint(low, high) },
        [low, target, high] => Window { low, high, target },
        _ => return Err(message!("read-two-or-three-rising-figures-needed").to_owned()),
    };
    if window.low <= window.target && window.target <= window.high {
        return Ok(WrittenWindow { window, by_bore: false });
    }
    Err(message!("read-figures-have-rise-such-as-0").to_owned())
}

/// A bore that is read with its shells in has none to choose.
fn check_shells(table: &TomlTable<'_>, plan: &Plan, clearance: &Clearance) {
    let ClearanceRule::Difference { plus, .. } = &clearance.rule else { return };
    let first = plan.families.get(plus.0).and_then(|family| plan.sites.get(family.sites.start));
    if let Some(site) = first.filter(|site| site.shells_in && !clearance.shells.is_empty()) {
        table.error("shell", message!("read-read-with-shells-there-none-choose", id = site.id));
    }
}

/// Every family of a clearance has the same number of members.
fn check_members(table: &TomlTable<'_>, plan: &Plan, clearance: &Clearance) {
    let Some(first) = clearance.families().next() else {
        table.error_here(message!("read-nothing-measured-at-least-one-size"));
        return;
    };
    let Some(first) = plan.families.get(first.0) else { return };
    for family in clearance.all_families().filter_map(|family| plan.families.get(family.0)) {
        if family.sites.len() != first.sites.len() {
            let (other, of_it) = (&family.id, family.sites.len());
            let message =
                message!("read-has-sites-has", other, of_it, id = first.id, count = first.sites.len());
            table.error_here(message);
        }
    }
}
