//! Rod bolts on their way to their stretch (C-23 to C-25).

use super::ways::{WAYS, tool};
use super::*;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::Verdict;

#[test]
fn a_bolt_is_climbed_to_its_stretch_by_the_friction_it_shows_itself() {
    let mut shop = Shop::ways();
    let next = |shop: &Shop| match shop.state.step(shop.at("stretch")) {
        BenchStep::Pull(step) => (shop.asked("stretch").1, step.asks.dimension, step.target.shown),
        other => panic!("a pull, not {other:?}"),
    };
    // The first torque is one that the least friction of the paste brings into the window.
    let (fastener, dimension, first) = next(&shop);
    assert_eq!((fastener.as_str(), dimension), ("A", Dimension::Torque));
    assert!((first - 24.25).abs() < 0.1, "{first}");
    shop.answer("stretch", "23").unwrap();
    assert_eq!(next(&shop).1, Dimension::Clearance);
    // Thousandths of an inch, and a decimal place, against what the torque makes plausible.
    for (text, hint) in [
        ("4.2", "Possible slip: thousandths of an inch. 0.1067 mm would fit."),
        ("42", "Possible slip: ten-thousandths of an inch. 0.1067 mm would fit."),
        ("107", "Possible slip: micrometers. 0.107 mm would fit."),
        ("1.07", "Possible slip: a decimal place. 0.107 mm would fit."),
    ] {
        let asked = shop.answer("stretch", text).unwrap_err();
        assert_eq!(asked.kind, RefusalKind::Ask, "{asked}");
        assert!(asked.message.contains(hint), "{text}: {asked}");
    }
    shop.answer("stretch", "0.107").unwrap();
    assert_eq!(shop.pulls_of("stretch").pop().unwrap().says, "Under target: pull further");
    // 23 N·m gave 0.107 mm: 32.2 N·m gives 0.150. A torque past the limit is asked about.
    let (fastener, dimension, second) = next(&shop);
    assert_eq!((fastener.as_str(), dimension), ("A", Dimension::Torque));
    assert!((second - 23.0 * 0.150 / 0.107).abs() < 1e-9, "{second}");
    assert_eq!(shop.answer("stretch", "65").unwrap_err().kind, RefusalKind::Ask);
    shop.answer("stretch", "32.2").unwrap();
    shop.answer("stretch", "0.151").unwrap();
    assert_eq!(next(&shop).0, "B");
    let load = shop.pulls_of("stretch").pop().unwrap();
    assert_eq!((load.verdict, load.fastener.as_str()), (Verdict::Good, "A"));
    // The other one has four times the friction: a step at a time, and no further than its limit.
    shop.answer("stretch", "23").unwrap();
    let little = shop.command("stretch", "0.030");
    assert_eq!(shop.give(little.clone()).unwrap_err().kind, RefusalKind::Ask);
    shop.mean(little);
    for (torque, stretch) in [("38", "0.050"), ("53", "0.069"), ("68", "0.089")] {
        shop.answer("stretch", torque).unwrap();
        shop.answer("stretch", stretch).unwrap();
    }
    let (_, _, last) = next(&shop);
    assert!(last < 83.0 && last > 68.0, "{last}");
    assert!(
        (last - (last * 10.0).round() / 10.0).abs() < 1e-9,
        "{last}: what is shown is not past the limit"
    );
    shop.answer("stretch", &(last + 0.01).to_string()).unwrap_err();
    shop.answer("stretch", &last.to_string()).unwrap();
    shop.answer("stretch", "0.108").unwrap();
    let why = "B: 0.108 mm, more would use more of its yield than the plan allows: too much friction";
    assert_eq!(shop.whats(), [why]);
    assert!(matches!(shop.state.step(shop.at("stretch")), BenchStep::Sign));
    // Loosened and put back, it goes on from what it has shown; a new one starts from nothing.
    let loosen = |replaced| {
        let (operation, fastener) = ("stretch".into(), "B".into());
        CommandAction::Loosen(LoosenCommand {
            operation,
            fastener,
            replaced,
            reason: "to look".into(),
            ..LoosenCommand::default()
        })
    };
    shop.give(loosen(false)).unwrap();
    assert!(shop.whats().is_empty() && next(&shop).2 > 68.0);
    shop.answer("stretch", "40").unwrap();
    shop.give(loosen(true)).unwrap();
    assert!((next(&shop).2 - first).abs() < 1e-9);
    // Too long: loosened and pulled again, to what the friction says.
    shop.answer("stretch", "25").unwrap();
    shop.answer("stretch", "0.160").unwrap();
    assert_eq!(shop.whats(), ["B: 0.160 mm, it is stretched too far"]);
    assert_eq!(shop.state.issues()[0].remedies, [Remedy::Loosen, Remedy::Void]);
    shop.give(loosen(false)).unwrap();
    assert!((next(&shop).2 - 25.0 * 0.150 / 0.160).abs() < 1e-9);
    shop.finish("stretch");
    shop.sign("stretch").unwrap();
}

