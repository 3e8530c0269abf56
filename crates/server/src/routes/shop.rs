//! The shop: its engines, people and instruments.

use crate::answers::{FieldAnswer, ReadAnswers};
use crate::extract::QueryParams;
use crate::page::{last_of_page, page_size, place};
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_assembly::{BuildStatus, BuildSummary, Instrument, Person};
use rigore_mechanics::quantity::{UNITS, Unit};
use rigore_store::{BuildOrder, ListQuery};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Engines on a page, where it is not said how many.
const PAGE: u32 = 40;
/// What of the shop is wanted.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ShopQuery {
    /// Only engines that stand so. Where it is not said: all that are not finished, or all that are
    /// found.
    show: Option<BuildStatus>,
    /// Only engines whose name, owner, number, or a part's serial or batch holds every word of this.
    #[serde(default)]
    find: String,
    /// In which order: blocked ones first where it is not said.
    #[serde(default)]
    #[param(inline)]
    sort: EngineOrder,
    /// How many engines, 40 where it is not said.
    limit: Option<u32>,
    /// Only those after a page: its `next`.
    after: Option<String>,
}

/// An order of engines.
#[derive(Debug, Clone, Copy, Default, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum EngineOrder {
    /// Held ones first, then those in work, then those just taken in, then finished ones; the one worked on last first
    /// among them.
    #[default]
    Status,
    /// The one worked on last first.
    LastWork,
    /// By name, as people count: no. 9 before no. 11.
    Name,
}

impl From<EngineOrder> for BuildOrder {
    fn from(order: EngineOrder) -> Self {
        match order {
            EngineOrder::Status => Self::Status,
            EngineOrder::LastWork => Self::LastWork,
            EngineOrder::Name => Self::Name,
        }
    }
}

/// Everything the shop page shows.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopView {
    /// Engines, in the order that was wanted.
    pub builds: Vec<ShopBuild>,
    /// What to ask for the next page with (`after`); none where this is the last.
    pub next: Option<String>,
    /// How many there are of what was looked for, by how they stand.
    pub counts: ShopCounts,
    /// How many engines are being listed again after an update; some may not be listed until then.
    pub renewing: u64,
    /// People by name and role.
    pub people: Vec<Person>,
    /// Instruments.
    pub instruments: Vec<Instrument>,
}

/// How many engines stand how.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopCounts {
    /// Nothing is done yet.
    pub taken_in: u64,
    /// Work is going on.
    pub in_work: u64,
    /// Something has to be mended or accepted.
    pub held: u64,
    /// Signed off.
    pub finished: u64,
}

/// A build in the shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopBuild {
    /// The build.
    pub id: Uuid,
    /// How it stands.
    #[serde(flatten)]
    pub summary: BuildSummary,
    /// Whether its record is known to be broken: nothing can be recorded on it.
    pub broken: bool,
}

/// Answers when Rigore is ready.
#[utoipa::path(get, path = "/healthz", responses((status = 200, body = String), ReadAnswers))]
pub async fn healthz(State(app): State<App>) -> Result<&'static str, Problem> {
    app.store.plans().await?;
    Ok("ready\n")
}

/// The shop.
#[utoipa::path(get, path = "/api/shop", params(ShopQuery),
    responses((status = 200, body = ShopView), FieldAnswer, ReadAnswers))]
pub async fn shop(
    State(app): State<App>,
    QueryParams(wanted): QueryParams<ShopQuery>,
) -> Result<Json<ShopView>, Problem> {
    let limit = page_size("limit", wanted.limit, PAGE)?;
    let after = place(wanted.after.as_deref())?;
    // One more than is shown tells whether there are more.
    let order = wanted.sort.into();
    let wanted = ListQuery { status: wanted.show, find: wanted.find, order, limit: limit + 1, after };
    let mut list = app.store.list(&wanted).await?;
    let next = last_of_page(&mut list.rows, limit).map(|row| row.place.to_string());
    let builds = list.rows.into_iter();
    let (counts, roster) = (list.counts, app.roster());
    Ok(Json(ShopView {
        builds: builds
            .map(|row| ShopBuild { id: row.id, summary: row.summary, broken: row.broken })
            .collect(),
        next,
        counts: ShopCounts {
            taken_in: counts.taken_in,
            in_work: counts.in_work,
            held: counts.held,
            finished: counts.finished,
        },
        renewing: list.renewing,
        people: roster.people.clone(),
        instruments: roster.instruments.clone(),
    }))
}

/// Every unit, with the factor to its base unit.
#[utoipa::path(get, path = "/api/units", responses((status = 200, body = Vec<Unit>)))]
pub async fn units() -> Json<&'static [Unit]> {
    Json(UNITS)
}
