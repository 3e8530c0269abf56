//! Engines that leave as one file, and come in from one (C-35).

use crate::answers::{Looking, NotThere, Refused, TooLarge, Who, WrongField};
use crate::extract::{BuildId, Lead};
use crate::{App, Problem};
use axum::Json;
use axum::body::Bytes;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use rigore_store::ArchiveError;
use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// The most that an archive may have, bytes.
pub const MOST: usize = 128 << 20;

/// All of an engine as one file: its entries, the plans it goes by, its pictures.
#[utoipa::path(get, path = "/api/builds/{build}/archive", params(("build" = Uuid, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "application/zip"), NotThere, Who, Looking))]
pub async fn archive(State(app): State<App>, BuildId(build): BuildId) -> Result<impl IntoResponse, Problem> {
    let bytes = app.store.archive(build, OffsetDateTime::now_utc()).await?;
    let headers = [
        (header::CONTENT_TYPE, "application/zip".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"engine-{build}.zip\"")),
    ];
    Ok((headers, bytes))
}

/// An engine that came in.
#[derive(Debug, Serialize, ToSchema)]
pub struct TakenIn {
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub name: String,
    /// How many entries it has.
    pub entries: u64,
    /// Whether it was here already, to the letter.
    pub was_here: bool,
}

/// Takes an engine in from a file: all of it as it was, or nothing, with what is broken.
#[utoipa::path(post, path = "/api/archives", request_body(content = Vec<u8>, content_type = "application/zip"),
    responses((status = 200, body = TakenIn), WrongField, TooLarge, Who, Refused, Looking))]
pub async fn take_in(State(app): State<App>, Lead(by): Lead, body: Bytes) -> Result<Json<TakenIn>, Problem> {
    let came = app.store.take_in(&by, body.to_vec()).await.map_err(|error| match error {
        ArchiveError::Broken(what) => Problem::field("archive", format!("{what}. Nothing came in")),
        ArchiveError::Here(what) => Problem::changed(format!("{what}. Nothing was changed")),
        ArchiveError::Store(error) => error.into(),
    })?;
    Ok(Json(TakenIn { build: came.build, name: came.name, entries: came.entries, was_here: came.was_here }))
}
