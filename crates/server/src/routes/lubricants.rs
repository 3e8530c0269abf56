//! Lubricants: the generic table, the shop's own in their versions, what the shop does where another one is used,
//! and the friction that it has measured.

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{JsonBody, Lead};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use axum::response::IntoResponse;
use rigore_assembly::friction_test::FrictionResult;
use rigore_assembly::sheet::{FrictionRow, friction_csv};
use rigore_assembly::{BoltFriction, LubricantPolicy};
use rigore_mechanics::friction::{self, Lubricant, LubricantForm, NutFactorSpread};
use rigore_mechanics::{message, text};
use rigore_store::LubricantVersion;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;

/// Lubricants, and what is done with them.
#[derive(Debug, Serialize, ToSchema)]
pub struct Lubricants {
    /// What the shop does with torques where another lubricant is used than they were given for.
    pub policy: LubricantPolicy,
    /// Generic kinds.
    pub generic: Vec<Lubricant>,
    /// Lubricants of the shop, by name.
    pub own: Vec<ShopLubricant>,
}

/// One version of a lubricant of the shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopLubricant {
    /// Its figures.
    #[serde(flatten)]
    pub lubricant: Lubricant,
    /// Whether it is offered no more.
    pub retired: bool,
    /// Who made this version.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

impl From<LubricantVersion> for ShopLubricant {
    fn from(version: LubricantVersion) -> Self {
        let LubricantVersion { lubricant, retired, by, at } = version;
        Self { lubricant, retired, by, at }
    }
}

/// A lubricant of the shop is changed: that makes another version.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LubricantChange {
    /// The version that whoever changes it had seen.
    pub seen: u32,
    /// Whether it is offered no more.
    #[serde(default)]
    pub retired: bool,
    /// Its figures from now on.
    pub lubricant: LubricantForm,
}

/// What the shop does.
#[derive(Debug, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ShopPolicy {
    /// Where another lubricant is used than torques were given for.
    pub lubricants: LubricantPolicy,
}

/// The friction that the shop has measured of one kind of fastener on one lubricant (C-28).
#[derive(Debug, Serialize, ToSchema)]
pub struct MeasuredFrictionView {
    /// The fastener: its name and thread.
    pub fastener: String,
    /// Key of what is on the thread.
    pub thread: String,
    /// Key of what is under the head or nut.
    pub bearing: String,
    /// The lubricant in words.
    pub lubricant: String,
    /// K of all bolts.
    #[serde(flatten)]
    pub all: NutFactorSpread,
    /// Whether there are enough bolts of engines to go by it instead of the table.
    pub enough: bool,
    /// Whether bolts were tried in the vice only.
    pub only_in_vice: bool,
    /// Clamp load of one torque, as shares of the usual one: at the most friction and at the least.
    pub load: [f64; 2],
    /// The same by batch, the one that was read last at the end.
    pub batches: Vec<BatchFriction>,
}

/// The friction of bolts of one batch.
#[derive(Debug, Serialize, ToSchema)]
pub struct BatchFriction {
    /// The batch; empty where it is not known.
    pub batch: String,
    /// When the last of its bolts was read.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// K of its bolts.
    #[serde(flatten)]
    pub spread: NutFactorSpread,
    /// Whether they were tried in the vice, and not on engines.
    pub in_vice: bool,
}

/// Every lubricant.
#[utoipa::path(get, path = "/api/lubricants", responses((status = 200, body = Lubricants), ReadAnswers))]
pub async fn lubricants(State(app): State<App>) -> Result<Json<Lubricants>, Problem> {
    let own = app.store.lubricants().await?.into_iter().map(Into::into).collect();
    Ok(Json(Lubricants { policy: app.store.policy().await?, generic: friction::shipped(), own }))
}

/// Every version of one lubricant of the shop, the latest first.
#[utoipa::path(get, path = "/api/lubricants/{id}", params(("id" = String, Path)),
    responses((status = 200, body = Vec<ShopLubricant>), NotFoundAnswer, ReadAnswers))]
pub async fn versions(
    State(app): State<App>,
    Path(id): Path<String>,
) -> Result<Json<Vec<ShopLubricant>>, Problem> {
    let versions = app.store.lubricant_versions(&id).await?;
    if versions.is_empty() {
        return Err(Problem::not_there(message!("server-lubricant-this-shop", id)));
    }
    Ok(Json(versions.into_iter().map(Into::into).collect()))
}

