//! The line of work in the order of the craft, with the trade's usual checks at each step.

use super::choices::{EngineExtra, MainCaps, RodFastening};
use super::frame::ShapeFrame;
use super::text::ShapeText;
use std::fmt::Write;

/// One step; what it needs is what came before it where that is not said.
struct Step<'a> {
    text: &'a mut ShapeText,
}

impl Step<'_> {
    fn head(&mut self, id: &str, name: &str, kind: &str, needs: &[&str]) {
        self.text.table("operation", id, name);
        self.text.field("kind", kind);
        if !needs.is_empty() {
            let needs: Vec<String> = needs.iter().map(|need| format!("\"{need}\"")).collect();
            self.text.line(&format!("needs = [{}]", needs.join(", ")));
        }
    }

    fn caution(&mut self, words: &str) {
        self.text.line(&format!("cautions = [{}]", toml::Value::String(words.to_owned())));
    }

    fn tighten(&mut self, id: &str, name: &str, joints: &[&str], needs: &[&str]) {
        self.head(id, name, "tighten", needs);
        let joints: Vec<String> = joints.iter().map(|joint| format!("\"{joint}\"")).collect();
        self.text.line(&format!("joints = [{}]", joints.join(", ")));
    }

    fn measure(&mut self, id: &str, name: &str, sites: &[&str], needs: &[&str]) {
        self.head(id, name, "measure", needs);
        let sites: Vec<String> = sites.iter().map(|site| format!("\"{site}\"")).collect();
        self.text.line(&format!("sites = [{}]", sites.join(", ")));
    }

    fn turn(&mut self, id: &str, name: &str, suspect: &str, needs: &[&str]) {
        self.head(id, name, "turn", needs);
        self.text.field("suspect", suspect);
        self.caution("Fingers out of a rotating assembly.");
    }

    fn items(&mut self, items: &[(&str, &str, &str, &str)]) {
        self.text.raw(&listed(items));
    }
}

/// Items as a plan has them: key, what to do, what right and what wrong looks like.
fn listed(items: &[(&str, &str, &str, &str)]) -> String {
    let mut text = "item = [\n".to_owned();
    for (id, what, right, wrong) in items {
        let [what, right, wrong] =
            [what, right, wrong].map(|words| toml::Value::String((*words).to_owned()).to_string());
        let _ = writeln!(text, "  {{ id = \"{id}\", text = {what}, right = {right}, wrong = {wrong} }},");
    }
    text + "]\n"
}

pub(super) fn all(frame: &ShapeFrame<'_>, text: &mut ShapeText) {
    text.heading("build sequence");
    let mut step = Step { text };
    bare(frame, &mut step);
    let short = bottom(frame, &mut step);
    let top = top(frame, &mut step, &short);
    outside(frame, &mut step, &top);
}

/// Taken in, prepared, measured.
fn bare(frame: &ShapeFrame<'_>, step: &mut Step<'_>) {
    step.head("take-in", "Log parts in", "take-in", &[]);
    step.text.line("slots = [\"block\", \"crankshaft\", \"rod\", \"piston\", \"main-shells\", \"rod-shells\", \"rings\", \"rod-bolts\", \"camshaft\", \"head-part\", \"head-gasket\", \"gaskets\"]");
    step.head("hardware-out", "Count hardware out", "count", &["take-in"]);
    let mut hardware = vec![
        ("rod-bolt", "Rod bolts", 2 * frame.engine.cylinders),
        ("pin-lock", "Pin locks", 2 * frame.engine.cylinders),
    ];
    if frame.engine.rods == RodFastening::Castellated {
        hardware.push(("split-pin", "Split pins", 2 * frame.engine.cylinders));
    }
    let lines: Vec<String> = hardware
        .iter()
        .map(|(id, name, count)| format!("  {{ id = \"{id}\", name = \"{name}\", count = {count} }},\n"))
        .collect();
    step.text.line("joints = [\"main-caps\", \"head\"]");
    step.text.raw(&format!("hardware = [\n{}]\n", lines.concat()));
    step.head("block-prepare", "Prepare the block", "prepare", &["take-in"]);
    step.text.line("parts = [\"block\"]");
    step.caution("Eye protection at compressed air. Two people or a hoist lift the block.");
    step.items(&[
        (
            "oilways",
            "Wash and blow out every oil gallery",
            "Clear air at every gallery plug and main bearing",
            "A hiss that changes when another port is closed",
        ),
        (
            "threads",
            "Chase every thread with a bottoming chaser",
            "A bolt runs to the bottom by two fingers",
            "A bolt that drags or squeaks",
        ),
        (
            "holes",
            "Dry every blind hole",
            "A pipe cleaner comes out dry",
            "Oil or solvent left in the hole: it cracks the block under the bolt",
        ),
        (
            "burrs",
            "De-burr the cap registers and the bearing edges",
            "A fingernail does not catch",
            "A bright raised edge",
        ),
        (
            "caps",
            "Lay out the caps by number, arrows to the front",
            "Each cap by its own bore",
            "A cap without a number, or of another bore",
        ),
    ]);
    step.tighten("caps-trial", "Torque the main caps to measure", &["main-caps"], &["block-prepare"]);
    step.text.field("purpose", "trial");
    step.text.field("fasteners", "old ones, or those that stay where they may be used again");
    step.measure("mains-measure", "Measure the mains", &["main-bore", "main-journal"], &["caps-trial"]);
    step.head("caps-apart", "Remove the main caps", "loosen", &["mains-measure"]);
    step.text.line("joint = \"main-caps\"");
    step.text.field("purpose", "trial");
    step.measure(
        "cylinders-measure",
        "Measure pistons and cylinders",
        &["cylinder", "piston-skirt"],
        &["block-prepare"],
    );
    step.measure("rings-file", "File the rings", &["top-ring", "second-ring"], &["cylinders-measure"]);
    step.measure("rods-measure", "Measure the rods", &["rod-bore", "rod-journal"], &["take-in"]);
}

