//! Pictures that go with findings: kept by the hash of their bytes, and never changed.

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::Recorder;
use crate::{App, Problem};
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{Path, State};
use axum::http::{HeaderValue, header};
use axum::response::{IntoResponse, Response};
use rigore_assembly::Picture;
use rigore_mechanics::message;
use rigore_store::{KeptPicture, MOST_PIXELS, can_be_shown, media_of};

/// The most bytes that a picture may have.
pub const MOST: usize = 10_000_000;

/// Keeps a picture, JPEG or PNG; the answer is what an entry refers to it by.
#[utoipa::path(post, path = "/api/pictures", request_body(content = Vec<u8>, content_type = "image/*"),
    responses((status = 200, body = Picture), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn add(
    State(app): State<App>,
    _: Recorder,
    bytes: Result<Bytes, BytesRejection>,
) -> Result<Json<Picture>, Problem> {
    let bytes =
        bytes.map_err(|_| Problem::field("picture", message!("server-picture-10-mb-at-most-needed")))?;
    let media = media_of(&bytes)
        .ok_or_else(|| Problem::field("picture", message!("server-neither-jpeg-nor-png-take-or")))?;
    showable("picture", &bytes)?;
    Ok(Json(app.store.keep_picture(media, &bytes).await?))
}

/// A picture.
#[utoipa::path(get, path = "/api/pictures/{hash}", params(("hash" = String, Path)),
    responses((status = 200, content_type = "image/*", body = Vec<u8>), NotFoundAnswer, RefusedAnswer, ReadAnswers))]
pub async fn picture(State(app): State<App>, Path(hash): Path<String>) -> Result<Response, Problem> {
    kept_file(app.store.picture(&hash).await?, "default-src 'none'")
}

/// What is kept by its hash, and so never another thing: with what a page may do that shows it.
pub(super) fn kept_file(kept: KeptPicture, policy: &'static str) -> Result<Response, Problem> {
    let media = HeaderValue::from_str(&kept.media).map_err(|_| Problem::internal())?;
    let headers = [
        (header::CONTENT_TYPE, media),
        (header::CACHE_CONTROL, HeaderValue::from_static("private, max-age=31536000, immutable")),
        (header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff")),
        (header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(policy)),
    ];
    Ok((headers, kept.bytes).into_response())
}

/// Refuses a picture that unpacks to more than can be shown.
pub(super) fn showable(field: &'static str, bytes: &[u8]) -> Result<(), Problem> {
    if can_be_shown(bytes) {
        return Ok(());
    }
    let most = MOST_PIXELS / 1_000_000;
    Err(Problem::field(field, message!("server-picture-at-most-million-pixels-needed", most)))
}
