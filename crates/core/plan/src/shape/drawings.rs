//! Drawings in true proportions: a block with its bores and caps, a head with its chambers, a rod with its cap.

use super::choices::{CamLayout, EngineExtra, MainCaps};
use super::frame::ShapeFrame;
use super::text::{ShapeText, at, mm};
use std::fmt::Write;

/// Shapes of one drawing.
#[derive(Default)]
struct Shapes(Vec<String>);

impl Shapes {
    fn rect(&mut self, from: [f64; 2], to: [f64; 2], round: f64) {
        self.0.push(format!("kind = \"rect\", from = {}, to = {}, round = {}", at(from), at(to), mm(round)));
    }

    fn disc(&mut self, place: [f64; 2], diameter: f64) {
        self.0.push(format!("kind = \"disc\", at = {}, diameter = {}", at(place), mm(diameter)));
    }

    fn circle(&mut self, place: [f64; 2], diameter: f64) {
        self.0.push(format!("kind = \"circle\", at = {}, diameter = {}", at(place), mm(diameter)));
    }

    fn gear(&mut self, place: [f64; 2], diameter: f64, teeth: u32) {
        self.0.push(format!(
            "kind = \"gear\", at = {}, diameter = {}, teeth = {teeth}",
            at(place),
            mm(diameter)
        ));
    }

    fn path(&mut self, kind: &str, points: &[[f64; 2]]) {
        let points: Vec<String> = points.iter().map(|point| at(*point)).collect();
        self.0.push(format!("kind = \"{kind}\", points = [{}]", points.join(", ")));
    }

    /// The last one as often, each so far from the one before.
    fn again(&mut self, count: u32, every: [f64; 2]) {
        if let Some(last) = self.0.last_mut().filter(|_| count > 1) {
            let _ = write!(last, ", count = {count}, every = {}", at(every));
        }
    }

    fn put(self, text: &mut ShapeText, id: &str, name: &str, seen: &str) {
        text.table("drawing", id, name);
        text.field("seen", seen);
        text.line("shape = [");
        for shape in self.0 {
            text.line(&format!("  {{ {shape} }},"));
        }
        text.line("]");
    }
}

pub(super) fn all(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    text.heading("drawings");
    block(frame).put(text, "block-below", "Block from below", "below");
    rod(frame).put(text, "rod-front", "Rod from the front", "front");
    head(frame).put(text, "head-above", "Head from above", "above");
    if frame.overhead() {
        cams(frame).put(text, "cams-above", "Camshafts from above", "above");
    }
    front(frame).put(text, "front", "Front of the engine", "front");
    pan(frame).put(text, "pan-below", "Pan from below", "below");
    if frame.has(EngineExtra::Intake) {
        intake(frame).put(text, "intake-above", "Intake from above", "above");
    }
    if frame.has(EngineExtra::ValleyCover) {
        valley(frame).put(text, "valley-above", "Valley from above", "above");
    }
    if frame.has(EngineExtra::Flywheel) || frame.has(EngineExtra::RearCover) {
        rear(frame).put(text, "rear", "Rear of the engine", "rear");
    }
}