/// Adds a lubricant to the shop's own.
#[utoipa::path(post, path = "/api/lubricants", request_body = LubricantForm,
    responses((status = 200, body = ShopLubricant), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn add(
    State(app): State<App>,
    Lead(by): Lead,
    JsonBody(entered): JsonBody<LubricantForm>,
) -> Result<Json<ShopLubricant>, Problem> {
    keep(&app, &by.name, &entered.key(), 0, false, &entered).await
}

/// Changes a lubricant of the shop, or retires it. What it was used as keeps its figures.
#[utoipa::path(put, path = "/api/lubricants/{id}", params(("id" = String, Path)),
    request_body = LubricantChange,
    responses((status = 200, body = ShopLubricant), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn change(
    State(app): State<App>,
    Path(id): Path<String>,
    Lead(by): Lead,
    JsonBody(change): JsonBody<LubricantChange>,
) -> Result<Json<ShopLubricant>, Problem> {
    if app.store.lubricant_versions(&id).await?.is_empty() {
        return Err(Problem::not_there(message!("server-lubricant-this-shop", id)));
    }
    keep(&app, &by.name, &id, change.seen, change.retired, &change.lubricant).await
}

async fn keep(
    app: &App,
    by: &str,
    id: &str,
    seen: u32,
    retired: bool,
    entered: &LubricantForm,
) -> Result<Json<ShopLubricant>, Problem> {
    let lubricant = entered.lubricant(id, seen.saturating_add(1));
    let lubricant = lubricant.map_err(|wrong| Problem::field(wrong.field, wrong.message))?;
    let name = lubricant.name.to_lowercase();
    let known = app.store.lubricants_at_hand().await?;
    let is_other = |other: &&Lubricant| seen == 0 || other.id != id;
    if known.iter().filter(is_other).any(|other| other.id == id || other.name.to_lowercase() == name) {
        return Err(Problem::field("name", message!("server-another-lubricant-has-this-name-already")));
    }
    let at = OffsetDateTime::now_utc();
    let version = LubricantVersion { lubricant, retired, by: by.to_owned(), at };
    if !app.store.add_lubricant(&version).await? {
        return Err(Problem::changed(message!("server-was-changed-meanwhile-review-again-nothing")));
    }
    Ok(Json(version.into()))
}

/// Decides what the shop does on engines that are begun from now on where another lubricant is used than torques
/// were given for.
#[utoipa::path(put, path = "/api/policy", request_body = ShopPolicy,
    responses((status = 200, body = ShopPolicy), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn set_policy(
    State(app): State<App>,
    Lead(by): Lead,
    JsonBody(policy): JsonBody<ShopPolicy>,
) -> Result<Json<ShopPolicy>, Problem> {
    app.store.set_policy(policy.lubricants, &by, OffsetDateTime::now_utc()).await?;
    Ok(Json(policy))
}

/// The friction that the shop has measured, by fastener and lubricant.
#[utoipa::path(get, path = "/api/friction",
    responses((status = 200, body = Vec<MeasuredFrictionView>), ReadAnswers))]
pub async fn measured(State(app): State<App>) -> Result<Json<Vec<MeasuredFrictionView>>, Problem> {
    let names = names(&app).await?;
    let kinds = app.store.frictions().await?.into_iter().map(|kind| {
        let measured = kind.measured;
        MeasuredFrictionView {
            lubricant: words(&names, &measured.thread, &measured.bearing),
            enough: measured.is_enough() && !kind.only_in_vice,
            only_in_vice: kind.only_in_vice,
            load: measured.all.of_load(),
            batches: kind
                .batches
                .into_iter()
                .map(|of| BatchFriction {
                    batch: of.batch,
                    at: of.at,
                    spread: of.spread,
                    in_vice: of.in_vice,
                })
                .collect(),
            fastener: measured.fastener,
            thread: measured.thread,
            bearing: measured.bearing,
            all: measured.all,
        }
    });
    Ok(Json(kinds.collect()))
}

/// Every bolt whose stretch was read after a torque, as CSV.
#[utoipa::path(get, path = "/api/friction.csv",
    responses((status = 200, body = String, content_type = "text/csv"), ReadAnswers))]
pub async fn measured_csv(State(app): State<App>) -> Result<impl IntoResponse, Problem> {
    let names = names(&app).await?;
    let rows = app.store.shown().await?.into_iter().map(|row| FrictionRow {
        lubricant: words(&names, &row.bolt.thread, &row.bolt.bearing),
        engine: row.engine,
        joint: row.joint,
        fastener: row.fastener,
        shown: row.bolt,
    });
    let tests = app.store.friction_tests().await?;
    let counting = tests.iter().filter(|row| row.voided.is_none());
    let in_vice =
        counting.flat_map(|row| row.test.shown().into_iter().map(|shown| in_vice(&names, row.at, shown)));
    super::builds::download(friction_csv(rows.chain(in_vice)), "friction.csv")
}

/// A bolt that was tried in the vice, as a row of the table.
fn in_vice(names: &[(String, String)], at: OffsetDateTime, shown: FrictionResult) -> FrictionRow {
    FrictionRow {
        lubricant: words(names, &shown.thread, &shown.bearing),
        engine: "in the vice".to_owned(),
        joint: String::new(),
        fastener: String::new(),
        shown: BoltFriction {
            bolt: 0,
            kind: shown.fastener,
            thread: shown.thread,
            bearing: shown.bearing,
            batch: shown.batch,
            k: shown.k,
            pulls: shown.readings,
            torque_nm: shown.last.torque_nm,
            stretch_mm: shown.last.stretch_mm,
            at,
        },
    }
}

/// The names of everything that is or was used, by key.
async fn names(app: &App) -> Result<Vec<(String, String)>, Problem> {
    let own = app.store.lubricants().await?.into_iter().map(|version| version.lubricant);
    Ok(friction::shipped().into_iter().chain(own).map(|known| (known.id, known.name)).collect())
}

fn words(names: &[(String, String)], thread: &str, bearing: &str) -> String {
    let name = |id: &str| {
        let known = names.iter().find(|(known, _)| known == id);
        known.map_or_else(|| id.to_owned(), |(_, name)| name.clone())
    };
    if thread == bearing {
        return name(thread);
    }
    text!("mechanics-on-thread-under-head", thread = name(thread), bearing = name(bearing))
}
