//! Readings, the clearances that follow, and shells.

use super::*;
use proptest::prelude::*;
use rigore_mechanics::clearance::Decision;
use rigore_mechanics::quantity::{Dimension, Quantity, UNITS};

pub(super) const PLAN: &str = include_str!("../../../plan/tests/measure-plan.toml");

impl Shop {
    pub(super) fn measuring(use_for: Option<&str>) -> Self {
        Self::begun(PLAN, use_for, gauge())
    }

    pub(super) fn read(&mut self, site: &str, place: usize, text: &str) -> Result<Vec<Fact>, Refusal> {
        self.give(reading(site, place, text, false))
    }

    /// The bearings measured; the second journal as given.
    pub(super) fn measured(use_for: Option<&str>, journal: &str) -> Self {
        let mut shop = Self::measuring(use_for);
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

    pub(super) fn shells(&mut self, number: usize, upper: &str, lower: &str) -> Result<Vec<Fact>, Refusal> {
        let (operation, clearance) = ("measure".into(), "oil".into());
        self.give(CommandAction::ChooseShells(ShellChoiceCommand {
            operation,
            clearance,
            number,
            upper: upper.into(),
            lower: lower.into(),
        }))
    }

    /// The member of a clearance.
    pub(super) fn clearance(&self, id: &str, number: usize) -> ClearanceView {
        let found = self.state.clearances(None).into_iter().find(|c| c.id == id && c.number == number);
        found.expect("a clearance of the plan")
    }
}

/// The operation that measures a site of the plan.
fn measured_in(site: &str) -> &'static str {
    let family = site.trim_end_matches(['-', '1', '2']);
    match family {
        "cylinder" => "cylinders",
        "top-ring" => "rings",
        "deck" | "chamber" | "inlet" => "tops",
        _ => "measure",
    }
}

fn reading(site: &str, place: usize, text: &str, sure: bool) -> CommandAction {
    CommandAction::Measure(MeasureCommand {
        operation: measured_in(site).into(),
        site: site.into(),
        place,
        text: text.into(),
        unit: None,
        temperature_c: None,
        sure,
        method: ReadingMethod::Typed,
        instrument: "g".into(),
    })
}

fn shells(upper: &str, lower: &str) -> ShellSelection {
    ShellSelection { upper: upper.into(), lower: lower.into() }
}

#[test]
fn readings_go_from_place_to_place_and_come_back_after_a_void() {
    let mut shop = Shop::measuring(None);
    for (step, site, place) in [
        ("Measure Journal 1 0°", "journal-1", 0),
        ("Measure Journal 1 90°", "journal-1", 1),
        ("Measure Journal 2 0°", "journal-2", 0),
    ] {
        assert_eq!(shop.step("measure"), step);
        shop.read(site, place, "54.990").unwrap();
    }
    shop.void(shop.readings("measure")[1].seq, "slipped").unwrap();
    assert_eq!(shop.step("measure"), "Measure Journal 1 90°");
}

#[test]
fn a_decimal_place_off_is_asked_about_and_kept_when_it_is_meant() {
    let mut shop = Shop::measuring(None);
    let asked = shop.read("journal-1", 0, "5.499").unwrap_err();
    assert_eq!(asked.kind, RefusalKind::Ask);
    assert!(asked.message.contains("Possible slip: a decimal place. 54.990 mm"), "{:?}", asked.message);
    let asked = shop.read("journal-1", 0, "2.1650").unwrap_err();
    assert!(asked.message.contains("Possible slip: inches."), "{:?}", asked.message);
    // Inches that were read while thousandths are chosen.
    let CommandAction::Measure(inches) = reading("journal-1", 0, "2.1650", false) else {
        unreachable!("a reading")
    };
    let asked = shop
        .give(CommandAction::Measure(MeasureCommand { unit: Some("thou".into()), ..inches }))
        .unwrap_err();
    assert!(asked.message.contains("Possible slip: inches. 54.991 mm"), "{:?}", asked.message);
    shop.give(reading("journal-1", 0, "5.499", true)).unwrap();
    assert!(shop.readings("measure")[0].unlikely);
}

