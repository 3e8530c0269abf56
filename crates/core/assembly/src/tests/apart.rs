//! What is taken apart again, started over, skipped, used once; what a builder says of a pull, and what is asked
//! about a figure.

use super::*;
use rigore_mechanics::tightening::Verdict;

const ORDER: [&str; 6] = ["2L", "2R", "1L", "3R", "1R", "3L"];

fn act(operation: &str, stage: usize) -> CommandAction {
    CommandAction::Act(ActionCommand { operation: operation.into(), stage, ..ActionCommand::default() })
}

/// Six bolts, tight and signed, with the signature under the engine.
fn signed_off() -> Shop {
    let mut shop = Shop::at_the_bolts();
    tighten(&mut shop);
    shop.sign("tighten").unwrap();
    shop.sign("sign").unwrap();
    shop
}

fn tighten(shop: &mut Shop) {
    for fastener in ORDER {
        shop.give(pull(0, fastener, "30")).unwrap();
    }
    shop.give(act("tighten", 1)).unwrap();
    for fastener in ORDER {
        shop.give(pull(2, fastener, "40")).unwrap();
    }
}

fn take_apart(reason: &str) -> CommandAction {
    CommandAction::Loosen(LoosenCommand {
        operation: "tighten".into(),
        fastener: ORDER[0].into(),
        rest: true,
        reason: reason.into(),
        ..LoosenCommand::default()
    })
}

#[test]
fn a_joint_that_is_tight_and_signed_is_taken_apart_in_reverse_and_all_that_rests_on_it_lapses() {
    let mut shop = signed_off();
    assert_eq!(shop.give(take_apart("")).unwrap_err().field, Some("reason"));
    let facts = shop.give(take_apart("the timing is one tooth out")).unwrap();
    let loosened: Vec<&str> = facts
        .iter()
        .map(|fact| match fact {
            Fact::Loosened(loosened) => loosened.fastener.as_str(),
            other => panic!("{other:?}"),
        })
        .collect();
    let mut backwards = ORDER;
    backwards.reverse();
    assert_eq!(loosened, backwards);
    // The signatures under it and under the engine hold no more; nothing is a deviation, and all is to do again.
    assert!(!shop.signed("tighten") && !shop.signed("sign"));
    assert!(shop.state.issues().is_empty(), "{:?}", shop.state.issues());
    assert_eq!(shop.bench("tighten").operation.done, 0);
    tighten(&mut shop);
    shop.sign("tighten").unwrap();
    shop.sign("sign").unwrap();
    // The first pulls stay readable, as loosened since.
    let pulls = shop.state.pulls(shop.at("tighten"));
    let counting: Vec<bool> = pulls.iter().map(|pull| pull.counts).collect();
    assert_eq!(counting, [[false; 12], [true; 12]].concat());
    assert!(pulls[..12].iter().all(|pull| pull.loosened && !pull.deviates));
    assert!(shop.give(take_apart("once more")).is_ok());
    assert_eq!(shop.give(take_apart("nothing is tight")).unwrap_err().kind, RefusalKind::Stale);
}

#[test]
fn a_bead_is_laid_again_once_all_its_bolts_are_loose_and_its_cure_holds_the_last_signature() {
    let mut shop = Shop::ways();
    shop.answer("pan", "").unwrap();
    let since = shop.bench("pan").clocks[0].since;
    let again = |reason: Option<&str>| {
        CommandAction::Act(ActionCommand {
            operation: "pan".into(),
            again: reason.map(str::to_owned),
            ..ActionCommand::default()
        })
    };
    // It skinned before the bolts were in: the bead comes off and is laid again, with a new clock.
    assert_eq!(shop.give(again(None)).unwrap_err().kind, RefusalKind::Stale);
    shop.give(again(Some("it skinned"))).unwrap();
    assert!(shop.bench("pan").clocks[0].since > since);
    shop.answer("pan", "40").unwrap();
    shop.answer("pan", "40").unwrap();
    let refused = shop.give(again(Some("it skinned"))).unwrap_err();
    assert!(refused.kind == RefusalKind::NotYet && refused.message.contains("loosen all of"), "{refused:?}");
    // With all of its bolts loose again, the bead is what comes first.
    let next = shop.asked("pan").0;
    let apart = CommandAction::Loosen(LoosenCommand {
        operation: "pan".into(),
        fastener: "1".into(),
        rest: true,
        reason: "it did not seat".into(),
        ..LoosenCommand::default()
    });
    let loosened = shop.give(apart).unwrap().len();
    assert!(loosened >= 2, "{loosened} after {next}");
    assert!(shop.bench("pan").clocks.is_empty());
    assert!(shop.asked("pan").0.contains("ead"), "{:?}", shop.asked("pan"));
    // Voiding one of the loosenings gives the bead back.
    let (last, mut voided) = (shop.state.seq, 0);
    while shop.bench("pan").clocks.is_empty() && voided < loosened as u64 {
        shop.void(last - voided, "tapped by mistake").unwrap();
        voided += 1;
    }
    assert!(!shop.bench("pan").clocks.is_empty());
}

