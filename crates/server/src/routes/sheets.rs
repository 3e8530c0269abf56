//! The build sheet, for the shop and for whoever has a link to it.

use super::choices::ShopLetterhead;
use super::labels;
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{BuildId, ConfirmedLead, JsonBody, Lead};
use crate::{App, Problem, secrets};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::IntoResponse;
use rigore_assembly::sheet::BuildSheet;
use rigore_mechanics::message;
use rigore_store::{Head, PrintedEntry, ShareRow};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

/// Days that a link may be good for at most.
const MOST_DAYS: i64 = 3650;

/// The build sheet, with what proves it.
#[derive(Debug, Serialize, ToSchema)]
pub struct SheetAnswer {
    /// The sheet.
    #[serde(flatten)]
    pub sheet: BuildSheet,
    /// The shop that built the engine.
    pub shop: ShopLetterhead,
    /// The hash of its last entry: paper and record are held together by it.
    pub last_hash: String,
    /// The last entry that the shop has signed by its key, where it signs.
    pub signed: Option<SignedHead>,
}

/// An entry that the shop has signed: a record that was cut off or made anew does not have it.
#[derive(Debug, Serialize, ToSchema)]
pub struct SignedHead {
    /// Its number.
    pub seq: u64,
    /// Its hash, in hexadecimal digits.
    pub hash: String,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// The public half of the shop's key (Ed25519), in hexadecimal digits.
    pub key: String,
    /// The signature, in hexadecimal digits.
    pub signature: String,
}

impl From<Head> for SignedHead {
    fn from(of: Head) -> Self {
        Self { seq: of.seq, hash: of.hash, at: of.at, key: of.key, signature: of.signature }
    }
}

async fn view(app: &App, build: Uuid) -> Result<SheetAnswer, Problem> {
    let (sheet, seq) = app.store.read(build, |state| (BuildSheet::of(state), state.seq)).await?;
    let signed = app.store.head(build).map(SignedHead::from);
    let shop = app.store.letterhead().await?.into();
    Ok(SheetAnswer { sheet, shop, last_hash: app.store.hash_of(build, seq).await?, signed })
}

/// The build sheet.
#[utoipa::path(get, path = "/api/builds/{build}/sheet", params(("build" = Uuid, Path)),
    responses((status = 200, body = SheetAnswer), NotFoundAnswer, ReadAnswers))]
pub async fn sheet(State(app): State<App>, BuildId(build): BuildId) -> Result<Json<SheetAnswer>, Problem> {
    Ok(Json(view(&app, build).await?))
}

/// A link to a sheet. Where it leads is told once, as it is made.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShareView {
    /// Its id.
    pub id: Uuid,
    /// The engine.
    pub build: Uuid,
    /// What the engine is called.
    pub engine: String,
    /// Who made it.
    pub by: String,
    /// Whether they are of the shop still.
    pub by_active: bool,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Until when it is good.
    #[serde(with = "time::serde::rfc3339")]
    pub ends: OffsetDateTime,
}

impl From<ShareRow> for ShareView {
    fn from(of: ShareRow) -> Self {
        Self {
            id: of.id,
            build: of.build_id,
            engine: of.engine,
            by: of.by_name,
            by_active: of.by_active,
            at: of.made_at,
            ends: of.ends,
        }
    }
}