#[test]
fn inches_a_set_master_and_a_second_reading_are_understood() {
    let mut shop = Shop::measuring(None);
    for (text, value) in [("2.165 in", 54.991), ("-0.012 on 55", 54.988), ("54.989", 54.989)] {
        shop.read("journal-1", 0, text).unwrap();
        let read = shop.readings("measure").pop().unwrap();
        assert!((read.value - value).abs() < 1e-9, "{text}: {}", read.value);
    }
    assert_eq!(shop.readings("measure").iter().filter(|r| r.superseded).count(), 2);
    assert_eq!(shop.read("journal-1", 0, "55 Nm").unwrap_err().field, Some("text"));
    assert_eq!(shop.read("journal-1", 7, "55").unwrap_err().field, Some("place"));
}

#[test]
fn a_warm_part_is_brought_to_twenty_degrees() {
    let mut shop = Shop::measuring(None);
    let CommandAction::Measure(measure) = reading("housing-1", 0, "59.010", false) else {
        panic!("a reading")
    };
    shop.give(CommandAction::Measure(MeasureCommand { temperature_c: Some(30.0), ..measure })).unwrap();
    let read = &shop.readings("measure")[0];
    assert!((read.value - 59.010 / (1.0 + 23e-6 * 10.0)).abs() < 1e-9);
    assert_eq!(read.read, 59.010);
}

#[test]
fn shells_are_proposed_chosen_and_judged() {
    let mut shop = Shop::measured(None, "54.990");
    let before = shop.state.clearances(None);
    assert_eq!((before[0].decision, &before[0].proposed), (None, &Some(shells("B", "B"))));
    shop.shells(1, "B", "B").unwrap();
    assert_eq!(shop.shells(2, "A", "C").unwrap_err().field, Some("lower"));
    let after = shop.state.clearances(None);
    assert_eq!(after[0].decision, Some(Decision::Inside));
    assert!((after[0].span.unwrap()[1] - 0.044).abs() < 1e-9);
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
        let signed = shop.give(CommandAction::Sign(SignCommand::one("measure")));
        assert_eq!(signed.is_err(), decision == Decision::Outside, "{journal}");
    }
}

#[test]
fn the_use_chooses_the_window_and_a_lead_may_stand_for_a_clearance() {
    let mut shop = Shop::measured(Some("boost"), "54.990");
    shop.shells(1, "B", "B").unwrap();
    shop.shells(2, "A", "A").unwrap();
    let issue = shop.state.issues().remove(0);
    assert!(issue.text.contains("0.044 mm, min 0.050 mm"), "{:?}", issue.text);
    let (seq, subject) = (issue.seq, issue.subject);
    shop.give(CommandAction::Accept(ApproveCommand { seq, subject, reason: "agreed with the owner".into() }))
        .unwrap();
    assert!(!shop.state.issues().iter().any(|m| m.text.contains("clearance 1")));
    shop.shells(1, "B", "C").unwrap();
    assert!(
        shop.state.issues().iter().any(|m| m.text.contains("clearance 1")),
        "what changed is not accepted"
    );
    let plan = plan(PLAN);
    let of = PlanRef { hash: "h".into(), id: "m".into(), name: "m".into() };
    let wanted = BuildStart {
        name: "x".into(),
        plan: of,
        use_for: Some("moon".into()),
        owner: None,
        identity: None,
        lubricants: None,
        decision_rule: None,
    };
    let context = CommandContext::new(person(Role::Lead), OffsetDateTime::UNIX_EPOCH);
    let unknown = begin(&plan, &context, &wanted);
    assert_eq!(unknown.unwrap_err().field, Some("use"));
}

