//! Facts are kept, decisions are judged, and the place in the sequence is always known.

use super::*;
use crate::tightening::Verdict;
use proptest::prelude::*;

const SMALL: &str = include_str!("../../../tests/small-plan.toml");
const ORDER: [&str; 6] = ["2L", "2R", "1L", "3R", "1R", "3L"];

impl Shop {
    fn small() -> Self {
        Self::begun(SMALL, None, wrench())
    }

    /// At the bolts: everything before them is signed.
    fn at_the_bolts() -> Self {
        let mut shop = Self::small();
        for item in ["threads", "holes"] {
            shop.give(Do::Confirm { operation: "prepare".into(), item: item.into() }).unwrap();
        }
        shop.sign("prepare").unwrap();
        shop
    }

    fn pull(&mut self, stage: usize, fastener: &str, text: &str) -> Result<Vec<Fact>, Refusal> {
        self.give(pull(stage, fastener, text))
    }

    fn last(&self) -> &Pull {
        self.state.operations[1].tightening.pulls.last().expect("a pull")
    }

    /// The whole joint, as it should be.
    fn tighten(&mut self) {
        for fastener in ORDER {
            self.pull(0, fastener, "30").unwrap();
        }
        self.give(Do::Act { operation: "tighten".into(), stage: 1 }).unwrap();
        for fastener in ORDER {
            self.pull(2, fastener, "40").unwrap();
        }
    }

    fn next(&self) -> (usize, String) {
        match self.state.step(1) {
            Step::Pull { stage, fastener, .. } => (stage, fastener),
            Step::Act { stage, .. } => (stage, "act".into()),
            other => (9, format!("{other:?}")),
        }
    }
}

fn pull(stage: usize, fastener: &str, text: &str) -> Do {
    Do::Pull {
        operation: "tighten".into(),
        stage,
        fastener: fastener.into(),
        reading: Given { text: Some(text.into()), ..Given::default() },
        method: Method::Typed,
        instrument: "w".into(),
    }
}

fn loosen(fastener: &str, replaced: bool) -> Do {
    Do::Loosen {
        operation: "tighten".into(),
        fastener: fastener.into(),
        replaced,
        reason: "over-pulled".into(),
    }
}

#[test]
fn a_joint_is_tightened_in_order_and_signed_off() {
    let mut shop = Shop::at_the_bolts();
    assert_eq!(shop.next(), (0, "2L".into()));
    shop.tighten();
    assert_eq!(shop.state.step(1), Step::Sign);
    assert!(shop.state.operations[1].tightening.pulls.iter().all(|p| p.remarks.is_empty()));
    shop.sign("tighten").unwrap();
    shop.sign("sign").unwrap();
    assert_eq!(shop.state.view().status, BuildStatus::Finished);
}