#[test]
fn between_two_steps_a_bolt_is_loosened_measured_and_lubricated_again() {
    let between = "step = \"15 N·m\"\n  loosen_between = true\n  set = \"0.004 mm\"";
    let plan = WAYS.replace("step = \"15 N·m\"", between);
    let mut shop = Shop::begun(&plan, None, tool());
    let left = |text: &str| {
        CommandAction::Loosen(LoosenCommand {
            operation: "stretch".into(),
            fastener: "A".into(),
            left: Some(text.into()),
            instrument: Some("w".into()),
            ..LoosenCommand::default()
        })
    };
    assert_eq!(shop.give(left("0.001")).unwrap_err().field, Some("reason"), "nothing is short yet");
    shop.answer("stretch", "23").unwrap();
    shop.answer("stretch", "0.107").unwrap();
    let BenchStep::Loosen(step) = shop.state.step(shop.at("stretch")) else { panic!("to be loosened") };
    assert_eq!((step.fastener.as_str(), step.goes_on), ("A", true));
    assert_eq!(step.lubricant, "Low-friction assembly paste on thread and under the head");
    for (text, says) in [("3 mm", "is not possible"), ("1 N·m", "unit of torque"), ("x", "number")] {
        let refused = shop.give(left(text)).unwrap_err();
        assert!(refused.field == Some("left") && refused.message.contains(says), "{refused}");
    }
    // It comes back, and goes on from what it has shown.
    shop.give(left("0.001")).unwrap();
    assert!(shop.whats().is_empty());
    let BenchStep::Pull(step) = shop.state.step(shop.at("stretch")) else { panic!("a pull") };
    assert_eq!((step.fastener.as_str(), step.asks.dimension), ("A", Dimension::Torque));
    assert!((step.target.shown - 23.0 * 0.150 / 0.107).abs() < 1e-9);
    // Pulled on without being loosened, it is kept and said.
    shop.answer("stretch", "30").unwrap();
    shop.answer("stretch", "0.140").unwrap();
    let (joint, stage, fastener) = (Some("stretch".into()), 0, "A".into());
    let reading = GivenReading { text: Some("32".into()), ..GivenReading::default() };
    let (operation, instrument) = ("stretch".into(), "w".into());
    let on = PullCommand {
        operation,
        joint,
        stage,
        fastener,
        reading,
        method: ReadingMethod::Typed,
        instrument,
        sure: true,
        note: None,
    };
    shop.give(CommandAction::Pull(on)).unwrap();
    assert_eq!(shop.pulls_of("stretch").pop().unwrap().remarks, ["too early: Loosen A comes first"]);
    // What stays longer is scrap, until a new one goes in.
    shop.give(CommandAction::Loosen(LoosenCommand {
        reason: "to measure it".into(),
        ..loosen_of(left("0.006"))
    }))
    .unwrap();
    let scrap = "A: permanent stretch 0.006 mm, max 0.004 mm: scrap";
    assert_eq!(shop.whats(), [scrap]);
    assert_eq!(shop.state.issues()[0].remedies, [Remedy::Replace, Remedy::Void]);
    let sheet = crate::sheet::BuildSheet::of(&shop.state);
    let section = sheet.sections.into_iter().find(|section| section.id == "stretch").unwrap();
    let SheetWork::Tighten { joints } = section.work else { panic!("a joint") };
    let climbed = &joints[0].rows[0].climb;
    assert!(!climbed.is_empty() && climbed.iter().all(|step| step.torque_nm > 0.0), "{climbed:?}");
    assert_eq!(joints[0].instruments.len(), 1, "it was pulled and measured with one");
    let noted =
        "A (remaining stretch 0.001 mm) loosened by Bench one: to be lubricated again between two steps";
    assert!(joints[0].notes.iter().any(|note| note.starts_with(noted)), "{:?}", joints[0].notes);
    let new = LoosenCommand { replaced: true, reason: "it had grown".into(), ..loosen_of(left("")) };
    shop.give(CommandAction::Loosen(new)).unwrap();
    assert!(shop.whats().is_empty());
    let BenchStep::Pull(step) = shop.state.step(shop.at("stretch")) else { panic!("a pull") };
    assert!(step.climb.is_some_and(|climb| climb.points.is_empty()));
}

