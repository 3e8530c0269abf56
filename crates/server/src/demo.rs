//! The demonstration shop: loads plans and Pier Nine once, by the same commands people give.

use crate::routes::rig;
use anyhow::{Context, Result, bail};
use rigore_core::engine::{
    Act, Await, Away, Begin, BenchWork, ChooseShells, Command, Concern, Condition, Confirm, Count, Do, Find,
    Fit, Given, Instrument, Loosen, LubricantPolicy, Matter, Measure, Method, PartNote, Person, PlanRef,
    Promise, Pull, PullStep, Remedy, Role, Sign, State, Step, Tools, Turn, Using, WaitKind,
};
use rigore_core::friction::Entered;
use rigore_core::plan::{Plan, Work};
use rigore_core::quantity::{self, Dimension};
use rigore_store::{LubricantVersion, PlanRow, Roster, Store};
use serde::Deserialize;
use std::collections::BTreeMap;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// The plans that ship with Rigore: file name and text.
pub const PLANS: &[(&str, &str)] = &[
    ("plans/tarn-5.toml", include_str!("../../../plans/tarn-5.toml")),
    ("plans/ostra-11.toml", include_str!("../../../plans/ostra-11.toml")),
    ("plans/skerry-8.toml", include_str!("../../../plans/skerry-8.toml")),
];
/// Plans that are another one but for some lines: file name, the plan that it is made of, and what is put in place
/// of what.
const VARIANTS: &[Variant] = &[Variant {
    file: "plans/tarn-5.toml, rods by angle",
    of: 0,
    changes: &[
        ("id = \"tarn-5\"\nname = \"Tarn 5\"", "id = \"tarn-5-angle\"\nname = \"Tarn 5, rods by angle\""),
        (
            r#"  name = "Climb"
  group = "bolts"
  stretch = "0.150 mm"
  tolerance = "0.005 mm"
  step = "10 N·m"
  zero = true
  loosen_between = true
  set = "0.005 mm"
"#,
            r#"  name = "Snug"
  group = "bolts"
  torque = "12 N·m"
  tolerance = "1 N·m"

  [[joint.stage]]
  name = "Angle"
  group = "bolts"
  angle = "41°"
  tolerance = "4°"

  [[joint.stage]]
  name = "Its stretch as proof"
  group = "bolts"
  stretch = "0.150 mm"
  tolerance = "0.025 mm"
  proof = true
  set = "0.005 mm"
"#,
        ),
    ],
}];

/// A plan that is another one but for some lines.
struct Variant {
    file: &'static str,
    of: usize,
    changes: &'static [(&'static str, &'static str)],
}

impl Variant {
    /// Its text; `None` where the other plan does not have what is changed.
    fn text(&self) -> Option<String> {
        let (_, of) = PLANS.get(self.of)?;
        self.changes.iter().try_fold((*of).to_owned(), |text, (from, to)| {
            text.contains(from).then(|| text.replace(from, to))
        })
    }
}

/// Every plan of the demonstration: file name and text.
fn plans() -> Result<Vec<(&'static str, String)>> {
    let variant = |variant: &Variant| {
        let text =
            variant.text().with_context(|| format!("{}: what is changed is not there", variant.file))?;
        Ok((variant.file, text))
    };
    let shipped = PLANS.iter().map(|(file, text)| Ok((*file, (*text).to_owned())));
    shipped.chain(VARIANTS.iter().map(variant)).collect()
}

const SHOP: &str = include_str!("../../../plans/pier-nine.toml");
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

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Shop {
    policy: LubricantPolicy,
    lubricant: Vec<OwnLubricant>,
    person: Vec<Person>,
    instrument: Vec<DemoInstrument>,
    size: Vec<Size>,
    part: Vec<Part>,
    build: Vec<Build>,
}

/// A lubricant of the shop's own.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct OwnLubricant {
    days_ago: i64,
    figures: Entered,
}