#[test]
fn a_clearance_that_rests_on_strip_alone_is_converted_from_its_width_or_read_from_its_card() {
    let alone = "plus = \"strip\"\n";
    let text = PLAN.replacen("plus = \"housing\"\nminus = \"journal\"\nsecond = \"strip\"\n", alone, 1);
    let text = text.lines().filter(|line| !line.starts_with("shell = ")).collect::<Vec<_>>().join("\n");
    let mut shop = Shop::begun(&text, None, gauge());
    assert_eq!(shop.clearance("oil", 1).span, None);
    // 1.60 mm of a 0.3 mm wire are 0.0442 mm: inside 0.030 to 0.055 by its own uncertainty.
    shop.read("strip-1", 0, "1.60").unwrap();
    let view = shop.clearance("oil", 1);
    let [low, _, high] = view.span.expect("a clearance");
    assert!((low - 0.044_179).abs() < 1e-5 && (high - low).abs() < 1e-12, "{view:?}");
    assert_eq!(view.decision, Some(Decision::Inside));
    assert!((view.uncertainty - 0.006).abs() < 1e-12);
    // The card prints the clearance itself, in coarser steps.
    shop.read("strip-2", 0, "0.051").unwrap();
    let view = shop.clearance("oil", 2);
    assert!((view.span.expect("a clearance")[1] - 0.051).abs() < 1e-12);
    assert_eq!(view.decision, Some(Decision::TooClose));
}

#[test]
fn a_strip_that_disagrees_says_so() {
    let mut shop = Shop::measured(None, "54.990");
    shop.shells(1, "B", "B").unwrap();
    assert!(shop.state.clearances(None)[0].second.as_ref().unwrap().agrees);
    shop.read("strip-1", 0, "2.2").unwrap();
    let second = shop.state.clearances(None)[0].second.clone().unwrap();
    assert!(!second.agrees && second.trust == "first");
    shop.give(reading("strip-1", 0, "0", true)).unwrap();
    assert_eq!(shop.clearance("oil", 1).second, None, "a strip of no width is kept, and says nothing");
    // Read off the printed card, it is the clearance itself: narrower than the wire can be no width.
    shop.read("strip-1", 0, "0.051").unwrap();
    let by_card = shop.clearance("oil", 1).second.expect("both methods");
    assert!((by_card.value_mm - 0.051).abs() < 1e-9, "{by_card:?}");
}

#[test]
fn shells_at_hand_bound_the_proposal_and_the_signature_waits_for_the_choice() {
    let mut shop = Shop::measured(None, "54.990");
    assert_eq!(shop.step("measure"), "Choose shells, Oil clearance 1");
    assert!(shop.sign("measure").is_err());
    let count = |grade: &str, count| {
        CommandAction::CountShells(ShellCountCommand {
            operation: "measure".into(),
            clearance: "oil".into(),
            grade: grade.into(),
            count,
        })
    };
    shop.give(count("B", 3)).unwrap();
    let proposed: Vec<_> = (1..=2).filter_map(|n| shop.clearance("oil", n).proposed).collect();
    let used = proposed.iter().flat_map(|s| [&s.upper, &s.lower]).filter(|grade| *grade == "B").count();
    assert!(proposed.len() == 2 && used <= 3, "{proposed:?}");
    assert_eq!(shop.clearance("oil", 1).stock, [None, Some(3), None]);
    assert_eq!(shop.give(count("X", 1)).unwrap_err().field, Some("grade"));
}

#[test]
fn a_ring_is_filed_until_its_gap_suits_its_bore() {
    let mut shop = Shop::measuring(None);
    shop.read("top-ring-1", 0, "0.20").unwrap();
    assert_eq!(shop.clearance("top-gap", 1).window, None, "the bore is not measured");
    for cylinder in ["cylinder-1", "cylinder-2"] {
        for place in 0..4 {
            shop.read(cylinder, place, "86.000").unwrap();
        }
    }
    let gap = shop.clearance("top-gap", 1);
    assert!((gap.window.unwrap().target - 0.387).abs() < 1e-9);
    assert!((gap.to_file_mm.unwrap() - 0.187).abs() < 1e-9);
    assert_eq!(shop.step("rings"), "File Top ring 1 by 0.187 mm and measure again");
    assert!(shop.state.issues().is_empty(), "too small a gap is work, not a fault");
    shop.read("top-ring-1", 0, "0.385").unwrap();
    assert_eq!(shop.clearance("top-gap", 1).decision, Some(Decision::Inside));
    assert_eq!(shop.step("rings"), "Measure Top ring 2");
    shop.read("top-ring-2", 0, "0.60").unwrap();
    assert_eq!(shop.step("rings"), "Sign");
    assert!(shop.state.issues()[0].text.contains("Top ring gap 2: 0.600 mm, max 0.473 mm"));
}

