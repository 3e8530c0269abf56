//! Somebody who builds an engine of a plan that ships with Rigore, by doing what is next, as well as can be.

#![allow(dead_code, reason = "each file of tests uses what it needs of it")]

use rigore_assembly::{
    ActionCommand, AdapterAndLubricant, BenchStep, BenchWork, BuildStart, BuildState, CommandAction,
    CommandContext, ConfirmCommand, CountCommand, EVENT_FORMAT, Event, FitCommand, GivenReading, Instrument,
    InstrumentUser, LoosenCommand, MeasureCommand, MeasuringRange, OperationStatus, PartNote, Person,
    PlanRef, PullCommand, ReadingMethod, Refusal, Role, ShellChoiceCommand, ShopTools, SignCommand,
    TurnCommand, begin, decide,
};
use rigore_mechanics::geometry::{Chamber, compression};
use rigore_plan::{
    ChamberSpec, Clearance, ClearanceRule, FamilyIx, OperationIx, OperationWork, Plan, SizeSource,
};
use std::collections::{BTreeMap, HashMap};
use std::f64::consts::PI;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

pub const TARN: &str = include_str!("../../../../../plans/tarn-5.toml");
pub const OSTRA: &str = include_str!("../../../../../plans/ostra-11.toml");

/// One instrument for everything, very sure of itself.
pub fn instrument() -> Instrument {
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
        measures: ["°", "", "bar", "°C", "g", "N·m"].map(measures).to_vec(),
        ..Instrument::default()
    }
}

fn measures(unit: &str) -> MeasuringRange {
    MeasuringRange { unit: unit.into(), range: [-1000.0, 1000.0], accuracy: 0.0, resolution: 0.0 }
}

pub fn person(role: Role) -> Person {
    Person { id: format!("{role:?}"), name: format!("{role:?}"), role }
}

/// Somebody who builds an engine by doing what is next, as well as can be.
pub struct Builder {
    pub state: BuildState,
    pub sizes: HashMap<FamilyIx, f64>,
    pub counts: BTreeMap<String, usize>,
    /// What time it is: every entry takes a few seconds.
    pub now: OffsetDateTime,
}

impl Builder {
    pub fn begin(source: &str, use_for: Option<&str>) -> Self {
        let (plan, warnings) = Plan::judge("plan.toml", source).expect("the plan is right");
        assert_eq!(warnings, [], "a plan that ships has no warnings");
        let sizes = ideal_sizes(&plan, use_for);
        let of = PlanRef { hash: "h".into(), id: plan.id.clone(), name: plan.name.clone() };
        let (name, use_for) = ("Whole".to_owned(), use_for.map(str::to_owned));
        let wanted = BuildStart {
            name,
            plan: of,
            use_for,
            owner: None,
            identity: Some("1".into()),
            lubricants: None,
            decision_rule: None,
        };
        let (by, at) = (person(Role::Lead), OffsetDateTime::UNIX_EPOCH);
        let context = CommandContext::new(by.clone(), at);
        let fact = begin(&plan, &context, &wanted).expect("begun");
        let event = Event { v: EVENT_FORMAT, seq: 1, at, by, command: Uuid::nil(), request: None, fact };
        let plan = Arc::new(plan);
        let state = BuildState::fold(|_| Some(Arc::clone(&plan)), [&event]).expect("begun");
        Self { state, sizes, counts: BTreeMap::new(), now: at }
    }

    pub fn give(&mut self, role: Role, what: &CommandAction) -> Result<(), Refusal> {
        let by = person(role);
        let seen = self.state.seq;
        let at = self.now;
        self.now += time::Duration::seconds(5);
        let context =
            CommandContext { instrument: Some(instrument()), seen, ..CommandContext::new(by.clone(), at) };
        let command = Uuid::from_u128(u128::from(seen));
        for fact in decide(&self.state, &context, what)? {
            let seq = self.state.seq + 1;
            self.state.apply(&Event {
                v: EVENT_FORMAT,
                seq,
                at,
                by: by.clone(),
                command,
                request: None,
                fact,
            });
        }
        Ok(())
    }

