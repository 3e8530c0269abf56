//! The instrument fits the job (C-7), or it is said why not.

use super::*;
use rigore_mechanics::message::Message;
use rigore_mechanics::tightening::Verdict;

/// The tools of a shop with the fault each has for the journals of the measuring plan.
fn faults(tools: &[Instrument], day: time::Date) -> Vec<(String, bool, Option<Message>)> {
    let shop = Shop::measuring(None);
    let using = InstrumentUser::somebody(day.midnight().assume_utc());
    let tools = ShopTools { instruments: tools, settings: &std::collections::BTreeMap::new(), using };
    let BenchWork::Measure(bench) = shop.state.bench(shop.at("measure"), tools).work else {
        panic!("a measuring bench")
    };
    let journals = bench.tools.iter().find(|family| family.family == "journal").expect("journals");
    let offered = journals.tools.iter().filter(|tool| tool.suits);
    offered.map(|tool| (tool.id.clone(), tool.made_for, tool.fault.clone())).collect()
}

fn tool(id: &str, length_mm: Option<[f64; 2]>) -> Instrument {
    Instrument { id: id.into(), name: id.into(), length_mm, ..Instrument::default() }
}

const DAY: time::Date = time::macros::date!(2027 - 03 - 01);

#[test]
fn what_measures_something_else_is_not_offered_and_what_is_made_for_it_is_marked() {
    use rigore_plan::SiteForm;
    let outside = Instrument { made_for: vec![SiteForm::Journal], ..tool("outside", Some([50.0, 75.0])) };
    let inside = Instrument { made_for: vec![SiteForm::Bore], ..tool("inside", Some([50.0, 75.0])) };
    let burette = Instrument { volume_cc: Some([0.0, 100.0]), ..tool("burette", None) };
    let found = faults(&[outside, inside, burette, wrench()], DAY);
    assert_eq!(found, [("outside".into(), true, None), ("inside".into(), false, None)]);
}

#[test]
fn range_and_calibration_are_looked_at_before_a_reading() {
    for (range, due, says) in [
        ([50.0, 75.0], None, None),
        ([55.05, 75.0], None, None),
        ([0.0, 54.95], None, None),
        ([55.2, 75.0], None, Some("outside the range of g, 55.2 to 75 mm")),
        ([0.0, 25.0], None, Some("outside the range of g, 0 to 25 mm")),
        ([50.0, 75.0], Some(DAY), None),
        ([50.0, 75.0], DAY.previous_day(), Some("g is out of calibration")),
    ] {
        let gauge = Instrument { calibration_due: due, ..tool("g", Some(range)) };
        let found = faults(std::slice::from_ref(&gauge), DAY);
        assert_eq!(found[0].2.as_ref().map(Message::in_base_units).as_deref(), says, "{range:?} {due:?}");
    }
}

#[test]
fn a_relative_reading_asks_nothing_of_the_range_and_the_day_it_was_taken_counts() {
    let mut shop = Shop::measuring(None);
    shop.instrument = tool("dial", Some([-1.0, 1.0]));
    shop.read("journal-1", 0, "-0.011 on 55").unwrap();
    let fault = |shop: &Shop, at: usize| shop.readings("measure")[at].fault.clone();
    assert_eq!(fault(&shop, 0), None);
    shop.read("journal-1", 1, "54.989").unwrap();
    assert!(fault(&shop, 1).is_some_and(|fault| fault.contains("-1 to 1 mm")));
    // Measuring it again with what fits settles it without anybody's word.
    shop.instrument = gauge();
    shop.read("journal-1", 1, "54.989").unwrap();
    assert_eq!(shop.state.issues(), []);
    // The commands are given on the first day of 1970.
    shop.instrument = Instrument { calibration_due: Some(time::macros::date!(1970 - 01 - 01)), ..gauge() };
    shop.read("journal-2", 0, "54.989").unwrap();
    assert_eq!(fault(&shop, 3), None, "on the last day it still holds");
}

