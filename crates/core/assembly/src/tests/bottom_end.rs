//! Parts, hardware, turning and leaving out.

use super::*;

fn note(reference: &str) -> PartNote {
    PartNote { reference: reference.into(), ..PartNote::default() }
}

fn fit(slot: &str, part: PartNote) -> CommandAction {
    CommandAction::Fit(FitCommand { operation: "take-in".into(), slot: slot.into(), part, before: None })
}

fn count(operation: &str, hardware: &str, count: u32) -> CommandAction {
    CommandAction::Count(CountCommand { operation: operation.into(), hardware: hardware.into(), count })
}

fn counts(shop: &Shop, operation: &str) -> Vec<CountView> {
    let BenchWork::Count { counts } = shop.bench(operation).work else { panic!("a count") };
    counts
}

fn turn(operation: &str, free: bool, text: &str) -> CommandAction {
    CommandAction::Turn(TurnCommand {
        operation: operation.into(),
        free,
        text: Some(text.into()),
        unit: None,
    })
}

#[test]
fn parts_go_into_their_slots_one_after_the_other_and_keep_their_place() {
    let mut shop = Shop::measuring(None);
    for (step, slot) in [("Log Block", "block"), ("Log Rod 1", "rod-1"), ("Log Rod 2", "rod-2")] {
        assert_eq!(shop.step("take-in"), step);
        shop.give(fit(slot, note("N-1"))).unwrap();
    }
    shop.give(fit("rod-2", PartNote { serial: " 0 22 ".into(), ..note("N-2") })).unwrap();
    let slots = shop.state.slots(None);
    assert_eq!(slots[2].part.as_ref().map(|part| part.serial.as_str()), Some("0 22"));
    assert_eq!(slots[2].before, [note("N-1")]);
    shop.give(CommandAction::Void(VoidCommand { seq: slots[2].seq.unwrap(), reason: "wrong rod".into() }))
        .unwrap();
    assert_eq!(shop.state.slots(None)[2].part, Some(note("N-1")));
    shop.sign("take-in").unwrap();
}

#[test]
fn a_part_says_what_it_is_and_one_used_up_needs_a_lead() {
    let mut shop = Shop::measuring(None);
    for (part, field) in [
        (note(" "), "reference"),
        (PartNote { uses: 2, ..note("x") }, "condition"),
        (PartNote { machining: "m".repeat(201), ..note("x") }, "machining"),
    ] {
        assert_eq!(shop.give(fit("block", part)).unwrap_err().field, Some(field));
    }
    assert_eq!(shop.give(fit("head", note("x"))).unwrap_err().field, Some("slot"));
    shop.give(fit("rod-1", PartNote { uses: 3, condition: PartCondition::Used, ..note("x") })).unwrap();
    let issue = shop.state.issues().remove(0);
    assert_eq!(issue.text, "Rod 1: used 3 times, max 3");
    shop.give(CommandAction::Accept(ApproveCommand {
        seq: issue.seq,
        subject: None,
        reason: "cracktested".into(),
    }))
    .unwrap();
    assert!(shop.state.issues().is_empty());
}

#[test]
fn hardware_counted_out_comes_out_at_zero() {
    let mut shop = Shop::measuring(None);
    let back = counts(&shop, "count-back").remove(0);
    assert_eq!((back.back, back.out, back.expected), (true, None, 0), "nothing was counted out yet");
    shop.give(count("count-out", "washer", 14)).unwrap();
    shop.give(count("count-out", "dowel", 1)).unwrap();
    assert_eq!(shop.state.issues()[0].text, "Dowels: 1 of 2 there, 1 missing");
    assert!(shop.sign("count-out").is_err());
    shop.give(count("count-out", "dowel", 2)).unwrap();
    shop.sign("count-out").unwrap();
    assert_eq!(shop.step("count-back"), "Count Washers back");
    shop.give(count("count-back", "washer", 3)).unwrap();
    shop.give(count("count-back", "dowel", 0)).unwrap();
    assert_eq!(shop.state.issues()[0].text, "Washers: 1 left over, so 1 missing in the engine");
    shop.give(count("count-back", "washer", 1)).unwrap();
    assert!(shop.state.issues()[0].text.contains("1 missing, lost or left"));
    shop.give(count("count-back", "washer", 2)).unwrap();
    shop.sign("count-back").unwrap();
    assert_eq!(shop.give(count("count-back", "shim", 0)).unwrap_err().field, Some("hardware"));
}

#[test]
fn a_crankshaft_that_binds_holds_the_signature() {
    let mut shop = Shop::measuring(None);
    shop.give(turn("turn", false, "4")).unwrap();
    assert!(shop.state.issues()[0].to_do.contains("Loosen the caps in reverse order"));
    assert!(shop.sign("turn").is_err());
    shop.give(turn("turn", true, "35 lbf·in")).unwrap();
    shop.sign("turn").unwrap();
    assert_eq!(shop.give(turn("turn", true, "much")).unwrap_err().field, Some("text"));
}