/// An instrument whose calibration runs out some days from now.
#[derive(Deserialize)]
struct DemoInstrument {
    #[serde(flatten)]
    instrument: Instrument,
    due_days: Option<i64>,
    /// Where it is now, and in how many days it is expected back.
    gone: Option<(String, i64)>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Build {
    name: String,
    plan: String,
    days_ago: i64,
    done_to: Option<String>,
    #[serde(default)]
    steps: usize,
    overpulled: Option<String>,
    #[serde(default)]
    odd: BTreeMap<String, f64>,
    #[serde(default)]
    spare: u32,
    #[serde(rename = "use")]
    use_for: Option<String>,
    owner: Option<String>,
    identity: Option<String>,
    /// Serials and batches of parts that are not those of its number, by slot.
    #[serde(default)]
    serials: BTreeMap<String, String>,
    #[serde(default)]
    batches: BTreeMap<String, String>,
    /// A bolt that was rubbed dry, as joint/fastener.
    dry: Option<String>,
    /// A bolt that grows when it is stretched, as joint/fastener.
    grows: Option<String>,
    /// When the last steps were made, where it matters.
    minutes_ago: Option<i64>,
    /// What somebody else does meanwhile.
    beside: Option<Beside>,
    /// What was found then.
    found: Option<Found>,
    /// In how many days it was promised for, and what for.
    promised_days: Option<i64>,
    #[serde(default)]
    promised_note: String,
    /// What it waits for.
    #[serde(default)]
    waits: Vec<DemoWait>,
}

/// Something that is not at the bench.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct DemoWait {
    kind: WaitKind,
    what: String,
    slot: Option<String>,
    operation: Option<String>,
    expected_days: Option<i64>,
}

/// Steps in an operation that somebody else is at.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Beside {
    operation: String,
    steps: usize,
    by: String,
}

/// A finding on a fastener, with a picture of the demonstration.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Found {
    operation: String,
    joint: String,
    fastener: String,
    text: String,
    picture: Option<String>,
}

/// Pictures of the demonstration, by name.
const PICTURES: &[(&str, &[u8])] = &[("thread", include_bytes!("../../../plans/thread.jpg"))];

impl Build {
    /// What its parts are numbered by: the digits of its name's end.
    fn number(&self) -> &str {
        self.name.rsplit(' ').next().unwrap_or_default()
    }
}

/// What a family of sites measures in the demonstration, mm or cm³.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Size {
    plan: String,
    site: String,
    value: f64,
    scatter: f64,
    with: String,
    unit: Option<String>,
    master: Option<f64>,
    warm: Option<f64>,
    #[serde(default)]
    least_at: f64,
    #[serde(default)]
    curve: f64,
}

/// What is taken in for a set of slots.
#[derive(Deserialize)]
struct Part {
    plan: String,
    slot: String,
    #[serde(flatten)]
    note: PartNote,
}

/// How much less a bolt stretches that was rubbed dry.
const DRY: f64 = 1.6;
/// What is left of the stretch of one that grows.
const GROWN: &str = "0.009";

/// Whether a fastener is the one that is named with its joint or operation: `rod-1/A`.
fn is_it(named: Option<&String>, joint: &str, fastener: &str) -> bool {
    named.is_some_and(|named| *named == format!("{joint}/{fastener}"))
}

/// The id of a demo build, always the same for its name.
pub fn build_id(name: &str) -> Uuid {
    Uuid::new_v5(&Uuid::NAMESPACE_OID, name.as_bytes())
}

/// Loads the demonstration where the store has no builds yet. Gives how many were made.
///
/// # Errors
/// Where a plan that ships with Rigore is wrong or the store fails.
pub async fn load(store: &Store) -> Result<usize> {
    if store.has_builds().await? {
        return Ok(0);
    }
    let store = &store.unhurried_disk().await?;
    let shop: Shop = toml::from_str(SHOP).context("plans/pier-nine.toml")?;
    let today = OffsetDateTime::now_utc().date();
    let instrument = |demo: &DemoInstrument| Instrument {
        calibration_due: demo.due_days.map(|days| today + Duration::days(days)),
        ..demo.instrument.clone()
    };
    let roster =
        Roster { people: shop.person.clone(), instruments: shop.instrument.iter().map(instrument).collect() };
    store.add_roster(&roster).await?;
    let roster = store.roster().await?;
    let plans = load_plans(store).await?;
    let lead = roster.people.iter().find(|person| person.role == Role::Lead).context("a lead")?;
    store.set_policy(shop.policy, &lead.name, OffsetDateTime::now_utc() - Duration::days(60)).await?;
    for own in &shop.lubricant {
        let lubricant = own.figures.lubricant(&own.figures.key(), 1);
        let lubricant = lubricant.map_err(|wrong| anyhow::anyhow!("{}: {}", wrong.field, wrong.message))?;
        let (by, at) = (lead.name.clone(), OffsetDateTime::now_utc() - Duration::days(own.days_ago));
        store.add_lubricant(&LubricantVersion { lubricant, retired: false, by, at }).await?;
    }
    for build in &shop.build {
        let plan = plans.iter().find(|plan| plan.id == build.plan).context("the plan of a demo build")?;
        make(store, &roster, plan, &shop, build).await.with_context(|| build.name.clone())?;
    }
    send_away(store, &shop, &roster).await?;
    store.close().await;
    Ok(shop.build.len())
}

