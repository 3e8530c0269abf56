//! How far a tight fastener is stretched: the gauge is zeroed on it, it is loosened, and read (C-64).

use super::ways::tool;
use super::*;
use crate::work::tighten::bench::TightenBench;

/// Two bolts of a known resilience at 45 N·m; what they are used for is written in.
const PLAN: &str = r#"
format = 1
id = "released"
name = "Released"

[[fastener]]
id = "bolt"
name = "Bolt"
thread = "M9x1.0"
yield = "1100 MPa"
tensile = "1200 MPa"
bearing_diameter = "12 mm"
thread_lubricant = "assembly-paste"
bearing_lubricant = "assembly-paste"
GEOMETRY
[[drawing]]
id = "d"
name = "D"
seen = "above"
shape = [{ kind = "rect", from = [0, 0], to = [80, 40] }]

[[joint]]
id = "cap"
name = "Cap"
drawing = "d"

  [[joint.group]]
  id = "bolts"
  name = "bolt"
  fastener = "bolt"
  pattern = "line"
  position = [{ id = "A", at = [10, 20] }, { id = "B", at = [70, 20] }]

  [[joint.stage]]
  name = "Torque"
  group = "bolts"
  torque = "45 N·m"
  tolerance = "4 %"

[[operation]]
id = "cap"
name = "Tighten the cap"
kind = "tighten"
joint = "cap"
"#;

const GEOMETRY: &str = "
  [fastener.bolt]
  resilience = \"4.834 µm/kN\"
";

fn tight(geometry: &str) -> Shop {
    let mut shop = Shop::begun(&PLAN.replace("GEOMETRY\n", geometry), None, tool());
    shop.answer("cap", "45").unwrap();
    shop.answer("cap", "45").unwrap();
    shop
}

fn loosen(fastener: &str, released: &str) -> LoosenCommand {
    LoosenCommand {
        operation: "cap".into(),
        fastener: fastener.into(),
        reason: "to see how far it is stretched".into(),
        released: Some(released.into()),
        instrument: Some("w".into()),
        ..LoosenCommand::default()
    }
}

fn view(shop: &Shop) -> TightenBench {
    match shop.bench("cap").work {
        BenchWork::Tighten(bench) => *bench,
        other => panic!("a joint to tighten, not {other:?}"),
    }
}

#[test]
fn a_bolt_that_holds_what_it_should_starts_again_and_nothing_is_open() {
    let mut shop = tight(GEOMETRY);
    let load = shop.state.plan.specs[0].fastening.by_torque(45.0);
    let stretch = load.typical_kn * 1000.0 * 4.834e-6;
    shop.give(CommandAction::Loosen(loosen("A", &format!("{stretch:.3} mm")))).unwrap();
    let released = view(&shop).released;
    assert_eq!((released.len(), released[0].fastener.as_str(), released[0].off), (1, "A", false));
    let words = released[0].words.in_base_units();
    assert!(words.contains(&format!("it held {:.1} kN", load.typical_kn)), "{words}");
    assert!(words.contains("of yield") && words.contains("expected"), "{words}");
    let story = shop.state.fastener_timeline("cap", "A").expect("it was pulled and loosened");
    let told = story.lines.iter().any(|line| line.what.contains("to see how far it is stretched; "));
    assert!(told, "what was read is told of the fastener: {:?}", story.lines);
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    assert_eq!(shop.asked("cap").1, "A", "it is loose, and has to be pulled again");
}

#[test]
fn one_that_held_less_is_an_open_issue_until_a_lead_accepts_it_or_it_is_voided() {
    let mut shop = tight(GEOMETRY);
    shop.give(CommandAction::Loosen(loosen("A", "0.050 mm"))).unwrap();
    let what = shop.whats();
    assert!(what.len() == 1 && what[0].starts_with("A got 0.050 mm shorter: it held 10.3 kN"), "{what:?}");
    assert!(shop.sign("cap").is_err());
    let seq = shop.state.issues()[0].seq;
    shop.void(seq, "misread").unwrap();
    assert!(shop.whats().is_empty() && view(&shop).released.is_empty());
    assert!(shop.sign("cap").is_ok(), "A was never loose");

    let mut shop = tight(GEOMETRY);
    shop.give(CommandAction::Loosen(loosen("A", "0.050 mm"))).unwrap();
    shop.answer("cap", "45").unwrap();
    assert_eq!(shop.whats().len(), 1, "pulled again, it still says something of B");
    shop.accept("B was checked the same way");
    shop.sign("cap").unwrap();
}

#[test]
fn without_its_resilience_the_reading_is_kept_and_no_load_is_made_up() {
    let mut shop = tight("");
    shop.give(CommandAction::Loosen(loosen("A", "0.050 mm"))).unwrap();
    let words = view(&shop).released[0].words.in_base_units();
    assert!(words.contains("0.050 mm shorter") && words.contains("not known"), "{words}");
    assert!(shop.whats().is_empty());
}

