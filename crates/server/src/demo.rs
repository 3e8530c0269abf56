//! The demonstration shop: loads plans and Pier Nine once, by the same commands people give.

use crate::routes::rig;
use anyhow::{Context, Result, bail};
use rigore_core::build::{Command, Do, Instrument, Method, Person, PlanRef, Role, Step};
use rigore_core::plan::{Plan, Work};
use rigore_store::{PlanRow, Roster, Store};
use serde::Deserialize;
use std::collections::BTreeMap;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// The plans that ship with Rigore: file name and text.
pub const PLANS: &[(&str, &str)] = &[
    ("plans/tarn-5.toml", include_str!("../../../plans/tarn-5.toml")),
    ("plans/ostra-11.toml", include_str!("../../../plans/ostra-11.toml")),
];
const SHOP: &str = include_str!("../../../plans/pier-nine.toml");
/// The instrument demo pulls are made with.
const WRENCH: &str = "rig-wrench";

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Shop {
    person: Vec<Person>,
    instrument: Vec<Instrument>,
    size: Vec<Size>,
    build: Vec<Build>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Build {
    name: String,
    plan: String,
    days_ago: i64,
    done: Vec<String>,
    #[serde(default)]
    pulls: usize,
    #[serde(default)]
    overpulled: Option<String>,
    #[serde(default)]
    measures: usize,
    #[serde(default)]
    odd: BTreeMap<String, f64>,
    #[serde(default, rename = "use")]
    use_for: Option<String>,
    #[serde(default)]
    owner: Option<String>,
}

/// What a family of sites measures in the demonstration, mm.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Size {
    plan: String,
    site: String,
    mm: f64,
    scatter: f64,
    with: String,
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
    if !store.builds().await?.is_empty() {
        return Ok(0);
    }
    let shop: Shop = toml::from_str(SHOP).context("plans/pier-nine.toml")?;
    let roster = Roster { people: shop.person.clone(), instruments: shop.instrument.clone() };
    store.add_roster(&roster).await?;
    let plans = load_plans(store).await?;
    for build in &shop.build {
        let plan = plans.iter().find(|plan| plan.id == build.plan).context("the plan of a demo build")?;
        make(store, &roster, plan, &shop, build).await.with_context(|| build.name.clone())?;
    }
    Ok(shop.build.len())
}

async fn load_plans(store: &Store) -> Result<Vec<PlanRow>> {
    let mut rows = Vec::new();
    for (file, source) in PLANS {
        let (plan, _) = Plan::read(file, source).map_err(|faults| {
            anyhow::anyhow!(faults.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"))
        })?;
        rows.push(store.add_plan(source, &plan).await?);
    }
    Ok(rows)
}

/// Gives commands to one build, each some minutes after the one before.
struct Hand<'a> {
    plan: &'a str,
    sizes: &'a [Size],
    odd: &'a BTreeMap<String, f64>,
    store: &'a Store,
    roster: &'a Roster,
    build: Uuid,
    at: OffsetDateTime,
    count: u64,
}

