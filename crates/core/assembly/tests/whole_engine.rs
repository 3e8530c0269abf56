//! The plans that ship with Rigore, built from the first part taken in to the last signature.

mod builder;

use builder::{Builder, OSTRA, TARN, build};
use rigore_assembly::sheet::BuildSheet;
use rigore_assembly::{
    BuildStatus, CommandAction, FitCommand, MeasureCommand, PartNote, Role, SheetWork, ShellChoiceCommand,
    SignCommand,
};
use rigore_mechanics::clearance::Decision;

#[test]
fn a_tarn_5_is_built_to_its_last_signature_for_every_use() {
    for use_for in [None, Some("street"), Some("endurance"), Some("boost")] {
        let builder = build(TARN, use_for);
        assert_eq!(builder.state.view().status, BuildStatus::Finished, "{use_for:?}");
        assert_eq!(builder.state.issues(), []);
        for view in builder.state.clearances(None) {
            assert_eq!(
                view.decision,
                Some(Decision::Inside),
                "{use_for:?} {} {}: {view:?}",
                view.id,
                view.number
            );
            let (span, window) = (view.span.expect("a span"), view.window.expect("a window"));
            assert!(
                (span[1] - window.target).abs() < 1e-5,
                "{} {}: {span:?} {window:?}",
                view.id,
                view.number
            );
        }
        // 24 readings of journals, 12 of housings, 12 of strips, and 6 pairs of shells.
        assert_eq!(builder.counts["mains-measure"], 54);
        assert_eq!(builder.counts["main-caps-tighten"], 26);
        assert_eq!(builder.counts["take-in"], 26);
    }
}

#[test]
fn an_ostra_11_is_built_to_its_last_signature() {
    let builder = build(OSTRA, Some("vintage"));
    assert_eq!(builder.state.view().status, BuildStatus::Finished);
    assert!(builder.state.clearances(None).iter().all(|view| view.decision == Some(Decision::Inside)));
}

#[test]
fn the_sheet_of_a_whole_engine_leaves_nothing_open() {
    let builder = build(TARN, Some("boost"));
    let sheet = BuildSheet::of(&builder.state);
    assert!(sheet.issues.is_empty());
    assert_eq!(sheet.identity.as_deref(), Some("1"));
    let mut judged = 0;
    for section in &sheet.sections {
        let id = &section.id;
        assert!(section.signed_by.is_some() && section.lapsed.is_empty(), "{id}");
        match &section.work {
            SheetWork::Items { items } => assert!(items.iter().all(|item| item.seq.is_some()), "{id}"),
            SheetWork::Parts { parts } => assert!(parts.iter().all(|slot| slot.part.is_some()), "{id}"),
            SheetWork::Count { counts } => {
                assert!(counts.iter().all(|line| line.count.is_some() && line.difference.is_none()), "{id}");
            }
            SheetWork::Measure(measured) => {
                let fine = measured.readings.iter().all(|r| !r.superseded && r.fault.is_none());
                assert!(fine && measured.clearances.iter().all(|view| view.decision.is_some()), "{id}");
                judged += measured.clearances.len();
            }
            SheetWork::Tighten { joints } => {
                let rows = joints.iter().flat_map(|joint| &joint.rows);
                assert!(rows.into_iter().all(|row| row.pulls.iter().all(Option::is_some)), "{id}");
            }
            SheetWork::Turn { turns } => assert_eq!(turns.len(), 1, "{id}"),
            SheetWork::Sign => {}
        }
    }
    assert_eq!(judged, builder.state.clearances(None).len(), "every clearance stands on the sheet once");
}

#[test]
fn nothing_can_be_signed_before_what_it_waits_for() {
    let mut builder = Builder::begin(TARN, None);
    for at in builder.state.plan.line() {
        let operation = builder.state.plan[at].id.clone();
        let waits = !builder.state.open_needs(at).is_empty();
        let refused = builder.give(Role::Lead, &CommandAction::Sign(SignCommand::one(operation.clone())));
        assert!(refused.is_err(), "{operation} has nothing done in it");
        assert_eq!(waits, at.0 > 0, "{operation}");
    }
    for at in builder.state.plan.line() {
        assert_eq!(builder.state.open_needs(at), [], "each can be started in the order of the plan");
        builder.work(at);
    }
}

