//! From TOML to a [`Plan`], with every check a plan has to pass.

use super::document::{Drawing, Fastener, Group, Item, Joint, Kind, Operation, Plan, Shape, Stage, Work};
use super::read_measuring::{families, read_clearance, read_site};
use super::reader::{Fault, Severity, Sheet, Table};
use crate::fastener::{Strength, Thread};
use crate::friction::{self, Friction, Lubricant};
use crate::joint::{BoltEnd, BoltHead, PartKind, Parts, Section, Segment, bolt_resilience, part_resilience};
use crate::quantity::{Dimension, mm, mpa};
use crate::tightening::{Band, Pattern, Position, order};
use std::collections::BTreeSet;
use toml::de::DeTable;

/// Young's modulus of steel, MPa.
const STEEL_MPA: f64 = 205_000.0;
/// Utilisation above which a plan gets a warning: torque scatter may carry a bolt past yield.
const HIGH_UTILISATION: f64 = 0.95;
/// Utilisation below which a group's last stage gets a warning: it hardly clamps.
const LOW_UTILISATION: f64 = 0.30;

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
fn once<'a>(table: &Table<'_>, what: &str, mut before: impl Iterator<Item = &'a str>) {
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

fn read_drawing(table: Table<'_>) -> Drawing {
    let mut shapes = Vec::new();
    for shape in table.tables("shape") {
        let kinds = [("outline", 0), ("line", 1), ("circle", 2)];
        let points = |least: usize| {
            let points = shape.places("points");
            if points.len() < least {
                shape.error("points", format!("at least {least} points are needed"));
            }
            points
        };
        match shape.choice("kind", &kinds) {
            Some(0) => shapes.push(Shape::Outline { points: points(3) }),
            Some(1) => shapes.push(Shape::Line { points: points(2) }),
            Some(2) => {
                let diameter = shape.positive("diameter", Dimension::Length).unwrap_or(1.0);
                shapes.push(Shape::Circle { at: shape.place("at"), diameter });
            }
            _ => {}
        }
        shape.finish();
    }
    let drawing = Drawing { id: table.text("id"), name: table.text("name"), shapes };
    table.finish();
    drawing
}

fn read_joint(table: Table<'_>, plan: &Plan) -> Joint {
    let drawings: Vec<&str> = plan.drawings.iter().map(|d| d.id.as_str()).collect();
    let mut joint = Joint {
        id: table.text("id"),
        name: table.text("name"),
        drawing: table.reference("drawing", "drawing", &drawings),
        groups: Vec::new(),
        stages: Vec::new(),
    };
    for group in table.tables("group") {
        once(&group, "group", joint.groups.iter().map(|g| g.id.as_str()));
        let group = read_group(group, plan, &joint);
        joint.groups.push(group);
    }
    if joint.groups.is_empty() {
        table.error("group", "a joint has at least one group of fasteners");
    }
    let stages = table.tables("stage");
    for stage in &stages {
        joint.stages.extend(read_stage(stage, &joint, plan));
    }
    for group in &joint.groups {
        if !joint.stages.iter().any(|stage| stage.group() == Some(&group.id)) {
            table.error("stage", format!("no stage tightens group `{}`", group.id));
        }
    }
    if joint.stages.len() == stages.len() {
        check_loads(&joint, plan, &stages);
    }
    for stage in stages {
        stage.finish();
    }
    table.finish();
    joint
}

fn read_group(table: Table<'_>, plan: &Plan, joint: &Joint) -> Group {
    let fasteners: Vec<&str> = plan.fasteners.iter().map(|f| f.id.as_str()).collect();
    let (id, name) = (table.text("id"), table.text("name"));
    let fastener = table.reference("fastener", "fastener", &fasteners);
    let mut positions = Vec::new();
    for place in table.tables("position") {
        let id = place.text("id");
        let [x_mm, y_mm] = place.place("at");
        if joint.group_with(&id).is_some() {
            place.error("id", format!("`{id}` is in another group of this joint"));
        }
        positions.push(Position { id, x_mm, y_mm });
        place.finish();
    }
    let pattern = table.choice("pattern", &Pattern::ALL).unwrap_or(Pattern::Listed);
    let listed = table.texts("order");
    if pattern == Pattern::Listed {
        positions = in_listed_order(&table, positions, &listed);
    } else if !listed.is_empty() {
        table.error("order", "an order goes with pattern = \"listed\" only");
    }
    match order(pattern, &positions) {
        Ok(sequence) => positions = sequence.into_iter().map(|i| positions[i].clone()).collect(),
        Err(error) => table.error("position", error.to_string()),
    }
    table.finish();
    Group { id, name, fastener, pattern, positions }
}

