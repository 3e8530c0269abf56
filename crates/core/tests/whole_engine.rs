//! The plans that ship with Rigore, built from the first part taken in to the last signature.

use rigore_core::clearance::{Chamber, Decision, compression};
use rigore_core::engine::{
    Act, Begin, BenchWork, Between, BuildStatus, ChooseShells, Confirm, Context, Count, Do, EVENT_FORMAT,
    Event, Fit, Given, Instrument, Loosen, Measure, Method, PartNote, Person, PlanRef, Pull, Refusal, Role,
    SectionWork, Sign, State, Step, Tools, Turn, begin, decide,
};
use rigore_core::plan::{Clearance, Cylinder, FamilyIx, OperationIx, Plan, Rule, Size, Work};
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
        reach_mm: Some(500.0),
        torque_nm: Some([1.0, 500.0]),
        angle: true,
        length_mm: Some([-10.0, 500.0]),
        volume_cc: Some([0.0, 500.0]),
        accuracy: 0.0001,
        resolution: 0.0001,
        ..Instrument::default()
    }
}

fn person(role: Role) -> Person {
    Person { id: format!("{role:?}"), name: format!("{role:?}"), role }
}

/// Somebody who builds an engine by doing what is next, as well as can be.
struct Builder {
    state: State,
    sizes: HashMap<FamilyIx, f64>,
    counts: BTreeMap<String, usize>,
}

impl Builder {
    fn begin(source: &str, use_for: Option<&str>) -> Self {
        let (plan, warnings) = Plan::judge("plan.toml", source).expect("the plan is right");
        assert_eq!(warnings, [], "a plan that ships has no warnings");
        let sizes = ideal_sizes(&plan, use_for);
        let of = PlanRef { hash: "h".into(), id: plan.id.clone(), name: plan.name.clone() };
        let (name, use_for) = ("Whole".to_owned(), use_for.map(str::to_owned));
        let wanted =
            Begin { name, plan: of, use_for, owner: None, identity: Some("1".into()), lubricants: None };
        let (by, at) = (person(Role::Lead), OffsetDateTime::UNIX_EPOCH);
        let context = Context::new(by.clone(), at);
        let fact = begin(&plan, &context, &wanted).expect("begun");
        let event = Event { v: EVENT_FORMAT, seq: 1, at, by, command: Uuid::nil(), fact };
        let state = State::fold(|_| Some(Arc::new(plan)), [&event]).expect("begun");
        Self { state, sizes, counts: BTreeMap::new() }
    }

    fn give(&mut self, role: Role, what: &Do) -> Result<(), Refusal> {
        let by = person(role);
        let seen = self.state.seq;
        let at = OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(seen.cast_signed());
        let context = Context { instrument: Some(instrument()), seen, ..Context::new(by.clone(), at) };
        let command = Uuid::from_u128(u128::from(seen));
        for fact in decide(&self.state, &context, what)? {
            let seq = self.state.seq + 1;
            self.state.apply(&Event { v: EVENT_FORMAT, seq, at, by: by.clone(), command, fact });
        }
        Ok(())
    }

    fn at(&self, operation: &str) -> OperationIx {
        self.state.plan.operation(operation).expect("an operation of the plan")
    }

