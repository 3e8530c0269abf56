//! Plans that are right, and every fault a plan can have.

use super::{Fault, Plan, Severity, Stage, StageIx};
use rigore_mechanics::message::Message;

const SMALL: &str = include_str!("../tests/small-plan.toml");

fn faults(source: &str) -> Vec<Fault> {
    Plan::judge("plan.toml", source).expect_err("the plan must be refused")
}

/// The small plan with one text replaced by another.
fn with(old: &str, new: &str) -> String {
    assert!(SMALL.contains(old), "{old}");
    SMALL.replacen(old, new, 1)
}

fn line_of(source: &str, text: &str) -> usize {
    1 + source.lines().position(|line| line.contains(text)).expect("the text is there")
}

const MEASURE: &str = include_str!("../tests/measure-plan.toml");

#[test]
fn a_right_plan_has_no_faults_and_its_sequence() {
    let (plan, warnings) = Plan::judge("plan.toml", SMALL).unwrap();
    assert_eq!(warnings, []);
    let order: Vec<_> = plan.joints[0].fasteners.iter().map(|p| p.id.as_str()).collect();
    assert_eq!(order, ["2L", "2R", "1L", "3R", "1R", "3L"]);
    let forecast = plan.forecast(&plan.joints[0], StageIx(2)).unwrap();
    assert!(forecast.low_kn < forecast.typical_kn && forecast.typical_kn < forecast.high_kn);
}

#[test]
fn each_fault_is_shown_where_it_stands() {
    for (old, new, at, says) in [
        ("strength = \"10.9\"", "strength = \"10.9\"\ncolour = \"red\"", "colour", "unknown field"),
        ("thread = \"M10x1.25\"", "thread = \"M10x12\"", "M10x12", "impossible"),
        ("torque = \"30 N·m\"", "torque = \"130 N·m\"", "130 N·m", "past the fastener's limit"),
        ("torque = \"30 N·m\"", "torque = \"30 mm\"", "torque = \"30 mm", "unit of length"),
        ("tolerance = \"4 %\"", "tolerance = \"much\"", "much", "does not start with a number"),
        ("pattern = \"centre-out\"", "pattern = \"zigzag\"", "zigzag", "not one of centre-out"),
        (
            "pattern = \"centre-out\"",
            "pattern = \"listed\"\norder = [\"1L\", \"1R\"]",
            "order =",
            "misses 2L, 2R, 3L, 3R",
        ),
        ("needs = [\"prepare\"]", "needs = [\"dig\"]", "dig", "no operation is called `dig`"),
        ("joint = \"caps\"", "joint = \"cups\"", "cups", "no joint is called `cups`"),
        ("name = \"Small\"", "title = \"Small\"", "format = 1", "missing"),
        ("format = 1", "format = 2", "format = 2", "must be 1"),
        ("id = \"1R\"", "id = \"1L\"", "group", "`1L` is there twice"),
    ] {
        let source = with(old, new);
        let found = faults(&source);
        let fault =
            found.iter().find(|f| f.message.contains(says)).unwrap_or_else(|| panic!("{says}: {found:?}"));
        if at != "group" {
            assert_eq!(fault.line, line_of(&source, at), "{fault}");
        }
        assert!(fault.to_string().starts_with("plan.toml:"), "{fault}");
    }
}

#[test]
fn faults_of_sites_and_clearances_are_shown_where_they_stand() {
    for (old, new, says) in [
        (
            "plausible = [\"54.9 mm\", \"55.1 mm\"]",
            "plausible = [\"55.1 mm\", \"54.9 mm\"]",
            "two rising lengths",
        ),
        ("strip = \"0.3 mm\"", "", "go together"),
        ("minus = \"journal\"", "minus = \"journey\"", "no site is called `journey`"),
        ("count = 2\nform = \"bore\"", "count = 3\nform = \"bore\"", "has 2 sites and `housing` has 3"),
        ("street = [\"0.030 mm\"", "street = [\"0.050 mm\"", "its figures have to rise"),
        ("boost = [", "moon = [", "unknown field"),
        ("sites = [\"journal\"", "sites = [\"jornal\"", "no site is called `jornal`"),
        ("per_bore = \"cylinder\"", "per_bore = \"barrel\"", "no site is called `barrel`"),
        (
            "street = [0.0040, 0.0045, 0.0055]",
            "street = [\"0.3 mm\", \"0.4 mm\", \"0.5 mm\"]",
            "list of numbers",
        ),
        ("series = [-10, 0, 10]", "series = [-10, 10, 0]", "three rising crank angles"),
        ("form = \"valve\"", "form = \"gap\"", "three rising crank angles"),
        ("plausible = [\"40 cc\", \"55 cc\"]", "plausible = [\"40 mm\", \"55 mm\"]", "unit of length"),
        ("stroke = \"86 mm\", ", "", "stroke: missing"),
        ("deck = \"deck\" }", "deck = \"deck\", bore_mm = 3 }", "unknown field"),
        (
            "compression = { bore = \"cylinder\", stroke = \"86 mm\", chamber = \"chamber\", piston = \"4 cc\", \
             gasket_bore = \"87 mm\", gasket = \"1.0 mm\", deck = \"deck\" }",
            "compression = { bore = \"86 mm\", stroke = \"86 mm\", chamber = \"48 cc\", piston = \"4 cc\", \
             gasket_bore = \"87 mm\", gasket = \"1.0 mm\", deck = \"0.3 mm\" }",
            "nothing of it is measured",
        ),
        ("minus = \"journal\"", "minus = \"journal\"\nleast = \"strip\"", "unknown field"),
    ] {
        assert!(MEASURE.contains(old), "{old}");
        let found = faults(&MEASURE.replacen(old, new, 1));
        let shown = |fault: &Fault| fault.to_string().contains(says);
        assert!(found.iter().any(shown), "{says}: {found:?}");
    }
}

#[test]
fn all_faults_come_at_once() {
    let source = with("thread = \"M10x1.25\"", "thread = \"M10x12\"")
        .replacen("pattern = \"centre-out\"", "pattern = \"listed\"\norder = [\"1L\"]", 1)
        .replacen("name = \"Small\"", "name = \"Small\"\ncolour = 3", 1);
    let found = faults(&source);
    for says in ["impossible", "misses", "unknown field"] {
        assert!(found.iter().any(|f| f.message.contains(says)), "{says}: {found:?}");
    }
}

#[test]
fn requirements_in_a_circle_are_refused() {
    let source = with("kind = \"prepare\"", "kind = \"prepare\"\nneeds = [\"tighten\"]");
    let found = faults(&source);
    assert!(
        found.iter().any(|f| f.message.contains("circle: prepare needs tighten needs prepare")),
        "{found:?}"
    );
}

