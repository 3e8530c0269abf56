//! A measuring machine's table: what would be recorded of it. Recording is what it is for any reading.

use crate::answers::{FieldAnswer, NotFoundAnswer, ReadAnswers, TooLargeAnswer, UnauthorizedAnswer};
use crate::extract::{BuildId, JsonBody};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::table;
use rigore_assembly::{TableColumn, TableView};
use rigore_mechanics::message;
use rigore_mechanics::quantity;
use serde::Deserialize;
use utoipa::ToSchema;

/// The operation of an engine.
#[derive(Debug, Deserialize)]
pub struct TablePath {
    operation: String,
}

/// A table to look at.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TableRequest {
    /// Its text.
    pub text: String,
    /// Symbol of the unit that bare numbers are in.
    pub unit: String,
    /// What its columns are, where somebody said so; else what they seem to be.
    pub uses: Option<Vec<TableColumn>>,
}

/// A table as it would be taken in: nothing is recorded by this.
#[utoipa::path(post, path = "/api/builds/{build}/operations/{operation}/table",
    params(("build" = Uuid, Path), ("operation" = String, Path)), request_body = TableRequest,
    responses((status = 200, body = TableView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn look_at_table(
    State(app): State<App>,
    BuildId(build): BuildId,
    Path(path): Path<TablePath>,
    JsonBody(asked): JsonBody<TableRequest>,
) -> Result<Json<TableView>, Problem> {
    if quantity::unit(&asked.unit).is_none() {
        return Err(Problem::field("unit", message!("server-no-unit-known", unit = asked.unit)));
    }
    let table = table::read(&asked.text).map_err(|error| Problem::field("text", error.to_string()))?;
    let look = |state: &rigore_assembly::BuildState| {
        let at = state.plan.operation(&path.operation)?;
        state.table(at, table, &asked.unit, asked.uses)
    };
    let view = app.store.read(build, look).await?;
    let none =
        || Problem::not_there(message!("server-operation-measures-something", operation = path.operation));
    view.map(Json).ok_or_else(none)
}
