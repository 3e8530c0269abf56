//! Facts are kept, decisions are judged, and the place in the sequence is always known.

use super::*;
use proptest::prelude::*;
use rigore_mechanics::tightening::Verdict;
use rigore_plan::{Correction, StageTarget};

const SMALL: &str = include_str!("../../../plan/tests/small-plan.toml");
const ORDER: [&str; 6] = ["2L", "2R", "1L", "3R", "1R", "3L"];

impl Shop {
    fn small() -> Self {
        Self::begun(SMALL, None, wrench())
    }

    /// At the bolts: everything before them is signed.
    pub(super) fn at_the_bolts() -> Self {
        let mut shop = Self::small();
        for item in ["threads", "holes"] {
            shop.give(CommandAction::Confirm(ConfirmCommand {
                operation: "prepare".into(),
                item: item.into(),
            }))
            .unwrap();
        }
        shop.sign("prepare").unwrap();
        shop
    }

    fn pull(&mut self, stage: usize, fastener: &str, text: &str) -> Result<Vec<Fact>, Refusal> {
        self.give(pull(stage, fastener, text))
    }

    /// A pull that somebody was asked about and meant.
    fn sure(&mut self, stage: usize, fastener: &str, text: &str) {
        let CommandAction::Pull(typed) = pull(stage, fastener, text) else { unreachable!("a pull") };
        self.give(CommandAction::Pull(PullCommand { sure: true, ..typed })).unwrap();
    }

    /// The whole joint, as it should be.
    fn tighten(&mut self) {
        for fastener in ORDER {
            self.pull(0, fastener, "30").unwrap();
        }
        self.give(CommandAction::Act(ActionCommand {
            operation: "tighten".into(),
            stage: 1,
            ..ActionCommand::default()
        }))
        .unwrap();
        for fastener in ORDER {
            self.pull(2, fastener, "40").unwrap();
        }
    }

    fn next(&self) -> (usize, String) {
        match self.state.step(self.at("tighten")) {
            BenchStep::Pull(step) => (step.stage, step.fastener),
            BenchStep::Act(step) => (step.stage, "act".into()),
            other => (9, format!("{other:?}")),
        }
    }
}

fn loosen(fastener: &str, replaced: bool) -> CommandAction {
    CommandAction::Loosen(LoosenCommand {
        operation: "tighten".into(),
        fastener: fastener.into(),
        replaced,
        reason: "over-pulled".into(),
        ..LoosenCommand::default()
    })
}

#[test]
fn a_joint_is_tightened_in_order_and_signed_off() {
    let mut shop = Shop::at_the_bolts();
    assert_eq!(shop.next(), (0, "2L".into()));
    shop.tighten();
    assert_eq!(shop.state.step(shop.at("tighten")), BenchStep::Sign);
    assert!(shop.state.pulls(shop.at("tighten")).iter().all(|p| p.remarks.is_empty()));
    shop.sign("tighten").unwrap();
    shop.sign("sign").unwrap();
    assert_eq!(shop.state.view().status, BuildStatus::Finished);
}

#[test]
fn decisions_wait_for_what_they_need() {
    let mut shop = Shop::small();
    let refused =
        shop.give(CommandAction::Start(OperationStart { operation: "tighten".into() })).unwrap_err();
    assert_eq!(
        (refused.kind, &refused.message.in_base_units()[..]),
        (RefusalKind::NotYet, "Tighten the caps waits for Prepare the caps")
    );
    assert!(shop.sign("prepare").unwrap_err().message.starts_with("0 of 2 done"));
    let mut shop = Shop::at_the_bolts();
    shop.pull(0, "2L", "30").unwrap();
    assert!(shop.sign("tighten").unwrap_err().message.contains("1 of 13 done. Next: Pull 2, Inner 2R"));
    assert_eq!(shop.sign("sign").unwrap_err().kind, RefusalKind::NotYet);
}