    pub fn at(&self, operation: &str) -> OperationIx {
        self.state.plan.operation(operation).expect("an operation of the plan")
    }

    /// The command for what is next in an operation; none when it only has to be signed.
    pub fn next(&self, at: OperationIx) -> Option<CommandAction> {
        let operation = self.state.plan[at].id.clone();
        let text = |value: f64| format!("{value:.6}");
        Some(match self.state.step(at) {
            BenchStep::Fit(step) => {
                let part = PartNote { reference: "new".into(), ..PartNote::default() };
                CommandAction::Fit(FitCommand { operation, slot: step.slot, part, before: None })
            }
            BenchStep::Count(step) => {
                let tools = ShopTools {
                    instruments: &[],
                    settings: &BTreeMap::new(),
                    using: InstrumentUser::somebody(OffsetDateTime::UNIX_EPOCH),
                };
                let BenchWork::Count { counts } = self.state.bench(at, tools).work else { return None };
                let count = counts.into_iter().find(|line| line.id == step.hardware)?.expected;
                CommandAction::Count(CountCommand { operation, hardware: step.hardware, count })
            }
            BenchStep::Confirm(step) => CommandAction::Confirm(ConfirmCommand { operation, item: step.item }),
            BenchStep::Measure(step) => {
                let planned = &self.state.plan[self.state.plan.site(&step.site)?];
                let along = planned.places[step.place].crank_deg.map_or(0.0, |deg| 0.002 * deg * deg);
                CommandAction::Measure(MeasureCommand {
                    operation,
                    site: step.site,
                    place: step.place,
                    text: text(self.sizes[&planned.family] + along),
                    unit: None,
                    temperature_c: None,
                    sure: false,
                    method: ReadingMethod::Typed,
                    instrument: "all".into(),
                })
            }
            BenchStep::Shells(step) => {
                let (clearance, number) = (step.clearance, step.number);
                let views = self.state.clearances(None);
                let view = views.into_iter().find(|view| view.id == clearance && view.number == number)?;
                let shells = view.proposed?;
                let (upper, lower) = (shells.upper, shells.lower);
                CommandAction::ChooseShells(ShellChoiceCommand { operation, clearance, number, upper, lower })
            }
            BenchStep::Turn => CommandAction::Turn(TurnCommand {
                operation,
                free: true,
                text: Some("2.5".into()),
                unit: None,
            }),
            BenchStep::Act(step) => CommandAction::Act(ActionCommand {
                operation,
                joint: Some(step.joint),
                stage: step.stage,
                ..ActionCommand::default()
            }),
            BenchStep::Loosen(step) => {
                let (joint, fastener) = (Some(step.joint), step.fastener);
                CommandAction::Loosen(LoosenCommand {
                    operation,
                    joint,
                    fastener,
                    ..LoosenCommand::default()
                })
            }
            BenchStep::Pull(step) => {
                let plain = step.asks.plain.first().map(|plain| plain.figure);
                let plan = &self.state.plan;
                let joint = &plan[plan.joint(&step.joint)?];
                let adapter = plan.adapter(joint, joint.fastener(&step.fastener)?);
                let shown = step.target.shown
                    * instrument().setup(AdapterAndLubricant { adapter, conversion: None }).factor()?;
                CommandAction::Pull(PullCommand {
                    operation,
                    joint: Some(step.joint),
                    stage: step.stage,
                    fastener: step.fastener,
                    reading: GivenReading {
                        text: Some(text(plain.unwrap_or(shown))),
                        ..GivenReading::default()
                    },
                    method: if plain.is_some() { ReadingMethod::Seen } else { ReadingMethod::Typed },
                    instrument: "all".into(),
                    sure: false,
                    note: None,
                })
            }
            BenchStep::Sign => return None,
        })
    }

