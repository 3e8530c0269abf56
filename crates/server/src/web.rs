//! The web part, built into the binary.

use crate::Problem;
use axum::http::{HeaderMap, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rigore_mechanics::message;
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// Names under this carry a hash of their content and never change.
const HASHED: &str = "assets/";

/// A file of the web part; any other path is a place in it and gets the page.
pub async fn asset(uri: Uri, headers: HeaderMap) -> Response {
    let path = uri.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return Problem::not_there(message!("server-this-api", path)).into_response();
    }
    if let Some(file) = small(path, &headers) {
        let coded = [(header::CONTENT_ENCODING, "br"), (header::VARY, "accept-encoding")];
        return (coded, answer(path, file, &headers)).into_response();
    }
    if let Some(file) = Files::get(path).filter(|_| !path.is_empty()) {
        return answer(path, file, &headers);
    }
    if path.starts_with(HASHED) {
        return Problem::not_there(message!("server-file", path)).into_response();
    }
    match Files::get("index.html") {
        Some(page) => answer("index.html", page, &headers),
        None => {
            (StatusCode::NOT_FOUND, "The web part is not built: npm --prefix web run build\n").into_response()
        }
    }
}

/// A file as it was compressed when it was built, for a browser that takes that.
fn small(path: &str, headers: &HeaderMap) -> Option<rust_embed::EmbeddedFile> {
    let takes = headers.get(header::ACCEPT_ENCODING)?.to_str().ok()?;
    takes.split(',').any(|coding| coding.trim() == "br").then(|| Files::get(&format!("{path}.br")))?
}

fn answer(path: &str, file: rust_embed::EmbeddedFile, headers: &HeaderMap) -> Response {
    let tag = format!("\"{:016x}\"", u64::from_be_bytes(first_eight(&file.metadata.sha256_hash())));
    if headers.get(header::IF_NONE_MATCH).is_some_and(|known| known.as_bytes() == tag.as_bytes()) {
        return StatusCode::NOT_MODIFIED.into_response();
    }
    let cache = if path.starts_with(HASHED) { "public, max-age=31536000, immutable" } else { "no-cache" };
    let kind = mime_guess::from_path(path).first_or_octet_stream().to_string();
    let headers =
        [(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, cache.to_owned()), (header::ETAG, tag)];
    (headers, file.data).into_response()
}

fn first_eight(hash: &[u8; 32]) -> [u8; 8] {
    let mut first = [0; 8];
    first.copy_from_slice(&hash[..8]);
    first
}
