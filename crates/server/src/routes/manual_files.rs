//! Pages of manuals that the shop keeps for its plans: pictures and PDFs, known by their content, shown and never read.

use super::pictures::{kept_file, showable};
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
use axum::response::Response;
use rigore_assembly::Picture;
use rigore_mechanics::message;
use rigore_store::{PDF, document_media_of};

/// The most bytes that a file may have: a PDF of a chapter.
pub const MOST: usize = 20_000_000;
/// What a page of Rigore may show in a frame of its own, and nothing besides: no script of it runs.
const SHOWN: &str =
    "default-src 'none'; object-src 'self'; style-src 'unsafe-inline'; frame-ancestors 'self'";

/// Keeps a page of a manual: a PDF, JPEG or PNG. The answer has the hash that plans refer to it by.
#[utoipa::path(post, path = "/api/manual-files",
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = Picture), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn keep_manual_file(
    State(app): State<App>,
    _: Recorder,
    bytes: Result<Bytes, BytesRejection>,
) -> Result<Json<Picture>, Problem> {
    let bytes = bytes.map_err(|_| Problem::field("file", message!("server-file-20-mb-at-most-needed")))?;
    let media = document_media_of(&bytes)
        .ok_or_else(|| Problem::field("file", message!("server-neither-pdf-jpeg-nor-png-choose")))?;
    if media != PDF {
        showable("file", &bytes)?;
    }
    Ok(Json(app.store.keep_picture(media, &bytes).await?))
}

/// A page of a manual.
#[utoipa::path(get, path = "/api/manual-files/{hash}", params(("hash" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), NotFoundAnswer, RefusedAnswer, ReadAnswers))]
pub async fn manual_file(State(app): State<App>, Path(hash): Path<String>) -> Result<Response, Problem> {
    let mut shown = kept_file(app.store.picture(&hash).await?, SHOWN)?;
    shown.headers_mut().insert(header::X_FRAME_OPTIONS, HeaderValue::from_static("SAMEORIGIN"));
    Ok(shown)
}
