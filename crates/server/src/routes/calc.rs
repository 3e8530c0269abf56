//! The calculations by name.

use crate::Problem;
use axum::Json;
use axum::extract::Path;
use rigore_core::calc;
use serde_json::Value;

/// Every calculation with its fields.
#[utoipa::path(get, path = "/api/calc", responses((status = 200, body = Vec<Value>)))]
pub async fn list() -> Json<Vec<&'static calc::Calculation>> {
    Json(calc::list().collect())
}

/// Runs a calculation: the same as `rigore calc NAME`.
#[utoipa::path(post, path = "/api/calc/{name}", params(("name" = String, Path)), request_body = Value,
    responses((status = 200, body = Value), (status = 422, body = Problem)))]
pub async fn run(Path(name): Path<String>, body: String) -> Result<Json<Value>, Problem> {
    Ok(Json(calc::run(&name, &body)?))
}