#[test]
fn decisions_wait_for_what_they_need() {
    let mut shop = Shop::small();
    let refused = shop.give(Do::Start { operation: "tighten".into() }).unwrap_err();
    assert_eq!(
        (refused.kind, refused.message.as_str()),
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
    assert_eq!(shop.last().verdict, Verdict::Over);
    shop.pull(0, "2L", "30").unwrap();
    let matters = shop.state.matters();
    assert_eq!(matters.len(), 1, "pulling it again does not undo it: {matters:?}");
    assert!(matters[0].what.contains("44.0 N·m") && matters[0].now.contains("Loosen 2L"));
    for fastener in &ORDER[1..] {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(loosen("2L", false)).unwrap();
    assert!(shop.state.matters().is_empty());
    assert_eq!(shop.next(), (0, "2L".into()), "its stages start again");
}

#[test]
fn a_bolt_past_yield_has_to_be_replaced() {
    let mut shop = Shop::at_the_bolts();
    shop.pull(0, "2L", "140 N·m").unwrap();
    assert!(shop.state.matters()[0].now.contains("new fastener"));
    shop.give(loosen("2L", false)).unwrap();
    assert!(shop.state.matters()[0].what.contains("old fastener is still in"));
    shop.give(loosen("2L", true)).unwrap();
    assert!(shop.state.matters().is_empty());
}

#[test]
fn a_pull_out_of_order_is_kept_and_a_lead_stands_for_it() {
    let mut shop = Shop::at_the_bolts();
    shop.pull(0, "1L", "30").unwrap();
    assert_eq!(shop.last().remarks, [Remark::OutOfOrder { expected: "2L".into() }]);
    assert_eq!(shop.next(), (0, "2L".into()));
    let seq = shop.last().stamp.seq;
    shop.role = Role::Bench;
    let accept = Do::Accept { seq, subject: None, reason: "caps are doweled".into() };
    assert_eq!(shop.give(accept.clone()).unwrap_err().kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    shop.give(accept).unwrap();
    assert!(shop.state.matters().is_empty());
}

#[test]
fn a_stage_too_early_and_work_before_its_requirements_are_marked() {
    let mut shop = Shop::at_the_bolts();
    shop.pull(2, "2L", "40").unwrap();
    assert!(matches!(shop.last().remarks[..], [Remark::Early { .. }]));
    let mut shop = Shop::small();
    shop.pull(0, "2L", "30").unwrap();
    assert_eq!(shop.last().remarks, [Remark::NotStarted]);
}

#[test]
fn swings_of_an_angle_add_up_and_a_second_angle_is_over() {
    let mut shop = Shop::at_the_bolts();
    for fastener in ORDER {
        shop.pull(0, fastener, "30").unwrap();
    }
    shop.give(Do::Act { operation: "tighten".into(), stage: 1 }).unwrap();
    shop.pull(2, "2L", "15").unwrap();
    assert_eq!(shop.state.step(1).line(), "Pull 1, 2L, on by 25°");
    shop.pull(2, "2L", "26°").unwrap();
    assert_eq!((shop.last().value, shop.last().verdict), (41.0, Verdict::Good));
    assert_eq!(shop.next(), (2, "2R".into()));
    shop.pull(2, "2L", "40").unwrap();
    assert_eq!((shop.last().value, shop.last().verdict), (81.0, Verdict::Over));
    let seq = shop.last().stamp.seq;
    shop.give(Do::Void { seq, reason: "typed for the wrong bolt".into() }).unwrap();
    assert!(shop.state.matters().is_empty());
    assert_eq!(shop.next(), (2, "2R".into()));
}

#[test]
fn a_void_takes_the_place_back_and_lets_a_signature_lapse() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    shop.sign("tighten").unwrap();
    let seq = shop.last().stamp.seq;
    assert!(shop.give(Do::Void { seq, reason: " ".into() }).unwrap_err().field == Some("reason"));
    shop.give(Do::Void { seq, reason: "not pulled at all".into() }).unwrap();
    assert_eq!(shop.next(), (2, "3L".into()));
    assert!(shop.state.operations[1].signed.is_none());
    assert_eq!(shop.give(Do::Void { seq, reason: "again".into() }).unwrap_err().kind, RefusalKind::Stale);
}

#[test]
fn a_pull_recorded_elsewhere_in_the_meantime_is_asked_about() {
    let mut shop = Shop::at_the_bolts();
    let seen = shop.state.seq;
    shop.pull(0, "2L", "30").unwrap();
    let stale = shop.give_seen(pull(0, "2L", "30.2"), seen).unwrap_err();
    assert_eq!(stale.kind, RefusalKind::Stale);
    shop.give_seen(pull(0, "2R", "30"), seen).expect("another bolt is another pull");
}

#[test]
fn bad_readings_name_the_field() {
    let mut shop = Shop::at_the_bolts();
    for (text, says) in
        [("80 mm", "unit of length"), ("", "empty"), ("-3", "above zero"), ("tight", "number")]
    {
        let refused = shop.pull(0, "2L", text).unwrap_err();
        assert_eq!((refused.kind, refused.field), (RefusalKind::Field, Some("reading")), "{text}");
        assert!(refused.message.contains(says), "{}", refused.message);
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
    assert!(shop.state.matters()[0].what.contains("outside the range of Wrench 2"));
    shop.instrument = Instrument { calibration_due: Some(time::Date::MIN), ..wrench() };
    shop.pull(0, "2R", "30").unwrap();
    assert!(shop.state.matters()[1].what.contains("out of calibration"));
}

#[test]
fn paint_marks_stand_where_the_mark_is_on_the_bolt() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    let BenchWork::Tighten(bench) = shop.bench(1).work else { panic!("a tightening bench") };
    let clocks: Vec<_> = bench.fasteners[0].strokes.iter().map(|s| s.clock.as_str()).collect();
    assert_eq!(clocks, ["12:00", "1:20"]);
}

#[test]
fn the_sheet_lists_every_fastener_with_both_stages_and_the_csv_every_pull() {
    let mut shop = Shop::at_the_bolts();
    shop.tighten();
    let sheet = crate::sheet::Sheet::of(&shop.state);
    let joint = sheet.sections[1].joint.as_ref().expect("a joint");
    assert_eq!(joint.rows.len(), 6);
    assert!(joint.rows.iter().all(|row| row.pulls.len() == 2 && row.pulls.iter().all(Option::is_some)));
    let csv = crate::sheet::Sheet::csv(&shop.state).unwrap();
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

proptest! {
    #[test]
    fn counting_afresh_gives_what_counting_along_gave(
        pulls in prop::collection::vec((0usize..6, 5.0f64..40.0), 1..40),
    ) {
        let mut shop = Shop::at_the_bolts();
        for (fastener, value) in pulls {
            shop.pull(0, ORDER[fastener], &format!("{value:.1}")).unwrap();
        }
        let along: Vec<_> = (0..6).map(|f| shop.state.operations[1].tightening.standing(0, f)).collect();
        let plan = plan(SMALL);
        for fastener in 0..6 {
            shop.state.operations[1].tightening.recount(&plan.joints[0], fastener);
        }
        let afresh: Vec<_> = (0..6).map(|f| shop.state.operations[1].tightening.standing(0, f)).collect();
        prop_assert_eq!(along, afresh);
    }
}