#[test]
fn what_waited_for_an_operation_that_is_left_out_waits_for_what_that_waited_for() {
    let mut shop = Shop::ways();
    shop.give(CommandAction::Skip(SkipCommand {
        operation: "apart".into(),
        reason: "no trial today".into(),
    }))
    .unwrap();
    // The trial is still to be done: leaving out its loosening does not release the final tightening.
    let refused = shop.give(CommandAction::Start(OperationStart { operation: "caps".into() })).unwrap_err();
    assert_eq!(refused.kind, RefusalKind::NotYet);
    assert!(shop.operation("caps").status == OperationStatus::Waiting);
    shop.finish("trial");
    shop.sign("trial").unwrap();
    assert!(shop.give(CommandAction::Start(OperationStart { operation: "caps".into() })).is_ok());
}

#[test]
fn what_an_operation_waits_for_is_the_next_thing() {
    let shop = Shop::at_the_bolts();
    assert_eq!(shop.operation("sign").waits_for, ["Tighten the caps"]);
    let shop = Shop::ways();
    let waits = shop.operation("sign").waits_for;
    assert!(waits.len() == 1 && waits[0].contains(" more"), "{waits:?}");
}

/// The plan of six bolts, each for one use.
fn for_one_use() -> String {
    let text = include_str!("../../../plan/tests/small-plan.toml");
    let at = text.find("[[fastener]]").expect("a fastener") + "[[fastener]]".len();
    format!("{}\nsingle_use = true{}", &text[..at], &text[at..])
}

#[test]
fn single_use_means_one_use_without_any_other_key() {
    let mut shop = Shop::begun(&for_one_use(), None, wrench());
    for item in ["threads", "holes"] {
        shop.give(CommandAction::Confirm(ConfirmCommand { operation: "prepare".into(), item: item.into() }))
            .unwrap();
    }
    shop.sign("prepare").unwrap();
    // On the way to its torque it may go back; once it has it, a loosened one is spent.
    shop.give(pull(0, "2L", "30")).unwrap();
    shop.give(CommandAction::Loosen(LoosenCommand {
        operation: "tighten".into(),
        fastener: "2L".into(),
        reason: "not seated".into(),
        ..LoosenCommand::default()
    }))
    .unwrap();
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    tighten(&mut shop);
    shop.give(take_apart("a forgotten seal")).unwrap();
    assert_eq!(shop.whats().len(), 6);
    assert!(shop.whats()[0].contains("the old fastener is still in"), "{:?}", shop.whats());
    let issue = shop.state.issues().remove(0);
    shop.give(CommandAction::Loosen(LoosenCommand {
        operation: "tighten".into(),
        fastener: issue.fastener.expect("a fastener"),
        replaced: true,
        with: Some("used one of set RB-9, piece 3".into()),
        reason: "spent".into(),
        ..LoosenCommand::default()
    }))
    .unwrap();
    assert_eq!(shop.whats().len(), 5);
    let text = format!("{:?}", crate::sheet::BuildSheet::of(&shop.state));
    assert!(
        text.contains("replaced with used one of set RB-9, piece 3"),
        "which one went in is on the sheet"
    );
}

