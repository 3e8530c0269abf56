//! Fasteners by kind, and joints with theirs in true places. Their procedures and strengths are to be looked up.

use super::choices::{CamLayout, EngineExtra, MainCaps, RodFastening};
use super::drawings::{cam_y, cap_half, cap_reach, cover, head_half, intake_half};
use super::frame::ShapeFrame;
use super::text::{ShapeText, at};
use std::f64::consts::TAU;

/// The threads that are usual for an engine of this bore: main, cross, rod, head, small, cover, damper, flywheel.
fn threads(frame: &ShapeFrame<'_>) -> [&'static str; 8] {
    match frame.engine.bore_mm {
        bore if bore < 60.0 => {
            ["M8x1.25", "M6x1.0", "M7x1.0", "M8x1.25", "M6x1.0", "M5x0.8", "M12x1.25", "M8x1.0"]
        }
        bore if bore < 80.0 => {
            ["M10x1.5", "M8x1.25", "M8x1.0", "M10x1.5", "M8x1.25", "M6x1.0", "M14x1.5", "M10x1.0"]
        }
        bore if bore < 105.0 => {
            ["M11x1.5", "M8x1.25", "M9x1.0", "M11x1.5", "M8x1.25", "M6x1.0", "M14x1.5", "M10x1.0"]
        }
        bore if bore < 140.0 => {
            ["M14x1.5", "M10x1.5", "M11x1.25", "M14x1.5", "M10x1.5", "M8x1.25", "M16x1.5", "M12x1.25"]
        }
        _ => ["M18x2.0", "M12x1.75", "M14x1.5", "M18x2.0", "M12x1.75", "M10x1.5", "M20x1.5", "M16x1.5"],
    }
}

pub(super) fn fasteners(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let engine = frame.engine;
    let [main, cross, rod, head, small, cover, damper, flywheel] = threads(frame);
    let stud = |studs: bool| if studs { "stud with nut" } else { "bolt" };
    text.heading("fasteners: what is a question mark stands on the maker's card, or on the head");
    let mut put = |id: &str, name: &str, thread: &str, lubricant: &str| {
        text.table("fastener", id, name);
        text.field("thread", thread);
        text.field("strength", "?");
        text.field("thread_lubricant", lubricant);
        text.field("bearing_lubricant", lubricant);
        text.assumed(&["thread", "thread_lubricant", "bearing_lubricant"]);
    };
    let one = |of: &str, studs: bool| format!("{of} {}", stud(studs));
    if engine.main_bolts == 4 {
        put("main-inner", &one("Main cap, inner", engine.main_studs), main, "engine-oil");
        put("main-outer", &one("Main cap, outer", engine.main_studs), main, "engine-oil");
    } else {
        put("main", &one("Main cap", engine.main_studs), main, "engine-oil");
    }
    if frame.has(EngineExtra::CrossBolts) {
        put("main-cross", "Main cap cross bolt", cross, "engine-oil");
    }
    if engine.caps != MainCaps::Single {
        put("girdle-bolt", "Girdle bolt", cross, "engine-oil");
    }
    let rods = match engine.rods {
        RodFastening::Bolts => "Rod bolt",
        RodFastening::Nuts => "Rod bolt with nut",
        RodFastening::Castellated => "Rod bolt with castellated nut",
    };
    put("rod-bolt", rods, rod, "engine-oil");
    put("head", &one("Head", engine.head_studs), head, "engine-oil");
    if frame.has(EngineExtra::SmallHeadBolts) {
        put("head-small", "Head bolt, small", small, "engine-oil");
    }
    match engine.cams {
        CamLayout::Block => put("rocker-bolt", "Rocker bolt", small, "engine-oil"),
        CamLayout::Single | CamLayout::Twin => put("cam-cap-bolt", "Cam cap bolt", cover, "engine-oil"),
    }
    put("cam-drive-bolt", "Cam sprocket bolt", small, "engine-oil");
    put("cover-bolt", "Cover bolt", cover, "engine-oil");
    if frame.has(EngineExtra::Intake) {
        put("intake-bolt", "Intake bolt", small, "engine-oil");
    }
    if frame.has(EngineExtra::Damper) {
        put("damper-bolt", "Damper bolt", damper, "engine-oil");
    }
    if frame.has(EngineExtra::Flywheel) {
        put("flywheel-bolt", "Flywheel bolt", flywheel, "threadlocker");
    }
}