/// Positions in the order a plan lists; says which are missed, doubled or unknown.
fn in_listed_order(table: &Table<'_>, positions: Vec<Position>, listed: &[String]) -> Vec<Position> {
    let mut faults = Vec::new();
    let mut seen = BTreeSet::new();
    for id in listed {
        if !positions.iter().any(|p| p.id == *id) {
            faults.push(format!("`{id}` is not a position of this group"));
        }
        if !seen.insert(id) {
            faults.push(format!("`{id}` comes twice"));
        }
    }
    let missed: Vec<_> = positions.iter().filter(|p| !seen.contains(&p.id)).map(|p| p.id.as_str()).collect();
    if !missed.is_empty() {
        faults.push(format!("the sequence misses {}", missed.join(", ")));
    }
    if faults.is_empty() {
        let at = |p: &Position| listed.iter().position(|id| *id == p.id);
        let mut positions = positions;
        positions.sort_by_key(at);
        return positions;
    }
    table.error("order", faults.join("; "));
    positions
}

fn read_stage(table: &Table<'_>, joint: &Joint, plan: &Plan) -> Option<Stage> {
    let name = table.text("name");
    if table.has("action") {
        return Some(Stage::Action { name, text: table.text("action") });
    }
    let groups: Vec<&str> = joint.groups.iter().map(|g| g.id.as_str()).collect();
    let group = table.reference("group", "group", &groups);
    match (table.has("torque"), table.has("angle")) {
        (true, false) => {
            let target = table.positive("torque", Dimension::Torque)?;
            let band = read_band(table, target, Dimension::Torque)?;
            Some(Stage::Torque { name, group, band })
        }
        (false, true) => {
            let target = table.positive("angle", Dimension::Angle)?;
            let band = read_band(table, target, Dimension::Angle)?;
            let earlier = joint.stages.iter().any(|s| s.group() == Some(&group) && !s.is_angle());
            if !earlier {
                table.error("angle", "an angle needs a snug torque stage of the same group before it");
            }
            let fastener = joint.group(&group).and_then(|g| plan.fastener(&g.fastener));
            if fastener.is_some_and(|f| f.bolt_resilience.is_none() || f.part_resilience.is_none()) {
                table.warn(
                    "angle",
                    "the fastener has no bolt and parts geometry: no clamp load can be computed",
                );
            }
            Some(Stage::Angle { name, group, band })
        }
        _ => {
            table.error_here("a stage has either torque, angle or action");
            None
        }
    }
}

/// The band of a target: `tolerance` as a quantity or as `"4 %"`.
fn read_band(table: &Table<'_>, target: f64, dimension: Dimension) -> Option<Band> {
    let text = table.text_or("tolerance", "");
    let tolerance = if let Some(percent) = text.trim().strip_suffix('%') {
        let share = percent.trim().replace(',', ".").parse::<f64>().ok().map(|p| p / 100.0 * target);
        if share.is_none() {
            table.error("tolerance", format!("`{text}` is not a percentage such as \"4 %\""));
        }
        share?
    } else {
        table.quantity("tolerance", dimension)?
    };
    if tolerance > 0.0 && tolerance < target {
        return Some(Band::around(target, tolerance));
    }
    table.error("tolerance", "must lie between zero and the target");
    None
}

