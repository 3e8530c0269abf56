//! The plans that ship with Rigore, built from the first part taken in to the last signature.

use rigore_core::build::{
    BuildStatus, Command, Context, Do, EVENT_FORMAT, Event, Given, Instrument, Method, PartNote, Person,
    PlanRef, Refusal, Role, State, Step, decide,
};
use rigore_core::clearance::{Chamber, Decision, compression};
use rigore_core::plan::{Clearance, Cylinder, Plan, Rule, Size, Work};
use rigore_core::sheet::Sheet;
use std::collections::{BTreeMap, HashMap};
use std::f64::consts::PI;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

const TARN: &str = include_str!("../../../plans/tarn-5.toml");
const OSTRA: &str = include_str!("../../../plans/ostra-11.toml");

/// One instrument for everything, very sure of itself.
fn instrument() -> Instrument {
    Instrument {
        id: "all".into(),
        name: "Everything".into(),
        torque_nm: Some([1.0, 500.0]),
        angle: true,
        length_mm: Some([-10.0, 500.0]),
        volume_cc: Some([0.0, 500.0]),
        accuracy: 0.0001,
        resolution: 0.0001,
        ..Instrument::default()
    }
}

/// Somebody who builds an engine by doing what is next, as well as can be.
struct Builder {
    state: State,
    use_for: Option<String>,
    sizes: HashMap<String, f64>,
    counts: BTreeMap<String, usize>,
}

impl Builder {
    fn begin(source: &str, use_for: Option<&str>) -> Self {
        let (plan, warnings) = Plan::read("plan.toml", source).expect("the plan is right");
        assert_eq!(warnings, [], "a plan that ships has no warnings");
        let use_for = use_for.map(str::to_owned);
        let sizes = ideal_sizes(&plan, use_for.as_deref());
        let reference = PlanRef { hash: "h".into(), id: plan.id.clone(), name: plan.name.clone() };
        let state = State::new(Arc::new(plan));
        let mut builder = Self { state, use_for, sizes, counts: BTreeMap::new() };
        let (name, use_for) = ("Whole".to_owned(), builder.use_for.clone());
        let begin = Do::Begin { name, plan: reference, use_for, owner: None, identity: Some("1".into()) };
        builder.give(Role::Lead, begin).expect("begun");
        builder
    }

    fn give(&mut self, role: Role, what: Do) -> Result<(), Refusal> {
        let by = Person { id: format!("{role:?}"), name: format!("{role:?}"), role };
        let at = OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(self.state.seq as i64);
        let context = Context { by: by.clone(), at, instrument: Some(instrument()) };
        let command = Command { id: Uuid::from_u128(u128::from(self.state.seq)), seen: self.state.seq, what };
        for fact in decide(&self.state, &context, &command)? {
            let seq = self.state.seq + 1;
            let event = Event { v: EVENT_FORMAT, seq, at, by: by.clone(), command: command.id, fact };
            self.state.apply(&event);
        }
        Ok(())
    }

    /// The command for what is next in an operation; none when it only has to be signed.
    fn next(&self, at: usize) -> Option<Do> {
        let operation = self.state.plan.operations[at].id.clone();
        let text = |value: f64| format!("{value:.6}");
        Some(match self.state.step(at) {
            Step::Fit { slot, .. } => {
                Do::Fit { operation, slot, part: PartNote { reference: "new".into(), ..PartNote::default() } }
            }
            Step::Count { hardware, .. } => {
                let count = self.state.counts(at).into_iter().find(|line| line.id == hardware)?.expected;
                Do::Count { operation, hardware, count }
            }
            Step::Confirm { item, .. } => Do::Confirm { operation, item },
            Step::Measure { site, place, .. } => {
                let (_, planned) = self.state.plan.site(&site)?;
                let along = planned.places[place].crank_deg.map_or(0.0, |deg| 0.002 * deg * deg);
                Do::Measure {
                    operation,
                    site: site.clone(),
                    place,
                    text: text(self.sizes[&planned.family] + along),
                    unit: None,
                    temperature_c: None,
                    sure: false,
                    method: Method::Typed,
                    instrument: "all".into(),
                }
            }
            Step::Shells { clearance, number, .. } => {
                let views = self.state.clearances(None);
                let view = views.into_iter().find(|view| view.id == clearance && view.number == number)?;
                let shells = view.proposed?;
                Do::ChooseShells { operation, clearance, number, upper: shells.upper, lower: shells.lower }
            }
            Step::Turn => Do::Turn { operation, free: true, text: Some("2.5".into()), unit: None },
            Step::Act { stage, .. } => Do::Act { operation, stage },
            Step::Pull { stage, fastener, band, .. } => Do::Pull {
                operation,
                stage,
                fastener,
                reading: Given { text: Some(text(band.target)), ..Given::default() },
                method: Method::Typed,
                instrument: "all".into(),
            },
            Step::Sign => return None,
        })
    }