#[test]
fn what_cannot_be_meant_is_refused_with_its_field_and_nothing_is_loosened() {
    let mut shop = tight(GEOMETRY);
    for (text, says) in
        [("-0.1", "is not possible"), ("40 mm", "is not possible"), ("1 N·m", "unit"), ("much", "number")]
    {
        let refused = shop.give(CommandAction::Loosen(loosen("A", text))).unwrap_err();
        assert!(refused.field == Some("released") && refused.message.contains(says), "{text}: {refused}");
    }
    let both = LoosenCommand { left: Some("0.001".into()), ..loosen("A", "0.1") };
    assert_eq!(shop.give(CommandAction::Loosen(both)).unwrap_err().field, Some("released"));
    let rest = LoosenCommand { rest: true, ..loosen("A", "0.1") };
    assert_eq!(shop.give(CommandAction::Loosen(rest)).unwrap_err().field, Some("released"));
    shop.instrument = Instrument { length_mm: None, ..tool() };
    let wrench = shop.give(CommandAction::Loosen(loosen("A", "0.14"))).unwrap_err();
    assert!(wrench.field == Some("instrument") && wrench.message.contains("no length"), "{wrench}");
    shop.instrument = tool();
    let seq = shop.state.seq;
    shop.give(CommandAction::Loosen(loosen("A", "0.14"))).unwrap();
    let twice = shop.give(CommandAction::Loosen(loosen("A", "0.14"))).unwrap_err();
    assert!(twice.message.contains("loose already"), "{twice}");
    assert_eq!(shop.state.seq, seq + 1);
}

/// The same bolts turned past yield, which may stay 0.150 mm longer for good.
fn to_yield() -> String {
    let geometry = GEOMETRY.replacen(
        '\n',
        "\nto_yield = true\nsingle_use = true\nelongation_allowed = \"0.150 mm\"\n",
        1,
    ) + "
  [fastener.parts]
  resilience = \"1.2 µm/kN\"
";
    let stages = "torque = \"25 N·m\"\n  tolerance = \"4 %\"\n\n  [[joint.stage]]\n  name = \"Angle\"\n  group = \"bolts\"\n  angle = \"120°\"\n  tolerance = \"5°\"";
    PLAN.replace("GEOMETRY\n", &geometry).replace("torque = \"45 N·m\"\n  tolerance = \"4 %\"", stages)
}

#[test]
fn one_that_stays_longer_than_its_maker_allows_is_scrap() {
    for (left, scrap) in [("0.140", false), ("0.160", true)] {
        let mut shop = Shop::begun(&to_yield().replace("single_use = true\n", ""), None, tool());
        for figure in ["25", "25", "120", "120"] {
            shop.answer("cap", figure).unwrap();
        }
        let measured = LoosenCommand { released: None, left: Some(left.into()), ..loosen("A", "") };
        shop.give(CommandAction::Loosen(measured)).unwrap();
        let says = shop.whats().iter().any(|what| what.contains("max 0.150 mm: scrap"));
        assert_eq!(says, scrap, "{left}: {:?}", shop.whats());
    }
}

#[test]
fn a_bolt_that_yields_may_hold_a_fifth_more_than_its_class() {
    let text = to_yield();
    let mut shop = Shop::begun(&text, None, tool());
    for figure in ["25", "25", "120", "120"] {
        shop.answer("cap", figure).unwrap();
    }
    let least = shop.state.plan.specs[0].fastening.at_yield();
    for (share, off) in [(1.0, false), (1.15, false), (1.6, true), (0.6, true)] {
        let stretch = least.typical_kn * share * 1000.0 * 4.834e-6;
        let fastener = if share == 1.0 || share == 1.6 { "A" } else { "B" };
        let mut shop_now = Shop::begun(&text, None, tool());
        shop_now.state = BuildState::fold(|_| Some(plan(&text)), &shop.events).unwrap();
        shop_now.give(CommandAction::Loosen(loosen(fastener, &format!("{stretch:.4} mm")))).unwrap();
        assert_eq!(view(&shop_now).released[0].off, off, "{share}");
    }
}

#[test]
fn a_bolt_that_was_pulled_to_its_stretch_is_compared_by_stretch_whatever_its_resilience_is_off_by() {
    let stretch = "stretch = \"0.150 mm\"\n  tolerance = \"0.006 mm\"";
    let text =
        PLAN.replace("GEOMETRY\n", GEOMETRY).replace("torque = \"45 N·m\"\n  tolerance = \"4 %\"", stretch);
    for (reading, off) in [("0.148", false), ("0.141", true), ("0.160", true)] {
        let mut shop = Shop::begun(&text, None, tool());
        for figure in ["24", "0.150", "24", "0.151"] {
            shop.answer("cap", figure).unwrap();
        }
        shop.give(CommandAction::Loosen(loosen("B", reading))).unwrap();
        assert_eq!(view(&shop).released[0].off, off, "{reading}: {:?}", view(&shop).released[0].words);
    }
}