/// Instruments that are away today were there when the engines were worked on.
async fn send_away(store: &Store, shop: &Shop, roster: &Roster) -> Result<()> {
    let mut instruments = roster.instruments.clone();
    for gone in &shop.instrument {
        let Some((place, days)) = &gone.gone else { continue };
        let until = Some(OffsetDateTime::now_utc().date() + Duration::days(*days));
        let away = Some(Away { place: place.clone(), until });
        for of in instruments.iter_mut().filter(|of| of.id == gone.instrument.id) {
            of.away.clone_from(&away);
        }
    }
    instruments.retain(|of| !of.by_eye());
    Ok(store.add_roster(&Roster { people: Vec::new(), instruments }).await?)
}

async fn load_plans(store: &Store) -> Result<Vec<PlanRow>> {
    let mut rows = Vec::new();
    for (file, source) in plans()? {
        let (plan, _) = Plan::judge(file, &source).map_err(|faults| {
            anyhow::anyhow!(faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"))
        })?;
        rows.push(store.add_plan(&source, &plan).await?);
    }
    Ok(rows)
}

/// Gives commands to one build, each some minutes after the one before.
struct Hand<'a> {
    shop: &'a Shop,
    build: &'a Build,
    store: &'a Store,
    roster: &'a Roster,
    id: Uuid,
    state: State,
    at: OffsetDateTime,
    count: u64,
    /// Whether it happens as somebody looks.
    now: bool,
    /// Who works at the bench; the first one there is where nobody is named.
    by: Option<String>,
}