    /// Does an operation to its end and signs it.
    fn work(&mut self, at: usize) {
        let planned = self.state.plan.operations[at].clone();
        let (_, total) = self.state.progress(at);
        let mut steps = 0;
        while let Some(what) = self.next(at) {
            assert_eq!(self.state.progress(at), (steps, total), "{}", planned.id);
            self.give(Role::Bench, what).unwrap_or_else(|refusal| panic!("{}: {refusal}", planned.id));
            steps += 1;
        }
        assert_eq!(steps, total, "{}", planned.id);
        self.counts.insert(planned.id.clone(), steps);
        let role = if matches!(planned.work, Work::Sign) { Role::Lead } else { Role::Bench };
        self.give(role, Do::Sign { operation: planned.id.clone() })
            .unwrap_or_else(|refusal| panic!("{}: {refusal}", planned.id));
    }
}

/// The window of a clearance that the builder aims at the middle of.
fn target(clearance: &Clearance, use_for: Option<&str>) -> f64 {
    clearance.window_for(use_for).expect("a window").target
}

/// A size for every family of sites, so that every clearance lands on its target.
fn ideal_sizes(plan: &Plan, use_for: Option<&str>) -> HashMap<String, f64> {
    let middle = |site: &rigore_core::plan::Site| f64::midpoint(site.plausible[0], site.plausible[1]);
    let mut sizes: HashMap<String, f64> =
        plan.sites.iter().map(|site| (site.family.clone(), middle(site))).collect();
    for clearance in &plan.clearances {
        let aim = target(clearance, use_for);
        match &clearance.rule {
            Rule::Difference { plus, minus, add_mm } => {
                let shells =
                    clearance.shells.get(clearance.shells.len() / 2).map_or(0.0, |s| 2.0 * s.thickness_mm);
                let bore = clearance.per_bore.as_ref().map_or(1.0, |family| sizes[family]);
                let taken_off = minus.as_ref().map_or(0.0, |family| sizes[family]);
                sizes.insert(plus.clone(), taken_off + aim * bore + shells - add_mm);
            }
            Rule::Least { of } => {
                sizes.insert(of.clone(), aim);
            }
            Rule::Compression(cylinder) => {
                let Size::Measured(chamber) = &cylinder.chamber else { continue };
                let volume = chamber_for(cylinder, aim, &sizes);
                sizes.insert(chamber.clone(), volume);
            }
        }
        if let Some(second) = &clearance.second {
            let strip = plan.family(second).next().and_then(|(_, site)| site.strip_mm).expect("a strip");
            sizes.insert(second.clone(), PI * strip * strip / (4.0 * aim));
        }
    }
    sizes
}

/// The chamber that gives a compression ratio, by halving.
fn chamber_for(cylinder: &Cylinder, ratio: f64, sizes: &HashMap<String, f64>) -> f64 {
    let size = |size: &Size| match size {
        Size::Fixed(value) => *value,
        Size::Measured(family) => sizes[family],
    };
    let with = |chamber_cc: f64| {
        let chamber = Chamber {
            bore_mm: size(&cylinder.bore),
            stroke_mm: size(&cylinder.stroke),
            chamber_cc,
            piston_cc: size(&cylinder.piston),
            gasket_bore_mm: size(&cylinder.gasket_bore),
            gasket_mm: size(&cylinder.gasket),
            deck_mm: size(&cylinder.deck),
            crevice_cc: size(&cylinder.crevice),
        };
        compression(&chamber).expect("a chamber").ratio
    };
    let (mut small, mut large) = (1.0, 500.0);
    for _ in 0..60 {
        let middle = f64::midpoint(small, large);
        if with(middle) > ratio { small = middle } else { large = middle }
    }
    small
}

