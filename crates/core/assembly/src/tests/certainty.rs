//! How sure a reading is, by which rule it is judged, and which readings are judged at all.

use super::measuring::PLAN;
use super::*;
use rigore_mechanics::clearance::{Decision, DecisionRule};

fn rule(rule: DecisionRule, reason: &str) -> CommandAction {
    CommandAction::SetDecisionRule(DecisionRuleCommand { decision_rule: rule, reason: reason.into() })
}

/// 0.052 mm, 0.003 mm below its limit, where U (k = 2) is 0.0034 mm.
fn close_to_its_limit() -> Shop {
    let mut shop = Shop::measured(None, "54.982");
    shop.shells(2, "B", "B").unwrap();
    shop
}

#[test]
fn an_engine_from_before_the_choice_is_judged_as_it_was_until_a_lead_decides() {
    let mut shop = close_to_its_limit();
    let before = shop.clearance("oil", 2);
    assert_eq!(before.decision, Some(Decision::TooClose));
    assert!(before.decision_rule.contains("ISO 14253-1:2013"), "{}", before.decision_rule);

    assert_eq!(shop.give(rule(DecisionRule::Edition2017, " ")).unwrap_err().field, Some("reason"));
    shop.role = Role::Bench;
    let refused = shop.give(rule(DecisionRule::Edition2017, "as the customer's drawing says")).unwrap_err();
    assert_eq!(refused.kind, RefusalKind::NotAllowed);
    shop.role = Role::Lead;
    shop.give(rule(DecisionRule::Edition2017, "as the customer's drawing says")).unwrap();

    let after = shop.clearance("oil", 2);
    assert_eq!(after.decision, Some(Decision::Inside));
    assert!(after.decision_rule.contains("ISO 14253-1:2017"), "{}", after.decision_rule);
    assert_eq!(after.uncertainty, before.uncertainty, "the readings are no surer than they were");
    let (wide, narrow) = (before.reach.unwrap(), after.reach.unwrap());
    assert!(((narrow[1] - narrow[0]) / (wide[1] - wide[0]) - 0.825).abs() < 1e-9);
}

#[test]
fn a_place_that_was_read_more_than_once_is_as_sure_as_it_repeats() {
    let mut shop = close_to_its_limit();
    let once = shop.clearance("oil", 2).uncertainty;
    for text in ["54.980", "54.983", "54.982"] {
        shop.read("journal-2", 0, text).unwrap();
    }
    // 54.982, .980, .983, .982: s = 1.258 µm; instrument u = 1.190 µm on either part.
    let expected = 2.0 * (2.0 * 1.190_238f64.powi(2) + 1.258_306f64.powi(2)).sqrt() / 1000.0;
    assert!(once < expected);
    let repeated = shop.clearance("oil", 2);
    assert!((repeated.uncertainty - expected).abs() < 1e-8, "{} {expected}", repeated.uncertainty);

    let last = shop.readings("measure").iter().rev().map(|read| read.seq).collect::<Vec<_>>();
    for seq in &last[..3] {
        shop.void(*seq, "the gauge slipped").unwrap();
    }
    assert!((shop.clearance("oil", 2).uncertainty - once).abs() < 1e-12, "what is voided repeats nothing");
}

#[test]
fn a_size_that_was_changed_between_two_readings_does_not_count_as_a_poor_repeat() {
    let mut shop = close_to_its_limit();
    let once = shop.clearance("oil", 2).uncertainty;
    shop.read("journal-2", 0, "54.970").unwrap();
    assert!((shop.clearance("oil", 2).uncertainty - once).abs() < 1e-12);
    assert!((shop.clearance("oil", 2).span.unwrap()[2] - 0.064).abs() < 1e-9, "the last reading counts");
}

#[test]
fn a_gap_that_is_filed_open_in_small_steps_is_as_sure_as_its_last_reading() {
    let mut shop = Shop::measuring(None);
    for place in 0..4 {
        shop.read("cylinder-1", place, "86.000").unwrap();
    }
    let mut read = |text: &str| {
        shop.read("top-ring-1", 0, text).unwrap();
        shop.clearance("top-gap", 1).uncertainty
    };
    let once = read("0.350");
    assert!((read("0.352") - once).abs() < 1e-12 && (read("0.354") - once).abs() < 1e-12);
}

