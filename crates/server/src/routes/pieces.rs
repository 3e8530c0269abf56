//! The shop's own library: pieces of plans to use again, each with its source.

use super::drafts::find;
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{JsonBody, Recorder};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use rigore_mechanics::message;
use rigore_plan::edit::SourceText;
use rigore_plan::library;
use rigore_store::PieceRow;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// A piece of a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct Piece {
    /// Its id.
    pub id: Uuid,
    /// What it is: `fastener`, `lubricant`, `joint` or `procedure`.
    pub kind: String,
    /// What it is called.
    pub name: String,
    /// Its text, as it is taken into a plan; of a procedure its line.
    pub text: String,
    /// Who kept it.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// What of a draft is kept.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct KeepPiece {
    /// Made by the client: the same id twice is one piece.
    pub id: Uuid,
    /// The draft.
    pub draft: Uuid,
    /// Where in it: `fastener[2]`, `joint[0]`, or `joint[0].procedure`.
    pub path: String,
}

impl From<PieceRow> for Piece {
    fn from(row: PieceRow) -> Self {
        let PieceRow { id, kind, name, body: text, by_name: by, at } = row;
        Self { id, kind, name, text, by, at }
    }
}

/// Every piece that the shop keeps.
#[utoipa::path(get, path = "/api/library", responses((status = 200, body = Vec<Piece>), ReadAnswers))]
pub async fn library(State(app): State<App>) -> Result<Json<Vec<Piece>>, Problem> {
    Ok(Json(app.store.pieces().await?.into_iter().map(Into::into).collect()))
}

/// Keeps a piece of a draft.
#[utoipa::path(post, path = "/api/library", request_body = KeepPiece,
    responses((status = 200, body = Piece), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn keep_piece(
    State(app): State<App>,
    Recorder(by): Recorder,
    JsonBody(keep): JsonBody<KeepPiece>,
) -> Result<Json<Piece>, Problem> {
    let source = find(&app, &keep.draft.to_string()).await?.source;
    let nothing = || Problem::field("path", message!("server-nothing-can-kept-stands-there-fastener"));
    let (kind, name, body) = if let Some(joint) = keep.path.strip_suffix(".procedure") {
        let written = SourceText::of(&source);
        let line = written.at(&keep.path).ok_or_else(nothing)?;
        ("procedure", written.at(&format!("{joint}.name")).unwrap_or_default(), line)
    } else {
        let kinds = ["fastener", "lubricant", "joint"];
        let kind =
            kinds.into_iter().find(|kind| keep.path.starts_with(&format!("{kind}["))).ok_or_else(nothing)?;
        let (name, body) = library::piece(&source, &keep.path).ok_or_else(nothing)?;
        (kind, name, body)
    };
    let (id, kind) = (keep.id, kind.to_owned());
    let row = PieceRow { id, kind, name, body, by_name: by.name, at: OffsetDateTime::now_utc() };
    app.store.keep_piece(&row).await?;
    Ok(Json(row.into()))
}

/// Offers a piece no more; plans that took it in keep it.
#[utoipa::path(delete, path = "/api/library/{piece}", params(("piece" = Uuid, Path)),
    responses((status = 204), NotFoundAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn retire_piece(
    State(app): State<App>,
    Path(id): Path<String>,
    _: Recorder,
) -> Result<StatusCode, Problem> {
    let id: Uuid = id.parse().map_err(|_| Problem::not_there(message!("server-piece", id)))?;
    app.store.retire_piece(id).await?;
    Ok(StatusCode::NO_CONTENT)
}