#[test]
fn a_part_changed_after_the_signature_opens_its_operation_again_and_holds_the_engine() {
    let mut builder = build(TARN, None);
    let another = PartNote { reference: "another".into(), ..PartNote::default() };
    let part = another.clone();
    let fit = CommandAction::Fit(FitCommand {
        operation: "take-in".into(),
        slot: "main-shells".into(),
        part,
        before: None,
    });
    builder.give(Role::Bench, &fit).expect("a fact is kept");
    let view = builder.state.view();
    assert_eq!(view.status, BuildStatus::InWork);
    assert!(view.operations[0].signed_by.is_none());
    let shells = view.parts.iter().find(|slot| slot.id == "main-shells").expect("the slot");
    assert_eq!(shells.before.len(), 1);
    // What was fitted is not what is entered now: those who fitted it sign again, too.
    let unsigned = view.operations.iter().filter(|of| of.signed_by.is_none()).map(|of| of.id.as_str());
    assert_eq!(unsigned.collect::<Vec<_>>(), ["take-in", "crank-in", "sign-off"]);
    for operation in ["take-in", "crank-in"] {
        builder.give(Role::Bench, &CommandAction::Sign(SignCommand::one(operation))).expect("signed again");
    }
    assert_eq!(builder.state.view().status, BuildStatus::InWork, "the lead signed something else");
    builder.give(Role::Lead, &CommandAction::Sign(SignCommand::one("sign-off"))).expect("signed off again");
    assert_eq!(builder.state.view().status, BuildStatus::Finished);
    // Other rod bolts than those that were measured and tightened.
    let fit = CommandAction::Fit(FitCommand {
        operation: "take-in".into(),
        slot: "rod-bolts".into(),
        part: another,
        before: None,
    });
    builder.give(Role::Bench, &fit).expect("a fact is kept");
    let view = builder.state.view();
    let unsigned = view.operations.iter().filter(|of| of.signed_by.is_none()).map(|of| of.id.as_str());
    let tightened = (1..=5).map(|rod| format!("rod-tighten-{rod}"));
    let mut expected = vec!["take-in".to_owned(), "rod-bolts-measure".to_owned(), "sign-off".to_owned()];
    expected.splice(2..2, tightened);
    assert_eq!(unsigned.collect::<Vec<_>>(), expected);
}

#[test]
fn one_bad_journal_is_found_named_and_mended_by_other_shells() {
    let mut builder = Builder::begin(TARN, Some("street"));
    for at in builder.state.plan.line().take(3) {
        builder.work(at);
    }
    let at = builder.at("mains-measure");
    let journal =
        builder.sizes[&builder.state.plan[builder.state.plan.site("main-journal-1").expect("a site")].family];
    // Journal 4 was ground 8 µm small; everything else is on target.
    while let Some(mut what) = builder.next(at) {
        if let CommandAction::Measure(MeasureCommand { site, text, .. }) = &mut what
            && site == "main-journal-4"
        {
            *text = format!("{:.6}", journal - 0.008);
        }
        builder.give(Role::Bench, &what).expect("recorded");
    }
    let oil = |builder: &Builder, number: usize| {
        builder
            .state
            .clearances(None)
            .into_iter()
            .find(|v| v.id == "main-oil" && v.number == number)
            .expect("it")
    };
    let found = oil(&builder, 4);
    assert_eq!(found.decision, Some(Decision::Inside));
    assert!(
        (found.span.expect("a span")[1] - 0.050).abs() < 1e-6,
        "the same shells for all where that will do"
    );
    // The builder wants it on target: one grade thicker on both sides takes the 8 µm back.
    let (operation, clearance) = ("mains-measure".to_owned(), "main-oil".to_owned());
    let (upper, lower) = ("C".to_owned(), "C".to_owned());
    builder
        .give(
            Role::Bench,
            &CommandAction::ChooseShells(ShellChoiceCommand {
                operation,
                clearance,
                number: 4,
                upper,
                lower,
            }),
        )
        .expect("chosen");
    assert!((oil(&builder, 4).span.expect("a span")[1] - 0.042).abs() < 1e-6);
    assert!((oil(&builder, 3).span.expect("a span")[1] - 0.042).abs() < 1e-6);
}