/// Fasteners of a joint that share their figures.
struct Group<'a> {
    id: &'a str,
    name: &'a str,
    fastener: &'a str,
    pattern: &'a str,
    places: Vec<(String, [f64; 2])>,
}

/// A joint whose procedure is to be looked up.
fn joint(text: &mut ShapeText, head: (&str, &str, &str), besides: &str, groups: &[Group<'_>]) {
    let (id, name, drawing) = head;
    text.table("joint", id, name);
    text.raw(besides);
    text.field("drawing", drawing);
    text.field("procedure", "?");
    for group in groups {
        text.table("joint.group", group.id, group.name);
        text.field("fastener", group.fastener);
        text.field("pattern", group.pattern);
        text.assumed(&["pattern", "position"]);
        text.line("position = [");
        for (id, place) in &group.places {
            text.line(&format!("  {{ id = \"{id}\", at = {} }},", at(*place)));
        }
        text.line("]");
    }
}

/// One by one, named by a letter and a number.
fn numbered(letter: &str, places: impl Iterator<Item = [f64; 2]>) -> Vec<(String, [f64; 2])> {
    (1..).zip(places).map(|(number, place)| (format!("{letter}{number}"), place)).collect()
}

/// So many around a rectangle, evenly, none in a corner.
fn around(from: [f64; 2], to: [f64; 2], pitch: f64) -> Vec<(String, [f64; 2])> {
    let (wide, high) = (to[0] - from[0], to[1] - from[1]);
    let count = |length: f64| (length / pitch).round().max(2.0);
    let (along, across) = (count(wide), count(high).max(2.0));
    let steps = |count: f64| {
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a few dozen at the most"
        )]
        let count = count as u32;
        (0..count).map(move |at| (f64::from(at) + 0.5) / f64::from(count))
    };
    let top = steps(along).map(|share| [from[0] + share * wide, from[1]]);
    let right = steps(across - 1.0).map(|share| [to[0], from[1] + share * high]);
    let bottom = steps(along).map(|share| [to[0] - share * wide, to[1]]);
    let left = steps(across - 1.0).map(|share| [from[0], to[1] - share * high]);
    numbered("", top.chain(right).chain(bottom).chain(left))
}

/// On a circle, clockwise from the top.
fn on_circle(radius: f64, count: u32) -> Vec<(String, [f64; 2])> {
    let place = |at: u32| {
        let (sin, cos) = (TAU * f64::from(at) / f64::from(count)).sin_cos();
        [radius * sin, -radius * cos]
    };
    numbered("", (0..count).map(place))
}

pub(super) fn all(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    text.heading("joints: write each procedure as the manual says it, such as \"40 N·m, 70 N·m, then 90°\"");
    mains(frame, text);
    rods(frame, text);
    heads(frame, text);
    valve_gear(frame, text);
    outside(frame, text);
}

fn mains(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let (engine, bore) = (frame.engine, frame.engine.bore_mm);
    let pairs = |letters: [&str; 2], away: f64| {
        let both = |(number, x): (u32, f64)| {
            letters
                .into_iter()
                .zip([-away, away])
                .map(move |(letter, y)| (format!("{number}{letter}"), [x, y]))
        };
        (1..).zip(frame.main_x()).flat_map(both).collect::<Vec<_>>()
    };
    let inner = bore * 0.5;
    let mut groups = Vec::new();
    if engine.main_bolts == 4 {
        let named = |id, fastener, letters, away| Group {
            id,
            name: id,
            fastener,
            pattern: "centre-out",
            places: pairs(letters, away),
        };
        groups.push(named("inner", "main-inner", ["B", "C"], inner));
        groups.push(named("outer", "main-outer", ["A", "D"], cap_reach(frame) * 0.85));
    } else {
        groups.push(Group {
            id: "bolts",
            name: "bolt",
            fastener: "main",
            pattern: "centre-out",
            places: pairs(["A", "B"], inner),
        });
    }
    if frame.has(EngineExtra::CrossBolts) {
        groups.push(Group {
            id: "cross",
            name: "cross",
            fastener: "main-cross",
            pattern: "centre-out",
            places: pairs(["L", "R"], frame.half * 1.04),
        });
    }
    let name = if engine.caps == MainCaps::Ladder { "Main bearing ladder" } else { "Main caps" };
    joint(text, ("main-caps", name, "block-below"), "", &groups);
    if engine.caps != MainCaps::Single {
        let edge = cap_reach(frame) * if engine.caps == MainCaps::Girdle { 0.62 } else { 0.94 };
        let thick = engine.spacing_mm * 0.3;
        let x = |at: u32| frame.first + (f64::from(at) + 0.5) * engine.spacing_mm;
        let places =
            [-1.0, 1.0].into_iter().flat_map(|side| (0..frame.per_bank).map(move |at| [x(at), side * edge]));
        let ends = [[frame.first - thick, 0.0], [frame.long - frame.first + thick, 0.0]];
        let places =
            numbered("G", places.chain(ends.into_iter().filter(|_| engine.caps == MainCaps::Ladder)));
        let name = if engine.caps == MainCaps::Girdle { "Girdle" } else { "Edge of the ladder" };
        joint(
            text,
            ("girdle", name, "block-below"),
            "",
            &[Group { id: "bolts", name: "bolt", fastener: "girdle-bolt", pattern: "centre-out", places }],
        );
    }
}

