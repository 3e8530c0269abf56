//! A signature, and a lead's word, cover what they rest on and nothing that came after.

use super::measuring::PLAN;
use super::*;

const SMALL: &str = include_str!("../../../plan/tests/small-plan.toml");

fn act(operation: &str, stage: usize) -> CommandAction {
    CommandAction::Act(ActionCommand { operation: operation.into(), stage, ..ActionCommand::default() })
}

fn turn(operation: &str, torque: &str) -> CommandAction {
    CommandAction::Turn(TurnCommand {
        operation: operation.into(),
        free: true,
        text: Some(torque.into()),
        unit: None,
    })
}

/// An engine of six bolts, signed off.
fn finished() -> Shop {
    let mut shop = Shop::begun(SMALL, None, wrench());
    for item in ["threads", "holes"] {
        shop.give(CommandAction::Confirm(ConfirmCommand { operation: "prepare".into(), item: item.into() }))
            .unwrap();
    }
    shop.sign("prepare").unwrap();
    for (stage, text) in [(0, "30"), (2, "40")] {
        for fastener in ["2L", "2R", "1L", "3R", "1R", "3L"] {
            shop.give(pull(stage, fastener, text)).unwrap();
        }
        if stage == 0 {
            shop.give(act("tighten", 1)).unwrap();
        }
    }
    shop.sign("tighten").unwrap();
    shop.sign("sign").unwrap();
    assert_eq!(shop.state.view().status, BuildStatus::Finished);
    shop
}

/// Cylinders, rings, deck and chamber measured, everything inside, and signed where it is judged.
fn tops_signed() -> Shop {
    let mut shop = Shop::measuring(None);
    for cylinder in ["cylinder-1", "cylinder-2"] {
        for place in 0..4 {
            shop.read(cylinder, place, "86").unwrap();
        }
    }
    shop.sign("cylinders").unwrap();
    for number in 1..=2 {
        for place in 0..2 {
            shop.read(&format!("deck-{number}"), place, "0.3").unwrap();
        }
        shop.read(&format!("chamber-{number}"), 0, "48").unwrap();
        for place in 0..3 {
            shop.read(&format!("inlet-{number}"), place, "2.0").unwrap();
        }
    }
    shop.sign("tops").unwrap();
    shop
}