#[test]
fn an_operation_that_cannot_be_reached_is_refused_and_what_nothing_comes_to_is_a_warning() {
    for (old, new, says) in [
        ("name = \"File the rings\"", "name = \"File the rings\"\nfoo = 1", "unknown field"),
        ("needs = [\"cylinders\"]", "needs = [\"sign\"]", "can never be started: `sign`"),
        ("needs = [\"count-out\"]", "", "counts back what `count-out` counts out, and does not wait for it"),
        ("back_of = \"count-out\"", "back_of = \"rings\"", "operation that counts out before this one"),
        (
            "kind = \"turn\"\nsuspect = \"rod 1\"\nrise = \"2 N·m\"",
            "kind = \"sign\"",
            "neither could be signed",
        ),
        ("slots = [\"block\", \"rod\"]", "slots = []", "at least one slot"),
        ("count = 12 }", "count = 1.5 }", "whole number from 1"),
    ] {
        assert!(MEASURE.contains(old), "{old}");
        let found = faults(&MEASURE.replacen(old, new, 1));
        assert!(found.iter().any(|fault| fault.message.contains(says)), "{says}: {found:?}");
    }
    for (old, new, says) in [
        (
            "sites = [\"deck\", \"chamber\", \"inlet\"]",
            "sites = [\"deck\", \"chamber\"]",
            "no operation measures `inlet`",
        ),
        ("slots = [\"block\", \"rod\"]", "slots = [\"block\"]", "no operation takes `rod` in"),
    ] {
        let (_, warnings) = Plan::judge("plan.toml", &MEASURE.replacen(old, new, 1)).unwrap();
        assert_eq!(warnings.iter().map(|w| &w.message).collect::<Vec<_>>(), [says]);
    }
}

#[test]
fn hardware_comes_from_the_joints_and_sketches_say_how_things_lie() {
    use super::{ItemSketch, OperationWork};
    let hardware = "[[operation]]\nid = \"out\"\nname = \"Count out\"\nkind = \"count\"\njoints = [\"caps\"]\n\
                    hardware = [{ id = \"washer\", name = \"Washers\", count = 6 }]\n";
    let sketch = "text = \"Chase every thread\", sketch = { kind = \"ring-clocking\", gaps = [{ ring = \"Top\", at = 30 }] }";
    let source = format!("{SMALL}{hardware}").replacen("text = \"Chase every thread\"", sketch, 1);
    let (plan, _) = Plan::judge("plan.toml", &source).unwrap();
    let OperationWork::Count(counting) = &plan[plan.operation("out").unwrap()].work else {
        panic!("a count")
    };
    let lines: Vec<_> = counting.hardware.iter().map(|line| (line.name.as_str(), line.count)).collect();
    assert_eq!(lines, [("Cap bolt", 6), ("Washers", 6)]);
    let OperationWork::Items(items) = &plan.operations[0].work else { panic!("items") };
    assert!(matches!(&items[0].sketch, Some(ItemSketch::RingClocking { gaps }) if gaps[0].at_deg == 30.0));
    for (old, new, says) in [
        ("at = 30", "at = 400", "degrees clockwise"),
        ("kind = \"ring-clocking\"", "kind = \"doodle\"", "not one of cap-arrows"),
        (
            "kind = \"ring-clocking\", gaps = [{ ring = \"Top\", at = 30 }]",
            "kind = \"cap-arrows\"",
            "from 1 to 12",
        ),
        ("joints = [\"caps\"]", "joints = [\"cups\"]", "no joint is called `cups`"),
    ] {
        let found = faults(&source.replacen(old, new, 1));
        assert!(found.iter().any(|fault| fault.message.contains(says)), "{says}: {found:?}");
    }
}

#[test]
fn what_has_the_key_of_another_could_not_be_reached() {
    for (what, table) in [
        ("slot is called `rod-1`", "[[slot]]\nid = \"rod-1\"\nname = \"Spare rod\"\n"),
        ("slot is called `block`", "[[slot]]\nid = \"block\"\nname = \"Block\"\ncount = 2\n"),
        (
            "site is called `deck-2`",
            "[[site]]\nid = \"deck-2\"\nname = \"Deck\"\nform = \"gap\"\nplausible = [\"0 mm\", \"1 mm\"]\n",
        ),
        (
            "operation is called `turn`",
            "[[operation]]\nid = \"turn\"\nname = \"Turn\"\nkind = \"check\"\nitem = [{ id = \"a\", text = \"b\" }]\n",
        ),
    ] {
        // The added table stands at the end, where it is the second of its key.
        let source = format!("{MEASURE}\n{table}");
        let found = faults(&source);
        let fault = found.iter().find(|fault| fault.message.contains(what));
        let fault = fault.unwrap_or_else(|| panic!("{what}: {found:?}"));
        assert!(fault.line > MEASURE.lines().count(), "{fault}");
    }
    let twice = "hardware = [{ id = \"washer\", name = \"Washers\", count = 12 }, { id = \"washer\", name = \"More\", count = 2 }]";
    let hardware = "hardware = [{ id = \"washer\", name = \"Washers\", count = 12 }, { id = \"dowel\", name = \"Dowels\", count = 2 }]";
    assert!(MEASURE.contains(hardware));
    let found = faults(&MEASURE.replacen(hardware, twice, 1));
    assert!(found.iter().any(|f| f.message.contains("kind of hardware is called `washer`")), "{found:?}");
    let found = faults(&with("id = \"holes\"", "id = \"threads\""));
    assert!(found.iter().any(|f| f.message.contains("item is called `threads`")), "{found:?}");
}

#[test]
fn a_plan_that_a_later_check_refuses_still_reads() {
    // What was once taken is read for the engines built to it, whatever is thought of it today.
    let source = with("torque = \"30 N·m\"", "torque = \"130 N·m\"");
    assert!(faults(&source).iter().any(|fault| fault.message.contains("past the fastener's limit")));
    let plan = Plan::read("plan.toml", &source).expect("it is a plan");
    assert_eq!(plan.joints[0].stages.len(), 3);
    let circle = with("kind = \"prepare\"", "kind = \"prepare\"\nneeds = [\"tighten\"]");
    assert!(Plan::read("plan.toml", &circle).is_ok());
}

#[test]
fn stages_that_cannot_work_are_refused_where_they_stand() {
    for (old, new, says) in [
        ("name = \"Turn\"", "name = \"Turn\"\n  walk = \"each\"", "goes together with the stage before it"),
        ("name = \"Turn\"", "name = \"Turn\"\n  walk = \"about\"", "not one of round, each"),
        (
            "angle = \"40°\"",
            "angle = \"40°\"\n  torque = \"3 N·m\"",
            "exactly one of run-down, stud, torque, angle, torque-angle",
        ),
        ("torque = \"30 N·m\"", "angle = \"30°\"", "an angle needs a snug torque stage"),
        ("joint = \"caps\"", "joint = \"caps\"\npurpose = \"fun\"", "not one of trial, final"),
        ("tolerance = \"4 %\"", "tolerance = \"120 %\"", "between zero and the target"),
        ("torque = \"30 N·m\"", "torque = \"30 N·m\"\n  steps = 1", "from 2 to 12"),
        ("torque = \"30 N·m\"", "torque = \"30 N·m\"\n  steps = 3\n  percent = [50, 100]", "one of them"),
        ("torque = \"30 N·m\"", "torque = \"30 N·m\"\n  percent = [50, 90]", "to 100 %"),
        (
            "torque = \"30 N·m\"",
            "torque = \"30 N·m\"\n  steps = 2\n  resolution = \"7 N·m\"",
            "inside the tolerance",
        ),
        (
            "torque = \"30 N·m\"",
            "torque = \"30 N·m\"\n  steps = 3\n  resolution = \"30 N·m\"",
            "cannot tell these stages apart",
        ),
        ("angle = \"40°\"", "angle = \"40°\"\n  steps = 2", "unknown field"),
    ] {
        let found = faults(&with(old, new));
        assert!(found.iter().any(|fault| fault.message.contains(says)), "{says}: {found:?}");
    }
}