/// Skirt, webs with their caps, bores behind.
fn block(frame: &ShapeFrame<'_>) -> Shapes {
    let (engine, half, long) = (frame.engine, frame.half, frame.long);
    let (bore, pitch) = (engine.bore_mm, [engine.spacing_mm, 0.0]);
    let mut shapes = Shapes::default();
    let corner = bore * 0.2;
    shapes.path(
        "outline",
        &[
            [0.0, corner - half],
            [corner, -half],
            [long - corner, -half],
            [long, corner - half],
            [long, half - corner],
            [long - corner, half],
            [corner, half],
            [0.0, half - corner],
        ],
    );
    for side in [-1.0, 1.0] {
        shapes.path("line", &[[8.0, side * half * 0.9], [long - 8.0, side * half * 0.9]]);
    }
    let first = frame.bore_x()[0];
    if frame.two_banks() {
        // Two banks stand to either side of the crankshaft, one a little ahead of the other.
        let ahead = bore * 0.1;
        for (side, shift) in [(-1.0, -ahead), (1.0, ahead)] {
            shapes.circle([first + shift, side * half * 0.42], bore * 0.9);
            shapes.again(frame.per_bank, pitch);
        }
    } else {
        shapes.circle([first, 0.0], bore);
        shapes.again(frame.per_bank, pitch);
    }
    let (thick, reach) = (engine.spacing_mm * 0.17, cap_reach(frame));
    let web = frame.first;
    if engine.caps == MainCaps::Ladder {
        shapes.rect([web - thick, -reach], [frame.main_x()[frame.mains as usize - 1] + thick, reach], 6.0);
    }
    shapes.rect([web - thick, -reach], [web + thick, reach], 6.0);
    shapes.again(frame.mains, pitch);
    let journal = bore * 0.33;
    for side in [-1.0, 1.0] {
        shapes.path(
            "line",
            &[
                [web + side * thick, -journal],
                [web + side * thick * 0.6, -journal * 0.5],
                [web + side * thick * 0.6, journal * 0.5],
                [web + side * thick, journal],
            ],
        );
        shapes.again(frame.mains, pitch);
    }
    if engine.caps == MainCaps::Girdle {
        for side in [-1.0, 1.0] {
            shapes.rect(
                [web - thick * 1.4, side * reach * 0.62 - bore * 0.12],
                [long - web + thick * 1.4, side * reach * 0.62 + bore * 0.12],
                6.0,
            );
        }
    }
    shapes
}

/// How far a main cap reaches to either side.
pub(super) fn cap_reach(frame: &ShapeFrame<'_>) -> f64 {
    frame.engine.bore_mm * if frame.engine.main_bolts == 4 { 0.92 } else { 0.68 }
}

/// Small end at the top, the cap below.
fn rod(frame: &ShapeFrame<'_>) -> Shapes {
    let b = frame.engine.bore_mm / 86.0;
    let scaled = |points: &[[f64; 2]]| points.iter().map(|point| point.map(|of| of * b)).collect::<Vec<_>>();
    let mut shapes = Shapes::default();
    shapes.path(
        "outline",
        &scaled(&[
            [-38.0, 0.0],
            [-38.0, -14.0],
            [-30.0, -24.0],
            [-16.0, -36.0],
            [-10.0, -58.0],
            [-8.0, -112.0],
            [-13.0, -124.0],
            [-17.0, -140.0],
            [-12.0, -152.0],
            [0.0, -157.0],
            [12.0, -152.0],
            [17.0, -140.0],
            [13.0, -124.0],
            [8.0, -112.0],
            [10.0, -58.0],
            [16.0, -36.0],
            [30.0, -24.0],
            [38.0, -14.0],
            [38.0, 0.0],
        ]),
    );
    shapes.disc([0.0, -140.0 * b], 22.0 * b);
    for side in [-1.0, 1.0] {
        shapes.path("line", &scaled(&[[side * 4.0, -50.0], [side * 3.0, -112.0]]));
    }
    shapes.path(
        "outline",
        &scaled(&[
            [-38.0, 0.0],
            [-38.0, 22.0],
            [-22.0, 28.0],
            [-14.0, 34.0],
            [0.0, 37.0],
            [14.0, 34.0],
            [22.0, 28.0],
            [38.0, 22.0],
            [38.0, 0.0],
        ]),
    );
    shapes.disc([0.0, 0.0], 51.0 * b);
    for side in [-1.0, 1.0] {
        shapes.path("line", &scaled(&[[side * 46.0, 0.0], [side * 25.5, 0.0]]));
    }
    shapes
}

/// Half of the width of a head.
pub(super) fn head_half(frame: &ShapeFrame<'_>) -> f64 {
    frame.engine.bore_mm * if frame.engine.head_rows > 2 { 1.12 } else { 0.92 }
}