impl Hand<'_> {
    async fn give(&mut self, role: Role, what: Do) -> Result<()> {
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
        let command = Command { id, seen: u64::MAX >> 1, what };
        let recorded = self.store.record(self.id, by, self.roster, self.at, &command).await?;
        for event in &recorded.events()? {
            self.state.apply(event);
        }
        Ok(())
    }

    /// Says what it waits for, and what it was promised for.
    async fn outside(&mut self) -> Result<()> {
        let day = |days: i64| OffsetDateTime::now_utc().date() + Duration::days(days);
        for wait in &self.build.waits {
            let wait = Await {
                kind: wait.kind,
                what: wait.what.clone(),
                slot: wait.slot.clone(),
                operation: wait.operation.clone(),
                expected: wait.expected_days.map(day),
            };
            self.give(Role::Lead, Do::Await(wait)).await?;
        }
        let Some(days) = self.build.promised_days else { return Ok(()) };
        let promise = Promise { by: day(days), note: self.build.promised_note.clone() };
        self.give(Role::Lead, Do::Promise(promise)).await
    }

    /// Does what is next in an operation; false when nothing is left but the signature.
    async fn step(&mut self, operation: &str) -> Result<bool> {
        let Some(what) = self.next(operation)? else { return Ok(false) };
        self.give(Role::Bench, what).await?;
        Ok(true)
    }

    /// The command that does what is next.
    fn next(&self, id: &str) -> Result<Option<Do>> {
        let state = &self.state;
        let at = state.plan.operation(id).context("an operation of the plan")?;
        let operation = id.to_owned();
        // A bolt that was stretched too far is loosened and climbed again.
        let loosened = |matter: &Matter| matter.remedies.contains(&Remedy::Loosen);
        if let Some(matter) = state.matters_of(at).into_iter().find(loosened) {
            let (joint, fastener) = (matter.joint, matter.fastener.context("a fastener")?);
            let reason = "stretched too far, to be pulled again".to_owned();
            return Ok(Some(Do::Loosen(Loosen { operation, joint, fastener, reason, ..Loosen::default() })));
        }
        Ok(Some(match state.step(at) {
            Step::Confirm(step) => Do::Confirm(Confirm { operation, item: step.item }),
            Step::Fit(step) => self.fitting(operation, step.slot)?,
            Step::Count(step) => {
                let tools =
                    Tools { instruments: &[], settings: &BTreeMap::new(), using: Using::somebody(self.at) };
                let BenchWork::Count { counts } = state.bench(at, tools).work else { bail!("a count") };
                let line =
                    counts.iter().find(|line| line.id == step.hardware).context("a kind of hardware")?;
                let spare = if line.back { 0 } else { self.build.spare };
                Do::Count(Count { operation, hardware: step.hardware, count: line.expected + spare })
            }
            Step::Measure(step) => self.measuring(operation, step.site, step.place, step.file_mm)?,
            Step::Shells(step) => {
                let (clearance, number) = (step.clearance, step.number);
                let views = state.clearances(None);
                let view = views.into_iter().find(|view| view.id == clearance && view.number == number);
                let shells = view.and_then(|view| view.proposed).context("a proposal")?;
                let (upper, lower) = (shells.upper, shells.lower);
                Do::ChooseShells(ChooseShells { operation, clearance, number, upper, lower })
            }
            Step::Turn => {
                Do::Turn(Turn { operation, free: true, text: Some(TURNING.to_owned()), unit: None })
            }
            Step::Act(step) => {
                Do::Act(Act { operation, joint: Some(step.joint), stage: step.stage, ..Act::default() })
            }
            Step::Loosen(step) => {
                let grows = is_it(self.build.grows.as_ref(), &step.joint, &step.fastener);
                let (joint, fastener) = (Some(step.joint), step.fastener);
                let measured = |what: &str| step.goes_on.then(|| what.to_owned());
                let (left, instrument) = (measured(if grows { GROWN } else { "0.000" }), measured(GAUGE));
                Do::Loosen(Loosen { operation, joint, fastener, left, instrument, ..Loosen::default() })
            }
            Step::Pull(step)
                if step.asks.dimension == Dimension::Length
                    && step.climb.is_none()
                    && step.asks.plain.is_empty() =>
            {
                self.standing_out(operation, &step)
            }
            Step::Pull(step) => {
                let angle = step.target.dimension == Dimension::Angle;
                let over = angle && is_it(self.build.overpulled.as_ref(), id, &step.fastener);
                let wrench = self.roster.instrument(WRENCH).context("a wrench")?;
                let pulled = rig::reading(state, id, wrench, if over { 1.3 } else { 1.0 });
                let mut reading = pulled.context("something to pull")?;
                if is_it(self.build.dry.as_ref(), &step.joint, &step.fastener) {
                    let less = |mm: f64| (mm / DRY * 1000.0).round() / 1000.0;
                    reading.stretch_mm = reading.stretch_mm.map(less);
                }
                let seen = reading.text.is_some();
                // A gauge is zeroed and read; it is the same one.
                let tool = match step.asks.dimension {
                    Dimension::Length => GAUGE,
                    _ if seen && step.target.dimension != Dimension::Torque => HAND,
                    _ => WRENCH,
                };
                Do::Pull(Pull {
                    operation,
                    joint: Some(step.joint),
                    stage: step.stage,
                    fastener: step.fastener,
                    reading,
                    method: if seen { Method::Seen } else { Method::Device },
                    instrument: tool.to_owned(),
                    sure: false,
                })
            }
            Step::Sign => return Ok(None),
        }))
    }

    /// How far a stud stands out, read with a gauge.
    fn standing_out(&self, operation: String, step: &PullStep) -> Do {
        let off = f64::from(u32::try_from(self.count * 7 % 41).unwrap_or_default()) / 100.0 - 0.2;
        let text = format!("{:.2}", step.target.shown + off);
        Do::Pull(Pull {
            operation,
            joint: Some(step.joint.clone()),
            stage: step.stage,
            fastener: step.fastener.clone(),
            reading: Given { text: Some(text), ..Given::default() },
            method: Method::Typed,
            instrument: HEIGHT_GAUGE.to_owned(),
            sure: false,
        })
    }

    /// The part that goes into a slot, with the number of the slot behind its serial number.
    fn fitting(&self, operation: String, slot: String) -> Result<Do> {
        let planned = self.state.plan.slots.iter().find(|planned| planned.id == slot).context("a slot")?;
        let of_it = |part: &&Part| part.plan == self.build.plan && part.slot == planned.family;
        let mut part = self.shop.part.iter().find(of_it).context("a demo part")?.note.clone();
        if !part.serial.is_empty() {
            let number = slot.strip_prefix(&format!("{}-", planned.family)).unwrap_or_default();
            part.serial = part.serial.replace("{n}", self.build.number()) + number;
        }
        if let Some(serial) = self.build.serials.get(&slot) {
            part.serial.clone_from(serial);
            part.condition = Condition::Used;
        }
        if let Some(batch) = self.build.batches.get(&slot) {
            part.batch.clone_from(batch);
        }
        Ok(Do::Fit(Fit { operation, slot, part, before: None }))
    }

    /// A reading with a little scatter that is the same every time. What is to be filed reads as
    /// much more than before.
    fn measuring(&self, operation: String, site: String, place: usize, file_mm: Option<f64>) -> Result<Do> {
        let plan = &self.state.plan;
        let planned = &plan[plan.site(&site).context("a site")?];
        let family = &plan[planned.family].id;
        let of_it = |size: &&Size| size.plan == self.build.plan && size.site == *family;
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
        Ok(Do::Measure(Measure {
            operation,
            site,
            place,
            text,
            unit: Some(symbol.to_owned()),
            temperature_c: size.warm,
            sure: true,
            method: Method::Typed,
            instrument: size.with.clone(),
        }))
    }

    /// Works an operation through and signs it.
    async fn work(&mut self, operation: &str) -> Result<()> {
        let at = self.state.plan.operation(operation).context("an operation of the plan")?;
        let cure = self.state.view().operations[at.0].cure.clone();
        self.at = cure.map_or(self.at, |cure| self.at.max(cure.until));
        while self.step(operation).await? {}
        self.sign(operation).await.with_context(|| operation.to_owned())
    }

    /// Makes some steps in an operation.
    async fn steps(&mut self, operation: &str, steps: usize) -> Result<()> {
        for _ in 0..steps {
            self.step(operation).await?;
        }
        Ok(())
    }

    async fn find(&mut self, found: &Found) -> Result<()> {
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
        let about = Concern::Fastener { joint: found.joint.clone(), fastener: found.fastener.clone() };
        let (operation, text) = (found.operation.clone(), found.text.clone());
        self.give(Role::Bench, Do::Find(Find { operation, about, text, picture })).await
    }

    async fn sign(&mut self, operation: &str) -> Result<()> {
        let at = self.state.plan.operation(operation).context("an operation of the plan")?;
        let role = if matches!(self.state.plan[at].work, Work::Sign) { Role::Lead } else { Role::Bench };
        self.give(role, Do::Sign(Sign::one(operation))).await
    }
}