fn loosen_of(what: CommandAction) -> LoosenCommand {
    let CommandAction::Loosen(loosen) = what else { panic!("a loosening") };
    loosen
}

#[test]
fn a_voided_stretch_is_as_if_it_had_never_been_read() {
    let mut shop = Shop::ways();
    let next = |shop: &Shop| match shop.state.step(shop.at("stretch")) {
        BenchStep::Pull(step) => step.target.shown,
        other => panic!("a pull, not {other:?}"),
    };
    shop.answer("stretch", "23").unwrap();
    shop.answer("stretch", "0.107").unwrap();
    let wanted = next(&shop);
    shop.answer("stretch", "32").unwrap();
    shop.answer("stretch", "0.120").unwrap();
    let seq = shop.pulls_of("stretch").pop().unwrap().seq;
    shop.give(CommandAction::Void(VoidCommand { seq, reason: "the gauge had slipped".into() })).unwrap();
    // The torque is still on: its stretch is to be read again.
    assert!((next(&shop) - 0.150).abs() < 1e-12);
    shop.answer("stretch", "0.130").unwrap();
    assert!(next(&shop) > wanted);
}

#[test]
fn pairs_that_contradict_each_other_are_drawn_all_the_same() {
    let mut shop = Shop::ways();
    for (torque, stretch) in [("23", "0.05"), ("5", "0.14")] {
        for text in [torque, stretch] {
            let what = shop.command("stretch", text);
            shop.mean(what);
        }
    }
    let BenchStep::Pull(step) = shop.state.step(shop.at("stretch")) else { panic!("a pull") };
    let climb = step.climb.expect("a climb");
    assert!(climb.error.is_some_and(|error| error > 0.5 * climb.nut_factor.unwrap()), "{climb:?}");
    assert!(climb.slope.iter().all(|slope| slope.is_finite() && *slope > 0.0), "{climb:?}");
}

#[test]
fn a_torque_past_the_limit_is_kept_and_a_lead_stands_for_it() {
    let mut shop = Shop::ways();
    let past = shop.command("stretch", "40");
    assert_eq!(shop.give(past.clone()).unwrap_err().kind, RefusalKind::Ask);
    shop.mean(past);
    let pull = shop.pulls_of("stretch").pop().unwrap();
    assert_eq!((pull.verdict, pull.says.as_str()), (Verdict::Over, "Past its limit: read it"));
    assert_eq!(shop.whats(), ["A: 40.0 N·m, more than the plan allows of its yield"]);
    assert_eq!(shop.state.issues()[0].remedies, [Remedy::Loosen, Remedy::Accept, Remedy::Void]);
    // Its stretch is read all the same, and tells how much it was.
    shop.answer("stretch", "0.150").unwrap();
    shop.accept("it is stretched as it should be: its friction is high");
    assert!(shop.whats().is_empty());
}