fn rods(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let away = frame.engine.bore_mm * 31.5 / 86.0;
    let places = vec![
        ("A".to_owned(), [-away, frame.engine.bore_mm * 0.2]),
        ("B".to_owned(), [away, frame.engine.bore_mm * 0.2]),
    ];
    let name = if frame.engine.rods == RodFastening::Bolts { "bolt" } else { "nut" };
    let count = frame.each_cylinder();
    joint(
        text,
        ("rod", "Rod", "rod-front"),
        &count,
        &[Group { id: "bolts", name, fastener: "rod-bolt", pattern: "line", places }],
    );
}

fn heads(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let (engine, bore) = (frame.engine, frame.engine.bore_mm);
    let near = bore * 0.56;
    let far = head_half(frame) * 0.86;
    let rows: Vec<f64> = match engine.head_rows {
        2 => vec![-near, near],
        3 => vec![-near, near, far],
        _ => vec![-far, -near, near, far],
    };
    let letters = ["A", "B", "C", "D"];
    let places = rows
        .iter()
        .zip(letters)
        .flat_map(|(y, letter)| numbered(letter, frame.main_x().into_iter().map(move |x| [x, *y])));
    let name = if engine.head_studs { "nut" } else { "bolt" };
    let mut groups =
        vec![Group { id: "main", name, fastener: "head", pattern: "centre-out", places: places.collect() }];
    if frame.has(EngineExtra::SmallHeadBolts) {
        let y = -head_half(frame) * 0.93;
        let places = numbered("S", frame.bore_x().into_iter().map(|x| [x, y]));
        groups.push(Group {
            id: "small",
            name: "small",
            fastener: "head-small",
            pattern: "centre-out",
            places,
        });
    }
    joint(text, ("head", "Head", "head-above"), &frame.members(), &groups);
}

fn valve_gear(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let bore = frame.engine.bore_mm;
    if frame.overhead() {
        let letters = if frame.engine.cams == CamLayout::Twin { ["I", "E"] } else { ["C", "C"] };
        let places = cam_y(frame).into_iter().zip(letters).flat_map(|(y, letter)| {
            let edges = frame
                .main_x()
                .into_iter()
                .flat_map(move |x| [-1.0, 1.0].map(|side| [x, y + side * cap_half(frame) * 0.78]));
            numbered(letter, edges)
        });
        // Caps are drawn down evenly, from the outer ones in, or the camshaft breaks.
        let group = Group {
            id: "bolts",
            name: "bolt",
            fastener: "cam-cap-bolt",
            pattern: "outside-in",
            places: places.collect(),
        };
        joint(text, ("cam-caps", "Cam caps", "cams-above"), &frame.members(), &[group]);
    } else {
        let places = numbered(
            "",
            frame
                .bore_x()
                .into_iter()
                .flat_map(|x| [[x - bore * 0.2, -bore * 0.42], [x + bore * 0.2, -bore * 0.42]]),
        );
        joint(
            text,
            ("rockers", "Rockers", "head-above"),
            &frame.members(),
            &[Group { id: "bolts", name: "bolt", fastener: "rocker-bolt", pattern: "centre-out", places }],
        );
    }
    let up = cover(frame).1;
    let places = if frame.overhead() {
        numbered("", cam_y(frame).into_iter().map(|y| [y * 1.15, -up * 0.7]))
    } else {
        let place = |at: u32| {
            let (sin, cos) = (TAU * f64::from(at) / 3.0).sin_cos();
            [bore * 0.15 * sin, -bore * 0.95 - bore * 0.15 * cos]
        };
        numbered("", (0..3).map(place))
    };
    joint(
        text,
        ("cam-drive", "Cam sprockets", "front"),
        &if frame.overhead() { frame.members() } else { String::new() },
        &[Group {
            id: "bolts",
            name: "bolt",
            fastener: "cam-drive-bolt",
            pattern: if places.len() > 2 { "criss-cross" } else { "line" },
            places,
        }],
    );
}