/// A joint for each way of tightening.
const WAYS: &str = include_str!("../tests/ways-plan.toml");

/// A change to that plan is refused where it stands, with the reason.
fn refused(old: &str, new: &str, path: &str, says: &str) {
    assert!(WAYS.contains(old), "{old}");
    let found = faults(&WAYS.replacen(old, new, 1));
    let told =
        found.iter().any(|fault| fault.path.contains(path) && fault.message.contains(says) && fault.line > 1);
    assert!(told, "{path}: {says}: {found:?}");
}

#[test]
fn a_stretch_that_cannot_be_climbed_to_is_refused() {
    for (old, new, path, says) in [
        ("utilisation = 0.6", "utilisation = 1.6", "utilisation", "a share of yield from 0.2 to 1.0"),
        ("utilisation = 0.6", "utilisation = 0.5", "stretch", "it uses 58 % of yield, max 50 %"),
        ("step = \"15 N·m\"", "step = \"15 mm\"", "step", "unit of length"),
        (
            "bolt = { head = \"hex\", end = \"tapped\", segment = [\n  { length = \"8 mm\", diameter = \"9 mm\" },\n  \
             { length = \"26 mm\", diameter = \"7.6 mm\" },\n  { length = \"6 mm\", diameter = \"thread\" },\n] }\n",
            "",
            "stretch",
            "no bolt geometry",
        ),
    ] {
        refused(old, new, path, says);
    }
}

#[test]
fn ways_and_operations_that_cannot_work_are_refused_where_they_stand() {
    for (old, new, path, says) in [
        (
            "  slots = 6\n  twist = \"15°\"\n\n# Sealed",
            "  twist = \"15°\"\n\n# Sealed",
            "stage[0].slots",
            "needs the number of its slots",
        ),
        ("slots = 6", "slots = 2", "stage[0].slots", "from 3 to 12"),
        ("length = \"50 mm\"", "length = \"300 mm\"", "adapter[0].length", "longer than its wrench"),
        ("angle = \"0°\"\nwrench", "angle = \"200°\"\nwrench", "adapter[0].angle", "to 180°"),
        (
            "adapter = \"crowfoot\"",
            "adapter = \"wrist\"",
            "adapter",
            "no adapter is called `wrist`; there is crowfoot",
        ),
        (
            "torque = \"60 N·m\"\n  tolerance = \"4 %\"\n  preset = \"halves\"\n  settle = true",
            "run-down = \"Again\"",
            "recheck",
            "needs a torque stage of the same group before it",
        ),
        ("preset = \"halves\"", "preset = \"fifths\"", "preset", "not one of halves, thirds"),
        (
            "stages = [\"Run down\", \"Final\"]",
            "stages = [\"Run down\", \"Recheck\"]",
            "stages",
            "do not follow each other",
        ),
        (
            "stages = [\"Run down\", \"Final\"]",
            "stages = [\"Fnal\"]",
            "stages",
            "no stage called `Fnal`; there is Run down, Final, Recheck",
        ),
        ("joints = [\"left\", \"right\"]", "joints = [\"left\", \"left\"]", "joints", "`left` comes twice"),
        ("needs = [\"trial\"]", "", "needs", "takes `caps` apart and does not wait for it to be tightened"),
        (
            "joint = \"wheel\"\n",
            "joint = \"wheel\"\npurpose = \"trial\"\n",
            "purpose",
            "a trial spends the single-use fasteners of `wheel`",
        ),
        (
            "fastener = \"yielding\"\n  pattern = \"line\"\n  position = [{ id = \"A\"",
            "fastener = \"bolt\"\n  pattern = \"line\"\n  position = [{ id = \"A\"",
            "yield",
            "say to_yield = true",
        ),
        (
            "fastener = \"yielding\"\n  pattern = \"line\"\n  position = [{ id = \"1\", at = [50, 0] }, { id = \"2\", at = [150, 0] }, {",
            "fastener = \"bolt\"\n  pattern = \"line\"\n  position = [{ id = \"1\", at = [50, 0] }, { id = \"2\", at = [150, 0] }, {",
            "angle",
            "past the fastener's limit: yield begins",
        ),
        (
            "then_angle = \"90°\"",
            "then_angle = \"20°\"",
            "angle",
            "it is meant to go past yield and does not",
        ),
        (
            "  [[joint.stage]]\n  name = \"Snug\"\n  group = \"bolts\"\n  torque = \"30 N·m\"\n  tolerance = \"4 %\"\n",
            "",
            "angle",
            "needs a snug torque stage",
        ),
        (
            "within = \"10 min\"",
            "within = \"10 mm\"",
            "within",
            "`mm` is a unit of length, and a time is needed",
        ),
        (
            "seal = \"Lay an even bead inside the bolt holes\"\n  within = \"10 min\"",
            "wait = \"10 min\"\n  text = \"Rest\"",
            "wait",
            "needs a stage before it",
        ),
    ] {
        refused(old, new, path, says);
    }
    // Old bolts that are said to be old ones may be spent.
    let old = WAYS.replacen(
        "joint = \"wheel\"\n",
        "joint = \"wheel\"\npurpose = \"trial\"\nfasteners = \"last year's bolts\"\n",
        1,
    );
    assert!(Plan::judge("plan.toml", &old).is_ok());
}

#[test]
fn a_school_brings_the_stages_of_groups_into_its_order() {
    let stage = |name: &str, group: &str, torque: u32| {
        format!(
            "\n  [[joint.stage]]\n  name = \"{name}\"\n  group = \"{group}\"\n  torque = \"{torque} N·m\"\n  tolerance = \"4 %\"\n"
        )
    };
    let text = with(
        "  [[joint.stage]]\n  name = \"Snug\"",
        &format!(
            "  [[joint.group]]\n  id = \"side\"\n  name = \"Side\"\n  fastener = \"cap-bolt\"\n  pattern = \"line\"\n  position = [{{ id = \"S\", at = [150, 55] }}]\n{}{}\n  [[joint.stage]]\n  name = \"Snug\"",
            stage("Side first", "side", 20),
            stage("Side last", "side", 40),
        ),
    );
    let order = |school: &str| {
        let text = text.replacen(
            "drawing = \"block\"\n",
            &format!("drawing = \"block\"\nschool = \"{school}\"\n"),
            1,
        );
        let (plan, _) = Plan::judge("plan.toml", &text).unwrap_or_else(|faults| panic!("{faults:?}"));
        plan.joints[0].stages.iter().map(|stage| stage.name.clone()).collect::<Vec<_>>()
    };
    assert_eq!(order("finish-each-group"), ["Snug", "Seat", "Turn", "Side first", "Side last"]);
    assert_eq!(order("all-groups-together"), ["Snug", "Seat", "Side first", "Turn", "Side last"]);
}