/// The crankshaft in its bearings. Gives what tightens it last.
fn crankshaft(frame: &ShapeFrame<'_>, step: &mut Step<'_>) -> &'static str {
    let engine = frame.engine;
    step.head("crank-in", "Fit the crankshaft", "fit", &["caps-apart"]);
    step.text.line("parts = [\"crankshaft\", \"main-shells\"]");
    step.caution("The crankshaft is heavy: two people, fingers out of the bearings.");
    step.items(&[
        (
            "shells",
            "Shells in dry, tangs in their slots, oil holes in line with the galleries",
            "Each shell stands a hair proud of the split",
            "A shell that covers an oil gallery",
        ),
        ("oil", "Oil on the shells and journals", "A wet film over the whole width", "A dry shell"),
        (
            "lower",
            "Lower the crankshaft straight down",
            "It lies in all bearings by its own weight",
            "It rocks, or hangs on the seal",
        ),
    ]);
    step.head("main-caps-prepare", "Set the main caps", "prepare", &["crank-in", "hardware-out"]);
    step.items(&[
        (
            "caps",
            "Caps on by number, arrows to the front, tapped home",
            "No light under a cap",
            "A cap turned round, or cocked in its register",
        ),
        (
            "thrust",
            "Shock the crankshaft both ways to seat the thrust bearing",
            "The thrust faces lie flush",
            "One half stands ahead of the other",
        ),
        (
            "lubricant",
            "Lubricant where the plan says, and nowhere else",
            "A film under each head and on each thread",
            "A dry bolt, or a puddle in a hole",
        ),
    ]);
    let mut mains = vec!["main-caps"];
    if engine.caps != MainCaps::Single {
        mains.push("girdle");
    }
    step.tighten("main-caps-tighten", "Tighten the main caps", &mains[..1], &["main-caps-prepare"]);
    if engine.caps != MainCaps::Single {
        step.tighten(
            "girdle-tighten",
            if engine.caps == MainCaps::Girdle {
                "Tighten the girdle"
            } else {
                "Tighten the edge of the ladder"
            },
            &mains[1..],
            &["main-caps-tighten"],
        );
    }
    let tightened = if engine.caps == MainCaps::Single { "main-caps-tighten" } else { "girdle-tighten" };
    step.turn("main-caps-turn", "Turn the crankshaft", "the main caps", &[tightened]);
    step.measure("thrust-measure", "Measure the end play", &["end-play"], &["main-caps-turn"]);
    if !frame.overhead() {
        step.head("cam-in", "Fit the camshaft", "fit", &["thrust-measure"]);
        step.text.line("parts = [\"camshaft\"]");
        step.items(&[
            (
                "lube",
                "Break-in lubricant on every lobe, oil on the journals",
                "Every lobe covered",
                "A bare lobe: it is gone in a minute",
            ),
            (
                "slide",
                "Slide it in straight, no lobe over a bearing edge",
                "It turns by two fingers",
                "It drags at one place",
            ),
        ]);
    }
    tightened
}