#[test]
fn a_bolt_pulled_again_after_the_last_signature_ends_that_signature_too() {
    let mut shop = finished();
    shop.role = Role::Bench;
    shop.give(pull(0, "2L", "30")).unwrap();
    assert_eq!(shop.state.view().status, BuildStatus::InWork);
    shop.sign("tighten").unwrap();
    assert_ne!(shop.state.view().status, BuildStatus::Finished, "the lead had signed something else");
    assert_eq!(shop.sign("sign").unwrap_err().kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    shop.sign("sign").unwrap();
    assert_eq!(shop.state.view().status, BuildStatus::Finished);
}

#[test]
fn signatures_that_lapsed_stay_on_the_sheet_with_what_ended_them() {
    let mut shop = finished();
    shop.give(pull(0, "2L", "30")).unwrap();
    let ended_by = shop.state.seq;
    let sheet = crate::sheet::BuildSheet::of(&shop.state);
    let section = |id: &str| sheet.sections.iter().find(|section| section.id == id).unwrap();
    assert_eq!(section("prepare").lapsed, []);
    for id in ["tighten", "sign"] {
        let lapsed = &section(id).lapsed;
        assert_eq!((lapsed.len(), lapsed[0].ended_by, lapsed[0].left_out), (1, ended_by, false), "{id}");
        assert!(section(id).signed_by.is_none() && lapsed[0].ended_at.is_some());
    }
}

#[test]
fn a_voided_entry_of_any_kind_ends_the_signatures_that_rest_on_it() {
    let mut shop = finished();
    let prepare: u64 = shop.operation("prepare").signed_seq.unwrap();
    let BenchWork::Items { items } = shop.bench("prepare").work else { panic!("items") };
    shop.void(items[0].seq.unwrap(), "not looked at").unwrap();
    assert!(!shop.signed("prepare") && !shop.signed("sign") && shop.signed("tighten"));
    assert_eq!(shop.void(prepare, "again").unwrap_err().kind, RefusalKind::Stale, "it lapsed already");
}

#[test]
fn a_cylinder_read_again_ends_the_signature_under_the_ratio_that_rests_on_it() {
    let mut shop = tops_signed();
    shop.read("cylinder-2", 3, "86.01").unwrap();
    assert!(!shop.signed("cylinders") && !shop.signed("tops"));
    let mut shop = tops_signed();
    let seq = shop.readings("cylinders")[0].seq;
    shop.void(seq, "slipped").unwrap();
    assert!(!shop.signed("tops"));
}

#[test]
fn shells_chosen_under_the_name_of_another_operation_end_the_signature_that_judges_them() {
    let mut shop = Shop::measured(None, "54.990");
    for number in 1..=2 {
        shop.shells(number, "B", "B").unwrap();
    }
    shop.sign("measure").unwrap();
    let (upper, lower) = ("B".to_owned(), "C".to_owned());
    let choice =
        ShellChoiceCommand { operation: "tops".into(), clearance: "oil".into(), number: 2, upper, lower };
    shop.give(CommandAction::ChooseShells(choice)).unwrap();
    assert!(!shop.signed("measure"));
    // A choice can be taken back like any other entry: the one before it counts.
    shop.void(shop.state.seq, "wrong box").unwrap();
    assert_eq!(shop.clearance("oil", 2).shells.unwrap().lower, "B");
    let other = ShellChoiceCommand { operation: "turn".into(), ..choice_of("oil") };
    assert_eq!(shop.give(CommandAction::ChooseShells(other)).unwrap_err().field, Some("operation"));
}

fn choice_of(clearance: &str) -> ShellChoiceCommand {
    let grade = "B".to_owned();
    ShellChoiceCommand {
        operation: "measure".into(),
        clearance: clearance.into(),
        number: 1,
        upper: grade.clone(),
        lower: grade,
    }
}

#[test]
fn an_accepted_ring_gap_is_not_accepted_any_more_when_its_bore_moves_the_window() {
    let mut shop = Shop::measuring(None);
    for place in 0..4 {
        shop.read("cylinder-1", place, "86.000").unwrap();
    }
    shop.read("top-ring-1", 0, "0.60").unwrap();
    assert!(shop.state.issues()[0].text.contains("Top ring gap 1"));
    shop.accept("an old ring for the dyno");
    assert_eq!(shop.state.issues(), []);
    shop.read("cylinder-1", 2, "86.100").unwrap();
    assert!(shop.state.issues()[0].text.contains("Top ring gap 1"), "its window is another one now");
    // Voiding what came in between brings back what the lead had stood for.
    shop.void(shop.state.seq, "gauge slipped").unwrap();
    assert_eq!(shop.state.issues(), []);
}

#[test]
fn a_lead_stands_for_one_fault_of_a_gauge_in_one_operation() {
    let mut shop = Shop::measuring(None);
    shop.instrument.length_mm = Some([0.0, 25.0]);
    shop.read("journal-1", 0, "54.990").unwrap();
    shop.accept("checked against a block");
    assert_eq!(shop.state.issues(), []);
    // The same fault in another operation is another issue.
    shop.read("cylinder-1", 0, "86").unwrap();
    let issues = shop.state.issues();
    assert_eq!(issues.iter().map(|m| m.operation.as_str()).collect::<Vec<_>>(), ["cylinders"]);
    shop.accept("checked again");
    // And so is another fault in the same operation.
    shop.instrument = Instrument { calibration_due: Some(time::Date::MIN), ..gauge() };
    shop.read("journal-1", 1, "54.990").unwrap();
    let issues = shop.state.issues();
    assert_eq!(issues.len(), 1, "{issues:?}");
    let subject = ApprovalSubject::Instrument {
        operation: "measure".into(),
        instrument: "g".into(),
        fault: ToolFault::Calibration,
    };
    assert_eq!(issues[0].subject, Some(subject));
}

#[test]
fn a_turn_is_compared_with_the_one_before_something_was_fitted_and_never_with_itself() {
    let mut shop = Shop::measuring(None);
    shop.give(turn("turn", "4.0")).unwrap();
    shop.give(turn("turn-again", "6.5")).unwrap();
    shop.give(turn("turn-again", "6.5")).unwrap();
    let issues = shop.state.issues();
    assert_eq!(issues.len(), 1, "entered once more it is no less: {issues:?}");
    assert!(issues[0].text.contains("rose by 2.5 N·m"));
    let BenchWork::Turn(bench) = shop.bench("turn-again").work else { panic!("a turning bench") };
    let rises: Vec<_> = bench.turns.iter().map(|turn| turn.rise_nm).collect();
    assert_eq!(rises, [None, Some(2.5), Some(2.5)]);
    // Recorded late, the turn before it is compared all the same.
    let mut late = Shop::measuring(None);
    late.give(turn("turn-again", "6.5")).unwrap();
    assert_eq!(late.state.issues(), []);
    late.give(turn("turn", "4.0")).unwrap();
    assert!(late.state.issues()[0].text.contains("rose by 2.5 N·m"));
}

#[test]
fn a_turn_accepted_is_open_again_when_the_one_it_was_compared_with_changes() {
    let mut shop = Shop::measuring(None);
    shop.give(turn("turn", "4.0")).unwrap();
    shop.give(turn("turn-again", "6.5")).unwrap();
    shop.accept("new seal");
    shop.sign("turn-again").unwrap();
    shop.give(turn("turn", "3.0")).unwrap();
    assert!(!shop.signed("turn-again"));
    assert!(shop.state.issues()[0].text.contains("rose by 3.5 N·m"));
}

#[test]
fn an_operation_that_was_left_out_is_taken_up_by_working_on_it_and_by_nothing_else() {
    let skip = |operation: &str| {
        CommandAction::Skip(SkipCommand { operation: operation.into(), reason: "done elsewhere".into() })
    };
    let mut shop = Shop::begun(SMALL, None, wrench());
    shop.give(skip("prepare")).unwrap();
    shop.give(CommandAction::Confirm(ConfirmCommand { operation: "prepare".into(), item: "threads".into() }))
        .unwrap();
    let view = shop.operation("prepare");
    assert_eq!((view.skipped, view.signed_by), (None, None), "an item of it was confirmed");
    // What is measured elsewhere does not take it up.
    let mut shop = Shop::begun(PLAN, None, gauge());
    shop.give(skip("tops")).unwrap();
    shop.read("cylinder-1", 0, "86").unwrap();
    assert_eq!(shop.operation("tops").skipped.as_deref(), Some("done elsewhere"));
    shop.read("deck-1", 0, "0.3").unwrap();
    assert_eq!(shop.operation("tops").skipped, None);
}

#[test]
fn a_count_accepted_as_it_differs_is_open_again_when_what_was_counted_out_changes() {
    let count = |operation: &str, count| {
        CommandAction::Count(CountCommand { operation: operation.into(), hardware: "washer".into(), count })
    };
    let mut shop = Shop::measuring(None);
    shop.give(count("count-out", 14)).unwrap();
    shop.give(count("count-back", 3)).unwrap();
    shop.accept("one was in the tray before");
    assert_eq!(shop.state.issues(), []);
    shop.give(count("count-out", 15)).unwrap();
    assert_eq!(shop.state.issues(), [], "three are left over of fifteen");
    shop.give(count("count-out", 13)).unwrap();
    assert!(shop.state.issues()[0].text.contains("2 left over"), "{:?}", shop.state.issues());
}

#[test]
fn subjects_that_the_first_edition_wrote_as_text_are_made_out() {
    let mut shop = Shop::measuring(None);
    shop.instrument.length_mm = Some([0.0, 25.0]);
    shop.read("journal-1", 0, "54.990").unwrap();
    let seq = shop.state.issues()[0].seq;
    for (text, left) in [("instrument/other", 1), ("oil/1", 1), ("nonsense", 1), ("instrument/g", 0)] {
        let text = format!(r#"{{"type":"accepted","seq":{seq},"subject":"{text}","reason":"seen"}}"#);
        let fact: Fact = serde_json::from_str(&text).expect("it keeps reading");
        assert_eq!(serde_json::to_string(&fact).unwrap(), text, "and is written as it was");
        shop.record(fact, OffsetDateTime::UNIX_EPOCH, Uuid::nil());
        assert_eq!(shop.state.issues().len(), left, "{text}");
    }
}