#[test]
fn deck_chamber_and_bore_give_quench_and_compression() {
    let mut shop = Shop::measuring(None);
    for place in 0..4 {
        shop.read("cylinder-1", place, "86").unwrap();
    }
    for place in 0..2 {
        shop.read("deck-1", place, "0.3").unwrap();
    }
    assert_eq!(shop.clearance("ratio", 1).span, None);
    assert_eq!(shop.read("chamber-1", 0, "48 mm").unwrap_err().field, Some("text"));
    shop.read("chamber-1", 0, "48").unwrap();
    let ratio = shop.clearance("ratio", 1);
    assert!(
        ratio.dimension == Dimension::Ratio && (ratio.span.unwrap()[1] - 9.37).abs() < 0.005,
        "{:?}",
        ratio.span
    );
    assert!(ratio.uncertainty > 0.0 && ratio.decision == Some(Decision::Inside));
    let quench = shop.clearance("quench", 1);
    assert!((quench.span.unwrap()[1] - 1.3).abs() < 1e-9);
    assert_eq!(quench.positions.iter().map(|p| p.name.as_str()).collect::<Vec<_>>(), ["front", "rear"]);
}

#[test]
fn a_valve_is_judged_by_the_least_of_its_series() {
    let mut shop = Shop::measuring(None);
    assert_eq!(shop.step("tops"), "Measure Deck 1 front");
    for (place, text) in [(0, "2.4"), (1, "1.9")] {
        shop.read("inlet-1", place, text).unwrap();
    }
    let open = shop.clearance("inlet-play", 1);
    assert!(open.span.is_none() && open.series.iter().filter_map(|mark| mark.value_mm).count() == 2);
    shop.read("inlet-1", 2, "1.2").unwrap();
    let play = shop.clearance("inlet-play", 1);
    assert_eq!((play.span, play.decision), (Some([1.2; 3]), Some(Decision::Outside)));
    assert_eq!(play.series[2].crank_deg, 10.0);
}

#[test]
fn clearances_are_shown_by_plane_with_taper_and_out_of_round() {
    let mut shop = Shop::measured(None, "54.990");
    shop.read("journal-1", 1, "54.986").unwrap();
    shop.shells(1, "B", "B").unwrap();
    let view = shop.clearance("oil", 1);
    let form = view.minus_form.unwrap();
    assert!((form.out_of_round_mm.unwrap() - 0.004).abs() < 1e-9 && form.taper_mm.is_none());
    assert_eq!((view.plus_form, view.positions.len()), (None, 0), "the housing has one place");
    let lines = shop.state.clearance_lines();
    assert_eq!(lines[0].members, [Some(Decision::Inside), None]);
    assert_eq!(lines[1].operation.as_deref(), Some("rings"));
}

#[test]
fn an_instrument_out_of_its_range_or_calibration_is_one_issue_however_often_it_was_used() {
    let mut shop = Shop::measuring(None);
    shop.instrument.length_mm = Some([0.0, 25.0]);
    shop.read("journal-1", 0, "54.990").unwrap();
    shop.read("journal-1", 1, "54.990").unwrap();
    shop.read("journal-2", 0, "-0.010 on 55").unwrap();
    let issues = shop.state.issues();
    assert_eq!(issues.len(), 1, "{issues:?}");
    assert!(issues[0].text.contains("outside the range of Gauge, 0 to 25 mm"), "{:?}", issues[0].text);
    let (seq, subject) = (issues[0].seq, issues[0].subject.clone());
    shop.give(CommandAction::Accept(ApproveCommand {
        seq,
        subject,
        reason: "checked against a master".into(),
    }))
    .unwrap();
    assert!(shop.state.issues().is_empty());
    shop.read("journal-2", 1, "54.990").unwrap();
    assert_eq!(shop.state.issues().len(), 1, "what came after is not accepted");
    let bench = shop.bench("measure");
    let BenchWork::Measure(bench) = bench.work else { panic!("a measuring bench") };
    assert!(bench.tools[0].tools[0].fault.as_ref().is_some_and(|fault| fault.contains("range")));
}

