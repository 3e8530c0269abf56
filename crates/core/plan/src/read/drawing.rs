//! Reading drawings: what they are drawn with, in mm.

use crate::document::{Drawing, DrawingShape};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;
use rigore_mechanics::quantity::Dimension;
use std::f64::consts::TAU;

/// Where a drawing is seen from, and whether the engine lies along it then.
const SEEN: [(&str, bool); 5] =
    [("above", true), ("below", true), ("side", true), ("front", false), ("rear", false)];
/// How many corners stand for a circle.
const ROUND: u32 = 32;

#[derive(Clone, Copy)]
enum Kind {
    Outline,
    Line,
    Circle,
    Disc,
    Rect,
    Gear,
}

const KINDS: [(&str, Kind); 6] = [
    ("outline", Kind::Outline),
    ("line", Kind::Line),
    ("circle", Kind::Circle),
    ("disc", Kind::Disc),
    ("rect", Kind::Rect),
    ("gear", Kind::Gear),
];

pub(super) fn drawing(table: &TomlTable<'_>) -> Drawing {
    let shapes = table.tables("shape").iter().flat_map(shapes).collect();
    let along = !table.has("seen") || table.choice("seen", &SEEN).unwrap_or(true);
    let drawing = Drawing { id: table.text("id"), name: table.text("name"), along, shapes };
    table.finish();
    drawing
}

/// A shape; with `every` and `count` as often, each so far from the one before.
fn shapes(table: &TomlTable<'_>) -> Vec<DrawingShape> {
    let count = table.whole("count", 2..=100).unwrap_or(1);
    let step = if table.has("every") { table.place("every") } else { [0.0, 0.0] };
    if table.has("every") != table.has("count") {
        table.error("every", message!("read-goes-with-count-how-often-how"));
    }
    let shape = shape(table);
    table.finish();
    let moved = |number: u32| {
        let by = step.map(|step| step * f64::from(number));
        shape.as_ref().map(|shape| shape.moved(by))
    };
    (0..count).filter_map(moved).collect()
}

fn shape(table: &TomlTable<'_>) -> Option<DrawingShape> {
    let points = |least: usize| {
        let points = table.places("points");
        if points.len() < least {
            table.error("points", message!("read-at-least-points-needed", least));
        }
        points
    };
    let diameter = || table.positive("diameter", Dimension::Length).unwrap_or(1.0);
    Some(match table.choice("kind", &KINDS)? {
        Kind::Outline => DrawingShape::Outline { points: points(3) },
        Kind::Line => DrawingShape::Line { points: points(2) },
        Kind::Circle => DrawingShape::Circle { at: table.place("at"), diameter: diameter() },
        Kind::Disc => DrawingShape::Outline { points: around(table.place("at"), diameter() / 2.0, ROUND) },
        Kind::Rect => {
            let round = table.quantity_if("round", Dimension::Length).unwrap_or(0.0);
            DrawingShape::Outline { points: rounded(table.place("from"), table.place("to"), round) }
        }
        Kind::Gear => {
            let teeth = table.whole("teeth", 6..=200).unwrap_or(24);
            DrawingShape::Outline { points: gear(table.place("at"), diameter() / 2.0, teeth) }
        }
    })
}

fn on_circle([x, y]: [f64; 2], radius: f64, turn: f64) -> [f64; 2] {
    let (sin, cos) = (turn * TAU).sin_cos();
    [x + radius * cos, y + radius * sin]
}

fn around(at: [f64; 2], radius: f64, corners: u32) -> Vec<[f64; 2]> {
    (0..corners).map(|corner| on_circle(at, radius, f64::from(corner) / f64::from(corners))).collect()
}

/// Teeth stand out by a tenth of the radius, and rise and fall within half of their pitch.
fn gear(at: [f64; 2], radius: f64, teeth: u32) -> Vec<[f64; 2]> {
    let tooth = |tooth: u32| {
        let turn = |part: f64| (f64::from(tooth) + part) / f64::from(teeth);
        [(0.9, 0.0), (0.9, 0.4), (1.0, 0.55), (1.0, 0.85)]
            .map(|(reach, part)| on_circle(at, radius * reach, turn(part)))
    };
    (0..teeth).flat_map(tooth).collect()
}

fn rounded([left, top]: [f64; 2], [right, bottom]: [f64; 2], round: f64) -> Vec<[f64; 2]> {
    if round <= 0.0 {
        return vec![[left, top], [right, top], [right, bottom], [left, bottom]];
    }
    let corners = [
        ([right - round, bottom - round], 0.0),
        ([left + round, bottom - round], 0.25),
        ([left + round, top + round], 0.5),
        ([right - round, top + round], 0.75),
    ];
    let corner = |(at, from): ([f64; 2], f64)| {
        (0..=4).map(move |part| on_circle(at, round, from + 0.0625 * f64::from(part)))
    };
    corners.into_iter().flat_map(corner).collect()
}

impl DrawingShape {
    /// The same shape elsewhere.
    fn moved(&self, [dx, dy]: [f64; 2]) -> Self {
        let place = |[x, y]: &[f64; 2]| [x + dx, y + dy];
        match self {
            Self::Outline { points } => Self::Outline { points: points.iter().map(place).collect() },
            Self::Line { points } => Self::Line { points: points.iter().map(place).collect() },
            Self::Circle { at, diameter } => Self::Circle { at: place(at), diameter: *diameter },
        }
    }
}