#[test]
fn an_over_pulled_bolt_is_recorded_and_holds_the_signature_until_it_is_loosened() {
    let mut shop = Shop::at_the_bolts();
    shop.pull(0, "2L", "44").unwrap();
    assert_eq!(shop.last_pull().verdict, Verdict::Over);
    shop.pull(0, "2L", "30").unwrap();
    let issues = shop.state.issues();
    assert_eq!(issues.len(), 1, "pulling it again does not undo it: {issues:?}");
    assert!(issues[0].text.contains("44.0 N·m") && issues[0].to_do.contains("Loosen 2L"));
    for fastener in &ORDER[1..] {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(loosen("2L", false)).unwrap();
    assert!(shop.state.issues().is_empty());
    assert_eq!(shop.next(), (0, "2L".into()), "its stages start again");
}

#[test]
fn a_bolt_past_yield_has_to_be_replaced() {
    let mut shop = Shop::at_the_bolts();
    shop.sure(0, "2L", "140 N·m");
    assert!(shop.state.issues()[0].to_do.contains("new fastener"));
    shop.give(loosen("2L", false)).unwrap();
    assert!(shop.state.issues()[0].text.contains("old fastener is still in"));
    shop.give(loosen("2L", true)).unwrap();
    assert!(shop.state.issues().is_empty());
}

#[test]
fn a_pull_out_of_order_is_kept_and_a_lead_stands_for_it() {
    let mut shop = Shop::at_the_bolts();
    shop.pull(0, "1L", "30").unwrap();
    assert_eq!(shop.last_pull().remarks, ["out of sequence: 2L was next"]);
    assert_eq!(shop.next(), (0, "2L".into()));
    let seq = shop.last_pull().seq;
    shop.role = Role::Bench;
    let accept =
        CommandAction::Accept(ApproveCommand { seq, subject: None, reason: "caps are doweled".into() });
    assert_eq!(shop.give(accept.clone()).unwrap_err().kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    shop.give(accept).unwrap();
    assert!(shop.state.issues().is_empty());
}

#[test]
fn a_stage_too_early_and_work_before_its_requirements_are_marked() {
    let mut shop = Shop::at_the_bolts();
    shop.pull(2, "2L", "40").unwrap();
    assert_eq!(shop.last_pull().remarks, ["too early: Pull 1, Inner 2L, to 30 N·m comes first"]);
    let mut shop = Shop::small();
    shop.pull(0, "2L", "30").unwrap();
    assert_eq!(shop.last_pull().remarks, ["before the operation was started"]);
}

#[test]
fn swings_of_an_angle_add_up_and_a_second_angle_is_over() {
    let mut shop = Shop::at_the_bolts();
    for fastener in ORDER {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    shop.pull(2, "2L", "15").unwrap();
    assert_eq!(shop.state.step(shop.at("tighten")).line(), "Pull 1, Inner 2L, on by 25°");
    // The whole angle once more, as a swing, is asked about.
    let asked = shop.pull(2, "2L", "75").unwrap_err();
    assert_eq!(
        asked.message,
        "75° is unlikely where 25° is asked for. Press Enter again to record it anyway."
    );
    shop.pull(2, "2L", "26°").unwrap();
    assert_eq!((shop.last_pull().value, shop.last_pull().verdict), (41.0, Verdict::Good));
    assert_eq!(shop.next(), (2, "2R".into()));
    let asked = shop.pull(2, "2L", "40").unwrap_err();
    assert_eq!(asked.kind, RefusalKind::Ask);
    assert!(asked.message.starts_with("2L has had Turn (41°), and it is done once"), "{asked}");
    shop.sure(2, "2L", "40");
    assert_eq!((shop.last_pull().value, shop.last_pull().verdict), (81.0, Verdict::Over));
    let seq = shop.last_pull().seq;
    shop.give(CommandAction::Void(VoidCommand { seq, reason: "typed for the wrong bolt".into() })).unwrap();
    assert!(shop.state.issues().is_empty());
    assert_eq!(shop.next(), (2, "2R".into()));
}

#[test]
fn a_void_takes_the_place_back_and_lets_a_signature_lapse() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    shop.sign("tighten").unwrap();
    let seq = shop.last_pull().seq;
    assert!(
        shop.give(CommandAction::Void(VoidCommand { seq, reason: " ".into() })).unwrap_err().field
            == Some("reason")
    );
    shop.give(CommandAction::Void(VoidCommand { seq, reason: "not pulled at all".into() })).unwrap();
    assert_eq!(shop.next(), (2, "3L".into()));
    assert!(!shop.signed("tighten"));
    assert_eq!(
        shop.give(CommandAction::Void(VoidCommand { seq, reason: "again".into() })).unwrap_err().kind,
        RefusalKind::Stale
    );
}

#[test]
fn a_snug_entered_after_its_angle_says_so() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    let pulls = shop.state.pulls(shop.at("tighten"));
    let snug = pulls.into_iter().find(|pull| pull.fastener == "2L" && pull.stage == 0);
    shop.give(CommandAction::Void(VoidCommand {
        seq: snug.unwrap().seq,
        reason: "a slip of the pen".into(),
    }))
    .unwrap();
    assert_eq!(shop.next(), (0, "2L".into()));
    shop.pull(0, "2L", "30").unwrap();
    assert_eq!(shop.last_pull().remarks, ["entered after Turn"]);
    assert!(shop.state.issues().is_empty());
    shop.sign("tighten").unwrap();
}

#[test]
fn a_pull_recorded_elsewhere_in_the_meantime_is_asked_about() {
    let mut shop = Shop::at_the_bolts();
    let seen = shop.state.seq;
    shop.pull(0, "2L", "30").unwrap();
    let stale = shop.give_seen(&pull(0, "2L", "30.2"), seen).unwrap_err();
    assert_eq!(stale.kind, RefusalKind::Stale);
    shop.give_seen(&pull(0, "2R", "30"), seen).expect("another bolt is another pull");
}

#[test]
fn bad_readings_name_the_field() {
    let mut shop = Shop::at_the_bolts();
    for (text, says) in
        [("80 mm", "unit of length"), ("", "empty"), ("-3", "above zero"), ("tight", "number")]
    {
        let refused = shop.pull(0, "2L", text).unwrap_err();
        assert_eq!((refused.kind, refused.field), (RefusalKind::Field, Some("reading")), "{text}");
        assert!(refused.message.contains(says), "{:?}", refused.message);
    }
    assert_eq!(shop.pull(1, "2L", "30").unwrap_err().field, Some("stage"));
    assert_eq!(shop.pull(0, "9X", "30").unwrap_err().field, Some("fastener"));
    shop.role = Role::Viewer;
    assert_eq!(shop.pull(0, "2L", "30").unwrap_err().kind, RefusalKind::NotAllowed);
}

#[test]
fn an_instrument_that_does_not_fit_is_a_deviation() {
    let mut shop = Shop::at_the_bolts();
    shop.instrument.torque_nm = Some([40.0, 200.0]);
    shop.pull(0, "2L", "30").unwrap();
    assert!(shop.state.issues()[0].text.contains("outside the range of Wrench 2"));
    shop.instrument = Instrument { calibration_due: Some(time::Date::MIN), ..wrench() };
    shop.pull(0, "2R", "30").unwrap();
    assert!(shop.state.issues()[1].text.contains("out of calibration"));
}

#[test]
fn paint_marks_stand_where_the_mark_is_on_the_bolt() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    let BenchWork::Tighten(bench) = shop.bench("tighten").work else { panic!("a tightening bench") };
    let clocks: Vec<_> = bench.joints[0].fasteners[0].strokes.iter().map(|s| s.clock.as_str()).collect();
    assert_eq!(clocks, ["12:00", "1:20"]);
}