#[test]
fn places_are_judged_each_with_what_it_was_read_with() {
    let coarse = Instrument { accuracy: 0.02, resolution: 0.001, ..gauge() };
    let mut shop = Shop::measuring(None);
    shop.read("housing-1", 0, "58.994").unwrap();
    shop.instrument = coarse;
    shop.read("journal-1", 0, "54.990").unwrap();
    shop.instrument = gauge();
    shop.read("journal-1", 1, "54.990").unwrap();
    shop.shells(1, "B", "B").unwrap();
    let view = shop.clearance("oil", 1);
    assert_eq!(view.decision, Some(Decision::TooClose), "one of its places is not sure");
    let u = 2.0 * (0.02f64.powi(2) / 3.0 + 0.002f64.powi(2) / 3.0 + 2.0 * 0.001f64.powi(2) / 12.0).sqrt();
    assert!((view.uncertainty - u).abs() < 1e-12, "the worst that contributed: {}", view.uncertainty);
    let reach = view.reach.unwrap();
    assert!((reach[0] - (0.044 - u)).abs() < 1e-9 && (reach[1] - (0.044 + u)).abs() < 1e-9);
    // A coarse reading far from any limit does not make a sure one unsure.
    shop.instrument = Instrument { accuracy: 0.004, ..gauge() };
    shop.read("journal-1", 0, "54.990").unwrap();
    assert_eq!(shop.clearance("oil", 1).decision, Some(Decision::Inside));
}

/// A bearing read at both ends of bore and journal, in the order that is given.
fn ends(bore: [f64; 2], journal: [f64; 2]) -> ClearanceView {
    let text = PLAN
        .replace("form = \"journal\"\nangles = [0, 90]", "form = \"journal\"\nplanes = [\"front\", \"rear\"]")
        .replace(
            "count = 2\nform = \"bore\"\nplausible",
            "count = 2\nform = \"bore\"\nplanes = [\"front\", \"rear\"]\nplausible",
        );
    let mut shop = Shop::begun(&text, None, gauge());
    for place in 0..2 {
        shop.read("housing-1", place, &bore[place].to_string()).unwrap();
        shop.read("journal-1", place, &journal[place].to_string()).unwrap();
    }
    shop.shells(1, "B", "B").unwrap();
    shop.clearance("oil", 1)
}

#[test]
fn equal_places_are_paired_bore_front_with_journal_front() {
    // Both taper the same way: the clearance is the same at both ends.
    let view = ends([58.990, 59.000], [54.986, 54.996]);
    let [least, mean, most] = view.span.unwrap();
    assert!([least, mean, most].iter().all(|value| (value - 0.044).abs() < 1e-9), "{view:?}");
    let positions: Vec<_> =
        view.positions.iter().map(|p| (p.name.as_str(), (p.value_mm * 1e3).round())).collect();
    assert_eq!(positions, [("front", 44.0), ("rear", 44.0)]);
    // They taper against each other: one end is tight, the other loose.
    let view = ends([58.990, 59.000], [54.996, 54.986]);
    let [least, _, most] = view.span.unwrap();
    assert!((least - 0.034).abs() < 1e-9 && (most - 0.054).abs() < 1e-9, "{view:?}");
}