#[test]
fn a_stretch_that_is_read_as_proof_is_not_pulled_on() {
    let mut shop = Shop::ways();
    shop.answer("proof", "30").unwrap();
    shop.answer("proof", "0.110").unwrap();
    assert_eq!(shop.whats(), ["P: 0.110 mm, it is not stretched enough"]);
    assert_eq!(shop.state.issues()[0].remedies, [Remedy::Loosen, Remedy::Accept, Remedy::Void]);
    shop.accept("the gauge was new to all of us");
    shop.sign("proof").unwrap();
}

/// The plan of every way, whose rod bolts are zeroed, pulled twice and qualified.
fn by_the_first_one() -> Shop {
    let climb = "name = \"Stretch\"";
    let text = WAYS.replacen(climb, &format!("{climb}\n  zero = true\n  pulls = 2\n  qualify = true"), 1);
    assert_ne!(text, WAYS);
    Shop::begun(&text, None, tool())
}

#[test]
fn a_bolt_that_is_longer_than_its_limit_is_scrap_where_the_gauge_is_zeroed() {
    let climb = "name = \"Stretch\"";
    let text = WAYS.replacen(climb, &format!("{climb}\n  zero = true\n  set = \"0.006 mm\""), 1);
    let mut shop = Shop::begun(&text, None, tool());
    // Within what it may have grown the gauge is set again; past it, it is scrap before anybody pulls it.
    shop.answer("stretch", "0.005").unwrap();
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    let zero = shop.command("stretch", "0.009");
    shop.mean(zero);
    assert_eq!(shop.whats(), ["A: 0.009 mm, longer than it may be before it is pulled: it is scrap"]);
    assert!(shop.state.issues()[0].remedies.contains(&Remedy::Replace), "{:?}", shop.state.issues()[0]);
    let replaced = LoosenCommand {
        operation: "stretch".into(),
        fastener: "A".into(),
        replaced: true,
        with: Some("a new one".into()),
        reason: "it had grown".into(),
        ..LoosenCommand::default()
    };
    shop.give(CommandAction::Loosen(replaced)).unwrap();
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
}

#[test]
fn the_gauge_is_zeroed_on_each_bolt_and_one_that_moved_is_said() {
    let mut shop = by_the_first_one();
    let asked = |shop: &Shop| match shop.state.step(shop.at("stretch")) {
        BenchStep::Pull(step) => (step.fastener.clone(), step.line(), step.asks.plain.len()),
        other => panic!("a pull, not {other:?}"),
    };
    assert_eq!(asked(&shop), ("A".into(), "Pull 1, bolt A, zero the gauge on it".into(), 1));
    // A torque before it: kept, and said.
    let CommandAction::Pull(zero) = shop.command("stretch", "") else { panic!("a pull") };
    let torque = GivenReading { text: Some("23".into()), ..GivenReading::default() };
    shop.give(CommandAction::Pull(PullCommand {
        stage: 1,
        reading: torque,
        method: ReadingMethod::Typed,
        ..zero.clone()
    }))
    .unwrap();
    assert_eq!(shop.whats(), ["A: too early: Pull 1, bolt A, zero the gauge on it comes first"]);
    let last = shop.pulls_of("stretch").pop().unwrap().seq;
    shop.void(last, "not pulled yet").unwrap();
    // Off by more than a fifth of the window: to be set again.
    shop.answer("stretch", "-0.004").unwrap();
    let pull = shop.pulls_of("stretch").pop().unwrap();
    assert!(pull.says.starts_with("Off zero"), "{}", pull.says);
    assert_eq!(asked(&shop).1, "Pull 1, bolt A, zero the gauge on it");
    shop.answer("stretch", "").unwrap();
    assert_eq!(shop.pulls_of("stretch").pop().unwrap().says, "Zeroed");
    // Twice to the same torque, then it is read.
    shop.answer("stretch", "23").unwrap();
    assert!(asked(&shop).1.starts_with("Pull 1, bolt A, once more to 24."), "{:?}", asked(&shop).1);
    shop.answer("stretch", "23").unwrap();
    assert!(asked(&shop).1.contains("its stretch"), "{:?}", asked(&shop).1);
    // With another gauge than the one that was zeroed.
    shop.instrument = Instrument { id: "other".into(), name: "Other gauge".into(), ..tool() };
    let CommandAction::Pull(read) = shop.command("stretch", "0.107") else { panic!("a pull") };
    shop.give(CommandAction::Pull(PullCommand { instrument: "other".into(), ..read })).unwrap();
    assert_eq!(shop.whats(), ["A: read with Other gauge, and Wrench 2 was zeroed on it"]);
}