#[test]
fn a_wrench_that_does_not_fit_the_stage_in_hand_is_said_at_the_bench() {
    const SMALL: &str = include_str!("../../../plan/tests/small-plan.toml");
    let shop = Shop::begun(SMALL, None, wrench());
    let light = Instrument { torque_nm: Some([2.0, 20.0]), angle: false, ..tool("light", None) };
    let dial = Instrument { angle: true, ..tool("dial", None) };
    let tools = ShopTools {
        instruments: &[light, dial, wrench()],
        settings: &std::collections::BTreeMap::new(),
        using: InstrumentUser::somebody(OffsetDateTime::UNIX_EPOCH),
    };
    let bench = shop.state.bench(shop.at("tighten"), tools);
    let BenchWork::Tighten(bench) = bench.work else { panic!("a tightening bench") };
    let offered = bench.tools[0].tools.iter().filter(|tool| tool.suits);
    let found: Vec<_> =
        offered.map(|tool| (tool.id.as_str(), tool.fault.as_ref().map(Message::in_base_units))).collect();
    let light = Some("30.0 N·m is outside the range of light, 2 to 20 N·m".to_owned());
    assert_eq!(found, [("w", None), ("light", light)]);
}

/// A click wrench, and somebody who says what it is set to or that it clicked.
fn at_the_click() -> Shop {
    let mut shop = Shop::at_the_bolts();
    shop.instrument = Instrument { clicks: true, angle: false, ..wrench() };
    shop
}

fn set(text: &str, unit: Option<&str>) -> CommandAction {
    let (operation, instrument) = ("tighten".into(), "w".into());
    CommandAction::SetWrench(WrenchSettingCommand {
        operation,
        instrument,
        text: text.into(),
        unit: unit.map(Into::into),
    })
}

fn click(stage: usize, fastener: &str, set_to: &str) -> CommandAction {
    let CommandAction::Pull(heard) = pull(stage, fastener, set_to) else { unreachable!("a pull") };
    CommandAction::Pull(PullCommand { method: ReadingMethod::Clicked, ..heard })
}

#[test]
fn a_click_counts_as_what_the_wrench_is_set_to_and_is_told_apart_from_a_reading() {
    let mut shop = at_the_click();
    let tool = |shop: &Shop| match shop.bench("tighten").work {
        BenchWork::Tighten(work) => work.tools[0].tools[0].click.expect("it clicks"),
        other => panic!("{other:?}"),
    };
    assert_eq!(tool(&shop), ClickFit { set_to_nm: None, is_set: false });
    assert_eq!(shop.give(click(0, "2L", "30")).unwrap_err().field, Some("instrument"), "nobody set it");
    shop.give(set("22.13 lbf·ft", None)).unwrap();
    assert!(tool(&shop).is_set, "{:?}", tool(&shop));
    shop.give(click(0, "2L", "30")).unwrap();
    let heard = shop.last_pull();
    assert_eq!((heard.method, heard.verdict, heard.entered), (ReadingMethod::Clicked, Verdict::Good, None));
    assert!((heard.value - 30.004).abs() < 0.001, "{}", heard.value);
    // Set to another torque it is not ready, and a click is one at that torque.
    shop.give(set("44", None)).unwrap();
    assert_eq!(tool(&shop), ClickFit { set_to_nm: Some(44.0), is_set: false });
    let elsewhere = shop.give(click(0, "2R", "30")).unwrap_err();
    assert_eq!(elsewhere.kind, RefusalKind::Stale, "{elsewhere}");
    shop.give(click(0, "2R", "44")).unwrap();
    assert_eq!(shop.last_pull().verdict, Verdict::Over);
    // A click says nothing of an angle, and a setting has to be one.
    assert_eq!(shop.give(click(2, "2L", "40")).unwrap_err().field, Some("reading"));
    for text in ["0", "-3", "30 mm", "", "1e9"] {
        assert_eq!(shop.give(set(text, None)).unwrap_err().field, Some("text"), "{text}");
    }
    assert_eq!(shop.give(set("30", Some("mm"))).unwrap_err().field, Some("unit"));
    shop.instrument = wrench();
    assert_eq!(shop.give(set("30", None)).unwrap_err().field, Some("instrument"), "it shows a figure");
    assert_eq!(shop.give(click(0, "2L", "30")).unwrap_err().field, Some("instrument"));
}

