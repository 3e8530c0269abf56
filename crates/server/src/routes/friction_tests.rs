//! Bolts in the vice: friction tests without an engine (C-64).

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{JsonBody, Recorder};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::Instrument;
use rigore_assembly::friction_test::{FrictionRunView, FrictionTest, FrictionTestEntry};
use rigore_mechanics::quantity::in_mpa;
use rigore_store::FrictionTestRow;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// A friction test that is recorded.
#[derive(Debug, Deserialize, ToSchema)]
pub struct NewFrictionTest {
    /// Its id, made by whoever sends it: sent again, nothing is recorded twice.
    pub id: Uuid,
    /// The test.
    pub test: FrictionTestEntry,
}

/// A friction test of the shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct FrictionTestView {
    /// Its id.
    pub id: Uuid,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who made it.
    pub by: String,
    /// The fastener: its name and thread.
    pub fastener: String,
    /// Its batch; empty where it is not known.
    pub batch: String,
    /// Its own resilience, µm/kN.
    pub resilience_um_per_kn: f64,
    /// Anything else that was said.
    pub note: String,
    /// The wrench and the gauge.
    pub instruments: Vec<String>,
    /// What it shows on one lubricant after another.
    pub runs: Vec<FrictionRunView>,
    /// Who voided it, when and why, where it was.
    pub voided: Option<FrictionTestVoid>,
}

/// Why a friction test does not count.
#[derive(Debug, Serialize, ToSchema)]
pub struct FrictionTestVoid {
    /// Who said so.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Why.
    pub reason: String,
}

/// The reason of a void.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct VoidReason {
    /// Why, in 3 to 500 characters.
    pub reason: String,
}

/// What a test would show, before it is recorded.
#[derive(Debug, Serialize, ToSchema)]
pub struct FrictionPreview {
    /// By run.
    pub runs: Vec<FrictionRunView>,
}

/// A fastener of the shop's plans whose stretch tells its clamp load.
#[derive(Debug, PartialEq, Serialize, ToSchema)]
pub struct StretchableFastener {
    /// What it is called.
    pub fastener: String,
    /// Its thread.
    pub thread: String,
    /// Its own resilience, µm/kN.
    pub resilience_um_per_kn: f64,
    /// Mean bearing diameter, mm.
    pub bearing_mm: f64,
    /// Where it yields, `MPa`.
    pub yield_mpa: f64,
    /// Diameter of the section that yields first, mm.
    pub shank_mm: f64,
    /// The plan it is from.
    pub plan: String,
}

fn view(row: FrictionTestRow) -> FrictionTestView {
    let test = row.test;
    let named = |of: &Instrument| match of.serial.as_str() {
        "" => of.name.clone(),
        serial => format!("{}, {serial}", of.name),
    };
    FrictionTestView {
        id: row.id,
        at: row.at,
        by: row.by_name,
        fastener: test.title(),
        resilience_um_per_kn: test.own_mm_per_n * 1e6,
        instruments: [&test.wrench, &test.gauge].map(named).to_vec(),
        runs: test.views(),
        batch: test.batch,
        note: test.note,
        voided: row.voided.map(|(by, at, reason)| FrictionTestVoid { by, at, reason }),
    }
}

/// What was entered, in base units.
async fn read(app: &App, entry: &FrictionTestEntry) -> Result<FrictionTest, Problem> {
    let roster = app.roster();
    let instrument = |id: &str| roster.instruments.iter().find(|of| of.id == id).cloned();
    let instruments = [instrument(&entry.wrench), instrument(&entry.gauge)];
    let lubricants = app.store.lubricants_at_hand().await?;
    entry.test(instruments, &lubricants).map_err(|wrong| Problem::field(wrong.field, wrong.message))
}

/// Every friction test of the shop, the latest first.
#[utoipa::path(get, path = "/api/friction/tests",
    responses((status = 200, body = Vec<FrictionTestView>), UnauthorizedAnswer, ReadAnswers))]
pub async fn friction_tests(State(app): State<App>) -> Result<Json<Vec<FrictionTestView>>, Problem> {
    Ok(Json(app.store.friction_tests().await?.into_iter().map(view).collect()))
}

/// Fasteners of the shop's plans that can be tried in the vice: those whose stretch tells their clamp load.
#[utoipa::path(get, path = "/api/friction/fasteners",
    responses((status = 200, body = Vec<StretchableFastener>), UnauthorizedAnswer, ReadAnswers))]
pub async fn stretchable(State(app): State<App>) -> Result<Json<Vec<StretchableFastener>>, Problem> {
    let mut known: Vec<StretchableFastener> = Vec::new();
    for row in app.store.plans().await? {
        let plan = app.store.plan(&row.hash).await?;
        let specs = plan.specs.iter().filter(|spec| spec.fastening.known);
        known.extend(specs.filter_map(|spec| {
            let of = &spec.fastening;
            Some(StretchableFastener {
                fastener: spec.name.clone(),
                thread: spec.designation.clone(),
                resilience_um_per_kn: of.own_resilience()? * 1e6,
                bearing_mm: of.bearing_diameter_mm,
                yield_mpa: in_mpa(of.strength.proof),
                shank_mm: of.neck.diameter_mm(),
                plan: row.name.clone(),
            })
        }));
    }
    Ok(Json(known))
}

/// What a test shows of friction, before it is recorded.
#[utoipa::path(post, path = "/api/friction/tests/preview", request_body = FrictionTestEntry,
    responses((status = 200, body = FrictionPreview), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn preview_friction_test(
    State(app): State<App>,
    JsonBody(entry): JsonBody<FrictionTestEntry>,
) -> Result<Json<FrictionPreview>, Problem> {
    Ok(Json(FrictionPreview { runs: read(&app, &entry).await?.views() }))
}

/// Records a friction test.
#[utoipa::path(post, path = "/api/friction/tests", request_body = NewFrictionTest,
    responses((status = 200, body = FrictionTestView), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn add_friction_test(
    State(app): State<App>,
    Recorder(by): Recorder,
    JsonBody(new): JsonBody<NewFrictionTest>,
) -> Result<Json<FrictionTestView>, Problem> {
    let test = read(&app, &new.test).await?;
    if !app.store.add_friction_test(new.id, &test, &by, OffsetDateTime::now_utc()).await? {
        return Err(Problem::field("id", "another test has this id: nothing was recorded"));
    }
    one(&app, new.id).await
}

/// Voids a friction test: it stays readable and counts no more.
#[utoipa::path(post, path = "/api/friction/tests/{id}/void", params(("id" = Uuid, Path)), request_body = VoidReason,
    responses((status = 200, body = FrictionTestView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn void_friction_test(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
    JsonBody(given): JsonBody<VoidReason>,
) -> Result<Json<FrictionTestView>, Problem> {
    let id: Uuid = id.parse().map_err(|_| Problem::not_there(format!("friction test `{id}`")))?;
    let reason = given.reason.trim();
    if !(3..=500).contains(&reason.chars().count()) {
        return Err(Problem::field("reason", "a reason of 3 to 500 characters is needed"));
    }
    if !app.store.void_friction_test(id, reason, &by, OffsetDateTime::now_utc()).await? {
        return Err(Problem::not_there("friction test with this id"));
    }
    one(&app, id).await
}

async fn one(app: &App, id: Uuid) -> Result<Json<FrictionTestView>, Problem> {
    let row = app.store.friction_tests().await?.into_iter().find(|row| row.id == id);
    row.map(view).map(Json).ok_or_else(|| Problem::not_there("friction test with this id"))
}
