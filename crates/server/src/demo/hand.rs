//! A hand that does what is next at one engine, by the commands people give.

use super::told::{DemoBuild, DemoFinding, DemoPart, DemoShop, DemoSize};
use crate::routes::rig;
use anyhow::{Context, Result, bail};
use rigore_assembly::{
    ActionCommand, BenchStep, BenchWork, BlockerCommand, BuildState, Command, CommandAction, ConfirmCommand,
    CountCommand, DueDate, FindingCommand, FindingSubject, FitCommand, GivenReading, InstrumentUser, Issue,
    LoosenCommand, MeasureCommand, PartCondition, Person, PullCommand, PullStep, ReadingMethod, Remedy, Role,
    ShellChoiceCommand, ShopTools, SignCommand, TurnCommand,
};
use rigore_mechanics::quantity::{self, Dimension};
use rigore_plan::OperationWork;
use rigore_store::{Roster, Store};
use std::collections::BTreeMap;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// The instrument demo pulls are made with.
const WRENCH: &str = "rig-wrench";
/// What demo pulls are told by that no instrument shows.
const HAND: &str = "hand";
/// The stretch gauge of the demonstration.
const GAUGE: &str = "rig-gauge";
/// What the height of a stud is read with.
const HEIGHT_GAUGE: &str = "height-gauge";
/// Turning torque of the demonstration's crankshafts, as it is typed.
const TURNING: &str = "3.2";
/// How much less a bolt stretches that was rubbed dry.
const DRY: f64 = 1.6;
/// What is left of the stretch of one that grows.
const GROWN: &str = "0.009";
/// Pictures of the demonstration, by name.
const PICTURES: &[(&str, &[u8])] = &[("thread", include_bytes!("../../../../plans/thread.jpg"))];

/// Gives commands to one build, each some minutes after the one before.
pub struct DemoWorker<'a> {
    pub shop: &'a DemoShop,
    pub build: &'a DemoBuild,
    pub store: &'a Store,
    pub roster: &'a Roster,
    pub id: Uuid,
    pub state: BuildState,
    pub at: OffsetDateTime,
    pub count: u64,
    /// Whether it happens as somebody looks.
    pub now: bool,
    /// Who works at the bench; the first one there is where nobody is named.
    pub by: Option<String>,
}

/// Whether a fastener is the one that is named with its joint or operation: `rod-1/A`.
fn is_it(named: Option<&String>, joint: &str, fastener: &str) -> bool {
    named.is_some_and(|named| *named == format!("{joint}/{fastener}"))
}