/// Turns every target into clamp load and stops what does not fit the fastener (C-8).
fn check_loads(joint: &Joint, plan: &Plan, tables: &[Table<'_>]) {
    for (index, (stage, table)) in joint.stages.iter().zip(tables).enumerate() {
        let Some(group) = joint.group_of(stage) else { continue };
        let Some(fastener) = plan.fastener(&group.fastener) else { continue };
        let Some(forecast) = plan.forecast(joint, index) else { continue };
        let key = if stage.is_angle() { "angle" } else { "torque" };
        let figures = format!(
            "{} on {} gives {:.1} kN, {:.0} % of yield",
            target_text(stage),
            fastener.designation,
            forecast.typical_kn,
            forecast.utilisation * 100.0
        );
        let last = !joint.stages[index + 1..].iter().any(|s| s.group() == stage.group());
        if forecast.utilisation > 1.0 && !(fastener.to_yield && stage.is_angle()) {
            table.error(key, format!("{figures}: past the fastener's limit"));
        } else if forecast.utilisation > HIGH_UTILISATION && !fastener.to_yield {
            table.warn(key, format!("{figures}: the scatter of friction may pass yield"));
        } else if last && forecast.utilisation < LOW_UTILISATION {
            table.warn(key, format!("{figures}: far below what the fastener can clamp"));
        }
    }
}

fn target_text(stage: &Stage) -> String {
    match stage {
        Stage::Torque { band, .. } => format!("{} N·m", band.target),
        Stage::Angle { band, .. } => format!("{}°", band.target),
        Stage::Action { name, .. } => name.clone(),
    }
}

const KINDS: [(&str, Kind); 8] = [
    ("prepare", Kind::Prepare),
    ("fit", Kind::Fit),
    ("check", Kind::Check),
    ("seal", Kind::Seal),
    ("tighten", Kind::Tighten),
    ("measure", Kind::Measure),
    ("turn", Kind::Turn),
    ("sign", Kind::Sign),
];

fn read_operations(top: &Table<'_>, plan: &mut Plan) {
    let tables = top.tables("operation");
    if tables.is_empty() {
        top.error("operation", "a plan has at least one operation");
    }
    for table in &tables {
        once(table, "operation", plan.operations.iter().map(|o| o.id.as_str()));
        let operation = read_operation(table, plan);
        plan.operations.extend(operation);
    }
    let ids: Vec<&str> = plan.operations.iter().map(|o| o.id.as_str()).collect();
    for (operation, table) in plan.operations.iter().zip(&tables) {
        for need in &operation.needs {
            table.check_reference("needs", "operation", need, &ids);
        }
    }
    if let Some(cycle) = first_cycle(&plan.operations) {
        let table = tables.iter().find(|table| table.text_or("id", "") == cycle[0]);
        if let Some(table) = table {
            table.error("needs", format!("goes in a circle: {}", cycle.join(" needs ")));
        }
    }
    for table in tables {
        table.finish();
    }
}

fn read_operation(table: &Table<'_>, plan: &Plan) -> Option<Operation> {
    let (id, name) = (table.text("id"), table.text("name"));
    let (needs, cautions) = (table.texts("needs"), table.texts("cautions"));
    let kind = table.choice("kind", &KINDS)?;
    let work = match kind {
        Kind::Tighten => {
            let joints: Vec<&str> = plan.joints.iter().map(|j| j.id.as_str()).collect();
            Work::Tighten { joint: table.reference("joint", "joint", &joints) }
        }
        Kind::Measure => Work::Measure { sites: read_sites_of(table, plan) },
        Kind::Turn => Work::Turn { suspect: table.text("suspect") },
        Kind::Sign => Work::Sign,
        Kind::Prepare | Kind::Fit | Kind::Check | Kind::Seal => Work::Items { items: read_items(table) },
    };
    Some(Operation { id, name, kind, needs, cautions, work })
}

/// The sites an operation measures, every member of each family.
fn read_sites_of(table: &Table<'_>, plan: &Plan) -> Vec<usize> {
    let named = table.texts("sites");
    if named.is_empty() {
        table.error("sites", "at least one site to measure is needed");
    }
    for family in &named {
        table.check_reference("sites", "site", family, &families(plan));
    }
    named.iter().flat_map(|family| plan.family(family).map(|(at, _)| at)).collect()
}

fn read_items(table: &Table<'_>) -> Vec<Item> {
    let mut items: Vec<Item> = Vec::new();
    for item in table.tables("item") {
        once(&item, "item", items.iter().map(|i| i.id.as_str()));
        items.push(Item {
            id: item.text("id"),
            text: item.text("text"),
            right: item.text_or("right", ""),
            wrong: item.text_or("wrong", ""),
        });
        item.finish();
    }
    if items.is_empty() {
        table.error("item", "at least one item to confirm is needed");
    }
    items
}

/// The first circle among requirements, as the ids along it.
fn first_cycle(operations: &[Operation]) -> Option<Vec<&str>> {
    fn visit<'a>(
        id: &'a str,
        all: &'a [Operation],
        path: &mut Vec<&'a str>,
        done: &mut BTreeSet<&'a str>,
    ) -> bool {
        if let Some(at) = path.iter().position(|seen| *seen == id) {
            path.drain(..at);
            path.push(id);
            return true;
        }
        if !done.contains(id) {
            path.push(id);
            let needs = all.iter().find(|o| o.id == id).map_or(&[][..], |o| &o.needs);
            if needs.iter().any(|need| visit(need, all, path, done)) {
                return true;
            }
            path.pop();
            done.insert(id);
        }
        false
    }
    let (mut path, mut done) = (Vec::new(), BTreeSet::new());
    operations.iter().any(|o| visit(&o.id, operations, &mut path, &mut done)).then_some(path)
}
