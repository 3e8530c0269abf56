//! What a bolt in the vice shows, and what cannot be meant.

use super::*;
use crate::Instrument;
use proptest::prelude::*;
use rigore_mechanics::friction::shipped;

/// One that a bolt is pulled with, or measured with.
fn instrument(id: &str) -> Instrument {
    let (torque_nm, length_mm) =
        if id == "w" { (Some([5.0, 200.0]), None) } else { (None, Some([0.0, 100.0])) };
    Instrument { id: id.into(), name: id.into(), torque_nm, length_mm, ..Instrument::default() }
}

fn run(lubricant: &str, pairs: &[(&str, &str)]) -> FrictionRunEntry {
    let reading = |(torque, stretch): &(&str, &str)| FrictionReadingEntry {
        torque: (*torque).into(),
        stretch: (*stretch).into(),
        left: None,
    };
    FrictionRunEntry {
        thread_lubricant: lubricant.into(),
        bearing_lubricant: None,
        readings: pairs.iter().map(reading).collect(),
    }
}

/// The bolt of the published friction check: M9×1.0, δB 4.834e-6 mm/N.
fn entry() -> FrictionTestEntry {
    FrictionTestEntry {
        fastener: "Rod bolt".into(),
        thread: "M9x1.0".into(),
        resilience: "4.834 µm/kN".into(),
        bearing_diameter: Some("12 mm".into()),
        yield_strength: Some("1100 MPa".into()),
        shank: Some("7.6 mm".into()),
        wrench: "w".into(),
        gauge: "g".into(),
        runs: vec![
            run("dry", &[("40", "0.095"), ("50", "0.121"), ("55", "0.131")]),
            run("moly-paste", &[("20", "0.09"), ("30 N·m", "0.135 mm")]),
        ],
        ..FrictionTestEntry::default()
    }
}

fn test(entry: &FrictionTestEntry) -> Result<FrictionTest, FrictionTestError> {
    entry.test([Some(instrument("w")), Some(instrument("g"))], &shipped())
}

#[test]
fn published_friction_of_three_pairs_on_one_lubricant_beside_another() {
    let test = test(&entry()).unwrap();
    let views = test.views();
    assert!((views[0].k.unwrap() - 0.2244).abs() < 0.0005, "{:?}", views[0].k);
    assert!((views[0].readings[0].clamp_kn - 19.652).abs() < 0.001, "{}", views[0].readings[0].clamp_kn);
    // 30 N·m for 27.927 kN: 30 / (9 · 27.927).
    assert!((views[1].k.unwrap() - 0.119_36).abs() < 0.0001, "{:?}", views[1].k);
    assert!(views[0].k > views[1].k && views[0].mu > views[1].mu);
    let shown = test.shown();
    assert_eq!(shown.iter().map(|of| of.thread.as_str()).collect::<Vec<_>>(), ["dry", "moly-paste"]);
    assert_eq!((shown[0].fastener.as_str(), shown[0].readings), ("Rod bolt, M9x1.0", 3));
}

#[test]
fn what_was_typed_is_kept_with_its_unit() {
    let imperial = FrictionTestEntry {
        torque_unit: Some("lbf·ft".into()),
        length_unit: Some("in".into()),
        runs: vec![run("dry", &[("29.5", "0.0037")])],
        ..entry()
    };
    let reading = test(&imperial).unwrap().runs.remove(0).readings.remove(0);
    assert!((reading.torque_nm - 39.9966).abs() < 0.001, "{}", reading.torque_nm);
    assert!((reading.stretch_mm - 0.093_98).abs() < 1e-6, "{}", reading.stretch_mm);
    assert_eq!(
        (reading.entered.torque.as_str(), reading.entered.stretch.as_str()),
        ("29.5 lbf·ft", "0.0037 in")
    );
}

#[test]
fn what_is_past_yield_is_no_friction() {
    let far = FrictionTestEntry { runs: vec![run("dry", &[("40", "0.095"), ("95", "0.205")])], ..entry() };
    let test = test(&far).unwrap();
    let view = test.views().remove(0);
    assert!(view.readings[1].utilisation.unwrap() > 1.0, "{:?}", view.readings[1]);
    assert!((view.k.unwrap() - view.readings[0].k).abs() < 1e-12);
    assert!(view.remarks[0].in_base_units().contains("1 reading past yield"), "{:?}", view.remarks);
    assert_eq!(test.shown()[0].readings, 1);
}