#[test]
fn stages_by_rule_become_stages_with_settings_and_bands_of_their_own() {
    let stages = |new: &str| {
        let (plan, _) = Plan::judge("plan.toml", &with("torque = \"30 N·m\"", new)).expect("a right plan");
        let band = |stage: &Stage| stage.way.band().copied();
        let of = |stage: &Stage| (stage.name.clone(), band(stage).map(|band| (band.low, band.target)));
        plan.joints[0].stages.iter().map(of).collect::<Vec<_>>()
    };
    let three = stages("torque = \"31 N·m\"\n  steps = 3");
    let names: Vec<&str> = three.iter().map(|(name, _)| name.as_str()).collect();
    assert_eq!(names, ["Snug 1 of 3", "Snug 2 of 3", "Snug 3 of 3", "Seat", "Turn"]);
    let bands: Vec<(f64, f64)> = three.iter().filter_map(|(_, band)| *band).take(3).collect();
    for ((low, target), wanted) in bands.into_iter().zip([10.0, 21.0, 31.0]) {
        assert!((target - wanted).abs() < 1e-9 && (low - 0.96 * wanted).abs() < 1e-9, "{low} {target}");
    }
    let shares = stages("torque = \"30 N·m\"\n  percent = [50, 75, 100]\n  resolution = \"0.5 N·m\"");
    let targets = shares.iter().filter_map(|(_, band)| Some(band.as_ref()?.1)).take(3).collect::<Vec<_>>();
    assert_eq!(targets, [15.0, 22.5, 30.0]);
    // What is wrong with a later stage is still shown in its own line.
    let source = with("torque = \"30 N·m\"", "torque = \"30 N·m\"\n  steps = 3").replace("40°", "400°");
    let line = 1 + source.lines().position(|line| line.contains("400°")).expect("the line");
    assert!(faults(&source).iter().any(|fault| fault.line == line), "{:?}", faults(&source));
}

#[test]
fn an_angle_is_held_against_where_yielding_begins() {
    let found = faults(&with("angle = \"40°\"", "angle = \"140°\""));
    let says =
        |text: &Message| text.contains("yield begins") && text.contains("° after snug, and this turns");
    assert!(
        found.iter().any(|f| f.message.contains("past the fastener's limit") && says(&f.message)),
        "{found:?}"
    );
    let strength = "strength = \"10.9\"";
    let to_yield = with(strength, &format!("{strength}\nsingle_use = true\nto_yield = true"));
    let found = faults(&to_yield);
    assert!(
        found.iter().any(|f| f.message.contains("meant to go past yield") && says(&f.message)),
        "{found:?}"
    );
    let (_, warnings) = Plan::judge("plan.toml", &to_yield.replace("40°", "140°")).expect("it can be built");
    assert!(warnings.iter().all(|w| !w.message.contains("yield")), "{warnings:?}");
}

#[test]
fn a_range_has_the_figure_that_was_chosen_inside_it() {
    let ranged = with("tolerance = \"4 %\"", "range = [\"28 N·m\", \"34 N·m\"]");
    let (plan, _) = Plan::judge("plan.toml", &ranged).expect("a right plan");
    let band = plan.joints[0].stages[0].way.band().copied().expect("a band");
    assert_eq!((band.low, band.target, band.high), (28.0, 30.0, 34.0));
    assert!(faults(&ranged.replace("28 N·m", "31 N·m")).iter().any(|f| f.path.ends_with("range")));
}

#[test]
fn a_bolt_gives_as_the_hole_does_that_it_is_in() {
    let bolt = |source: &str| {
        let (plan, faults) = Plan::judge("plan.toml", source).expect("a right plan");
        (plan.specs[0].fastening.bolt.expect("a bolt"), plan.specs[0].fastening.parts, faults)
    };
    let hole =
        |of: &str| with("pattern = \"centre-out\"", &format!("pattern = \"centre-out\"\n  hole = {of}"));
    for (of, total) in [("aluminium", 5.114e-6), ("cast-iron", 4.895e-6), ("steel", 4.718e-6)] {
        let text = hole(&format!("{{ material = \"{of}\", engaged = \"40 mm\" }}"));
        let got = bolt(&text).0;
        assert!(
            (got.total() - total).abs() < 1e-9 && (got.own.mm_per_n - 4.513e-6).abs() < 1e-9,
            "{of}: {got:?}"
        );
    }
    // What the plan says of the end counts before what its groups say.
    let text = hole("{ material = \"aluminium\", engaged = \"40 mm\" }");
    let said = text.replacen("end = \"tapped\"", "end = \"tapped\", end_material = \"steel\"", 1);
    assert_ne!(said, text);
    assert!((bolt(&said).0.total() - 4.718e-6).abs() < 1e-9);
}

#[test]
fn a_measured_resilience_stands_for_the_shape_and_layers_for_one_part() {
    let shape_of = |text: &str, key: &str| {
        let start = text.find(key).expect("there");
        let end = start + text[start..].find('\n').expect("an end");
        // A table over several lines ends where its brackets do.
        let open = |end: usize| {
            let of = &text[start..end];
            of.matches(['{', '[']).count() > of.matches(['}', ']']).count()
        };
        let mut end = end;
        while open(end) {
            end += 1 + text[end + 1..].find('\n').expect("an end");
        }
        text[start..end].to_owned()
    };
    let fastening = |bolt: &str, parts: &str| {
        let text = SMALL.replacen(&shape_of(SMALL, "bolt = {"), bolt, 1);
        let text = text.replacen(&shape_of(&text, "parts = {"), parts, 1);
        Plan::judge("plan.toml", &text).map(|(plan, _)| plan.specs[0].fastening)
    };
    let whole = "parts = { bearing_od = \"16 mm\", hole = \"11 mm\", clamp_length = \"52 mm\", outer = \"40 mm\", modulus = \"70000 MPa\", kind = \"tapped\" }";
    let layered = "parts = { bearing_od = \"16 mm\", hole = \"11 mm\", outer = \"40 mm\", kind = \"tapped\", layer = [{ name = \"head\", thickness = \"50 mm\", material = \"aluminium\" }, { name = \"washer\", thickness = \"2 mm\", modulus = \"70 GPa\" }] }";
    let measured = "bolt = { resilience = \"4.6 µm/kN\", end = \"tapped\" }";
    let one = fastening(measured, whole).expect("a right plan");
    let bolt = one.bolt.expect("a bolt");
    assert!(bolt.own.measured && (bolt.own.mm_per_n - 4.6e-6).abs() < 1e-15 && bolt.end > 0.0);
    let other = fastening("bolt = { resilience = \"4.6e-6 mm/N\" }", layered).expect("a right plan");
    assert!(other.bolt.expect("a bolt").end.abs() < 1e-15);
    let [a, b] = [one, other].map(|of| of.parts.expect("parts").mm_per_n);
    assert!((a - 1.225e-6).abs() < 1e-9 && (a / b - 1.0).abs() < 1e-9, "{a} {b}");
    let given = fastening(measured, "parts = { resilience = \"1.3 µm/kN\" }").expect("a right plan");
    assert!(given.parts.is_some_and(|of| of.measured) && given.resilience_uncertainty() == Some(0.0));
    let faults = fastening("bolt = { resilience = \"stiff\" }", whole).unwrap_err();
    assert!(faults.iter().any(|of| of.path.ends_with("bolt.resilience")), "{faults:?}");
}

/// The small plan's caps with what they stand while the engine runs.
fn running(of: &str) -> String {
    let text = with("modulus = \"70000 MPa\"", "material = \"aluminium\"");
    text.replacen("drawing = \"block\"\n", &format!("drawing = \"block\"\nrunning = {of}\n"), 1)
}