async fn make(store: &Store, roster: &Roster, plan: &PlanRow, shop: &Shop, build: &Build) -> Result<()> {
    let at = OffsetDateTime::now_utc() - Duration::days(build.days_ago);
    let of = store.plan(&plan.hash).await?;
    let line: Vec<String> = of.operations.iter().map(|operation| operation.id.clone()).collect();
    let wanted = Begin {
        name: build.name.clone(),
        plan: PlanRef { hash: plan.hash.clone(), id: plan.id.clone(), name: plan.name.clone() },
        use_for: build.use_for.clone(),
        owner: build.owner.clone(),
        identity: build.identity.clone(),
        lubricants: Some(shop.policy),
    };
    let id = build_id(&build.name);
    let lead = roster.people.iter().find(|person| person.role == Role::Lead).context("a lead")?;
    let begun = store.begin(id, lead, at, id, &wanted).await?;
    let state = State::fold(|_| Some(std::sync::Arc::clone(&of)), &begun.events()?)?;
    let mut hand = Hand { shop, build, store, roster, id, state, at, count: 0, now: false, by: None };
    let done = match &build.done_to {
        Some(last) => 1 + line.iter().position(|id| id == last).context("done_to names no operation")?,
        None => 0,
    };
    for operation in &line[..done] {
        hand.work(operation).await.with_context(|| operation.clone())?;
    }
    if let Some(beside) = &build.beside {
        hand.by = Some(beside.by.clone());
        hand.steps(&beside.operation, beside.steps).await?;
        hand.by = None;
    }
    if let Some(minutes) = build.minutes_ago {
        hand.at = OffsetDateTime::now_utc() - Duration::minutes(minutes);
        hand.now = true;
    }
    if build.steps > 0 {
        hand.steps(line.get(done).context("nothing is left to do")?, build.steps).await?;
    }
    if let Some(found) = &build.found {
        hand.find(found).await?;
    }
    hand.outside().await
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_plan_of_the_demonstration_is_one_without_a_warning() {
        let plans = plans().expect("plans");
        assert_eq!(plans.len(), PLANS.len() + VARIANTS.len());
        for (file, text) in plans {
            let (_, warnings) = Plan::judge(file, &text).expect("a plan");
            assert_eq!(warnings, [], "{file}");
        }
    }
}