/// Crankshaft, pistons, and the short block closed. Gives what comes last.
fn bottom(frame: &ShapeFrame<'_>, step: &mut Step<'_>) -> Vec<&'static str> {
    let engine = frame.engine;
    let tightened = crankshaft(frame, step);
    step.head("pistons-prepare", "Prepare the pistons", "check", &["rings-file", "rods-measure"]);
    step.items(&[
        (
            "locks",
            "Both pin locks of every piston seated",
            "None turns by a pick",
            "A lock that was fitted twice",
        ),
        (
            "rings",
            "Rings the right way up, gaps clocked, none over a pin end",
            "Dots up, gaps apart",
            "Two gaps above each other",
        ),
        ("facing", "Piston arrow and rod bevel face as the maker says", "All alike", "One turned round"),
    ]);
    let rods = rods(frame, step, &["pistons-prepare", tightened, "main-caps-turn"]);
    step.measure("rods-side", "Measure the rod side clearances", &["rod-side"], &[rods]);
    step.measure("deck-measure", "Measure the deck height", &["deck-height"], &[rods]);
    let mut last = vec!["rods-side", "deck-measure"];
    if engine.rods == RodFastening::Castellated {
        step.head("split-pins", "Split pins", "check", &[rods]);
        step.items(&[(
            "pins",
            "A new split pin in each rod nut, both legs bent",
            "One leg over the bolt, one down a flat, nothing loose",
            "A pin that was used before, or a leg that stands out",
        )]);
        last.push("split-pins");
    }
    if frame.has(EngineExtra::RearCover) {
        step.tighten("rear-cover-tighten", "Fit the rear seal cover", &["rear-cover"], &["thrust-measure"]);
        last.push("rear-cover-tighten");
    }
    if !frame.overhead() {
        step.tighten("cam-drive-tighten", "Fit the timing chain", &["cam-drive"], &["cam-in", rods]);
        step.measure("timing-measure", "Check the timing", &["cam-timing"], &["cam-drive-tighten"]);
        last.push("timing-measure");
    }
    if frame.has(EngineExtra::Tray) {
        step.tighten("tray-tighten", "Fit the windage tray", &["tray"], &["rods-side"]);
        last.push("tray-tighten");
    }
    step.head("short-check", "Inspect the short block", "check", &last.clone());
    step.items(&[
        (
            "pickup",
            "Oil pump on, pickup braced, clearance to the pan checked with clay",
            "Even clay as thick as the maker says",
            "Clay squeezed through, or none touched",
        ),
        ("marks", "Every fastener carries its paint mark", "A stroke for every stage", "A bare head"),
    ]);
    step.turn("short-turn", "Turn the short block", "what was fitted last", &["short-check"]);
    vec!["short-turn"]
}

/// A piston and its rod, and the crankshaft turned, cylinder by cylinder. Gives what comes last.
fn rods(frame: &ShapeFrame<'_>, step: &mut Step<'_>, needs: &[&str]) -> &'static str {
    let items = [
        (
            "protect",
            "Protectors on the bolts of rod #",
            "Both threads covered to the cap face",
            "A bare thread: it scores the pin",
        ),
        (
            "in",
            "Ring compressor, arrow to the front, piston # down with the handle",
            "It goes down by taps of the hand",
            "A stop: a ring has sprung out",
        ),
        ("cap", "Cap # on, numbers together, tangs on one side", "The cap taps home", "A cap of another rod"),
    ];
    let fit = format!(
        "parts = [\"rod\", \"piston\"]\ncautions = [\"Fingers out of the throw below.\"]\n{}",
        listed(&items)
    );
    let turn = "suspect = \"rod #\"\nagain = [{ joint = \"rod\", when = \"replaced\" }, { part = \"rod\" }]\ncautions = [\"Fingers out of a rotating assembly.\"]\n";
    let steps = [
        ("rod-fit", "Fit piston and rod #", "fit", fit.as_str()),
        ("rod-tighten", "Tighten rod", "tighten", "joint = \"rod\"\n"),
        ("rod-turn", "Turn after rod #", "turn", turn),
    ];
    if frame.engine.cylinders == 1 {
        let mut before = needs.to_vec();
        for (id, name, kind, body) in steps {
            step.head(id, &name.replace(" #", ""), kind, &before);
            step.text.raw(&body.replace(" #", ""));
            before = vec![id];
        }
        return "rod-turn";
    }
    step.head("rods", "Pistons and rods", "repeat", needs);
    step.text.field("by", "cylinder");
    step.text.line(&format!("count = {}", frame.engine.cylinders));
    for (id, name, kind, body) in steps {
        step.text.table("operation.step", id, name);
        step.text.field("kind", kind);
        step.text.raw(body);
    }
    "rods"
}