#[test]
fn a_joint_is_told_on_one_page_with_its_margins() {
    let text = running(
        "{ axial = \"15 kN\", needed = \"5 kN\", hot = { parts = \"100 °C\", bolt = \"100 °C\" }, cold = { parts = \"-20 °C\", bolt = \"-20 °C\" }, settling = { roughness = \"smooth\", heads = 1, interfaces = 1 } }",
    );
    let (plan, faults) = Plan::judge("plan.toml", &text).expect("a right plan");
    assert_eq!(faults, [], "every margin is good");
    let [group] = &plan.joint_sheet(&plan.joints[0])[..] else { panic!("one group") };
    let line =
        |what: &str| group.lines.iter().find(|line| line.what == what).unwrap_or_else(|| panic!("{what}"));
    let last = StageIx(plan.joints[0].stages.len() - 1);
    let load = plan.forecast(&plan.joints[0], last).expect("a load");
    // Worked out apart from the page: M-22, M-23 and M-25 on the joint of M-5.
    let (bolt, parts) = (4.718e-6, 1.225e-6);
    let settles = (3.0 + 2.5 + 1.5) / 1000.0 / (bolt + parts) / 1000.0;
    let factor = 0.3 * parts / (bolt + parts);
    let margin = (load.low_kn - settles) / ((1.0 - factor) * 15.0 + 5.0);
    assert!(
        (line("Still clamped").margin.expect("a margin") - margin).abs() < 0.002,
        "{:?}",
        line("Still clamped")
    );
    let alternates = factor * 15_000.0 / (2.0 * 61.2);
    let limit = 0.85 * (150.0 / 10.0 + 45.0);
    assert!((line("Alternating stress").margin.expect("a margin") - limit / alternates).abs() < 0.05);
    let warm = 52.0 * (23e-6 - 11.5e-6) * 80.0 / (bolt + parts) / 1000.0;
    let hot = line("Hot").value.in_base_units();
    assert!(hot.starts_with(&format!("{warm:.1} kN more")), "{hot} for {warm}");
    assert!(line("Cold").value.in_base_units().contains("less"));
    assert!(group.lines.iter().all(|line| line.verdict == line.margin.map(crate::MarginVerdict::of)));
    // Every figure has its formula and where that is from.
    assert!(group.lines.iter().all(|line| !line.formula.is_empty() && !line.source.is_empty()));
    assert!(line("Under the head").value.contains("an estimate for the material"));
}

#[test]
fn a_margin_holds_from_a_fifth_more_than_it_has_to() {
    use crate::MarginVerdict::{self, DoesNotHold, Holds, HoldsByLittle};
    let verdicts = [0.99, 1.0, 1.19, 1.2].map(MarginVerdict::of);
    assert_eq!(verdicts, [DoesNotHold, HoldsByLittle, HoldsByLittle, Holds]);
}

#[test]
fn other_running_loads_are_a_difference_between_versions() {
    let plan = |text: &str| Plan::read("plan.toml", text).expect("a plan");
    let told = |was: &str, now: &str| crate::differences(&plan(was), &plan(now));
    let (light, heavy) = (running("{ axial = \"5 kN\" }"), running("{ axial = \"6 kN\" }"));
    let [difference] = &told(&light, &heavy)[..] else { panic!("one difference") };
    assert_eq!(difference.what, "Running loads");
    assert!(difference.now.as_ref().is_some_and(|now| now.contains("on each bolt")), "{difference:?}");
    assert!(told(&light, &light).is_empty());
}

/// The small plan's caps with a washer under their heads.
fn washered(washer: &str) -> String {
    let text = with("modulus = \"70000 MPa\"", "material = \"aluminium\"");
    text.replacen("bearing_od = \"16 mm\"", &format!("{washer}bearing_od = \"16 mm\""), 1)
}

const WASHER: &str = "washer = { outer = \"24 mm\", thickness = \"2.5 mm\" }, pressure_limit = \"400 MPa\", ";

#[test]
fn a_washer_spreads_the_load_and_the_page_shows_it_with_and_without() {
    let plan = Plan::read("plan.toml", &washered(WASHER)).expect("a plan");
    let sheet = plan.joint_sheet(&plan.joints[0]).remove(0);
    let line = |what: &str| sheet.lines.iter().find(|line| line.what == what).expect(what);
    let (with, without) = (line("Under the washer"), line("Without the washer"));
    // 16 mm + 1.6 · 2.5 mm is 20 mm: (20² − 11²)/(16² − 11²) is 2.0667 times the ring.
    let mpa = |line: &crate::SheetLine| -> f64 {
        let text = line.value.in_base_units();
        text.split(' ').next().and_then(|figure| figure.parse().ok()).expect("a pressure")
    };
    assert!((mpa(without) / mpa(with) - 2.0667).abs() < 0.02, "{with:?} {without:?}");
    assert!(with.margin.is_some() && without.margin.is_none(), "what is shown to compare with is not judged");
    let faults = Plan::read("plan.toml", &washered("washer = { outer = \"12 mm\", thickness = \"2 mm\" }, "));
    assert!(faults.unwrap_err().iter().any(|fault| fault.path.ends_with("parts.washer.outer")));
}

#[test]
fn what_is_clamped_is_a_difference_between_versions() {
    let plan = |text: &str| Plan::read("plan.toml", text).expect("a plan");
    let told = crate::differences(&plan(&washered("")), &plan(&washered(WASHER)));
    let [difference] = &told[..] else { panic!("one difference: {told:?}") };
    assert!(difference.what.ends_with("clamped parts"), "{difference:?}");
    assert!(
        difference.now.as_ref().is_some_and(|now| now.contains("24.000 mm") || now.contains("24 mm")),
        "{difference:?}"
    );
}

#[test]
fn what_does_not_hold_while_the_engine_runs_is_for_a_lead() {
    let faults = |of: &str| Plan::judge("plan.toml", &running(of)).map(|(_, faults)| faults);
    for (of, says) in [("32 kN", "it holds by little"), ("45 kN", "it does not hold")] {
        let told = faults(&format!("{{ axial = \"{of}\" }}")).expect("it can be approved");
        let of_it: Vec<&Fault> = told.iter().filter(|of| of.path == "joint[0].running").collect();
        assert!(
            of_it.iter().any(|of| of.message.contains(says)
                && of.approves.as_ref().is_some_and(|about| about.contains("still clamped"))),
            "{says}: {told:?}"
        );
    }
    assert_eq!(faults("{ axial = \"5 kN\" }").expect("it holds"), []);
    for (wrong, path) in [
        ("{ axial = \"15 mm\" }", "running.axial"),
        (
            "{ rod = { reciprocating = \"550 g\", rotating = \"300 g\", stroke = \"86 mm\", length = \"40 mm\", speed = 8000 } }",
            "running.rod.length",
        ),
        ("{ axial = \"5 kN\", load_introduction = 3 }", "running.load_introduction"),
        ("{ settling = { roughness = \"furry\" } }", "running.settling.roughness"),
    ] {
        let told = faults(wrong).expect_err("refused");
        assert!(told.iter().any(|of| of.path.ends_with(path)), "{wrong}: {told:?}");
    }
}