/// The bearings of the plan, with the bores read with their shells in.
fn shells_in(angles: &str) -> String {
    let bore = format!(
        "form = \"bore\"\nshells_in = true\nangles = {angles}\nplausible = [\"54.9 mm\", \"55.2 mm\"]"
    );
    let plan = PLAN.replacen("form = \"bore\"\nplausible = [\"58.9 mm\", \"59.1 mm\"]", &bore, 1);
    plan.split_inclusive('\n').filter(|line| !line.starts_with("shell = ")).collect()
}

#[test]
fn a_bore_with_its_shells_in_is_judged_along_the_load_line_alone() {
    let mut shop = Shop::begun(&shells_in("[0, 90]"), None, gauge());
    for (site, place, text) in [
        ("journal-1", 0, "54.990"),
        ("journal-1", 1, "54.988"),
        ("housing-1", 0, "55.030"),
        ("housing-1", 1, "55.056"),
    ] {
        shop.read(site, place, text).unwrap();
    }
    let view = shop.clearance("oil", 1);
    assert_eq!(view.decision, Some(Decision::Inside), "0.066 mm at the parting line is by design");
    let [least, _, most] = view.span.unwrap();
    assert!(
        (least - 0.040).abs() < 1e-9 && (most - 0.042).abs() < 1e-9,
        "every journal diameter meets the load line"
    );
    let parting = view.parting_line.iter().map(|position| position.value_mm).collect::<Vec<_>>();
    assert!(parting.len() == 1 && (parting[0] - 0.067).abs() < 1e-9, "{parting:?}");
    assert_eq!(view.plus_form, None, "an oval by design is no fault of form");

    shop.read("housing-1", 0, "55.056").unwrap();
    assert_eq!(shop.clearance("oil", 1).decision, Some(Decision::Outside));
}

#[test]
fn a_bore_with_its_shells_in_needs_a_place_on_the_load_line() {
    let chosen = PLAN.replacen("form = \"bore\"\n", "form = \"bore\"\nshells_in = true\n", 1);
    let faults = Plan::read("test.toml", &chosen).unwrap_err();
    assert!(
        faults.iter().any(|fault| fault.path.contains("clearance") && fault.path.ends_with("shell")),
        "{faults:?}"
    );
    for angles in ["[90]", "[60, 120]"] {
        let faults = Plan::read("test.toml", &shells_in(angles)).unwrap_err();
        assert!(faults.iter().any(|fault| format!("{fault:?}").contains("load line")), "{faults:?}");
    }
}

#[test]
fn piston_to_valve_is_computed_from_lift_and_piston_beside_what_is_measured() {
    let mut shop = Shop::measuring(None);
    let computed = |shop: &Shop| -> Vec<Option<f64>> {
        shop.clearance("inlet-play", 1).series.iter().map(|mark| mark.computed_mm).collect()
    };
    assert_eq!(computed(&shop), [None; 3], "what is between them at top is not measured yet");
    for place in [0, 1] {
        shop.read("deck-1", place, "1.400").unwrap();
    }
    // Stroke 86, rod 144, 10°: 0.846 988 mm below top; by the cosine of 20° along the valve 0.795 908.
    let expected = [1.4 + 0.795_908 - 0.2, 1.4 - 0.9, 1.4 + 0.795_908 - 2.1];
    for (of, expected) in computed(&shop).into_iter().zip(expected) {
        assert!((of.expect("computed") - expected).abs() < 1e-5, "{of:?} for {expected}");
    }
    let view = shop.clearance("inlet-play", 1);
    assert_eq!((view.span, view.decision), (None, None), "what is computed judges nothing");
}

#[test]
fn a_lift_is_needed_for_each_angle_of_the_series() {
    let lifts = "lift = [\"0.2 mm\", \"0.9 mm\", \"2.1 mm\"]";
    for (wrong, says) in [
        ("lift = [\"0.2 mm\"]", "one lift for each of the 3 angles"),
        (
            "lift = [\"0.2 mm\", \"0.9 mm\", \"2.1 mm\"], offset = \"110 mm\"",
            "does not reach round the stroke",
        ),
    ] {
        let faults = Plan::read("test.toml", &PLAN.replace(lifts, wrong)).unwrap_err();
        assert!(faults.iter().any(|fault| format!("{fault:?}").contains(says)), "{faults:?}");
    }
}