#[test]
fn what_the_first_bolt_needed_is_where_the_others_begin_and_their_stretch_is_verified() {
    let mut shop = by_the_first_one();
    let shown = |shop: &Shop| match shop.state.step(shop.at("stretch")) {
        BenchStep::Pull(step) => {
            (step.fastener.clone(), step.target.shown, step.climb.map(|climb| climb.bound))
        }
        other => panic!("a pull, not {other:?}"),
    };
    for text in ["", "23", "23", "0.107", "32.2", "32.2", "0.150"] {
        shop.answer("stretch", text).unwrap();
    }
    shop.answer("stretch", "").unwrap();
    let (fastener, torque, bound) = shown(&shop);
    assert_eq!((fastener.as_str(), bound), ("B", Some(rigore_mechanics::tightening::TorqueBound::Qualified)));
    assert!((torque - 32.2).abs() < 1e-9, "{torque}");
    // The first one did not count after all: the other begins where it would have.
    let last = shop.pulls_of("stretch").iter().rfind(|pull| pull.fastener == "A").unwrap().seq;
    shop.void(last, "the gauge slipped").unwrap();
    shop.answer("stretch", "0.150").unwrap();
    assert!((shown(&shop).1 - 32.2).abs() < 1e-9, "read again, it is qualified again");
    // Its own friction is another one: short, it is climbed on by what it shows itself.
    for text in ["32.2", "32.2", "0.135"] {
        shop.answer("stretch", text).unwrap();
    }
    let (fastener, torque, bound) = shown(&shop);
    assert_eq!((fastener.as_str(), bound), ("B", Some(rigore_mechanics::tightening::TorqueBound::Wanted)));
    assert!((torque - 32.2 * 0.150 / 0.135).abs() < 0.1, "{torque}");
}

