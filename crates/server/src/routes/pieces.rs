//! The shop's own library: pieces of plans to use again, each with its source.

use super::drafts::find;
use super::plans::blocking;
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
use rigore_plan::library::{self, PieceKey};
use rigore_store::PieceRow;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// A piece of a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct Piece {
    /// Its id.
    pub id: Uuid,
    /// What it is: `fastener`, `lubricant`, `adapter`, `joint`, `procedure`, `clearance`, `clearances` for all of a plan,
    /// or `checklist`.
    pub kind: String,
    /// What it is called.
    pub name: String,
    /// Names of the plans whose newest version has it.
    pub used_in: Vec<String>,
    /// The fields of a checklist, as a step has them.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<std::collections::HashMap<String, serde_json::Value>>)]
    pub fields: Option<serde_json::Value>,
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
    /// Where in it: `fastener[2]`, `joint[0]`, `joint[0].procedure`, `clearance[1]`, `clearance` for all of them, or
    /// `operation[3]` for its checklist.
    pub path: String,
}

impl Piece {
    fn of(row: PieceRow, plans: &[(String, BTreeSet<PieceKey>)]) -> Self {
        let PieceRow { id, kind, name, body: text, by_name: by, at } = row;
        let keys = PieceKey::of(&kind, &text);
        let has = |(_, all): &&(String, BTreeSet<PieceKey>)| !keys.is_empty() && keys.is_subset(all);
        let used_in = plans.iter().filter(has).map(|(name, _)| name.clone()).collect();
        let mut fields = (kind == "checklist").then(|| SourceText::of(&text).value("operation[0]")).flatten();
        if let Some(fields) = fields.as_mut().and_then(serde_json::Value::as_object_mut) {
            // A step that it becomes gets a key of its own.
            fields.remove("id");
        }
        Self { id, kind, name, used_in, fields, text, by, at }
    }
}

/// Pieces with the plans whose newest version has them.
async fn with_uses(app: &App, rows: Vec<PieceRow>) -> Result<Vec<Piece>, Problem> {
    let mut plans = Vec::new();
    // Where there is no piece, no plan is read.
    for plan in if rows.is_empty() { Vec::new() } else { app.store.plans().await? } {
        plans.push((plan.name, app.store.plan_source(&plan.hash).await?));
    }
    blocking(move || {
        let plans: Vec<_> =
            plans.into_iter().map(|(name, source)| (name, PieceKey::all_of(&source))).collect();
        rows.into_iter().map(|row| Piece::of(row, &plans)).collect()
    })
    .await
}

/// Every piece that the shop keeps.
#[utoipa::path(get, path = "/api/library", responses((status = 200, body = Vec<Piece>), ReadAnswers))]
pub async fn library(State(app): State<App>) -> Result<Json<Vec<Piece>>, Problem> {
    Ok(Json(with_uses(&app, app.store.pieces().await?).await?))
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
        let piece = library::piece(&source, &keep.path).ok_or_else(nothing)?;
        (piece.kind, piece.name, piece.text)
    };
    let (id, kind) = (keep.id, kind.to_owned());
    let row = PieceRow { id, kind, name, body, by_name: by.name, at: OffsetDateTime::now_utc() };
    app.store.keep_piece(&row).await?;
    let kept = with_uses(&app, vec![row]).await?.pop();
    Ok(Json(kept.ok_or_else(nothing)?))
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
