//! The demonstration shop: loads plans and Pier Nine once, by the same commands people give.

mod hand;
mod plans;
mod told;

use anyhow::{Context, Result};
use hand::DemoWorker;
pub use plans::PLANS;
use rigore_assembly::{BuildStart, BuildState, Instrument, InstrumentAbsence, Person, PlanRef, Role};
use rigore_mechanics::clearance::DecisionRule;
use rigore_store::{Letterhead, LubricantVersion, PlanRow, Roster, Store};
use time::{Duration, OffsetDateTime};
use told::{DemoBuild, DemoFrictionTest, DemoInstrument, DemoLetterhead, DemoShop};
use uuid::Uuid;

const SHOP: &str = include_str!("../../../../plans/pier-nine.toml");
const LOGO: &[u8] = include_bytes!("../../../../plans/pier-nine.png");

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
    let shop: DemoShop = toml::from_str(SHOP).context("plans/pier-nine.toml")?;
    let today = OffsetDateTime::now_utc().date();
    let instrument = |demo: &DemoInstrument| Instrument {
        calibration_due: demo.due_days.map(|days| today + Duration::days(days)),
        ..demo.instrument.clone()
    };
    let roster =
        Roster { people: shop.person.clone(), instruments: shop.instrument.iter().map(instrument).collect() };
    store.add_roster(&roster).await?;
    let roster = store.roster().await?;
    let plans = plans::load(store).await?;
    let lead = roster.people.iter().find(|person| person.role == Role::Lead).context("a lead")?;
    set_letterhead(store, &shop.letterhead, lead).await?;
    store.set_policy(shop.policy, lead, OffsetDateTime::now_utc() - Duration::days(60)).await?;
    for own in &shop.lubricant {
        let lubricant = own.figures.lubricant(&own.figures.key(), 1);
        let lubricant = lubricant
            .map_err(|wrong| anyhow::anyhow!("{}: {}", wrong.field, wrong.message.in_base_units()))?;
        let (by, at) = (lead.name.clone(), OffsetDateTime::now_utc() - Duration::days(own.days_ago));
        store.add_lubricant(&LubricantVersion { lubricant, retired: false, by, at }).await?;
    }
    add_friction_tests(store, &shop, &roster).await?;
    for build in &shop.build {
        let plan = plans.iter().find(|plan| plan.id == build.plan).context("the plan of a demo build")?;
        make(store, &roster, plan, &shop, build).await.with_context(|| build.name.clone())?;
    }
    send_away(store, &shop, &roster).await?;
    store.close().await;
    Ok(shop.build.len())
}

/// What stands at the head of the shop's papers.
async fn set_letterhead(store: &Store, of: &DemoLetterhead, lead: &Person) -> Result<()> {
    let media = rigore_store::media_of(LOGO).context("the logo of the demonstration")?;
    let logo = Some(store.keep_picture(media, LOGO).await?);
    let letterhead = Letterhead { name: of.name.clone(), address: of.address.clone(), logo };
    Ok(store.set_letterhead(&letterhead, lead, OffsetDateTime::now_utc()).await?)
}

/// Bolts that were tried in the vice.
async fn add_friction_tests(store: &Store, shop: &DemoShop, roster: &Roster) -> Result<()> {
    let lubricants = store.lubricants_at_hand().await?;
    let instrument = |id: &str| roster.instruments.iter().find(|of| of.id == id).cloned();
    for (at, DemoFrictionTest { days_ago, by, test }) in (0..).zip(&shop.friction_test) {
        let person = roster.people.iter().find(|person| person.id == *by).context("who tried a bolt")?;
        let test = test.test([instrument(&test.wrench), instrument(&test.gauge)], &lubricants);
        let test = test.map_err(|wrong| anyhow::anyhow!("friction_test[{at}].{}", wrong.field))?;
        let (id, when) = (Uuid::from_u128(at + 1), OffsetDateTime::now_utc() - Duration::days(*days_ago));
        store.add_friction_test(id, &test, person, when).await?;
    }
    Ok(())
}

/// Instruments that are away today were there when the engines were worked on.
async fn send_away(store: &Store, shop: &DemoShop, roster: &Roster) -> Result<()> {
    let mut instruments = roster.instruments.clone();
    for gone in &shop.instrument {
        let Some((place, days)) = &gone.gone else { continue };
        let until = Some(OffsetDateTime::now_utc().date() + Duration::days(*days));
        let away = Some(InstrumentAbsence { place: place.clone(), until });
        for of in instruments.iter_mut().filter(|of| of.id == gone.instrument.id) {
            of.away.clone_from(&away);
        }
    }
    instruments.retain(|of| !of.by_eye());
    Ok(store.add_roster(&Roster { people: Vec::new(), instruments }).await?)
}

async fn make(
    store: &Store,
    roster: &Roster,
    plan: &PlanRow,
    shop: &DemoShop,
    build: &DemoBuild,
) -> Result<()> {
    let at = OffsetDateTime::now_utc() - Duration::days(build.days_ago);
    let of = store.plan(&plan.hash).await?;
    let line: Vec<String> = of.operations.iter().map(|operation| operation.id.clone()).collect();
    let wanted = BuildStart {
        name: build.name.clone(),
        plan: PlanRef { hash: plan.hash.clone(), id: plan.id.clone(), name: plan.name.clone() },
        use_for: build.use_for.clone(),
        owner: build.owner.clone(),
        identity: build.identity.clone(),
        lubricants: Some(shop.policy),
        decision_rule: Some(DecisionRule::USUAL),
    };
    let id = build_id(&build.name);
    let lead = roster.people.iter().find(|person| person.role == Role::Lead).context("a lead")?;
    let begun = store.begin(id, lead, at, id, &wanted).await?;
    let state = BuildState::fold(|_| Some(std::sync::Arc::clone(&of)), &begun.events()?)?;
    let mut hand = DemoWorker { shop, build, store, roster, id, state, at, count: 0, now: false, by: None };
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