#[test]
fn several_entries_out_of_order_on_one_joint_are_one_issue_to_approve() {
    let mut shop = Shop::at_the_bolts();
    shop.give(pull(0, "3L", "30")).unwrap();
    assert_eq!(shop.whats(), ["3L: out of sequence: 2L was next"]);
    for fastener in ["3R", "1R"] {
        shop.give(pull(0, fastener, "30")).unwrap();
    }
    assert_eq!(shop.whats(), ["3 out of sequence: 3L, 3R, 1R"]);
    shop.accept("the left side was out of reach");
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    // One more is not what the lead stood for.
    shop.give(pull(0, "1L", "30")).unwrap();
    assert_eq!(shop.whats(), ["4 out of sequence: 3L, 3R, 1R, 1L"]);
}

#[test]
fn not_sure_that_it_clicked_is_open_until_it_is_pulled_again_and_a_stop_is_a_remark() {
    let mut shop = Shop::at_the_bolts();
    let noted = |fastener: &str, note| match pull(0, fastener, "30") {
        CommandAction::Pull(pull) => CommandAction::Pull(PullCommand { note: Some(note), ..pull }),
        _ => unreachable!("a pull"),
    };
    shop.give(noted("2L", PullNote::Unsure)).unwrap();
    assert_eq!(shop.whats(), ["2L: not sure that it clicked at Snug"]);
    assert!(shop.last_pull().remarks.contains(&"not sure that it clicked".into()));
    shop.give(pull(0, "2L", "30")).unwrap();
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    shop.give(noted("2R", PullNote::Stopped)).unwrap();
    assert!(shop.whats().is_empty());
    assert!(shop.last_pull().remarks[0].starts_with("stopped mid-pull"), "{:?}", shop.last_pull());
}

#[test]
fn an_angle_gauge_that_was_not_zeroed_or_keeps_counting_is_asked_about_with_what_would_fit() {
    let mut shop = Shop::ways();
    for _ in 0..100 {
        if shop.asked("wheel").0.contains("ngle") {
            break;
        }
        let text = match shop.state.step(shop.at("wheel")) {
            BenchStep::Pull(step) if step.asks.plain.is_empty() => step.target.shown.to_string(),
            _ => String::new(),
        };
        shop.answer("wheel", &text).unwrap();
    }
    // 45° on the first bolt; the gauge goes on counting from there.
    let first = shop.asked("wheel");
    shop.answer("wheel", "45").unwrap();
    assert_ne!(shop.asked("wheel").1, first.1);
    let asked = shop.answer("wheel", "90").unwrap_err();
    assert_eq!(asked.kind, RefusalKind::Ask);
    assert!(
        asked.message.contains("not zeroed after the last bolt") && asked.message.contains("45° would fit"),
        "{asked:?}"
    );
    // Two swings: 20°, then the total.
    shop.answer("wheel", "20").unwrap();
    let asked = shop.answer("wheel", "45").unwrap_err();
    assert!(asked.message.contains("show the total") && asked.message.contains("25° would fit"), "{asked:?}");
    shop.answer("wheel", "25").unwrap();
    assert_eq!(shop.pulls_of("wheel").pop().map(|pull| pull.verdict), Some(Verdict::Good));
}

#[test]
fn a_torque_outside_the_range_of_its_wrench_is_asked_about() {
    let mut shop = Shop::at_the_bolts();
    shop.instrument.torque_nm = Some([25.0, 34.0]);
    let asked = shop.give(pull(0, "2L", "35")).unwrap_err();
    assert_eq!(asked.kind, RefusalKind::Ask);
    assert!(
        asked.message.contains("outside the range of Wrench 2")
            && asked.message.contains("30.0 N·m would fit"),
        "{asked:?}"
    );
}

#[test]
fn a_step_that_nobody_began_is_not_signed_with_the_others() {
    let mut shop = Shop::ways();
    // Nothing was tightened on trial, so there is nothing to take apart: the step is not offered for a signature.
    let offered = shop.bench("trial").sign_with;
    assert!(offered.is_empty(), "{offered:?}");
    shop.finish("trial");
    assert!(shop.sign("trial").is_ok());
}