/// Chambers with their valves and plugs.
fn head(frame: &ShapeFrame<'_>) -> Shapes {
    let (engine, half, long) = (frame.engine, head_half(frame), frame.long);
    let (bore, pitch, first) = (engine.bore_mm, [engine.spacing_mm, 0.0], frame.bore_x()[0]);
    let mut shapes = Shapes::default();
    shapes.rect([0.0, -half], [long, half], bore * 0.12);
    shapes.circle([first, 0.0], bore * 0.8);
    shapes.again(frame.per_bank, pitch);
    let mut valve = |dx: f64, dy: f64, diameter: f64| {
        shapes.disc([first + dx * bore, dy * bore], diameter * bore);
        shapes.again(frame.per_bank, pitch);
    };
    if engine.cams == CamLayout::Twin {
        for side in [-1.0, 1.0] {
            valve(side * 0.2, -0.22, 0.31);
            valve(side * 0.21, 0.22, 0.36);
        }
        valve(0.0, 0.0, 0.14);
    } else {
        valve(-0.19, -0.06, 0.37);
        valve(0.21, -0.06, 0.43);
        valve(0.0, 0.27, 0.14);
    }
    // Ports along one side.
    let port = bore * 0.28;
    shapes.rect([first - port, half * 0.84], [first + port, half * 1.14], 8.0);
    shapes.again(frame.per_bank, pitch);
    shapes
}

fn cams(frame: &ShapeFrame<'_>) -> Shapes {
    let (engine, half, long) = (frame.engine, head_half(frame), frame.long);
    let (bore, pitch) = (engine.bore_mm, [engine.spacing_mm, 0.0]);
    let mut shapes = Shapes::default();
    shapes.rect([0.0, -half], [long, half], bore * 0.12);
    for across in cam_y(frame) {
        for edge in [-0.11, 0.11] {
            shapes.path("line", &[[4.0, across + edge * bore], [long - 4.0, across + edge * bore]]);
        }
        let lobe = |x: f64, up: f64| {
            let (w, r) = (bore * 0.09, bore * 0.2);
            [
                [x - w, across - r * up],
                [x, across - r * 1.35 * up],
                [x + w, across - r * up],
                [x + w, across + r * up],
                [x - w, across + r * up],
            ]
        };
        for (dx, up) in [(-0.2, 1.0), (0.2, -1.0)] {
            shapes.path("outline", &lobe(frame.bore_x()[0] + dx * bore, up));
            shapes.again(frame.per_bank, pitch);
        }
        let cap = [bore * 0.14, cap_half(frame)];
        shapes.rect([frame.first - cap[0], across - cap[1]], [frame.first + cap[0], across + cap[1]], 5.0);
        shapes.again(frame.mains, pitch);
    }
    shapes
}

/// Where camshafts lie across a head.
pub(super) fn cam_y(frame: &ShapeFrame<'_>) -> Vec<f64> {
    let away = frame.engine.bore_mm * 0.5;
    if frame.engine.cams == CamLayout::Twin { vec![-away, away] } else { vec![0.0] }
}

/// Half of the width of a cam cap.
pub(super) fn cap_half(frame: &ShapeFrame<'_>) -> f64 {
    frame.engine.bore_mm * 0.37
}

/// Half of the width of the timing cover, and how high it is above and below the crankshaft.
pub(super) fn cover(frame: &ShapeFrame<'_>) -> (f64, f64, f64) {
    let bore = frame.engine.bore_mm;
    (bore * 1.2, bore * if frame.overhead() { 2.6 } else { 1.7 }, bore * 0.9)
}

fn front(frame: &ShapeFrame<'_>) -> Shapes {
    let bore = frame.engine.bore_mm;
    let (half, up, down) = cover(frame);
    let mut shapes = Shapes::default();
    shapes.path(
        "outline",
        &[
            [-half, -up + bore * 0.4],
            [-half + bore * 0.3, -up],
            [half - bore * 0.3, -up],
            [half, -up + bore * 0.4],
            [half, down * 0.5],
            [half * 0.6, down],
            [-half * 0.6, down],
            [-half, down * 0.5],
        ],
    );
    if frame.overhead() {
        for across in cam_y(frame) {
            let across = across * 1.15;
            shapes.gear([across, -up * 0.7], bore * 0.95, 28);
            shapes.path(
                "line",
                &[[across * 1.9 + across.signum() * 2.0, -up * 0.6], [across.signum() * bore * 0.28, 0.0]],
            );
        }
    } else {
        shapes.gear([0.0, -bore * 0.95], bore * 0.95, 42);
        for side in [-1.0, 1.0] {
            shapes.path("line", &[[side * bore * 0.47, -bore * 0.9], [side * bore * 0.25, -bore * 0.05]]);
        }
    }
    shapes.gear([0.0, 0.0], bore * 0.5, 21);
    shapes.disc([0.0, 0.0], bore * 0.3);
    shapes
}