#[test]
fn the_speed_at_which_a_rod_opens_and_the_stretch_that_it_needs_are_told() {
    let rod = |speed: u32| {
        let text = running(&format!(
            "{{ rod = {{ reciprocating = \"550 g\", rotating = \"300 g\", stroke = \"86 mm\", length = \"144 mm\", speed = {speed} }} }}"
        ));
        let (plan, _) = Plan::judge("plan.toml", &text).expect("a right plan");
        plan.joint_sheet(&plan.joints[0]).remove(0).lines
    };
    let of = |lines: &[crate::SheetLine], what: &str| {
        lines.iter().find(|line| line.what == what).cloned().expect("there")
    };
    // 30.61 kN on six bolts.
    let slow = rod(8000);
    assert!(
        of(&slow, "Pull at top dead center")
            .value
            .in_base_units()
            .starts_with("5.1 kN on each bolt at 8000 rpm")
    );
    let opens = of(&slow, "Joint opens at").margin.expect("a margin");
    let faster = of(&rod(16_000), "Joint opens at").margin.expect("a margin");
    assert!((opens / faster - 2.0).abs() < 1e-6, "the speed it opens at is its own: {opens} {faster}");
    let stretch = of(&slow, "Stretch needed").value.in_base_units();
    assert!(stretch.starts_with("min ") && stretch.ends_with(" mm"), "{stretch}");
}

#[test]
fn a_target_close_to_yield_or_far_below_it_is_a_warning() {
    for (torque, says) in [("89 N·m", "comes to 125 % of yield; it begins at "), ("12 N·m", "far below")] {
        let start = SMALL.find("  [[joint.stage]]\n  name = \"Turn\"").unwrap();
        let end = SMALL.find("[[operation]]").unwrap();
        let source = format!("{}{}", &SMALL[..start], &SMALL[end..]).replace("30 N·m", torque);
        let (_, warnings) = Plan::judge("plan.toml", &source).unwrap();
        assert!(
            warnings.iter().any(|w| w.severity == Severity::Warning && w.message.contains(says)),
            "{warnings:?}"
        );
    }
}

#[test]
fn broken_toml_is_a_fault_with_its_line() {
    let found = faults("format = 1\nid = \n");
    assert!(found.iter().any(|f| f.path == "TOML" && f.line == 2), "{found:?}");
}

proptest::proptest! {
    #[test]
    fn no_text_makes_reading_panic(cut in 0usize..2000, junk in "[\\[\\]=\"a-z0-9. \n]{0,20}") {
        let at = (0..=cut.min(SMALL.len())).rev().find(|i| SMALL.is_char_boundary(*i)).unwrap_or(0);
        let _ = Plan::judge("plan.toml", &format!("{}{junk}{}", &SMALL[..at], &SMALL[at..]));
    }
}

const LINE: &str = include_str!("../tests/line-plan.toml");

#[test]
fn repeats_holes_and_what_is_done_again_are_refused_where_they_stand() {
    for (old, new, path, says) in [
        (
            "engaged = \"20 mm\"",
            "engaged = \"11 mm\"",
            "hole",
            "so that a fastener a fifth stronger than its class breaks before the hole's thread strips",
        ),
        ("engaged = \"20 mm\"", "engaged = \"0 mm\"", "hole", "must be above zero"),
        ("material = \"cast-iron\"", "material = \"cheese\"", "hole.material", "not one of steel"),
        (
            "by = \"cylinder\"\ncount = 2",
            "by = \"cylinder\"\ncount = 1",
            "operation[1].count",
            "two members or more",
        ),
        (
            "joint = \"rod\"\n\n  [[operation.step]]",
            "joint = \"rods\"\n\n  [[operation.step]]",
            "step[2].joint",
            "no joint is called `rods`",
        ),
        ("again = [\"studs\"]", "again = [\"nuts\"]", "again", "no group is called `nuts`"),
        (
            "joint = \"rod\", when = \"replaced\" }, {",
            "joint = \"rod\", when = \"lost\" }, {",
            "again[0].when",
            "not one of loosened",
        ),
        (
            "joint = \"head\", when = \"apart\"",
            "joint = \"head\", fasteners = [\"9\"], when = \"apart\"",
            "again[0].fasteners",
            "has no fastener `9`",
        ),
        (
            "window = { street = [14, 14, 14] }",
            "window = { street = [\"14 mm\"] }",
            "window.street",
            "a list of numbers is needed",
        ),
        ("form = \"angle\"", "form = \"angle\"\nmaterial = \"steel\"", "material", "only a length"),
        ("height = \"62 mm\"", "height = \"62 N·m\"", "height", "a length is needed"),
    ] {
        assert!(LINE.contains(old), "{old}");
        let faults = match Plan::judge("plan.toml", &LINE.replacen(old, new, 1)) {
            Ok((_, warnings)) => warnings,
            Err(faults) => faults,
        };
        let said = faults.iter().any(|fault| fault.path.contains(path) && fault.message.contains(says));
        assert!(said, "{path}: {says}: {faults:?}");
        let once: std::collections::HashSet<String> = faults.iter().map(ToString::to_string).collect();
        assert_eq!(once.len(), faults.len(), "what stands for several is told once: {faults:?}");
    }
}

#[test]
fn fasteners_in_a_row_and_shapes_by_rule_lie_where_they_should() {
    let text = LINE
        .replacen(
            "position = [{ id = \"1\", at = [50, 0] }, { id = \"2\", at = [250, 0] }]",
            "row = [{ id = \"L*\", count = 3, from = [0, 5], to = [100, 5], first = 4 }]",
            1,
        )
        .replacen(
            "shape = [",
            "shape = [{ kind = \"gear\", at = [0, 0], diameter = 20, teeth = 8 }, { kind = \"rect\", from = [0, 0], \
             to = [10, 4], round = 1, count = 2, every = [20, 0] }, ",
            1,
        );
    let (plan, _) = Plan::judge("plan.toml", &text).expect("a plan");
    let head = &plan[plan.joint("head").expect("the head")];
    let mut places: Vec<(&str, f64)> =
        head.fasteners[..3].iter().map(|at| (at.id.as_str(), at.x_mm)).collect();
    places.sort_by(|a, b| a.0.cmp(b.0));
    assert_eq!(places, [("L4", 0.0), ("L5", 50.0), ("L6", 100.0)]);
    let outlines: Vec<&Vec<[f64; 2]>> = plan.drawings[0]
        .shapes
        .iter()
        .filter_map(|shape| match shape {
            crate::DrawingShape::Outline { points } => Some(points),
            _ => None,
        })
        .collect();
    let reach = |points: &[[f64; 2]]| points.iter().map(|[x, y]| x.hypot(*y)).fold(0.0, f64::max);
    assert!((reach(outlines[0]) - 10.0).abs() < 1e-9);
    let left = |points: &[[f64; 2]]| points.iter().map(|[x, _]| *x).fold(f64::MAX, f64::min);
    assert!((left(outlines[1]) - 0.0).abs() < 1e-9 && (left(outlines[2]) - 20.0).abs() < 1e-9);
}