#[test]
fn what_was_read_with_an_instrument_that_is_found_wrong_is_an_issue_until_it_is_read_again() {
    let mut shop = super::between::shop();
    shop.all("take-in");
    shop.sign("take-in").unwrap();
    shop.all("rod-measure-1");
    let until = shop.state.touched;
    let doubt = |since| {
        let reason = "7 % low at 40 N·m".into();
        CommandAction::Doubt(DoubtCommand {
            instrument: "w".into(),
            name: "Wrench".into(),
            since,
            until,
            reason,
        })
    };
    shop.role = Role::Bench;
    assert_eq!(shop.give(doubt(None)).unwrap_err().kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    assert_eq!(shop.give(doubt(Some(until))).unwrap_err().field, Some("since"));
    shop.give(doubt(None)).unwrap();
    let doubted = shop.state.seq;
    let issues = |shop: &Shop| -> Vec<String> {
        let of_it = shop.state.issues().into_iter();
        of_it.filter(|issue| issue.text.contains("found wrong")).map(|issue| issue.operation).collect()
    };
    assert_eq!(issues(&shop), ["rod-measure-1"]);
    assert_eq!(shop.operation("rod-measure-1").status, OperationStatus::Held);
    // Read again since, it stands no more.
    let again = shop.events.iter().rev().find_map(|event| match &event.fact {
        Fact::Measured(measured) => Some(Fact::Measured(measured.clone())),
        _ => None,
    });
    let (at, id) = (until + time::Duration::hours(1), Uuid::from_u128(99));
    shop.record(again.expect("it was measured"), at, id);
    assert_eq!(issues(&shop), Vec::<String>::new());
    shop.void(shop.state.seq, "read from another engine").unwrap();
    assert_eq!(issues(&shop), ["rod-measure-1"]);
    // The check itself may have been wrong; or a lead stands for what was read.
    shop.void(doubted, "the tester was wrong").unwrap();
    assert_eq!(issues(&shop), Vec::<String>::new());
    shop.give(doubt(None)).unwrap();
    let issue = shop.state.issues().into_iter().find(|issue| issue.text.contains("found wrong")).unwrap();
    let accept =
        ApproveCommand { seq: issue.seq, subject: issue.subject, reason: "within what matters here".into() };
    shop.give(CommandAction::Accept(accept)).unwrap();
    assert_eq!(issues(&shop), Vec::<String>::new());
}

#[test]
fn a_wrench_that_was_found_wrong_does_not_fit_any_job() {
    let mut shop = super::between::shop();
    shop.all("take-in");
    shop.sign("take-in").unwrap();
    shop.instrument.found_wrong = true;
    shop.all("rod-measure-1");
    let whats = shop.whats();
    assert!(whats.iter().any(|what| what.contains("failed its last check")), "{whats:?}");
}

#[test]
fn what_is_read_with_an_instrument_that_is_away_or_kept_for_others_is_recorded_and_an_issue() {
    let mended = |change: fn(&mut Instrument)| -> String {
        let mut shop = super::between::shop();
        shop.all("take-in");
        shop.sign("take-in").unwrap();
        change(&mut shop.instrument);
        shop.all("rod-measure-1");
        shop.whats().join("; ")
    };
    assert_eq!(mended(|of| of.users = vec!["Lead".into(), "Bench".into()]), "");
    assert!(mended(|of| of.users = vec!["somebody".into()]).contains("is reserved for others"));
    assert!(
        mended(|of| of.away = Some(InstrumentAbsence { place: "lent next door".into(), until: None }))
            .contains("is away, lent next door")
    );
}