#[test]
fn a_part_read_in_more_directions_counts_with_each_of_them() {
    // The housing has one place: both directions of the journal are judged against it.
    let mut shop = Shop::measured(None, "54.990");
    shop.read("journal-1", 1, "54.972").unwrap();
    shop.shells(1, "B", "B").unwrap();
    let view = shop.clearance("oil", 1);
    let [least, mean, most] = view.span.unwrap();
    assert!((least - 0.044).abs() < 1e-9 && (mean - 0.053).abs() < 1e-9 && (most - 0.062).abs() < 1e-9);
    assert_eq!(view.decision, Some(Decision::Outside));
}

#[test]
fn what_a_stand_in_sends_is_marked_as_made_up() {
    let mut shop = Shop::measuring(None);
    shop.instrument.simulated = true;
    let CommandAction::Measure(typed) = reading("journal-1", 0, "54.990", false) else { panic!("a reading") };
    shop.give(CommandAction::Measure(MeasureCommand { method: ReadingMethod::Device, ..typed.clone() }))
        .unwrap();
    shop.give(CommandAction::Measure(MeasureCommand { place: 1, ..typed })).unwrap();
    let readings = shop.readings("measure");
    assert_eq!((readings[0].method, readings[1].method), (ReadingMethod::Simulated, ReadingMethod::Typed));
    assert!(readings.iter().all(|reading| reading.simulated));
}

proptest! {
    #[test]
    fn a_size_is_the_same_in_whatever_unit_and_against_whatever_master_it_is_read(
        thousandths in 54_910u32..55_090,
        unit in prop::sample::select(UNITS.iter().filter(|unit| unit.dimension == Dimension::Length).collect::<Vec<_>>()),
        master in 54.0f64..56.0,
    ) {
        let mm = f64::from(thousandths) / 1000.0;
        let mut shop = Shop::measuring(None);
        let text = Quantity::new(mm, Dimension::Length).in_scale(unit).in_base_unit();
        shop.read("journal-1", 0, &text).unwrap();
        let step = unit.factor * 10f64.powi(-i32::from(unit.decimals));
        prop_assert!((shop.readings("measure")[0].value - mm).abs() <= step * 0.500_001, "{}", text);
        shop.read("journal-1", 1, &format!("{:+} on {master}", mm - master)).unwrap();
        prop_assert!((shop.readings("measure")[1].value - mm).abs() < 1e-9);
        prop_assert_eq!(shop.readings("measure")[1].master, Some(master));
    }

    #[test]
    fn the_worst_reading_decides(journal in 54_960u32..55_000, off in 0u32..30) {
        let (one, other) = (f64::from(journal) / 1000.0, f64::from(journal + off) / 1000.0);
        let decided = |first: f64, second: f64| {
            let mut shop = Shop::measuring(None);
            shop.read("housing-1", 0, "58.994").unwrap();
            shop.read("journal-1", 0, &first.to_string()).unwrap();
            shop.read("journal-1", 1, &second.to_string()).unwrap();
            shop.shells(1, "B", "B").unwrap();
            shop.clearance("oil", 1).decision.unwrap()
        };
        let rank = |decision| match decision {
            Decision::Inside => 0,
            Decision::TooClose => 1,
            Decision::Outside => 2,
        };
        let worst = rank(decided(one, one)).max(rank(decided(other, other)));
        prop_assert_eq!(rank(decided(one, other)), worst);
        prop_assert_eq!(decided(one, other), decided(other, one));
    }
}

/// What would be taken of a table, and which rows nothing is taken of.
fn taken(
    shop: &Shop,
    operation: &str,
    text: &str,
    uses: Option<Vec<TableColumn>>,
) -> (Vec<String>, Vec<usize>) {
    let table = crate::table::read(text).expect("a table");
    let view = shop.state.table(shop.at(operation), table, "mm", uses).expect("it measures");
    let readings = view.readings.iter().map(|of| {
        let value = of.value.map_or_else(|| "none".to_owned(), |value| format!("{value:.3}"));
        let marks = [(of.unlikely, " unlikely"), (of.again, " again"), (of.before.is_some(), " before")];
        let marks: String = marks.iter().filter(|(is, _)| *is).map(|(_, mark)| *mark).collect();
        format!("{} {} {value}{marks}", of.site, of.place)
    });
    (readings.collect(), view.left.iter().map(|row| row.line).collect())
}