#[test]
fn past_its_limit_a_lead_has_to_allow_it_before_it_is_advised() {
    let mut shop = Shop::ways();
    let next = |shop: &Shop| match shop.state.step(shop.at("stretch")) {
        BenchStep::Pull(step) => {
            (step.fastener.clone(), step.target.shown, step.climb.map(|climb| climb.utilisation))
        }
        other => panic!("a pull, not {other:?}"),
    };
    for (torque, stretch) in [("23", "0.030"), ("38", "0.050"), ("53", "0.069"), ("68", "0.089")] {
        shop.answer("stretch", torque).unwrap();
        let read = shop.command("stretch", stretch);
        if shop.give(read.clone()).is_err() {
            shop.mean(read);
        }
    }
    let (_, limit, of_yield) = next(&shop);
    assert!(limit < 83.0 && of_yield == Some(0.6));
    shop.answer("stretch", &limit.to_string()).unwrap();
    shop.answer("stretch", "0.108").unwrap();
    let short = shop.state.issues().remove(0);
    assert_eq!(short.remedies, [Remedy::Further, Remedy::Loosen, Remedy::Accept, Remedy::Void]);
    assert_eq!(next(&shop).0, "B", "nothing more is advised for A");
    let allow = |reason: &str| {
        let (operation, fastener) = ("stretch".into(), "A".into());
        CommandAction::AllowFurther(FurtherPullCommand {
            operation,
            fastener,
            reason: reason.into(),
            joint: None,
        })
    };
    shop.role = Role::Bench;
    assert_eq!(shop.give(allow("it has to go")).unwrap_err().kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    assert_eq!(shop.give(allow(" ")).unwrap_err().field, Some("reason"));
    shop.give(allow("its strength was measured")).unwrap();
    let (fastener, further, of_yield) = next(&shop);
    assert_eq!((fastener.as_str(), of_yield), ("A", Some(1.0)));
    assert!(further > limit + 5.0 && shop.whats().is_empty(), "{further} {limit} {:?}", shop.whats());
    // Taken back, it is short for good again.
    let allowed = shop.state.seq;
    shop.void(allowed, "not this one").unwrap();
    assert_eq!(shop.whats().len(), 1);
    assert_eq!(next(&shop).0, "B");
    let SheetWork::Tighten { joints } = shop.state.section(shop.at("stretch")) else { panic!("joints") };
    let note = joints[0].notes.iter().find(|note| note.contains("allowed up to 100 %")).expect("a note");
    assert!(note.contains("its strength was measured; voided: not this one"), "{note:?}");
}

#[test]
fn what_one_bolt_needed_goes_for_the_other_rods_of_its_kind() {
    let mut shop = Shop::begun(&super::folding::stretching(), None, tool());
    for text in ["", "23", "0.107", "32.2", "0.150"] {
        shop.answer("stretch", text).unwrap();
    }
    shop.answer("other", "").unwrap();
    let asked = |shop: &Shop| match shop.state.step(shop.at("other")) {
        BenchStep::Pull(step) => (step.fastener.clone(), step.target.shown),
        other => panic!("a pull, not {other:?}"),
    };
    let (fastener, torque) = asked(&shop);
    assert!(fastener == "A" && (torque - 32.2).abs() < 1e-9, "{fastener} {torque}");
    // Read anew and void, it is what it was before: the first torque that is safe.
    let last = shop.pulls_of("stretch").pop().unwrap().seq;
    shop.void(last, "the gauge slipped").unwrap();
    assert!(asked(&shop).1 < 25.0, "{:?}", asked(&shop));
}

#[test]
fn what_stayed_in_one_engine_and_in_the_next_adds_up() {
    let mut shop = Shop::begun(&super::folding::stretching(), None, tool());
    let part = PartNote { reference: "b".into(), serial: "RB-1".into(), ..PartNote::default() };
    let fit = FitCommand { operation: "take-in".into(), slot: "set".into(), part, before: None };
    shop.record(Fact::Fitted(fit), OffsetDateTime::UNIX_EPOCH, Uuid::nil());
    for text in ["", "23", "0.107"] {
        shop.answer("stretch", text).unwrap();
    }
    let (operation, fastener) = ("stretch".into(), "A".into());
    let left = Some("0.003".to_owned());
    let (reason, instrument) = ("to look".into(), Some("w".into()));
    shop.give(CommandAction::Loosen(LoosenCommand {
        operation,
        fastener,
        reason,
        left,
        instrument,
        ..LoosenCommand::default()
    }))
    .unwrap();
    let life = shop
        .state
        .part_lives()
        .into_iter()
        .find(|lived| lived.piece == 1)
        .and_then(|lived| lived.life)
        .unwrap();
    let at = |engine: &str, free_mm, left_mm| PartUse {
        build: Uuid::nil(),
        engine: engine.into(),
        life: PartLife { free_mm, left_mm, ..life.clone() },
    };
    let of = |lived: &[PartUse]| {
        let piece = PartHistory::of(lived).pieces.remove(0);
        (piece.grown_mm.map(|mm| (mm * 1e6).round() / 1e6), piece.verdict, piece.why)
    };
    let first = at("One", Some(46.200), Some(0.003));
    assert_eq!(of(std::slice::from_ref(&first)), (Some(0.003), PartVerdict::Good, vec![]));
    // Measured free again, that is what counts; and what is left there comes on top of it.
    let second = at("Two", Some(46.203), Some(0.003));
    let (grown, verdict, why) = of(&[first.clone(), second]);
    assert_eq!((grown, verdict), (Some(0.006), PartVerdict::Scrap));
    assert_eq!(why, ["permanent stretch 0.006 mm since new, max 0.005 mm"]);
    let lucky = at("Two", Some(46.201), None);
    assert_eq!(of(&[first, lucky]).0, Some(0.001));
}

#[test]
fn a_bolt_of_unknown_shape_is_pulled_to_its_stretch_by_torque_limit_and_free_length_alone() {
    let start =
        WAYS.find("bolt = { head = \"hex\", end = \"tapped\", segment = [\n  { length = \"8 mm\"").unwrap();
    let end = start + WAYS[start..].find("] }\n").unwrap() + 4;
    let plan = [&WAYS[..start], &WAYS[end..]].concat();
    let plan = plan.replace("step = \"15 N·m\"", "step = \"15 N·m\"\n  limit = \"40 N·m\"");
    // No forecast, and no warning that would be false.
    let (_, warnings) = rigore_plan::Plan::judge("plan", &plan).expect("a plan");
    let of_stretch = |fault: &&rigore_plan::Fault| fault.message.in_base_units().contains("geometry");
    assert!(warnings.iter().find(of_stretch).is_none(), "{warnings:?}");
    let mut shop = Shop::begun(&plan, None, tool());
    let next = |shop: &Shop| match shop.state.step(shop.at("stretch")) {
        BenchStep::Pull(step) => (shop.asked("stretch").1, step.target.shown, step.climb),
        other => panic!("a pull, not {other:?}"),
    };
    let (fastener, first, climb) = next(&shop);
    assert_eq!((fastener.as_str(), first), ("A", 20.0), "half of the torque that is never passed");
    let climb = climb.expect("what comes next is drawn");
    assert_eq!((climb.yield_nm, climb.nut_factor, climb.limit_nm), (None, None, 40.0));
    shop.answer("stretch", "20").unwrap();
    shop.answer("stretch", "0.100").unwrap();
    assert!((next(&shop).1 - 30.0).abs() < 1e-9, "{}", next(&shop).1);
    shop.answer("stretch", "30").unwrap();
    shop.answer("stretch", "0.150").unwrap();
    assert_eq!(next(&shop).0, "B");
    assert_eq!(shop.pulls_of("stretch").pop().unwrap().verdict, Verdict::Good);
    // One that does not give its stretch below the torque that is never passed is somebody's to decide on.
    for (torque, stretch) in [("20", "0.060"), ("35", "0.105"), ("40", "0.121")] {
        shop.answer("stretch", torque).unwrap();
        shop.answer("stretch", stretch).unwrap();
    }
    assert_eq!(shop.whats().len(), 1, "{:?}", shop.whats());
    assert_eq!(shop.whats()[0], "B: 0.121 mm, more would pass a limit of the plan: too much friction");
    // Nobody can let it be pulled on to a yield that is not known.
    assert!(!shop.state.issues()[0].remedies.contains(&Remedy::Further));
    let further = FurtherPullCommand {
        operation: "stretch".into(),
        fastener: "B".into(),
        reason: "to its stretch".into(),
        ..FurtherPullCommand::default()
    };
    assert_eq!(shop.give(CommandAction::AllowFurther(further)).unwrap_err().field, Some("fastener"));
}