    /// The command for what is next in an operation; none when it only has to be signed.
    fn next(&self, at: OperationIx) -> Option<Do> {
        let operation = self.state.plan[at].id.clone();
        let text = |value: f64| format!("{value:.6}");
        Some(match self.state.step(at) {
            Step::Fit(step) => {
                let part = PartNote { reference: "new".into(), ..PartNote::default() };
                Do::Fit(Fit { operation, slot: step.slot, part, before: None })
            }
            Step::Count(step) => {
                let tools =
                    Tools { instruments: &[], settings: &BTreeMap::new(), now: OffsetDateTime::UNIX_EPOCH };
                let BenchWork::Count { counts } = self.state.bench(at, tools).work else { return None };
                let count = counts.into_iter().find(|line| line.id == step.hardware)?.expected;
                Do::Count(Count { operation, hardware: step.hardware, count })
            }
            Step::Confirm(step) => Do::Confirm(Confirm { operation, item: step.item }),
            Step::Measure(step) => {
                let planned = &self.state.plan[self.state.plan.site(&step.site)?];
                let along = planned.places[step.place].crank_deg.map_or(0.0, |deg| 0.002 * deg * deg);
                Do::Measure(Measure {
                    operation,
                    site: step.site,
                    place: step.place,
                    text: text(self.sizes[&planned.family] + along),
                    unit: None,
                    temperature_c: None,
                    sure: false,
                    method: Method::Typed,
                    instrument: "all".into(),
                })
            }
            Step::Shells(step) => {
                let (clearance, number) = (step.clearance, step.number);
                let views = self.state.clearances(None);
                let view = views.into_iter().find(|view| view.id == clearance && view.number == number)?;
                let shells = view.proposed?;
                let (upper, lower) = (shells.upper, shells.lower);
                Do::ChooseShells(ChooseShells { operation, clearance, number, upper, lower })
            }
            Step::Turn => Do::Turn(Turn { operation, free: true, text: Some("2.5".into()), unit: None }),
            Step::Act(step) => {
                Do::Act(Act { operation, joint: Some(step.joint), stage: step.stage, ..Act::default() })
            }
            Step::Loosen(step) => {
                let (joint, fastener) = (Some(step.joint), step.fastener);
                Do::Loosen(Loosen { operation, joint, fastener, ..Loosen::default() })
            }
            Step::Pull(step) => {
                let plain = step.asks.plain.first().map(|plain| plain.figure);
                let plan = &self.state.plan;
                let joint = &plan[plan.joint(&step.joint)?];
                let adapter = plan.adapter(joint, joint.fastener(&step.fastener)?);
                let shown =
                    step.target.shown * instrument().setup(Between { adapter, conversion: None }).factor()?;
                Do::Pull(Pull {
                    operation,
                    joint: Some(step.joint),
                    stage: step.stage,
                    fastener: step.fastener,
                    reading: Given { text: Some(text(plain.unwrap_or(shown))), ..Given::default() },
                    method: if plain.is_some() { Method::Seen } else { Method::Typed },
                    instrument: "all".into(),
                    sure: false,
                })
            }
            Step::Sign => return None,
        })
    }

    /// Does an operation to its end and signs it.
    fn work(&mut self, at: OperationIx) {
        let planned = self.state.plan[at].clone();
        let (_, total) = self.state.progress(at);
        let mut steps = 0;
        while let Some(what) = self.next(at) {
            assert_eq!(self.state.progress(at), (steps, total), "{}", planned.id);
            self.give(Role::Bench, &what).unwrap_or_else(|refusal| panic!("{}: {refusal}", planned.id));
            steps += 1;
        }
        assert_eq!(steps, total, "{}", planned.id);
        self.counts.insert(planned.id.clone(), steps);
        let role = if matches!(planned.work, Work::Sign) { Role::Lead } else { Role::Bench };
        self.give(role, &Do::Sign(Sign::one(planned.id.clone())))
            .unwrap_or_else(|refusal| panic!("{}: {refusal}", planned.id));
    }
}

/// The window of a clearance that the builder aims at the middle of.
fn target(clearance: &Clearance, use_for: Option<&str>) -> f64 {
    clearance.window_for(use_for).expect("a window").target
}