#[test]
fn what_is_odd_is_remarked_on() {
    let mut odd = entry();
    odd.runs = vec![run("moly-paste", &[("60", "0.12")]), run("dry", &[("40", "0.095")])];
    odd.runs[0].readings[0].left = Some("0.02".into());
    let views = test(&odd).unwrap().views();
    let says = |at: usize, text: &str| views[at].remarks.iter().any(|of| of.in_base_units().contains(text));
    assert!(says(0, "far more friction") && says(0, "remaining after 60.0 N·m"), "{:?}", views[0].remarks);
    assert!(says(1, "dry after a lubricant"), "{:?}", views[1].remarks);
}

#[test]
fn what_cannot_be_meant_names_its_field_and_keeps_nothing() {
    let field = |entry: FrictionTestEntry| test(&entry).unwrap_err().field;
    assert_eq!(field(FrictionTestEntry { fastener: "x".into(), ..entry() }), "fastener");
    assert_eq!(field(FrictionTestEntry { thread: "M".into(), ..entry() }), "thread");
    assert_eq!(field(FrictionTestEntry { resilience: "soft".into(), ..entry() }), "resilience");
    assert_eq!(
        field(FrictionTestEntry { bearing_diameter: Some("3 mm".into()), ..entry() }),
        "bearing_diameter"
    );
    assert_eq!(field(FrictionTestEntry { torque_unit: Some("mm".into()), ..entry() }), "torque_unit");
    assert_eq!(field(FrictionTestEntry { runs: Vec::new(), ..entry() }), "runs");
    assert_eq!(
        field(FrictionTestEntry { runs: vec![run("honey", &[("1", "1")])], ..entry() }),
        "runs[0].thread_lubricant"
    );
    assert_eq!(field(FrictionTestEntry { runs: vec![run("dry", &[])], ..entry() }), "runs[0].readings");
    for (torque, stretch, field_of) in
        [("x", "0.1", "torque"), ("0", "0.1", "torque"), ("40", "0", "stretch"), ("40", "0.1 N·m", "stretch")]
    {
        let entry = FrictionTestEntry { runs: vec![run("dry", &[(torque, stretch)])], ..entry() };
        assert_eq!(field(entry), format!("runs[0].readings[0].{field_of}"), "{torque} {stretch}");
    }
    let unknown =
        FrictionTestEntry { yield_strength: None, runs: vec![run("dry", &[("60", "0.8")])], ..entry() };
    assert_eq!(field(unknown), "runs[0].readings[0].stretch", "any bolt breaks");
    for pair in [("1e308", "0.1"), ("40", "0.004"), ("40", "1e-300")] {
        let entry = FrictionTestEntry { runs: vec![run("dry", &[pair])], ..entry() };
        assert_eq!(field(entry), "runs[0].readings[0].torque", "{pair:?}");
    }
    // 10 N·m stretch no bolt by 0.5 mm; a bolt that would hold half as much again as it yields at is broken.
    for pair in [("10", "0.5"), ("400", "0.4")] {
        let entry = FrictionTestEntry { runs: vec![run("dry", &[pair])], ..entry() };
        assert_eq!(field(entry), "runs[0].readings[0].stretch", "{pair:?}");
    }
    assert_eq!(entry().test([None, Some(instrument("g"))], &shipped()).unwrap_err().field, "wrench");
    assert_eq!(entry().test([Some(instrument("w")), None], &shipped()).unwrap_err().field, "gauge");
    let wrenches = [Some(instrument("w")), Some(instrument("w"))];
    assert_eq!(entry().test(wrenches, &shipped()).unwrap_err().field, "gauge", "a wrench reads no stretch");
}

proptest! {
    #[test]
    fn more_torque_for_the_same_stretch_is_more_friction(torque in 25.0f64..60.0, more in 1.0f64..20.0) {
        let of = |torque: f64| {
            let runs = vec![run("dry", &[(&torque.to_string(), "0.1")])];
            test(&FrictionTestEntry { runs, ..entry() }).unwrap().views()[0].k.unwrap()
        };
        prop_assert!(of(torque + more) > of(torque));
    }
}