impl DemoWorker<'_> {
    async fn give(&mut self, role: Role, what: CommandAction) -> Result<()> {
        self.count += 1;
        // Where sealant is open nobody dawdles.
        let dawdles = if self.state.clocks().is_empty() && !self.now {
            47 + (self.count.cast_signed() * 29) % 180
        } else {
            4
        };
        self.at += Duration::seconds(dawdles);
        let id = Uuid::new_v5(&self.id, &self.count.to_be_bytes());
        let named =
            |person: &&Person| self.by.as_ref().is_none_or(|by| role != Role::Bench || *by == person.id);
        let mut people = self.roster.people.iter().filter(|person| person.role == role);
        let by = people.find(named).context("a person of the role")?;
        let command = Command { id, seen: u64::MAX >> 1, action: what };
        let recorded = self.store.record(self.id, by, self.roster, self.at, &command).await?;
        for event in &recorded.events()? {
            self.state.apply(event);
        }
        Ok(())
    }

    /// Says what it waits for, and what it was promised for.
    pub(super) async fn outside(&mut self) -> Result<()> {
        let day = |days: i64| OffsetDateTime::now_utc().date() + Duration::days(days);
        for wait in &self.build.waits {
            let wait = BlockerCommand {
                kind: wait.kind,
                what: wait.what.clone(),
                slot: wait.slot.clone(),
                operation: wait.operation.clone(),
                expected: wait.expected_days.map(day),
            };
            self.give(Role::Lead, CommandAction::Await(wait)).await?;
        }
        let Some(days) = self.build.promised_days else { return Ok(()) };
        let promise = DueDate { by: day(days), note: self.build.promised_note.clone() };
        self.give(Role::Lead, CommandAction::Promise(promise)).await
    }

    /// Does what is next in an operation; false when nothing is left but the signature.
    async fn step(&mut self, operation: &str) -> Result<bool> {
        let Some(what) = self.next(operation)? else { return Ok(false) };
        self.give(Role::Bench, what).await?;
        Ok(true)
    }

    /// The command that does what is next.
    fn next(&self, id: &str) -> Result<Option<CommandAction>> {
        let state = &self.state;
        let at = state.plan.operation(id).context("an operation of the plan")?;
        let operation = id.to_owned();
        // A bolt that was stretched too far is loosened and climbed again.
        let loosened = |issue: &Issue| issue.remedies.contains(&Remedy::Loosen);
        if let Some(issue) = state.issues_of(at).into_iter().find(loosened) {
            let (joint, fastener) = (issue.joint, issue.fastener.context("a fastener")?);
            let reason = "stretched too far, to be pulled again".to_owned();
            return Ok(Some(CommandAction::Loosen(LoosenCommand {
                operation,
                joint,
                fastener,
                reason,
                ..LoosenCommand::default()
            })));
        }
        Ok(Some(match state.step(at) {
            BenchStep::Confirm(step) => CommandAction::Confirm(ConfirmCommand { operation, item: step.item }),
            BenchStep::Fit(step) => self.fitting(operation, step.slot)?,
            BenchStep::Count(step) => {
                let tools = ShopTools {
                    instruments: &[],
                    settings: &BTreeMap::new(),
                    using: InstrumentUser::somebody(self.at),
                };
                let BenchWork::Count { counts } = state.bench(at, tools).work else { bail!("a count") };
                let line =
                    counts.iter().find(|line| line.id == step.hardware).context("a kind of hardware")?;
                let spare = if line.back { 0 } else { self.build.spare };
                CommandAction::Count(CountCommand {
                    operation,
                    hardware: step.hardware,
                    count: line.expected + spare,
                })
            }
            BenchStep::Measure(step) => self.measuring(operation, step.site, step.place, step.file_mm)?,
            BenchStep::Shells(step) => {
                let (clearance, number) = (step.clearance, step.number);
                let views = state.clearances(None);
                let view = views.into_iter().find(|view| view.id == clearance && view.number == number);
                let shells = view.and_then(|view| view.proposed).context("a proposal")?;
                let (upper, lower) = (shells.upper, shells.lower);
                CommandAction::ChooseShells(ShellChoiceCommand { operation, clearance, number, upper, lower })
            }
            BenchStep::Turn => CommandAction::Turn(TurnCommand {
                operation,
                free: true,
                text: Some(TURNING.to_owned()),
                unit: None,
            }),
            BenchStep::Act(step) => CommandAction::Act(ActionCommand {
                operation,
                joint: Some(step.joint),
                stage: step.stage,
                ..ActionCommand::default()
            }),
            BenchStep::Loosen(step) => {
                let grows = is_it(self.build.grows.as_ref(), &step.joint, &step.fastener);
                let (joint, fastener) = (Some(step.joint), step.fastener);
                let measured = |what: &str| step.goes_on.then(|| what.to_owned());
                let (left, instrument) = (measured(if grows { GROWN } else { "0.000" }), measured(GAUGE));
                CommandAction::Loosen(LoosenCommand {
                    operation,
                    joint,
                    fastener,
                    left,
                    instrument,
                    ..LoosenCommand::default()
                })
            }
            BenchStep::Pull(step)
                if step.asks.dimension == Dimension::Length
                    && step.climb.is_none()
                    && step.asks.plain.is_empty() =>
            {
                self.standing_out(operation, &step)
            }
            BenchStep::Pull(step) => self.pulling(operation, *step)?,
            BenchStep::Sign => return Ok(None),
        }))
    }

    /// A pull as the simulated wrench, or a gauge, shows it.
    fn pulling(&self, operation: String, step: PullStep) -> Result<CommandAction> {
        let angle = step.target.dimension == Dimension::Angle;
        let over = angle && is_it(self.build.overpulled.as_ref(), &operation, &step.fastener);
        let wrench = self.roster.instrument(WRENCH).context("a wrench")?;
        let pulled = rig::reading(&self.state, &operation, wrench, if over { 1.3 } else { 1.0 });
        let mut reading = pulled.context("something to pull")?;
        if is_it(self.build.dry.as_ref(), &step.joint, &step.fastener) {
            let less = |mm: f64| (mm / DRY * 1000.0).round() / 1000.0;
            reading.stretch_mm = reading.stretch_mm.map(less);
        }
        let seen = reading.text.is_some();
        // A gauge is zeroed and read; it is the same one.
        let tool = match step.asks.dimension {
            Dimension::Length | Dimension::Clearance => GAUGE,
            _ if seen && step.target.dimension != Dimension::Torque => HAND,
            _ => WRENCH,
        };
        Ok(CommandAction::Pull(PullCommand {
            operation,
            joint: Some(step.joint),
            stage: step.stage,
            fastener: step.fastener,
            reading,
            method: if seen { ReadingMethod::Seen } else { ReadingMethod::Device },
            instrument: tool.to_owned(),
            sure: false,
            note: None,
        }))
    }

    /// How far a stud stands out, read with a gauge.
    fn standing_out(&self, operation: String, step: &PullStep) -> CommandAction {
        let off = f64::from(u32::try_from(self.count * 7 % 41).unwrap_or_default()) / 100.0 - 0.2;
        let text = format!("{:.2}", step.target.shown + off);
        CommandAction::Pull(PullCommand {
            operation,
            joint: Some(step.joint.clone()),
            stage: step.stage,
            fastener: step.fastener.clone(),
            reading: GivenReading { text: Some(text), ..GivenReading::default() },
            method: ReadingMethod::Typed,
            instrument: HEIGHT_GAUGE.to_owned(),
            sure: false,
            note: None,
        })
    }

    /// The part that goes into a slot, with the number of the slot behind its serial number.
    fn fitting(&self, operation: String, slot: String) -> Result<CommandAction> {
        let planned = self.state.plan.slots.iter().find(|planned| planned.id == slot).context("a slot")?;
        let of_it = |part: &&DemoPart| part.plan == self.build.plan && part.slot == planned.family;
        let mut part = self.shop.part.iter().find(of_it).context("a demo part")?.note.clone();
        if !part.serial.is_empty() {
            let number = slot.strip_prefix(&format!("{}-", planned.family)).unwrap_or_default();
            part.serial = part.serial.replace("{n}", self.build.number()) + number;
        }
        if let Some(serial) = self.build.serials.get(&slot) {
            part.serial.clone_from(serial);
            part.condition = PartCondition::Used;
        }
        if let Some(batch) = self.build.batches.get(&slot) {
            part.batch.clone_from(batch);
        }
        Ok(CommandAction::Fit(FitCommand { operation, slot, part, before: None }))
    }

    /// A reading with a little scatter that is the same every time. What is to be filed reads as
    /// much more than before.
    fn measuring(
        &self,
        operation: String,
        site: String,
        place: usize,
        file_mm: Option<f64>,
    ) -> Result<CommandAction> {
        let plan = &self.state.plan;
        let planned = &plan[plan.site(&site).context("a site")?];
        let family = &plan[planned.family].id;
        let of_it = |size: &&DemoSize| size.plan == self.build.plan && size.site == *family;
        let size = self.shop.size.iter().find(of_it).with_context(|| format!("a demo size of {site}"))?;
        let mut mixed = self.count.wrapping_mul(0x9e37_79b9_7f4a_7c15);
        mixed ^= mixed >> 29;
        mixed = mixed.wrapping_mul(0xbf58_476d_1ce4_e5b9);
        let noise = f64::from(u32::try_from(mixed >> 33)?) / f64::from(1_u32 << 30) - 1.0;
        let crank = planned.places[place].crank_deg.map_or(0.0, |at| (at - size.least_at).powi(2));
        let odd = self.build.odd.get(&site).copied().unwrap_or(0.0);
        let fresh = size.value + noise * size.scatter + size.curve * crank + odd;
        let before = self.state.size(&site, place);
        let value = file_mm.zip(before).map_or(fresh, |(file, before)| before + file);
        let symbol = size.unit.as_deref().unwrap_or(planned.dimension.base().symbol);
        let unit = quantity::unit(symbol).context("a unit")?;
        let text = match size.master {
            Some(master) => format!("{:+.3} on {master:.3}", value - master),
            None => format!("{:.*}", usize::from(unit.decimals), value / unit.factor),
        };
        Ok(CommandAction::Measure(MeasureCommand {
            operation,
            site,
            place,
            text,
            unit: Some(symbol.to_owned()),
            temperature_c: size.warm,
            sure: true,
            method: ReadingMethod::Typed,
            instrument: size.with.clone(),
        }))
    }

    /// Works an operation through and signs it.
    pub(super) async fn work(&mut self, operation: &str) -> Result<()> {
        let at = self.state.plan.operation(operation).context("an operation of the plan")?;
        let cure = self.state.view().operations[at.0].cure.clone();
        self.at = cure.map_or(self.at, |cure| self.at.max(cure.until));
        while self.step(operation).await? {}
        self.sign(operation).await.with_context(|| operation.to_owned())
    }

    /// Makes some steps in an operation.
    pub(super) async fn steps(&mut self, operation: &str, steps: usize) -> Result<()> {
        for _ in 0..steps {
            self.step(operation).await?;
        }
        Ok(())
    }

    pub(super) async fn find(&mut self, found: &DemoFinding) -> Result<()> {
        let picture = match &found.picture {
            Some(name) => {
                let (_, bytes) = PICTURES
                    .iter()
                    .find(|(known, _)| known == name)
                    .context("a picture of the demonstration")?;
                let media = rigore_store::media_of(bytes).context("a picture")?;
                Some(self.store.keep_picture(media, bytes).await?)
            }
            None => None,
        };
        let about = FindingSubject::Fastener { joint: found.joint.clone(), fastener: found.fastener.clone() };
        let (operation, text) = (found.operation.clone(), found.text.clone());
        self.give(Role::Bench, CommandAction::Find(FindingCommand { operation, about, text, picture })).await
    }

    async fn sign(&mut self, operation: &str) -> Result<()> {
        let at = self.state.plan.operation(operation).context("an operation of the plan")?;
        let role =
            if matches!(self.state.plan[at].work, OperationWork::Sign) { Role::Lead } else { Role::Bench };
        self.give(role, CommandAction::Sign(SignCommand::one(operation))).await
    }
}
