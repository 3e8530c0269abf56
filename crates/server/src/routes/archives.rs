//! Engines that leave as one file, and come in from one (C-35).

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, TooManyAnswer,
    UnauthorizedAnswer,
};
use crate::extract::{BuildId, Lead, QueryParams};
use crate::{App, Problem};
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{FromRequestParts, State};
use axum::http::header;
use axum::http::request::Parts;
use axum::response::IntoResponse;
use rigore_mechanics::message;
use rigore_store::ArchiveError;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use tokio::sync::{Semaphore, SemaphorePermit};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// The most that an archive may have, bytes.
pub const MOST: usize = 128 << 20;

/// What of an engine is wanted as a file.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ArchiveQuery {
    /// Whether its broken record is wanted, as it is stored.
    #[serde(default)]
    broken: bool,
}

/// All of an engine as one file: its entries, the plans it goes by, its pictures.
/// One whose record is broken is written as it is where `broken` is asked for, and says so itself.
#[utoipa::path(get, path = "/api/builds/{build}/archive", params(("build" = Uuid, Path), ArchiveQuery),
    responses((status = 200, body = Vec<u8>, content_type = "application/zip"), NotFoundAnswer, FieldAnswer, UnauthorizedAnswer, RefusedAnswer,
        ReadAnswers))]
pub async fn archive(
    State(app): State<App>,
    BuildId(build): BuildId,
    QueryParams(wanted): QueryParams<ArchiveQuery>,
) -> Result<impl IntoResponse, Problem> {
    let now = OffsetDateTime::now_utc();
    let (bytes, mark) = if wanted.broken {
        (app.store.broken_archive(build, now).await?, "-broken")
    } else {
        (app.store.archive(build, now).await?, "")
    };
    let headers = [
        (header::CONTENT_TYPE, "application/zip".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"engine-{build}{mark}.zip\"")),
    ];
    Ok((headers, bytes))
}

/// An engine that came in.
#[derive(Debug, Serialize, ToSchema)]
pub struct ImportedBuild {
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub name: String,
    /// How many entries it has.
    pub entries: u64,
    /// Whether it was here already, to the letter.
    pub was_here: bool,
    /// The public half of the key that a shop has signed it by; none where it is not signed by a shop.
    pub signed_by: Option<String>,
}

/// The turn of an archive: one at a time comes in, since it is held in memory.
pub struct ArchivePermit(SemaphorePermit<'static>);

static TURN: Semaphore = Semaphore::const_new(1);

impl FromRequestParts<App> for ArchivePermit {
    type Rejection = Problem;

    async fn from_request_parts(_: &mut Parts, _: &App) -> Result<Self, Problem> {
        let turn = TURN.try_acquire().map(Self);
        turn.map_err(|_| Problem::too_many(message!("server-another-engine-comes-just-now-try")))
    }
}

/// Takes an engine in from a file: all of it as it was, or nothing, with what is broken.
#[utoipa::path(post, path = "/api/archives", request_body(content = Vec<u8>, content_type = "application/zip"),
    responses((status = 200, body = ImportedBuild), FieldAnswer, TooLargeAnswer, TooManyAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn take_in(
    State(app): State<App>,
    Lead(by): Lead,
    ArchivePermit(_one): ArchivePermit,
    body: Result<Bytes, BytesRejection>,
) -> Result<Json<ImportedBuild>, Problem> {
    let body = body.map_err(|_| Problem::too_large())?;
    let came = app.store.take_in(&by, body.into()).await.map_err(|error| match error {
        ArchiveError::Broken(what) => Problem::field("archive", message!("server-nothing-came", what)),
        ArchiveError::Here(what) => Problem::changed(message!("server-nothing-was-changed", what)),
        ArchiveError::Store(error) => error.into(),
    })?;
    Ok(Json(ImportedBuild {
        build: came.build,
        name: came.name,
        entries: came.entries,
        was_here: came.was_here,
        signed_by: came.signed_by,
    }))
}
