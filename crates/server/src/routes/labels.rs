//! Codes for labels: a phone that reads one opens the page it is of.

use crate::answers::{FieldAnswer, ReadAnswers, UnauthorizedAnswer};
use crate::extract::QueryParams;
use crate::{App, Problem};
use axum::extract::State;
use axum::http::{HeaderMap, header};
use axum::response::IntoResponse;
use qrcode::QrCode;
use qrcode::render::svg;
use rigore_mechanics::message;
use serde::Deserialize;
use utoipa::IntoParams;

/// The longest path that a code is made of, characters: it stays readable at two centimetres.
const LONGEST_PATH: usize = 200;

/// Where a code leads.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CodeQuery {
    /// Path of a page of this server: it begins with `/` and has at most 200 characters.
    path: String,
}

/// A QR code that opens a page of this server.
#[utoipa::path(get, path = "/api/code.svg", params(CodeQuery),
    responses((status = 200, body = String, content_type = "image/svg+xml"), FieldAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn page_code(
    State(app): State<App>,
    headers: HeaderMap,
    QueryParams(CodeQuery { path }): QueryParams<CodeQuery>,
) -> Result<impl IntoResponse, Problem> {
    let leads_here = path.starts_with('/') && !path.starts_with("//");
    if !leads_here || path.chars().count() > LONGEST_PATH || !path.is_ascii() {
        let allowed = message!("server-path-this-server-needed-begins-with", most = LONGEST_PATH);
        return Err(Problem::field("path", allowed));
    }
    Ok(([(header::CONTENT_TYPE, "image/svg+xml")], code_of(&app, &headers, &path)?))
}

/// The QR code, as SVG, of a page as the one who asks reaches this server.
pub fn code_of(app: &App, headers: &HeaderMap, path: &str) -> Result<String, Problem> {
    let host = headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or("localhost");
    let scheme = if app.settings.secure { "https" } else { "http" };
    let code = QrCode::new(format!("{scheme}://{host}{path}")).map_err(|error| {
        tracing::error!(%error, "a code");
        Problem::internal()
    })?;
    Ok(code.render::<svg::Color>().min_dimensions(160, 160).build())
}