/// Heads and valve gear. Gives what comes last.
fn top(frame: &ShapeFrame<'_>, step: &mut Step<'_>, short: &[&'static str]) -> Vec<&'static str> {
    step.head("head-fit", "Fit the heads", "fit", short);
    step.text.line("parts = [\"head-part\", \"head-gasket\"]");
    step.caution("A head is heavy: two people, fingers out from under it.");
    step.items(&[
        (
            "faces",
            "Wipe deck and head until a white cloth stays white",
            "No oil in a bolt hole",
            "Fluid in a hole: it cracks the deck",
        ),
        (
            "dowels",
            "Dowels in, gasket the right way round",
            "Every oil and water passage open",
            "A gasket turned over",
        ),
        ("washers", "Washers on, chamfer up", "Chamfer to the head of the bolt", "A washer turned over"),
    ]);
    step.tighten(
        "head-tighten",
        if frame.two_banks() { "Tighten the heads" } else { "Tighten the head" },
        &["head"],
        &["head-fit"],
    );
    let timed = if frame.overhead() {
        step.head("cams-lay", "Fit the camshafts", "fit", &["head-tighten"]);
        step.text.line("parts = [\"camshaft\"]");
        step.items(&[
            (
                "top",
                "No piston at the top while a camshaft goes in",
                "All pistons part way down",
                "A valve that meets a piston",
            ),
            ("lube", "Lubricant on lobes, buckets and journals", "Every lobe covered", "A bare lobe"),
            ("caps", "Caps on by number, arrows to the front", "They sit flat", "A cap turned round"),
        ]);
        step.tighten("cam-caps-tighten", "Tighten the cam caps", &["cam-caps"], &["cams-lay"]);
        step.tighten("cam-drive-tighten", "Fit the timing drive", &["cam-drive"], &["cam-caps-tighten"]);
        step.measure("timing-measure", "Check the timing", &["cam-timing"], &["cam-drive-tighten"]);
        "timing-measure"
    } else {
        step.head("lifters", "Lifters and pushrods", "fit", &["head-tighten"]);
        step.items(&[
            (
                "lifters",
                "Lifters in with break-in lubricant on their faces",
                "Each turns in its bore",
                "One that hangs",
            ),
            ("pushrods", "Pushrods in, seated in the lifters", "All at one height", "One beside its seat"),
        ]);
        step.tighten("rockers-tighten", "Tighten the rockers", &["rockers"], &["lifters"]);
        "rockers-tighten"
    };
    step.head("timing-turn", "Turn twice and check the marks", "check", &[timed]);
    step.caution("Stop at any resistance: is anything in the way, are rags and tools out?");
    step.items(&[
        (
            "marks",
            "Two turns by hand, slack pulled out, marks together again",
            "Every mark on its line, seen straight on",
            "One tooth off",
        ),
        ("rags", "Rags, tools and protectors out", "The tray is full again", "One missing"),
    ]);
    vec!["timing-turn"]
}

/// Covers and what hangs on the engine, and the last signature.
fn outside(frame: &ShapeFrame<'_>, step: &mut Step<'_>, top: &[&'static str]) {
    let mut last: Vec<&'static str> = Vec::new();
    let mut put =
        |step: &mut Step<'_>, id: &'static str, name: &str, joint: &str, needs: &[&str], closes: bool| {
            step.tighten(id, name, &[joint], needs);
            if closes {
                step.text.line("closes = true");
            }
            last.push(id);
        };
    let mut front: Vec<&str> = top.to_vec();
    if frame.has(EngineExtra::TimingCover) {
        put(step, "timing-cover-tighten", "Close the timing cover", "timing-cover", top, true);
        front = vec!["timing-cover-tighten"];
    }
    if frame.has(EngineExtra::Pan) {
        put(step, "pan-tighten", "Close the pan", "pan", &front, true);
    }
    let mut over: Vec<&str> = top.to_vec();
    if frame.has(EngineExtra::ValleyCover) {
        put(step, "valley-cover-tighten", "Close the valley", "valley-cover", top, true);
        over = vec!["valley-cover-tighten"];
    }
    if frame.has(EngineExtra::Intake) {
        put(step, "intake-tighten", "Tighten the intake", "intake", &over, true);
        over = vec!["intake-tighten"];
    }
    if frame.overhead() {
        put(step, "cam-cover-tighten", "Close the cam covers", "cam-cover", &over, true);
    } else {
        put(step, "rocker-cover-tighten", "Close the rocker covers", "rocker-cover", &over, true);
    }
    if frame.has(EngineExtra::WaterPump) {
        put(step, "water-pump-tighten", "Tighten the water pump", "water-pump", &front, false);
    }
    if frame.has(EngineExtra::Damper) {
        step.head("damper-press", "Press the damper on", "fit", &front);
        step.items(&[(
            "press",
            "Draw it on with the tool, key in its slot",
            "It seats against the sprocket",
            "Hammered on: the ring of the damper slips",
        )]);
        put(step, "damper-tighten", "Tighten the damper", "damper", &["damper-press"], false);
    }
    if frame.has(EngineExtra::Flywheel) {
        put(step, "flywheel-tighten", "Tighten the flywheel", "flywheel", top, false);
    }
    step.turn("long-turn", "Turn the engine", "what was closed last", &last);
    step.head("hardware-back", "Count hardware back", "count", &["hardware-out", "long-turn"]);
    step.text.field("back_of", "hardware-out");
    step.head("sign-off", "Sign the engine off", "sign", &["hardware-back"]);
}