#[test]
fn a_jump_in_turning_torque_names_what_was_fitted_last() {
    let mut shop = Shop::measuring(None);
    shop.give(turn("turn", true, "4.0")).unwrap();
    shop.give(turn("turn-again", true, "6.5")).unwrap();
    let issue = shop.state.issues().remove(0);
    assert_eq!(issue.text, "Turning torque rose by 2.5 N·m, max 2.0 N·m");
    assert!(issue.to_do.contains("rod 1"));
    let (seq, subject) = (issue.seq, issue.subject);
    shop.give(CommandAction::Accept(ApproveCommand { seq, subject, reason: "new seal".into() })).unwrap();
    assert!(shop.state.issues().is_empty());
    shop.give(turn("turn", true, "7")).unwrap();
    assert!(shop.state.issues()[0].text.contains("7.0 N·m, max 6.0 N·m"));
}

#[test]
fn what_the_bench_leaves_out_a_lead_has_to_stand_for() {
    let mut shop = Shop::measuring(None);
    let skip = |operation: &str| {
        CommandAction::Skip(SkipCommand { operation: operation.into(), reason: "done on the stand".into() })
    };
    shop.role = Role::Bench;
    shop.give(skip("turn")).unwrap();
    assert_eq!(shop.operation("turn").skipped.as_deref(), Some("done on the stand"));
    let issue = shop.state.issues().remove(0);
    assert!(issue.text.contains("was skipped: done on the stand"));
    shop.role = Role::Lead;
    let (seq, subject) = (issue.seq, issue.subject);
    shop.give(CommandAction::Accept(ApproveCommand { seq, subject, reason: "seen on the stand".into() }))
        .unwrap();
    assert!(shop.state.issues().is_empty());
    shop.give(CommandAction::Void(VoidCommand { seq, reason: "turned after all".into() })).unwrap();
    assert!(shop.operation("turn").skipped.is_none());
    shop.give(skip("turn")).unwrap();
    assert!(shop.state.issues().is_empty(), "a lead who leaves it out stands for it");
    assert!(shop.give(skip("sign")).is_err());
}

#[test]
fn the_sheet_holds_parts_counts_sizes_and_who_recorded_them() {
    let mut shop = Shop::measuring(None);
    shop.give(fit("block", note("B-1"))).unwrap();
    shop.give(count("count-out", "washer", 12)).unwrap();
    shop.role = Role::Bench;
    shop.read("cylinder-1", 0, "86.001").unwrap();
    let sheet = crate::sheet::BuildSheet::of(&shop.state);
    let section = |id: &str| sheet.sections.iter().find(|section| section.id == id).unwrap();
    let SheetWork::Parts { parts } = &section("take-in").work else { panic!("parts") };
    assert_eq!(parts[0].part, Some(note("B-1")));
    let SheetWork::Count { counts } = &section("count-out").work else { panic!("counts") };
    assert_eq!(counts[0].count, Some(12));
    let SheetWork::Measure(measured) = &section("cylinders").work else { panic!("readings") };
    assert_eq!(measured.readings.len(), 1);
    assert_eq!(sheet.people.len(), 2);
}

#[test]
fn parts_of_another_size_or_place_raise_a_question_and_what_agrees_does_not() {
    let sizes = "[[size]]\nid = \"mains\"\nname = \"Main bearing size\"\nchoices = [\"standard\", \"0.25 mm under\"]\n\n";
    let text = measuring::PLAN
        .replacen("[[slot]]", &format!("{sizes}[[slot]]"), 1)
        .replacen("id = \"block\"", "sizes = [\"mains\"]\nid = \"block\"", 1)
        .replacen("id = \"rod\"", "sizes = [\"mains\"]\nnumbered = true\nreturns = true\nid = \"rod\"", 1);
    let mut shop = Shop::begun(&text, None, gauge());
    let sized = |said: &str| PartNote { sizes: [("mains".to_owned(), said.to_owned())].into(), ..note("N") };
    let issues = |shop: &Shop| -> Vec<String> {
        let at = shop.state.plan.operation("take-in").unwrap();
        shop.state.issues_of(at).into_iter().map(|issue| issue.text.in_base_units()).collect()
    };
    shop.give(fit("block", sized("standard"))).unwrap();
    shop.give(fit("rod-1", PartNote { stamp: "# 01".into(), ..sized("standard") })).unwrap();
    shop.give(fit("rod-2", note("N"))).unwrap();
    assert_eq!(issues(&shop), <[&str; 0]>::default());
    // A size of its own and the number of another place: told at what was logged last.
    shop.give(fit("rod-2", PartNote { stamp: "8".into(), ..sized("0.25 mm under") })).unwrap();
    let told = "Rod 2: stamped 8, which belongs in another place; \
        Main bearing size 0.25 mm under, but Block is standard";
    assert_eq!(issues(&shop), [told]);
    // What was in another place before goes back there; a new one has been nowhere.
    let part = PartNote { serial: "R 1".into(), stamp: "2".into(), ..sized("standard") };
    let before = EarlierUse { slot: "rod-1".into(), place: "Rod 1".into(), ..EarlierUse::default() };
    let fitted = FitCommand { operation: "take-in".into(), slot: "rod-2".into(), part, before: Some(before) };
    shop.record(Fact::Fitted(fitted), OffsetDateTime::UNIX_EPOCH, Uuid::nil());
    assert_eq!(issues(&shop), ["Rod 2: it was Rod 1 before and goes back there"]);
    // What the plan does not know is refused by its field.
    for (slot, part) in [
        ("rod-1", sized("huge")),
        ("rod-1", PartNote { sizes: [("x".into(), "y".into())].into(), ..note("N") }),
    ] {
        assert_eq!(shop.give(fit(slot, part)).unwrap_err().field, Some("sizes"));
    }
}