#[test]
fn the_sheet_lists_every_fastener_with_both_stages_and_the_csv_every_pull() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    let sheet = crate::sheet::BuildSheet::of(&shop.state);
    let SheetWork::Tighten { joints } = &sheet.sections[1].work else { panic!("a joint") };
    let joint = &joints[0];
    assert_eq!(joint.rows.len(), 6);
    assert!(joint.rows.iter().all(|row| row.pulls.len() == 2 && row.pulls.iter().all(Option::is_some)));
    let csv = crate::sheet::BuildSheet::csv(&shop.state).unwrap();
    assert_eq!(csv.lines().count(), 13);
}

#[test]
fn events_survive_json() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    let texts: Vec<String> = shop.events.iter().map(|e| serde_json::to_string(e).unwrap()).collect();
    let back: Vec<Event> = texts.iter().map(|t| serde_json::from_str(t).unwrap()).collect();
    assert_eq!(back, shop.events);
}

/// The small plan with bolts that are replaced once they were turned on.
fn single_use() -> Shop {
    let mut shop = Shop::begun(
        &SMALL.replace("strength = \"10.9\"", "strength = \"10.9\"\nsingle_use = true"),
        None,
        wrench(),
    );
    for item in ["threads", "holes"] {
        shop.give(CommandAction::Confirm(ConfirmCommand { operation: "prepare".into(), item: item.into() }))
            .unwrap();
    }
    shop.sign("prepare").unwrap();
    for fastener in ORDER {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    shop
}

#[test]
fn a_single_use_bolt_that_was_never_turned_is_not_spent() {
    let mut shop = single_use();
    shop.pull(2, "1L", "40").unwrap();
    let typed_wrong = shop.state.seq;
    shop.give(loosen("1L", false)).unwrap();
    assert!(shop.state.issues()[0].text.contains("1L was loosened and the old fastener is still in"));
    shop.void(typed_wrong, "typed for the wrong bolt").unwrap();
    assert_eq!(shop.state.issues(), [], "without the angle there is nothing to replace");
    // And the other way round: what is voided can be the loosening.
    let mut shop = single_use();
    shop.pull(2, "2L", "40").unwrap();
    shop.give(loosen("2L", false)).unwrap();
    let loosened = shop.state.seq;
    assert_eq!(shop.next(), (0, "2L".into()));
    shop.void(loosened, "it was not").unwrap();
    assert_eq!((shop.state.issues(), shop.next()), (vec![], (2, "2R".into())));
}

#[test]
fn a_spent_bolt_put_back_is_owed_until_a_new_one_goes_in_however_often_it_is_loosened() {
    let mut shop = single_use();
    shop.pull(2, "2L", "40").unwrap();
    for replaced in [false, false] {
        shop.give(loosen("2L", replaced)).unwrap();
        assert_eq!(shop.state.issues().len(), 1);
    }
    shop.give(loosen("2L", true)).unwrap();
    assert_eq!(shop.state.issues(), []);
}

#[test]
fn an_action_before_any_pull_is_kept_and_remarked() {
    let mut shop = Shop::at_the_bolts();
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    let issue = shop.state.issues().remove(0);
    assert_eq!(issue.text, "Seat: too early: Pull 1, Inner 2L, to 30 N·m comes first");
    assert_eq!(issue.remedies, [Remedy::Accept, Remedy::Void]);
    shop.void(issue.seq, "not done yet").unwrap();
    assert_eq!(shop.state.issues(), []);
    for fastener in ORDER {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    assert_eq!(shop.state.issues(), [], "in its turn there is nothing to say");
    let mut before = Shop::small();
    before
        .give(CommandAction::Act(ActionCommand {
            operation: "tighten".into(),
            stage: 1,
            ..ActionCommand::default()
        }))
        .unwrap();
    assert!(before.state.issues()[0].text.contains("before the operation was started"));
    before.accept("the crank went in yesterday");
    assert_eq!(before.state.issues(), []);
    let sheet = crate::sheet::BuildSheet::of(&before.state);
    let SheetWork::Tighten { joints } = &sheet.sections[1].work else { panic!("a joint") };
    let joint = &joints[0];
    assert!(joint.actions[0].ends_with("approved: the crank went in yesterday"), "{:?}", joint.actions);
}

#[test]
fn no_tool_is_offered_for_what_is_done_by_hand() {
    let mut shop = Shop::at_the_bolts();
    for fastener in ORDER {
        shop.pull(0, fastener, "30").unwrap();
    }
    let BenchWork::Tighten(bench) = shop.bench("tighten").work else { panic!("a tightening bench") };
    assert_eq!((bench.tools.len(), bench.why), (0, None));
}

#[test]
fn a_figure_that_cannot_be_meant_says_what_is_the_most() {
    let mut shop = Shop::at_the_bolts();
    let refused = shop.pull(0, "2L", "30000").unwrap_err();
    assert_eq!(refused.field, Some("reading"));
    assert_eq!(refused.message, "30000.0 N·m is not possible: at most 20000.0 N·m in one pull");
    assert!(shop.pull(2, "2L", "4000").unwrap_err().message.contains("at most 3600° in one pull"));
}

#[test]
fn a_figure_far_from_what_is_asked_is_asked_about_once_and_kept_when_it_is_meant() {
    let mut shop = Shop::at_the_bolts();
    shop.instrument.torque_nm = Some([5.0, 400.0]);
    for (text, hint) in [
        ("300", "Possible slip: a decimal place. 30.0 N·m would fit."),
        ("3", "Possible slip: a decimal place. 30.0 N·m would fit."),
        ("22 lbf·in", "Possible slip: pound-feet for pound-inches."),
        ("265 lbf·ft", "Possible slip: pound-inches for pound-feet."),
        ("22.2", "Possible slip: pound-feet for newton-meters. 30.1 N·m would fit."),
        ("30 lbf·ft", "Possible slip: newton-meters for pound-feet. 30.0 N·m would fit."),
        ("140", "Press Enter again"),
    ] {
        let asked = shop.pull(0, "2L", text).unwrap_err();
        assert_eq!(asked.kind, RefusalKind::Ask, "{text}: {asked}");
        assert!(asked.message.contains(hint), "{text}: {asked}");
    }
    // What may well have happened is not asked about: a pull left off half way, one that went too far.
    for text in ["12", "44", "70"] {
        shop.pull(0, "2L", text).unwrap();
    }
    shop.sure(0, "2L", "140");
    assert_eq!(shop.last_pull().value, 140.0);
    for fastener in &ORDER[1..] {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    let asked = shop.pull(2, "2R", "400").unwrap_err();
    assert!(asked.message.contains("Possible slip: a decimal place. 40"), "{asked}");
    // Swings of an angle may be small, and a slip is held against what is left.
    shop.pull(2, "2R", "3").unwrap();
    let asked = shop.pull(2, "2R", "370").unwrap_err();
    assert!(asked.message.contains("where 37"), "{asked}");
}

#[test]
fn the_target_says_how_it_came_from_the_figure_of_the_plan() {
    let mut shop = Shop::at_the_bolts();
    for fastener in ORDER {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    shop.pull(2, "2L", "15").unwrap();
    let BenchStep::Pull(step) = shop.state.step(shop.at("tighten")) else { panic!("a pull") };
    let StageTarget { wanted, shown, so_far, because, .. } = step.target;
    assert_eq!((wanted, shown, so_far), (40.0, 25.0, 15.0));
    let planned = Correction::Planned { target: 40.0, low: 36.0, high: 44.0 };
    assert_eq!(because, [planned, Correction::Turned { so_far: 15.0 }]);
}

#[test]
fn stages_that_go_together_are_walked_one_bolt_to_its_end() {
    let text = SMALL.replace("name = \"Turn\"", "name = \"Turn\"\n  walk = \"each\"").replace(
        "  [[joint.stage]]\n  name = \"Seat\"\n  action = \"Strike the crank forward, then back.\"\n",
        "",
    );
    let mut shop = Shop::begun(&text, None, wrench());
    shop.give(CommandAction::Skip(SkipCommand { operation: "prepare".into(), reason: "done".into() }))
        .unwrap();
    for fastener in ORDER {
        assert_eq!(shop.next(), (0, fastener.into()));
        shop.pull(0, fastener, "30").unwrap();
        assert_eq!(shop.next(), (1, fastener.into()), "its angle comes before the next bolt");
        shop.pull(1, fastener, "40").unwrap();
    }
    assert_eq!(shop.state.issues(), []);
    assert_eq!(shop.step("tighten"), "Sign");
}

#[test]
fn each_round_of_a_joint_has_its_own_pulls() {
    let trial = "[[operation]]\nid = \"trial\"\nname = \"Torque the caps to measure\"\nkind = \"tighten\"\n\
                 joint = \"caps\"\npurpose = \"trial\"\n\n[[operation]]\nid = \"tighten\"";
    let mut shop = Shop::begun(&SMALL.replace("[[operation]]\nid = \"tighten\"", trial), None, wrench());
    let CommandAction::Pull(first) = pull(0, "2L", "30") else { panic!("a pull") };
    shop.give(CommandAction::Pull(PullCommand { operation: "trial".into(), ..first })).unwrap();
    let (done, _) = shop.state.progress(shop.at("trial"));
    assert_eq!((done, shop.state.progress(shop.at("tighten")).0), (1, 0));
    let sheet = crate::sheet::BuildSheet::of(&shop.state);
    let purposes = sheet.sections.iter().filter_map(|section| match &section.work {
        SheetWork::Tighten { joints } => Some(joints[0].purpose),
        _ => None,
    });
    assert_eq!(
        purposes.collect::<Vec<_>>(),
        [rigore_plan::RoundPurpose::Trial, rigore_plan::RoundPurpose::Final]
    );
}

/// What each fastener has in each stage, as the map and the procedure show it.
fn standing(shop: &Shop) -> (Vec<Vec<Stroke>>, Vec<usize>) {
    let BenchWork::Tighten(bench) = shop.bench("tighten").work else { panic!("a tightening bench") };
    let strokes = bench.joints[0].fasteners.iter().map(|fastener| fastener.strokes.clone()).collect();
    (strokes, bench.joints[0].stages.iter().map(|stage| stage.done).collect())
}

proptest! {
    #[test]
    fn a_voided_pull_leaves_what_there_would_be_without_it(
        pulls in prop::collection::vec((0usize..6, prop::bool::ANY, 5.0f64..45.0), 1..30),
        voided in 0usize..30,
    ) {
        let voided = voided % pulls.len();
        let (mut with, mut without) = (Shop::at_the_bolts(), Shop::at_the_bolts());
        let mut seq = 0;
        for (at, (fastener, angle, value)) in pulls.into_iter().enumerate() {
            let (stage, text) = (if angle { 2 } else { 0 }, format!("{value:.1}"));
            with.sure(stage, ORDER[fastener], &text);
            if at == voided {
                seq = with.state.seq;
            } else {
                without.sure(stage, ORDER[fastener], &text);
            }
        }
        with.void(seq, "typed for the wrong bolt").unwrap();
        prop_assert_eq!(standing(&with), standing(&without));
        prop_assert_eq!(with.next(), without.next());
    }
}