#[test]
fn a_machines_table_is_taken_for_what_it_seems_to_be() {
    let mut shop = Shop::measuring(None);
    // A row for a site and a column for a place, with decimal commas and a unit in the head.
    let wide = "Report\n\nFeature;0° [mm];90° [mm];Remark\nJournal 1;54,990;54,991;\nJOURNAL-2;54,989;5,4989;worn\nGudgeon;1;2;\n";
    let readings =
        ["journal-1 0 54.990", "journal-1 1 54.991", "journal-2 0 54.989", "journal-2 1 5.499 unlikely"];
    assert_eq!(taken(&shop, "measure", wide, None), (readings.map(String::from).to_vec(), vec![6]));
    // A row for a reading, its site and place in one name or in two.
    for long in [
        "name,value in\nJournal 1 0°,54.99\n\"Journal 2, 90°\",54.98",
        "site\tplace\tvalue\njournal-1\t0°\t54.99\njournal-2\t2\t54.98",
    ] {
        let readings = ["journal-1 0 54.990", "journal-2 1 54.980"].map(String::from).to_vec();
        assert_eq!(taken(&shop, "measure", long, None), (readings, vec![]), "{long}");
    }
    // What a machine says besides is not taken; a number that no site has is no place of another.
    let report = "Feature;Nominal;Actual;Deviation\nJournal 1 2;55;54,99;-0,01\nJournal 12;55;54,98;-0,02\n";
    assert_eq!(taken(&shop, "measure", report, None), (vec!["journal-1 1 54.990".to_owned()], vec![3]));
    // A column for a site: what is read twice counts as it was read last, what was read before is said.
    shop.read("housing-1", 0, "58.994").unwrap();
    let columns = "No.;Housing 1;Housing 2 (in)\n1;58,99;2,3226\n2;58,995;2.3225\n";
    let readings = [
        "housing-1 0 58.990 again before",
        "housing-2 0 58.994 again",
        "housing-1 0 58.995 before",
        "housing-2 0 58.991",
    ];
    assert_eq!(taken(&shop, "measure", columns, None), (readings.map(String::from).to_vec(), vec![]));
}

#[test]
fn columns_are_what_somebody_says_they_are() {
    let shop = Shop::measuring(None);
    let table = "what,first,second\nJournal 1,54.99,54.98\n";
    let (seen, left) = taken(&shop, "measure", table, None);
    assert_eq!((seen, left), (vec!["journal-1 0 54.990".to_owned()], vec![]));
    let reading = |place: &str| TableColumn::Reading { place: Some(place.to_owned()) };
    let said = Some(vec![TableColumn::Site, reading("90°"), reading("1")]);
    let (seen, _) = taken(&shop, "measure", table, said);
    assert_eq!(seen, ["journal-1 1 54.990", "journal-1 0 54.980"]);
    // Nothing there, no such place, no reading: nothing is taken, and nothing ends.
    let nowhere = Some(vec![TableColumn::Site, TableColumn::Of { site: 999, place: 0 }, TableColumn::Skip]);
    assert_eq!(taken(&shop, "measure", table, nowhere).0.len(), 1, "it is guessed again");
    let (seen, left) =
        taken(&shop, "measure", table, Some(vec![TableColumn::Skip, reading("1"), reading("8")]));
    assert_eq!((seen.len(), left), (0, vec![2]));
    let (seen, _) = taken(
        &shop,
        "measure",
        "what,first\nJournal 1,oval\nJournal 1,54.9 bar",
        Some(vec![TableColumn::Site, reading("1")]),
    );
    assert_eq!(seen, ["journal-1 0 none again", "journal-1 0 none"]);
    let table = crate::table::read("a;1").unwrap();
    assert!(shop.state.table(shop.at("take-in"), table, "mm", None).is_none());
}