impl Hand<'_> {
    async fn give(&mut self, role: Role, what: Do) -> Result<()> {
        self.count += 1;
        self.at += Duration::seconds(47 + (self.count as i64 * 29) % 180);
        let id = Uuid::new_v5(&self.build, &self.count.to_be_bytes());
        let by =
            self.roster.people.iter().find(|person| person.role == role).context("a person of the role")?;
        let command = Command { id, seen: u64::MAX >> 1, what };
        self.store.record(self.build, by, self.roster, self.at, &command).await?;
        Ok(())
    }

    /// Does what is next in an operation; false when nothing is left.
    async fn step(&mut self, operation: &str, aim: f64) -> Result<bool> {
        let look = |state: &rigore_core::build::State| {
            let at = state.plan.operation(operation).map(|(at, _)| at)?;
            Some((state.step(at), rig::reading(state, operation, aim)))
        };
        let (step, reading) = self.store.read(self.build, look).await?.context("an operation of the plan")?;
        let operation = operation.to_owned();
        let what = match (step, reading) {
            (Step::Confirm { item, .. }, _) => Do::Confirm { operation, item },
            (Step::Measure { site, place, .. }, _) => self.measuring(operation, site, place)?,
            (Step::Turn, _) => Do::Turn { operation, free: true, torque_nm: Some(3.2) },
            (Step::Act { stage, .. }, _) => Do::Act { operation, stage },
            (Step::Pull { .. }, Some((stage, fastener, reading))) => {
                let (method, instrument) = (Method::Device, WRENCH.to_owned());
                Do::Pull { operation, stage, fastener, reading, method, instrument }
            }
            _ => return Ok(false),
        };
        self.give(Role::Bench, what).await?;
        Ok(true)
    }

    /// A reading with a little scatter that is the same every time.
    fn measuring(&self, operation: String, site: String, place: usize) -> Result<Do> {
        let known = self.sizes.iter().find(|size| size.plan == self.plan && site.starts_with(&size.site));
        let size = known.context("a demo size")?;
        let mut mixed = self.count.wrapping_mul(0x9e37_79b9_7f4a_7c15);
        mixed ^= mixed >> 29;
        let noise = (mixed.wrapping_mul(0xbf58_476d_1ce4_e5b9) >> 33) as f64 / f64::from(1_u32 << 30) - 1.0;
        let value = size.mm + noise * size.scatter + self.odd.get(&site).copied().unwrap_or(0.0);
        Ok(Do::Measure {
            operation,
            site,
            place,
            text: format!("{value:.3}"),
            unit: None,
            temperature_c: None,
            sure: true,
            method: Method::Typed,
            instrument: size.with.clone(),
        })
    }

    /// Takes the proposed shells.
    async fn take_shells(&mut self, operation: &str) -> Result<()> {
        for view in self.store.read(self.build, |state| state.clearances(None)).await? {
            if let (Some(shells), None) = (view.proposed, view.shells) {
                let (operation, clearance, number) = (operation.to_owned(), view.id, view.number);
                let (upper, lower) = (shells.upper, shells.lower);
                self.give(Role::Bench, Do::ChooseShells { operation, clearance, number, upper, lower })
                    .await?;
            }
        }
        Ok(())
    }

    async fn sign(&mut self, operation: &str) -> Result<()> {
        let whole = self
            .store
            .read(self.build, |state| {
                state.plan.operation(operation).is_some_and(|(_, planned)| matches!(planned.work, Work::Sign))
            })
            .await?;
        let role = if whole { Role::Lead } else { Role::Bench };
        self.give(role, Do::Sign { operation: operation.to_owned() }).await
    }
}

async fn make(store: &Store, roster: &Roster, plan: &PlanRow, shop: &Shop, build: &Build) -> Result<()> {
    let at = OffsetDateTime::now_utc() - Duration::days(build.days_ago);
    let mut hand = Hand {
        plan: &build.plan,
        sizes: &shop.size,
        odd: &build.odd,
        store,
        roster,
        build: build_id(&build.name),
        at,
        count: 0,
    };
    let plan = PlanRef { hash: plan.hash.clone(), id: plan.id.clone(), name: plan.name.clone() };
    hand.give(
        Role::Lead,
        Do::Begin {
            name: build.name.clone(),
            plan,
            use_for: build.use_for.clone(),
            owner: build.owner.clone(),
        },
    )
    .await?;
    for operation in &build.done {
        while hand.step(operation, 1.0).await? {}
        hand.take_shells(operation).await?;
        hand.sign(operation).await?;
    }
    if build.pulls == 0 && build.measures == 0 {
        return Ok(());
    }
    let next = hand.store.read(hand.build, |state| state.summary().operation).await?;
    let Some(operation) = next else { bail!("nothing is left to pull") };
    for _ in 0..build.measures {
        hand.step(&operation, 1.0).await?;
    }
    if build.measures > 0 {
        hand.take_shells(&operation).await?;
    }
    for _ in 0..build.pulls {
        let over = hand
            .store
            .read(hand.build, |state| {
                let (at, _) = state.plan.operation(&operation)?;
                match state.step(at) {
                    Step::Pull { fastener, angle, .. } => {
                        Some(angle && Some(&fastener) == build.overpulled.as_ref())
                    }
                    _ => Some(false),
                }
            })
            .await?;
        hand.step(&operation, if over == Some(true) { 1.3 } else { 1.0 }).await?;
    }
    Ok(())
}
