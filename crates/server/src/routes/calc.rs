//! The calculations by name.

use crate::Problem;
use crate::answers::{FieldAnswer, TooLargeAnswer};
use crate::extract::TextBody;
use axum::Json;
use axum::extract::Path;
use rigore_plan::calc;
use serde_json::Value;

/// Every calculation with its fields, its formula and an example.
#[utoipa::path(get, path = "/api/calc", responses((status = 200, body = Vec<Value>)))]
pub async fn list() -> Json<Vec<calc::CalculationListing>> {
    Json(calc::listings())
}

/// Runs a calculation: the same as `rigore calc NAME`.
#[utoipa::path(post, path = "/api/calc/{name}", params(("name" = String, Path)), request_body = Value,
    responses((status = 200, body = Value), FieldAnswer, TooLargeAnswer))]
pub async fn run(Path(name): Path<String>, TextBody(body): TextBody) -> Result<Json<Value>, Problem> {
    Ok(Json(calc::run(&name, &body)?))
}

/// What a calculation is sensitive to: what one percent more of each figure does to its first result.
#[utoipa::path(post, path = "/api/calc/{name}/sensitivity", params(("name" = String, Path)), request_body = Value,
    responses((status = 200, body = Vec<calc::Sensitivity>), TooLargeAnswer))]
pub async fn sensitivity(Path(name): Path<String>, TextBody(body): TextBody) -> Json<Vec<calc::Sensitivity>> {
    Json(calc::sensitivity(&name, &body))
}