/// A joint whose procedure is one line.
fn with_line(line: &str, besides: &str) -> String {
    format!(
        r#"
format = 1
id = "p"
name = "P"
[[fastener]]
id = "bolt"
name = "Bolt"
thread = "M10x1.25"
strength = "10.9"
bearing_diameter = "13.5 mm"
thread_lubricant = "engine-oil"
bearing_lubricant = "engine-oil"
[[drawing]]
id = "plate"
name = "Plate"
shape = []
[[joint]]
id = "caps"
name = "Caps"
drawing = "plate"
procedure = "{line}"
{besides}
[[joint.group]]
id = "inner"
name = "inner bolts"
fastener = "bolt"
position = [{{ id = "1", at = [0, 0] }}, {{ id = "2", at = [10, 0] }}]
[[joint.group]]
id = "outer"
name = "outer bolts"
fastener = "bolt"
pattern = "line"
position = [{{ id = "3", at = [0, 9] }}, {{ id = "4", at = [10, 9] }}]
[[operation]]
id = "t"
name = "T"
kind = "tighten"
joint = "caps"
"#
    )
}

#[test]
fn a_line_stands_for_stages_that_are_written_out() {
    let (plan, _) = Plan::judge(
        "plan.toml",
        &with_line(
            "inner: 20 N·m, 45 ± 2 N·m; outer bolts: 30-36 N·m twice; inner: check 45 N·m, outside in",
            "tolerance = \"3 %\"",
        ),
    )
    .unwrap();
    let joint = &plan.joints[0];
    let stages: Vec<(&str, &str, f64, f64)> = joint
        .stages
        .iter()
        .map(|stage| {
            let band = stage.way.band().copied().unwrap();
            (stage.name.as_str(), joint[stage.group.unwrap()].id.as_str(), band.target, band.high)
        })
        .collect();
    let wanted = [
        ("Torque, inner bolts 1", "inner", 20.0, 20.6),
        ("Torque, inner bolts 2", "inner", 45.0, 47.0),
        ("Torque, outer bolts 1", "outer", 33.0, 36.0),
        ("Torque, outer bolts 2", "outer", 33.0, 36.0),
    ];
    for (stage, wanted) in stages.iter().zip(wanted) {
        assert_eq!((stage.0, stage.1, stage.2), (wanted.0, wanted.1, wanted.2));
        assert!((stage.3 - wanted.3).abs() < 1e-9, "{stage:?}");
    }
    assert_eq!(joint.stages.len(), 5);
    // What the line says of the order goes where a group says nothing.
    assert_eq!(joint.groups[0].pattern, rigore_mechanics::tightening::SequencePattern::OutsideIn);
    assert_eq!(joint.groups[1].pattern, rigore_mechanics::tightening::SequencePattern::Line);
    // Written again in one line and read, it is the same.
    let line = crate::procedure::Procedure::of(joint).unwrap().line();
    let (again, _) = Plan::judge("plan.toml", &with_line(&line, "tolerance = \"3 %\"")).unwrap();
    let ways = |plan: &Plan| {
        plan.joints[0].stages.iter().map(|stage| (stage.group, stage.way.clone())).collect::<Vec<_>>()
    };
    assert_eq!(ways(&again).len(), ways(&plan).len(), "{line}");
}

#[test]
fn what_a_line_does_not_say_is_told_at_its_line() {
    let faults = |line: &str| -> Vec<String> {
        let faults = Plan::judge("plan.toml", &with_line(line, "")).err().unwrap_or_default();
        faults
            .into_iter()
            .map(|fault| format!("{}: {}: {}", fault.line, fault.path, fault.message.in_base_units()))
            .collect()
    };
    assert_eq!(
        faults("30"),
        ["21: joint[0].procedure: `30`: 30 of what? Its unit is missing, such as N·m, lbf·ft or °"]
    );
    assert_eq!(
        faults("side: 20 N·m"),
        ["21: joint[0].procedure: `20 N·m`: no group is called `side`; there is inner, outer"]
    );
    assert!(
        faults("400 N·m").iter().all(|fault| fault.starts_with("21: joint[0].procedure")
            && fault.contains("past the fastener's limit")),
        "{:?}",
        faults("400 N·m")
    );
    let open = with_line("? page 7", "");
    let (plan, warnings) = Plan::judge("plan.toml", &open).unwrap();
    assert_eq!(warnings, []);
    assert_eq!(
        (plan.open.len(), plan.open[0].what.as_str(), plan.open[0].note.as_str()),
        (1, "Caps: procedure", "page 7")
    );
    assert_eq!(plan.wanted(crate::OperationIx(0), None).count(), 1);
}

#[test]
fn what_nobody_looked_up_has_no_forecast_and_is_asked_for() {
    let text = with_line("45 N·m", "").replace("strength = \"10.9\"", "strength = \"? the head\"");
    let (plan, warnings) = Plan::judge("plan.toml", &text).unwrap();
    assert_eq!(warnings, []);
    assert_eq!(plan.open[0].what, "Bolt: strength");
    assert_eq!(plan.forecast(&plan.joints[0], crate::StageIx(0)), None);
    // A question mark is no figure where one has to be.
    let odd = with_line("45 N·m", "").replace("M10x1.25", "?");
    assert!(Plan::judge("plan.toml", &odd).is_err());
}

proptest::proptest! {
    #[test]
    fn no_draft_makes_reading_or_its_page_panic(
        which in 0..3usize,
        from in 0.0..1.0f64,
        long in 0..60usize,
        junk in proptest::collection::vec(proptest::prelude::any::<u8>(), 0..24),
    ) {
        const PLANS: [&str; 3] = [LINE, SMALL, include_str!("../../../../plans/skerry-8.toml")];
        let whole = PLANS[which].as_bytes();
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::cast_precision_loss, reason = "a place in the text")]
        let at = (from * whole.len() as f64) as usize;
        let bytes = [&whole[..at], &junk, &whole[(at + long).min(whole.len())..]].concat();
        let text = String::from_utf8_lossy(&bytes);
        let drafted = Plan::draft("plan", &text);
        proptest::prop_assert_eq!(drafted.usable, Plan::judge("plan", &text).is_ok());
        if let Ok(same) = super::edit::edit(&text, &[]) {
            proptest::prop_assert_eq!(same.replace("\r\n", "\n"), text.replace("\r\n", "\n"));
        }
    }
}

#[test]
fn a_joint_is_said_in_one_line_only_where_the_line_says_all_of_it() {
    const TARN: &str = include_str!("../../../../plans/tarn-5.toml");
    let page = Plan::read("tarn", TARN).unwrap().page(TARN);
    let line = |id: &str| page.joints.iter().find(|joint| joint.id == id).unwrap().procedure.clone();
    assert_eq!(line("rod"), None, "zeroed, in steps, with what may stay for good");
    assert_eq!(line("main-caps"), None, "the crankshaft is shocked between its stages");
    let said: Vec<&str> =
        page.joints.iter().filter(|joint| joint.procedure.is_some()).map(|joint| joint.id.as_str()).collect();
    assert!(said.len() > 3, "{said:?}");
    // What is changed in a form is shown as it is written.
    let oil = page.clearances.iter().find(|of| of.id == "main-oil").unwrap();
    assert!(oil.windows[0].written.contains(" – "), "{}", oil.windows[0].written);
}