/// Builds an engine operation by operation, in the order of the plan.
fn build(source: &str, use_for: Option<&str>) -> Builder {
    let mut builder = Builder::begin(source, use_for);
    for at in 0..builder.state.operations.len() {
        builder.work(at);
    }
    builder
}

#[test]
fn a_tarn_5_is_built_to_its_last_signature_for_every_use() {
    for use_for in [None, Some("street"), Some("endurance"), Some("boost")] {
        let builder = build(TARN, use_for);
        assert_eq!(builder.state.view().status, BuildStatus::Finished, "{use_for:?}");
        assert_eq!(builder.state.matters(), []);
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
        assert_eq!(builder.counts["main-caps-tighten"], 25);
        assert_eq!(builder.counts["take-in"], 18);
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
    let sheet = Sheet::of(&builder.state);
    assert!(sheet.matters.is_empty());
    assert_eq!(sheet.identity.as_deref(), Some("1"));
    for section in &sheet.sections {
        assert!(section.signed_by.is_some(), "{}", section.id);
        assert!(section.items.iter().all(|item| item.seq.is_some()), "{}", section.id);
        assert!(section.parts.iter().all(|slot| slot.part.is_some()), "{}", section.id);
        assert!(section.counts.iter().all(|line| line.count.is_some() && line.difference.is_none()));
        assert!(section.readings.iter().all(|reading| !reading.superseded && reading.fault.is_none()));
        assert!(section.clearances.iter().all(|view| view.decision.is_some()), "{}", section.id);
    }
    let judged: usize = sheet.sections.iter().map(|section| section.clearances.len()).sum();
    assert_eq!(judged, builder.state.clearances(None).len(), "every clearance stands on the sheet once");
}

#[test]
fn nothing_can_be_signed_before_what_it_waits_for() {
    let mut builder = Builder::begin(TARN, None);
    let order: Vec<String> = builder.state.plan.operations.iter().map(|o| o.id.clone()).collect();
    for (at, operation) in order.iter().enumerate() {
        let waits = !builder.state.open_needs(at).is_empty();
        let refused = builder.give(Role::Lead, Do::Sign { operation: operation.clone() });
        assert!(refused.is_err(), "{operation} has nothing done in it");
        assert_eq!(waits, at > 0, "{operation}");
    }
    for (at, operation) in order.iter().enumerate() {
        assert!(
            builder.state.open_needs(at).is_empty(),
            "{operation} can be started in the order of the plan"
        );
        builder.work(at);
    }
}

#[test]
fn a_part_changed_after_the_signature_opens_its_operation_again_and_holds_the_engine() {
    let mut builder = build(TARN, None);
    let part = PartNote { reference: "another".into(), ..PartNote::default() };
    let fit = Do::Fit { operation: "take-in".into(), slot: "rod-3".into(), part };
    builder.give(Role::Bench, fit).expect("a fact is kept");
    let view = builder.state.view();
    assert_eq!(view.status, BuildStatus::InWork);
    assert!(view.operations[0].signed_by.is_none());
    assert_eq!(view.parts[4].before.len(), 1);
    builder.give(Role::Bench, Do::Sign { operation: "take-in".into() }).expect("signed again");
    assert_eq!(builder.state.view().status, BuildStatus::Finished);
}

#[test]
fn one_bad_journal_is_found_named_and_mended_by_other_shells() {
    let mut builder = Builder::begin(TARN, Some("street"));
    for at in 0..3 {
        builder.work(at);
    }
    let at = builder.state.plan.operation("mains-measure").expect("the operation").0;
    // Journal 4 was ground 8 µm small; everything else is on target.
    while let Some(mut what) = builder.next(at) {
        if let Do::Measure { site, text, .. } = &mut what
            && site == "main-journal-4"
        {
            *text = format!("{:.6}", builder.sizes["main-journal"] - 0.008);
        }
        builder.give(Role::Bench, what).expect("recorded");
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
        .give(Role::Bench, Do::ChooseShells { operation, clearance, number: 4, upper, lower })
        .expect("chosen");
    assert!((oil(&builder, 4).span.expect("a span")[1] - 0.042).abs() < 1e-6);
    assert!((oil(&builder, 3).span.expect("a span")[1] - 0.042).abs() < 1e-6);
}
