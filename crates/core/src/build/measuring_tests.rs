//! Readings, clearances, shells, turning and leaving out.

use super::*;
use crate::clearance::Decision;
use crate::plan::Plan;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

const PLAN: &str = include_str!("../../tests/measure-plan.toml");

struct Shop {
    state: State,
    role: Role,
}

impl Shop {
    fn begun(use_for: Option<&str>) -> Self {
        let plan = Arc::new(Plan::read("measure-plan.toml", PLAN).expect("the plan is right").0);
        let mut shop = Self { state: State::new(plan), role: Role::Lead };
        let plan = PlanRef { hash: "h".into(), id: "measure".into(), name: "Measure".into() };
        let owner = Some("Somebody".into());
        shop.give(Do::Begin { name: "M".into(), plan, use_for: use_for.map(Into::into), owner }).unwrap();
        shop
    }

    fn give(&mut self, what: Do) -> Result<(), Refusal> {
        let gauge = Instrument {
            id: "g".into(),
            name: "Gauge".into(),
            serial: "1".into(),
            torque_nm: None,
            angle: false,
            calibration_due: None,
            simulated: false,
            length_mm: Some([0.0, 100.0]),
            accuracy_mm: 0.002,
            resolution_mm: 0.001,
        };
        let by = Person { id: "p".into(), name: "P".into(), role: self.role };
        let at = OffsetDateTime::UNIX_EPOCH;
        let context = Context { by: by.clone(), at, instrument: Some(gauge) };
        let command = Command { id: Uuid::from_u128(u128::from(self.state.seq)), seen: self.state.seq, what };
        for fact in decide(&self.state, &context, &command)? {
            let seq = self.state.seq + 1;
            let event = Event { v: EVENT_FORMAT, seq, at, by: by.clone(), command: command.id, fact };
            let text = serde_json::to_string(&event).unwrap();
            self.state.apply(&serde_json::from_str(&text).unwrap());
        }
        Ok(())
    }

    fn read(&mut self, site: &str, place: usize, text: &str) -> Result<(), Refusal> {
        self.give(reading(site, place, text, false))
    }

    /// Everything measured; the second journal as given.
    fn measured(use_for: Option<&str>, journal: &str) -> Self {
        let mut shop = Self::begun(use_for);
        for (site, places, text) in [("journal-1", 2, "54.990"), ("journal-2", 2, journal)] {
            for place in 0..places {
                shop.read(site, place, text).unwrap();
            }
        }
        for (site, text) in
            [("housing-1", "58.994"), ("housing-2", "58.994"), ("strip-1", "1.60"), ("strip-2", "1.60")]
        {
            shop.read(site, 0, text).unwrap();
        }
        shop
    }

    fn shells(&mut self, number: usize, upper: &str, lower: &str) -> Result<(), Refusal> {
        let (operation, clearance) = ("measure".into(), "oil".into());
        self.give(Do::ChooseShells { operation, clearance, number, upper: upper.into(), lower: lower.into() })
    }
}

fn reading(site: &str, place: usize, text: &str, sure: bool) -> Do {
    Do::Measure {
        operation: "measure".into(),
        site: site.into(),
        place,
        text: text.into(),
        unit: None,
        temperature_c: None,
        sure,
        method: Method::Typed,
        instrument: "g".into(),
    }
}

fn shells(upper: &str, lower: &str) -> Option<Shells> {
    Some(Shells { upper: upper.into(), lower: lower.into() })
}

#[test]
fn readings_go_from_place_to_place_and_come_back_after_a_void() {
    let mut shop = Shop::begun(None);
    for (step, site, place) in [
        ("Measure Journal 1 0°", "journal-1", 0),
        ("Measure Journal 1 90°", "journal-1", 1),
        ("Measure Journal 2 0°", "journal-2", 0),
    ] {
        assert_eq!(shop.state.step(0).line(), step);
        shop.read(site, place, "54.990").unwrap();
    }
    let seq = shop.state.measured[1].stamp.seq;
    shop.give(Do::Void { seq, reason: "slipped".into() }).unwrap();
    assert_eq!(shop.state.step(0).line(), "Measure Journal 1 90°");
}

#[test]
fn a_decimal_place_off_is_asked_about_and_kept_when_it_is_meant() {
    let mut shop = Shop::begun(None);
    let asked = shop.read("journal-1", 0, "5.499").unwrap_err();
    assert_eq!(asked.kind, RefusalKind::Ask);
    assert!(asked.message.contains("Off by a decimal place? 54.990 mm"), "{}", asked.message);
    let asked = shop.read("journal-1", 0, "2.1650").unwrap_err();
    assert!(asked.message.contains("Off by inches?"), "{}", asked.message);
    shop.give(reading("journal-1", 0, "5.499", true)).unwrap();
    assert!(shop.state.measured[0].unlikely);
}

#[test]
fn inches_a_set_master_and_a_second_reading_are_understood() {
    let mut shop = Shop::begun(None);
    for (text, value) in [("2.165 in", 54.991), ("-0.012 on 55", 54.988), ("54.989", 54.989)] {
        shop.read("journal-1", 0, text).unwrap();
        let read = shop.state.reading(0, 0).unwrap();
        assert!((read.value_mm - value).abs() < 1e-9, "{text}: {}", read.value_mm);
    }
    assert_eq!(shop.state.readings_of(0).iter().filter(|r| r.superseded).count(), 2);
    assert_eq!(shop.read("journal-1", 0, "55 Nm").unwrap_err().field, Some("text"));
    assert_eq!(shop.read("journal-1", 7, "55").unwrap_err().field, Some("place"));
}