/// The links to a sheet that are good now.
#[utoipa::path(get, path = "/api/builds/{build}/shares", params(("build" = Uuid, Path)),
    responses((status = 200, body = Vec<ShareView>), NotFoundAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn shares(
    State(app): State<App>,
    BuildId(build): BuildId,
    Lead(_by): Lead,
) -> Result<Json<Vec<ShareView>>, Problem> {
    Ok(Json(app.store.shares(Some(build)).await?.into_iter().map(ShareView::from).collect()))
}

/// The links to all sheets that are good now, those of people who left among them.
#[utoipa::path(get, path = "/api/shares",
    responses((status = 200, body = Vec<ShareView>), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn all_shares(State(app): State<App>, Lead(_by): Lead) -> Result<Json<Vec<ShareView>>, Problem> {
    Ok(Json(app.store.shares(None).await?.into_iter().map(ShareView::from).collect()))
}

/// For how long a link is good.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewShare {
    /// Days, 1 to 3650.
    pub days: i64,
}

/// A link that was just made.
#[derive(Debug, Serialize, ToSchema)]
pub struct NewLink {
    /// Where it leads, on this server. It is told this once: only its hash is kept.
    pub path: String,
    /// The link.
    #[serde(flatten)]
    pub share: ShareView,
}

/// Makes a link to a sheet: whoever has it reads the sheet, and nothing else.
#[utoipa::path(post, path = "/api/builds/{build}/shares", params(("build" = Uuid, Path)), request_body = NewShare,
    responses((status = 200, body = NewLink), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn share(
    State(app): State<App>,
    BuildId(build): BuildId,
    ConfirmedLead(by): ConfirmedLead,
    JsonBody(given): JsonBody<NewShare>,
) -> Result<Json<NewLink>, Problem> {
    if !(1..=MOST_DAYS).contains(&given.days) {
        return Err(Problem::field("days", format!("1 to {MOST_DAYS} days")));
    }
    let token = secrets::token()?;
    let row = app.store.share(&by, build, &secrets::kept(&token), Duration::days(given.days)).await?;
    Ok(Json(NewLink { path: format!("/shared/{token}"), share: row.into() }))
}

/// Takes a link back.
#[utoipa::path(delete, path = "/api/shares/{share}", params(("share" = Uuid, Path)),
    responses((status = 204), NotFoundAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn end_share(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
    Path(id): Path<String>,
) -> Result<StatusCode, Problem> {
    let id = id.parse().map_err(|_| Problem::not_there(message!("server-link", id)))?;
    app.store.end_share(&by, id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A sheet as whoever has a link reads it.
#[derive(Debug, Serialize, ToSchema)]
pub struct SharedSheet {
    /// Until when the link is good.
    #[serde(with = "time::serde::rfc3339")]
    pub ends: OffsetDateTime,
    /// The sheet.
    pub sheet: SheetAnswer,
}

/// A sheet by a link.
#[utoipa::path(get, path = "/api/shared/{token}", params(("token" = String, Path)),
    responses((status = 200, body = SharedSheet), NotFoundAnswer, ReadAnswers))]
pub async fn shared(State(app): State<App>, Path(token): Path<String>) -> Result<Json<SharedSheet>, Problem> {
    let (build, ends) = app.store.shared(&secrets::kept(&token)).await?;
    Ok(Json(SharedSheet { ends, sheet: view(&app, build).await? }))
}

/// What a printed hash is to the record of a shared sheet.
#[derive(Debug, Serialize, ToSchema)]
pub struct PrintedHash {
    /// The number of the entry that has it.
    pub seq: u64,
    /// When that entry was made.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// How many entries the engine has now.
    pub entries: u64,
}

/// Whether a hash that is printed on paper is of this engine, and as of when.
#[utoipa::path(get, path = "/api/shared/{token}/hashes/{hash}", params(("token" = String, Path), ("hash" = String, Path)),
    responses((status = 200, body = PrintedHash), NotFoundAnswer, RefusedAnswer, ReadAnswers))]
pub async fn printed_hash(
    State(app): State<App>,
    Path((token, hash)): Path<(String, String)>,
) -> Result<Json<PrintedHash>, Problem> {
    let (build, _) = app.store.shared(&secrets::kept(&token)).await?;
    let PrintedEntry { seq, at, entries, .. } = app.store.printed_entry(&hash, Some(build)).await?;
    Ok(Json(PrintedHash { seq, at, entries }))
}

/// A picture of a sheet by a link; none that the sheet does not show.
#[utoipa::path(get, path = "/api/shared/{token}/pictures/{picture}",
    params(("token" = String, Path), ("picture" = String, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "image/jpeg"), NotFoundAnswer, ReadAnswers))]
pub async fn shared_picture(
    State(app): State<App>,
    Path((token, hash)): Path<(String, String)>,
) -> Result<impl IntoResponse, Problem> {
    let (build, _) = app.store.shared(&secrets::kept(&token)).await?;
    let shown = app.store.pictures_of(build).await?;
    let is_logo =
        async || Ok::<_, Problem>(app.store.letterhead().await?.logo.is_some_and(|logo| logo.hash == hash));
    if !shown.contains(&hash) && !is_logo().await? {
        return Err(Problem::not_there(message!("server-picture-on-this-sheet", hash)));
    }
    let picture = app.store.picture(&hash).await?;
    Ok(([(header::CONTENT_TYPE, picture.media)], picture.bytes))
}

/// A code that leads to a shared sheet, for its paper.
#[utoipa::path(get, path = "/api/shared/{token}/code.svg", params(("token" = String, Path)),
    responses((status = 200, body = String, content_type = "image/svg+xml"), NotFoundAnswer, ReadAnswers))]
pub async fn code(
    State(app): State<App>,
    Path(token): Path<String>,
    headers: HeaderMap,
) -> Result<impl IntoResponse, Problem> {
    app.store.shared(&secrets::kept(&token)).await?;
    let image = labels::code_of(&app, &headers, &format!("/shared/{token}"))?;
    Ok(([(header::CONTENT_TYPE, "image/svg+xml")], image))
}