/// A size for every family of sites, so that every clearance lands on its target.
fn ideal_sizes(plan: &Plan, use_for: Option<&str>) -> HashMap<FamilyIx, f64> {
    let middle = |site: &rigore_core::plan::Site| f64::midpoint(site.plausible[0], site.plausible[1]);
    let mut sizes: HashMap<FamilyIx, f64> =
        plan.sites.iter().map(|site| (site.family, middle(site))).collect();
    for clearance in &plan.clearances {
        let aim = target(clearance, use_for);
        match &clearance.rule {
            Rule::Difference { plus, minus, add_mm } => {
                let shells =
                    clearance.shells.get(clearance.shells.len() / 2).map_or(0.0, |s| 2.0 * s.thickness_mm);
                let bore = clearance.per_bore.map_or(1.0, |family| sizes[&family]);
                let taken_off = minus.map_or(0.0, |family| sizes[&family]);
                sizes.insert(*plus, taken_off + aim * bore + shells - add_mm);
            }
            Rule::Least { of } => {
                sizes.insert(*of, aim);
            }
            Rule::Compression(cylinder) => {
                let Size::Measured(chamber) = cylinder.chamber else { continue };
                let volume = chamber_for(cylinder, aim, &sizes);
                sizes.insert(chamber, volume);
            }
        }
        if let Some(second) = clearance.second {
            let strip = plan.sites[plan[second].sites.start].strip_mm.expect("a strip");
            sizes.insert(second, PI * strip * strip / (4.0 * aim));
        }
    }
    sizes
}

/// The chamber that gives a compression ratio, by halving.
fn chamber_for(cylinder: &Cylinder, ratio: f64, sizes: &HashMap<FamilyIx, f64>) -> f64 {
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
    for at in builder.state.plan.line() {
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
    let mut judged = 0;
    for section in &sheet.sections {
        let id = &section.id;
        assert!(section.signed_by.is_some() && section.lapsed.is_empty(), "{id}");
        match &section.work {
            SectionWork::Items { items } => assert!(items.iter().all(|item| item.seq.is_some()), "{id}"),
            SectionWork::Parts { parts } => assert!(parts.iter().all(|slot| slot.part.is_some()), "{id}"),
            SectionWork::Count { counts } => {
                assert!(counts.iter().all(|line| line.count.is_some() && line.difference.is_none()), "{id}");
            }
            SectionWork::Measure(measured) => {
                let fine = measured.readings.iter().all(|r| !r.superseded && r.fault.is_none());
                assert!(fine && measured.clearances.iter().all(|view| view.decision.is_some()), "{id}");
                judged += measured.clearances.len();
            }
            SectionWork::Tighten { joints } => {
                let rows = joints.iter().flat_map(|joint| &joint.rows);
                assert!(rows.into_iter().all(|row| row.pulls.iter().all(Option::is_some)), "{id}");
            }
            SectionWork::Turn { turns } => assert_eq!(turns.len(), 1, "{id}"),
            SectionWork::Sign => {}
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
        let refused = builder.give(Role::Lead, &Do::Sign(Sign::one(operation.clone())));
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
    let part = PartNote { reference: "another".into(), ..PartNote::default() };
    let fit = Do::Fit(Fit { operation: "take-in".into(), slot: "rod-3".into(), part, before: None });
    builder.give(Role::Bench, &fit).expect("a fact is kept");
    let view = builder.state.view();
    assert_eq!(view.status, BuildStatus::InWork);
    assert!(view.operations[0].signed_by.is_none());
    assert_eq!(view.parts[4].before.len(), 1);
    builder.give(Role::Bench, &Do::Sign(Sign::one("take-in"))).expect("signed again");
    assert_eq!(builder.state.view().status, BuildStatus::InWork, "the lead signed something else");
    builder.give(Role::Lead, &Do::Sign(Sign::one("sign-off"))).expect("signed off again");
    assert_eq!(builder.state.view().status, BuildStatus::Finished);
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
        if let Do::Measure(Measure { site, text, .. }) = &mut what
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
        .give(Role::Bench, &Do::ChooseShells(ChooseShells { operation, clearance, number: 4, upper, lower }))
        .expect("chosen");
    assert!((oil(&builder, 4).span.expect("a span")[1] - 0.042).abs() < 1e-6);
    assert!((oil(&builder, 3).span.expect("a span")[1] - 0.042).abs() < 1e-6);
}
