//! Reading joints and the drawings they lie on.

use crate::document::Table;
use crate::plan::document::{Drawing, Group, Joint, Plan, Shape, Stage, Walk};
use crate::plan::index::{GroupIx, SpecIx};
use crate::quantity::Dimension;
use crate::tightening::way::READERS;
use crate::tightening::{Pattern, Position, order};
use std::collections::BTreeSet;

/// The words for [`Walk`].
const WALKS: [(&str, Walk); 2] = [("round", Walk::Round), ("each", Walk::Each)];

pub(super) fn drawing(table: &Table<'_>) -> Drawing {
    let shapes = table.tables("shape").iter().filter_map(shape).collect();
    let drawing = Drawing { id: table.text("id"), name: table.text("name"), shapes };
    table.finish();
    drawing
}

fn shape(table: &Table<'_>) -> Option<Shape> {
    #[derive(Clone, Copy)]
    enum Kind {
        Outline,
        Line,
        Circle,
    }
    let kinds = [("outline", Kind::Outline), ("line", Kind::Line), ("circle", Kind::Circle)];
    let points = |least: usize| {
        let points = table.places("points");
        if points.len() < least {
            table.error("points", format!("at least {least} points are needed"));
        }
        points
    };
    let shape = match table.choice("kind", &kinds)? {
        Kind::Outline => Shape::Outline { points: points(3) },
        Kind::Line => Shape::Line { points: points(2) },
        Kind::Circle => {
            let diameter = table.positive("diameter", Dimension::Length).unwrap_or(1.0);
            Shape::Circle { at: table.place("at"), diameter }
        }
    };
    table.finish();
    Some(shape)
}

pub(super) fn joint(table: &Table<'_>, plan: &Plan) -> Joint {
    let mut joint = Joint {
        id: table.text("id"),
        name: table.text("name"),
        drawing: table.reference("drawing", "drawing", plan.drawings.iter().map(|d| d.id.as_str())),
        groups: Vec::new(),
        fasteners: Vec::new(),
        stages: Vec::new(),
        rounds: Vec::new(),
    };
    for table in table.tables("group") {
        let group = group(&table, plan, &mut joint);
        joint.groups.push(group);
    }
    if joint.groups.is_empty() {
        table.error("group", "a joint has at least one group of fasteners");
    }
    for (written, table) in table.tables("stage").iter().enumerate() {
        let stages = stages(table, &joint, written);
        joint.stages.extend(stages.unwrap_or_default());
    }
    table.finish();
    joint
}

fn group(table: &Table<'_>, plan: &Plan, joint: &mut Joint) -> Group {
    let (id, name) = (table.text("id"), table.text("name"));
    let spec = SpecIx(table.reference("fastener", "fastener", plan.specs.iter().map(|s| s.id.as_str())));
    let mut positions = Vec::new();
    for place in table.tables("position") {
        let id = place.text("id");
        let [x_mm, y_mm] = place.place("at");
        positions.push(Position { id, x_mm, y_mm });
        place.finish();
    }
    let pattern = table.choice("pattern", &Pattern::ALL).unwrap_or(Pattern::Listed);
    let listed = table.texts("order");
    if pattern == Pattern::Listed {
        positions = in_listed_order(table, positions, &listed);
    } else if !listed.is_empty() {
        table.error("order", "an order goes with pattern = \"listed\" only");
    }
    match order(pattern, &positions) {
        Ok(sequence) => positions = sequence.into_iter().map(|i| positions[i].clone()).collect(),
        Err(error) => table.error("position", error.to_string()),
    }
    table.finish();
    let first = joint.fasteners.len();
    joint.fasteners.extend(positions);
    Group { id, name, spec, pattern, fasteners: first..joint.fasteners.len() }
}

/// Positions in the order a plan lists; says which are missed, doubled or unknown.
fn in_listed_order(table: &Table<'_>, mut positions: Vec<Position>, listed: &[String]) -> Vec<Position> {
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
        positions.sort_by_key(|p| listed.iter().position(|id| *id == p.id));
    } else {
        table.error("order", faults.join("; "));
    }
    positions
}

/// The stages that one table stands for: a torque may be reached in steps.
fn stages(table: &Table<'_>, joint: &Joint, written: usize) -> Option<Vec<Stage>> {
    let name = table.text("name");
    let walk = if table.has("walk") { table.choice("walk", &WALKS)? } else { Walk::Round };
    let mut chosen = READERS.iter().filter(|(key, _)| table.has(key));
    let (Some((_, read)), None) = (chosen.next(), chosen.next()) else {
        let keys: Vec<&str> = READERS.iter().map(|(key, _)| *key).collect();
        table.error_here(format!("a stage has exactly one of {}", keys.join(", ")));
        return None;
    };
    let ways = read(table)?;
    let groups = || joint.groups.iter().map(|group| group.id.as_str());
    let pulled = ways.iter().any(|way| way.rules().dimension().is_some());
    let group = pulled.then(|| GroupIx(table.reference("group", "group", groups())));
    table.finish();
    let count = ways.len();
    let named = |at: usize| if count > 1 { format!("{name} {at} of {count}") } else { name.clone() };
    let stage = |(at, way)| Stage { name: named(at), group, walk, way, written };
    Some((1..).zip(ways).map(stage).collect())
}
