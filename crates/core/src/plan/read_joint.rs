//! Reading joints and the drawings they lie on.

use super::document::{Drawing, Group, Joint, Plan, Shape, Stage};
use super::read::once;
use super::reader::Table;
use crate::quantity::Dimension;
use crate::tightening::{Band, Pattern, Position, order};
use std::collections::BTreeSet;

/// Utilisation above which a plan gets a warning: torque scatter may carry a bolt past yield.
const HIGH_UTILISATION: f64 = 0.95;
/// Utilisation below which a group's last stage gets a warning: it hardly clamps.
const LOW_UTILISATION: f64 = 0.30;

pub(super) fn read_drawing(table: Table<'_>) -> Drawing {
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

pub(super) fn read_joint(table: Table<'_>, plan: &Plan) -> Joint {
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