#[test]
fn a_warm_part_is_brought_to_twenty_degrees() {
    let mut shop = Shop::begun(None);
    let Do::Measure { operation, site, place, text, unit, sure, method, instrument, .. } =
        reading("housing-1", 0, "59.010", false)
    else {
        panic!("a reading")
    };
    let temperature_c = Some(30.0);
    shop.give(Do::Measure { operation, site, place, text, unit, temperature_c, sure, method, instrument })
        .unwrap();
    let read = &shop.state.measured[0];
    assert!((read.value_mm - 59.010 / (1.0 + 23e-6 * 10.0)).abs() < 1e-9);
    assert_eq!(read.read_mm, 59.010);
}

#[test]
fn shells_are_proposed_chosen_and_judged() {
    let mut shop = Shop::measured(None, "54.990");
    let before = shop.state.clearances(None);
    assert_eq!((before[0].decision, &before[0].proposed), (None, &shells("B", "B")));
    shop.shells(1, "B", "B").unwrap();
    assert_eq!(shop.shells(2, "A", "C").unwrap_err().field, Some("lower"));
    let after = shop.state.clearances(None);
    assert_eq!(after[0].decision, Some(Decision::Inside));
    assert!((after[0].span_mm.unwrap()[1] - 0.044).abs() < 1e-9);
}

#[test]
fn verdicts_of_each_kind_and_only_the_one_outside_holds_the_signature() {
    for (journal, decision) in
        [("54.990", Decision::Inside), ("54.981", Decision::TooClose), ("54.972", Decision::Outside)]
    {
        let mut shop = Shop::measured(None, journal);
        shop.shells(1, "B", "B").unwrap();
        shop.shells(2, "B", "B").unwrap();
        assert_eq!(shop.state.clearances(None)[1].decision, Some(decision), "{journal}");
        let signed = shop.give(Do::Sign { operation: "measure".into() });
        assert_eq!(signed.is_err(), decision == Decision::Outside, "{journal}");
    }
}

#[test]
fn the_use_chooses_the_window_and_a_lead_may_stand_for_a_clearance() {
    let mut shop = Shop::measured(Some("boost"), "54.990");
    shop.shells(1, "B", "B").unwrap();
    shop.shells(2, "A", "A").unwrap();
    let matter = shop.state.matters().remove(0);
    assert!(matter.what.contains("0.044 mm, and 0.050 mm is the least"), "{}", matter.what);
    shop.give(Do::Accept { seq: matter.seq, reason: "agreed with the owner".into() }).unwrap();
    assert!(!shop.state.matters().iter().any(|m| m.what.contains("clearance 1")));
    let plan = PlanRef { hash: "h".into(), id: "m".into(), name: "m".into() };
    let unknown = decide(
        &State::new(Arc::clone(&shop.state.plan)),
        &Context {
            by: Person { id: "p".into(), name: "P".into(), role: Role::Lead },
            at: OffsetDateTime::UNIX_EPOCH,
            instrument: None,
        },
        &Command {
            id: Uuid::nil(),
            seen: 0,
            what: Do::Begin { name: "x".into(), plan, use_for: Some("moon".into()), owner: None },
        },
    );
    assert_eq!(unknown.unwrap_err().field, Some("use"));
}

#[test]
fn a_strip_that_disagrees_says_so() {
    let mut shop = Shop::measured(None, "54.990");
    shop.shells(1, "B", "B").unwrap();
    assert!(shop.state.clearances(None)[0].second.as_ref().unwrap().agrees);
    shop.read("strip-1", 0, "2.2").unwrap();
    let second = shop.state.clearances(None)[0].second.clone().unwrap();
    assert!(!second.agrees && second.trust == "first");
}

#[test]
fn a_crankshaft_that_binds_holds_the_signature() {
    let mut shop = Shop::begun(None);
    let turn = |free| Do::Turn { operation: "turn".into(), free, torque_nm: Some(4.0) };
    shop.give(turn(false)).unwrap();
    assert!(shop.state.matters()[0].now.contains("Loosen the caps in reverse order"));
    assert!(shop.give(Do::Sign { operation: "turn".into() }).is_err());
    shop.give(turn(true)).unwrap();
    shop.give(Do::Sign { operation: "turn".into() }).unwrap();
}

#[test]
fn leaving_out_takes_a_lead_and_a_reason_and_can_be_taken_back() {
    let mut shop = Shop::begun(None);
    let skip = Do::Skip { operation: "turn".into(), reason: "done on the stand".into() };
    shop.role = Role::Bench;
    assert_eq!(shop.give(skip.clone()).unwrap_err().kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    shop.give(skip).unwrap();
    assert_eq!(shop.state.operation_view(1).skipped.as_deref(), Some("done on the stand"));
    let seq = shop.state.operations[1].signed.as_ref().unwrap().seq;
    shop.give(Do::Void { seq, reason: "turned after all".into() }).unwrap();
    assert!(shop.state.operation_view(1).skipped.is_none());
}