fn pan(frame: &ShapeFrame<'_>) -> Shapes {
    let (half, long, bore) = (frame.half, frame.long, frame.engine.bore_mm);
    let mut shapes = Shapes::default();
    shapes.rect([0.0, -half], [long, half], bore * 0.2);
    let inner = half * 0.8;
    shapes.path(
        "outline",
        &[
            [bore * 0.24, -inner * 0.9],
            [long * 0.5, -inner * 0.9],
            [long * 0.56, -inner],
            [long - bore * 0.24, -inner],
            [long - bore * 0.24, inner],
            [long * 0.56, inner],
            [long * 0.5, inner * 0.9],
            [bore * 0.24, inner * 0.9],
        ],
    );
    shapes.rect([long * 0.6, -inner * 0.8], [long - bore * 0.34, inner * 0.8], bore * 0.2);
    shapes.disc([long - bore * 0.55, 0.0], bore * 0.28);
    shapes
}

fn intake(frame: &ShapeFrame<'_>) -> Shapes {
    let (engine, long, bore) = (frame.engine, frame.long, frame.engine.bore_mm);
    let (first, pitch) = (frame.bore_x()[0], [engine.spacing_mm, 0.0]);
    let half = intake_half(frame);
    let mut shapes = Shapes::default();
    shapes.rect([frame.first * 0.5, -half], [long - frame.first * 0.5, half], bore * 0.15);
    let plenum = if frame.two_banks() { [-half * 0.35, half * 0.35] } else { [half * 0.1, half * 0.85] };
    shapes.rect([frame.first * 1.2, plenum[0]], [long - frame.first * 1.2, plenum[1]], bore * 0.2);
    let port = bore * 0.24;
    let sides: &[f64] = if frame.two_banks() { &[-1.0, 1.0] } else { &[-1.0] };
    for side in sides {
        let y = side * half * 0.68;
        shapes.rect([first - port, y - port * 0.8], [first + port, y + port * 0.8], port * 0.5);
        shapes.again(frame.per_bank, pitch);
    }
    shapes.disc([long * 0.5, f64::midpoint(plenum[0], plenum[1])], (plenum[1] - plenum[0]) * 0.8);
    shapes
}

/// The valley between two banks, lifters along both of its sides.
fn valley(frame: &ShapeFrame<'_>) -> Shapes {
    let (engine, long, bore) = (frame.engine, frame.long, frame.engine.bore_mm);
    let half = intake_half(frame) * 0.5;
    let mut shapes = Shapes::default();
    shapes.rect([bore * 0.15, -half], [long - bore * 0.15, half], bore * 0.12);
    for side in [-1.0, 1.0] {
        for dx in [-0.16, 0.16] {
            shapes.disc([frame.bore_x()[0] + dx * bore, side * half * 0.6], bore * 0.22);
            shapes.again(frame.per_bank, [engine.spacing_mm, 0.0]);
        }
    }
    shapes.path("line", &[[bore * 0.2, 0.0], [long - bore * 0.2, 0.0]]);
    shapes
}

/// Half of the width of the intake.
pub(super) fn intake_half(frame: &ShapeFrame<'_>) -> f64 {
    frame.engine.bore_mm * if frame.two_banks() { 1.3 } else { 0.9 }
}

fn rear(frame: &ShapeFrame<'_>) -> Shapes {
    let bore = frame.engine.bore_mm;
    let mut shapes = Shapes::default();
    shapes.disc([0.0, 0.0], bore * 3.2);
    shapes.gear([0.0, 0.0], bore * 3.1, 120);
    shapes.circle([0.0, 0.0], bore * 2.3);
    shapes.disc([0.0, 0.0], bore * 1.2);
    shapes.disc([0.0, 0.0], bore * 0.35);
    shapes
}