    /// Does an operation to its end and signs it.
    pub fn work(&mut self, at: OperationIx) {
        let planned = self.state.plan[at].clone();
        let cure = self.state.view().operations[at.0].cure.clone();
        self.now = cure.map_or(self.now, |cure| self.now.max(cure.until));
        let (_, total) = self.state.progress(at);
        let mut steps = 0;
        while let Some(what) = self.next(at) {
            assert_eq!(self.state.progress(at), (steps, total), "{}", planned.id);
            self.give(Role::Bench, &what).unwrap_or_else(|refusal| panic!("{}: {refusal}", planned.id));
            steps += 1;
        }
        assert_eq!(steps, total, "{}", planned.id);
        self.counts.insert(planned.id.clone(), steps);
        let role = if matches!(planned.work, OperationWork::Sign) { Role::Lead } else { Role::Bench };
        self.give(role, &CommandAction::Sign(SignCommand::one(planned.id.clone())))
            .unwrap_or_else(|refusal| panic!("{}: {refusal}", planned.id));
    }

    /// Does all that is open in the line, in its order, and signs what is not signed.
    pub fn go_on(&mut self, until: &str) {
        let last = self.at(until);
        for at in self.state.plan.line().filter(|at| *at <= last) {
            let (id, cure) =
                (self.state.plan[at].id.clone(), self.state.view().operations[at.0].cure.clone());
            self.now = cure.map_or(self.now, |cure| self.now.max(cure.until));
            while let Some(what) = self.next(at) {
                self.give(Role::Bench, &what).unwrap_or_else(|refusal| panic!("{id}: {refusal}"));
            }
            if self.state.view().operations[at.0].signed_by.is_none() {
                self.give(Role::Lead, &CommandAction::Sign(SignCommand::one(id.clone())))
                    .unwrap_or_else(|refusal| panic!("{id}: {refusal}"));
            }
        }
    }

    /// Every operation with how it stands.
    pub fn standing(&self) -> BTreeMap<String, OperationStatus> {
        self.state.view().operations.into_iter().map(|view| (view.id, view.status)).collect()
    }

    /// What is open.
    pub fn whats(&self) -> Vec<String> {
        self.state.issues().into_iter().map(|issue| issue.text.in_base_units()).collect()
    }
}

/// The window of a clearance that the builder aims at the middle of.
fn target(clearance: &Clearance, use_for: Option<&str>) -> f64 {
    clearance.window_for(use_for).expect("a window").target
}

/// A size for every family of sites, so that every clearance lands on its target.
fn ideal_sizes(plan: &Plan, use_for: Option<&str>) -> HashMap<FamilyIx, f64> {
    let middle = |site: &rigore_plan::Site| f64::midpoint(site.plausible[0], site.plausible[1]);
    let mut sizes: HashMap<FamilyIx, f64> =
        plan.sites.iter().map(|site| (site.family, middle(site))).collect();
    for clearance in &plan.clearances {
        let aim = target(clearance, use_for);
        match &clearance.rule {
            ClearanceRule::Difference { plus, minus, add_mm } => {
                let shells =
                    clearance.shells.get(clearance.shells.len() / 2).map_or(0.0, |s| 2.0 * s.thickness_mm);
                let bore = clearance.per_bore.map_or(1.0, |family| sizes[&family]);
                let taken_off = minus.map_or(0.0, |family| sizes[&family]);
                sizes.insert(*plus, taken_off + aim * bore + shells - add_mm);
            }
            ClearanceRule::Least { of, .. } => {
                sizes.insert(*of, aim);
            }
            ClearanceRule::Compression(cylinder) => {
                let SizeSource::Measured(chamber) = cylinder.chamber else { continue };
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
fn chamber_for(cylinder: &ChamberSpec, ratio: f64, sizes: &HashMap<FamilyIx, f64>) -> f64 {
    let size = |size: &SizeSource| match size {
        SizeSource::Fixed(value) => *value,
        SizeSource::Measured(family) => sizes[family],
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
pub fn build(source: &str, use_for: Option<&str>) -> Builder {
    let mut builder = Builder::begin(source, use_for);
    for at in builder.state.plan.line() {
        builder.work(at);
    }
    builder
}