#[test]
fn what_there_are_several_of_is_called_as_it_is_written() {
    let source = format!(
        "{SMALL}\n[[slot]]\nid = \"barrel\"\nname = \"Barrel\"\nmembers = [\"left\", \"lower\"]\n\n\
         [[site]]\nid = \"wall\"\nname = \"Wall 2\"\nmembers = [\"left\", \"lower\"]\nform = \"bore\"\n"
    );
    let plan = Plan::read("plan", &source).unwrap();
    let page = plan.page(&source);
    let barrel = page.slots.iter().find(|of| of.name == "Barrel").expect("by its own name");
    let wall = page.sites.iter().find(|of| of.name == "Wall 2").expect("with the figure in its name");
    assert_eq!((barrel.count, wall.count), (2, 2));
    let walls: Vec<_> = plan.sites.iter().filter(|site| site.name.starts_with("Wall 2 ")).collect();
    assert_eq!(walls.iter().map(|site| site.member.as_str()).collect::<Vec<_>>(), ["left", "lower"]);
}

#[test]
fn a_fastener_with_an_unusable_figure_takes_nothing_else_off_the_page() {
    for (field, wrong, says) in [
        ("thread = \"M10x1.25\"", "thread = \"7/16\"", "write 7/16-14 (UNC) or 7/16-20 (UNF)"),
        ("thread = \"M10x1.25\"", "thread = \"wood screw\"", "is not a thread"),
        ("strength = \"10.9\"", "strength = \"strong\"", "is not a property class"),
        ("bearing_diameter = \"13.5 mm\"", "bearing_diameter = \"wide\"", "does not start with a number"),
    ] {
        let text = with_line("20, 45 N·m", "").replace(field, wrong);
        let drafted = Plan::draft("plan", &text);
        assert!(
            !drafted.usable && drafted.faults.iter().any(|fault| fault.message.contains(says)),
            "{wrong}: {:?}",
            drafted.faults
        );
        assert_eq!((drafted.page.fasteners.len(), drafted.page.joints.len()), (1, 1), "{wrong}");
        // Its clamp load is not computed of what stands in for it.
        assert!(
            drafted.page.joints[0].stages.iter().all(|stage| stage.forecast.is_none())
                || wrong.contains("wide")
        );
    }
    let printed = with_line("20, 45 N·m", "").replace("strength = \"10.9\"", "strength = \"1450 MPa\"");
    let (plan, _) = Plan::judge("plan.toml", &printed).unwrap();
    let strength = plan.specs[0].fastening.strength;
    assert_eq!(
        (
            rigore_mechanics::quantity::in_mpa(strength.tensile).round(),
            rigore_mechanics::quantity::in_mpa(strength.proof).round()
        ),
        (1450.0, 1305.0)
    );
}

#[test]
fn a_torque_that_no_bolt_takes_is_an_error_where_the_strength_is_unknown_and_a_source_is_for_a_lead() {
    let told = |line: &str, besides: &str, strength: &str| {
        let text =
            with_line(line, besides).replace("strength = \"10.9\"", &format!("strength = \"{strength}\""));
        let drafted = Plan::draft("plan", &text);
        let faults = drafted.faults.into_iter().map(|fault| (fault.severity, fault.message));
        (drafted.usable, faults.collect::<Vec<_>>())
    };
    let (usable, faults) = told("58 lbf·ft, 130 lbf·ft", "", "?");
    assert!(!usable, "{faults:?}");
    assert!(
        faults.iter().any(|(_, of)| of.starts_with("130 lbf·ft on M10x1.25: even a 12.9 bolt")),
        "{faults:?}"
    );
    let (usable, faults) = told("60 lbf·ft", "", "?");
    assert!(usable && faults.iter().any(|(_, of)| of.contains("an 8.8 bolt would yield")), "{faults:?}");
    assert!(told("25 lbf·ft", "", "?").1.iter().all(|(_, of)| !of.contains("8.8")));
    let (usable, faults) = told("100 N·m", "", "10.9");
    assert!(!usable && faults.iter().any(|(_, of)| of.contains("past the fastener's limit")), "{faults:?}");
    let (usable, faults) = told("100 N·m", "source = \"maker's sheet, page 4\"", "10.9");
    assert!(
        usable
            && faults
                .iter()
                .any(|(of, text)| *of == Severity::Warning && text.contains("a lead approves it")),
        "{faults:?}"
    );
    // What is approved is all that is written with it.
    let approves = |count: &str| {
        let besides = format!("source = \"maker's sheet, page 4\"{count}");
        let faults = Plan::draft("plan", &with_line("100 N·m", &besides)).faults;
        faults.into_iter().find_map(|fault| fault.approves).expect("to be approved")
    };
    let by_source = "past yield by the friction table, right by its source";
    assert_eq!(approves(""), format!("Caps, torque, inner bolts: {by_source}"));
    assert_eq!(
        approves("\ncount = 2\noffset = [100, 0]"),
        format!("Caps 1 and Caps 2, torque, inner bolts: {by_source}")
    );
    assert_eq!(
        approves("\ncount = 5\noffset = [100, 0]"),
        format!("Caps 1 to Caps 5, torque, inner bolts: {by_source}")
    );
}

#[test]
fn an_order_that_names_fasteners_that_are_not_there_is_asked_about_and_keeps_the_plan_readable() {
    let text = with_line("40 N·m, in the order 1L 9Z", "");
    assert!(Plan::read("plan", &text).is_ok());
    let faults = Plan::judge("plan", &text).unwrap_err();
    assert!(faults.iter().any(|fault| fault.message.contains("its order names 1L, 9Z")), "{faults:?}");
}

#[test]
fn windows_are_read_as_they_are_printed_and_a_multiple_of_the_bore_finds_the_bores() {
    let with = |old: &str, new: &str| {
        let text = MEASURE.replacen(old, new, 1);
        assert_ne!(text, MEASURE);
        Plan::judge("plan", &text)
    };
    let by_bore = "per_bore = \"cylinder\"\nfiled = true\nwindow = { street = [0.0040, 0.0045, 0.0055] }";
    let (plan, _) = with(by_bore, "filed = true\nwindow = { street = \"0.0040 × bore\" }").unwrap();
    let gap = plan.clearances.iter().find(|of| of.id == "top-gap").unwrap();
    assert!(gap.per_bore.is_some());
    assert_eq!(gap.words(&gap.windows[0].window), "at least 0.004 × bore");
    let oil = "window = { street = [\"0.030 mm\", \"0.042 mm\", \"0.055 mm\"],";
    let (plan, _) = with(oil, "window = { street = \".0012 to .0020 in\",").unwrap();
    let window = plan.clearances[0].windows[0].window;
    assert!((window.low - 0.030_48).abs() < 1e-9 && (window.target - 0.040_64).abs() < 1e-9);
    let faults = with(oil, "window = { street = \"0.05 mm\",").unwrap_err();
    assert!(
        faults.iter().any(|of| of.path.ends_with("window.street") && of.message.contains("has one figure")),
        "{faults:?}"
    );
}

#[test]
fn a_plan_that_was_kept_before_something_was_asked_about_its_line_stays_readable() {
    // An earlier reader took this for two pulls; what it means is asked today, and the engine on it is still shown.
    let text = with_line("20 N·m, 40 N·m (39 lbf·ft)", "");
    let plan = Plan::read("plan", &text).expect("it reads");
    assert_eq!(plan.joints[0].stages.len(), 4);
    assert!(plan.joints[0].unclear[0].contains("Which one holds?"), "{:?}", plan.joints[0].unclear);
    let faults = Plan::judge("plan", &text).unwrap_err();
    assert!(
        faults
            .iter()
            .any(|fault| fault.path == "joint[0].procedure" && fault.message.contains("Which one holds?"))
    );
}