/// Covers, pump, intake, damper, flywheel.
fn outside(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    let (engine, bore) = (frame.engine, frame.engine.bore_mm);
    let mut put = |head: (&str, &str, &str),
                   besides: &str,
                   fastener: &str,
                   pattern: &str,
                   places: Vec<(String, [f64; 2])>| {
        joint(text, head, besides, &[Group { id: "bolts", name: "bolt", fastener, pattern, places }]);
    };
    let (half, long) = (frame.half, frame.long);
    let tidy = |inset: f64| ([inset, inset - half], [long - inset, half - inset]);
    if frame.has(EngineExtra::Tray) {
        let places =
            numbered("", frame.main_x().into_iter().flat_map(|x| [[x, -bore * 0.66], [x, bore * 0.66]]));
        put(("tray", "Windage tray", "block-below"), "", "cover-bolt", "centre-out", places);
    }
    if frame.has(EngineExtra::Pan) {
        let (from, to) = tidy(bore * 0.09);
        put(("pan", "Pan", "pan-below"), "", "cover-bolt", "centre-out", around(from, to, bore * 0.75));
    }
    let (wide, up, down) = cover(frame);
    if frame.has(EngineExtra::TimingCover) {
        let places = around([-wide * 0.93, -up * 0.93], [wide * 0.93, down * 0.42], bore * 0.72);
        put(("timing-cover", "Timing cover", "front"), "", "cover-bolt", "criss-cross", places);
    }
    if frame.has(EngineExtra::RearCover) {
        put(
            ("rear-cover", "Rear seal cover", "rear"),
            "",
            "cover-bolt",
            "criss-cross",
            on_circle(bore * 0.52, 6),
        );
    }
    if frame.overhead() {
        let half = head_half(frame) * 0.93;
        put(
            ("cam-cover", "Cam cover", "cams-above"),
            &frame.members(),
            "cover-bolt",
            "centre-out",
            around([bore * 0.08, -half], [long - bore * 0.08, half], engine.spacing_mm),
        );
    } else {
        let half = head_half(frame) * 0.93;
        put(
            ("rocker-cover", "Rocker cover", "head-above"),
            &frame.members(),
            "cover-bolt",
            "centre-out",
            around([bore * 0.08, -half], [long - bore * 0.08, half], engine.spacing_mm * 1.4),
        );
    }
    if frame.has(EngineExtra::ValleyCover) {
        let half = intake_half(frame) * 0.45;
        let head = ("valley-cover", "Valley cover", "valley-above");
        put(
            head,
            "",
            "cover-bolt",
            "centre-out",
            around([bore * 0.3, -half], [long - bore * 0.3, half], engine.spacing_mm),
        );
    }
    if frame.has(EngineExtra::Intake) {
        let half = intake_half(frame) * 0.9;
        let sides: &[f64] = if frame.two_banks() { &[-1.0, 1.0] } else { &[-1.0] };
        let places = sides.iter().flat_map(|side| frame.main_x().into_iter().map(move |x| [x, side * half]));
        put(("intake", "Intake", "intake-above"), "", "intake-bolt", "centre-out", numbered("", places));
    }
    if frame.has(EngineExtra::WaterPump) {
        put(
            ("water-pump", "Water pump", "front"),
            "",
            "cover-bolt",
            "criss-cross",
            on_circle(bore * 0.42, 5).into_iter().map(|(id, [x, y])| (id, [x, y - bore * 0.9])).collect(),
        );
    }
    if frame.has(EngineExtra::Damper) {
        put(("damper", "Damper", "front"), "", "damper-bolt", "line", vec![("1".to_owned(), [0.0, 0.0])]);
    }
    if frame.has(EngineExtra::Flywheel) {
        let count = if engine.cylinders > 4 { 8 } else { 6 };
        put(
            ("flywheel", "Flywheel", "rear"),
            "",
            "flywheel-bolt",
            "criss-cross",
            on_circle(bore * 0.38, count),
        );
    }
}
