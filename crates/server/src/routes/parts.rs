//! Parts by serial, mark or set number: where they were, what they went through, whether they may go on.

use crate::answers::{FieldAnswer, NotFoundAnswer, ReadAnswers};
use crate::extract::QueryParams;
use crate::page::{last_of_page, page_size, place};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::PartHistory;
use rigore_mechanics::message;
use rigore_store::{PartOrder, PartRow};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};

/// Parts on a page, where it is not said how many.
const PAGE: u32 = 60;

/// What of the parts is wanted.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PartsQuery {
    /// Only parts whose serial, mark or set number holds every word of this.
    #[serde(default)]
    find: String,
    /// In which order: those that were logged last first where it is not said.
    #[serde(default)]
    #[param(inline)]
    sort: PartsOrder,
    /// How many, 60 where it is not said.
    limit: Option<u32>,
    /// Only those after a page: its `next`.
    after: Option<String>,
}

/// An order of parts.
#[derive(Debug, Clone, Copy, Default, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum PartsOrder {
    /// Those that were logged last first.
    #[default]
    LastLogged,
    /// By serial, mark or set number, as people count: B9 before B11.
    Serial,
}

impl From<PartsOrder> for PartOrder {
    fn from(order: PartsOrder) -> Self {
        match order {
            PartsOrder::LastLogged => Self::LastLogged,
            PartsOrder::Serial => Self::Serial,
        }
    }
}

/// A page of the list of parts.
#[derive(Debug, Serialize, ToSchema)]
pub struct PartsPage {
    /// Parts, in the order that was wanted.
    pub parts: Vec<PartLine>,
    /// What to ask for the next page with (`after`); none where this is the last.
    pub next: Option<String>,
}

/// A part in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct PartLine {
    /// Its serial, mark or set number.
    pub serial: String,
    /// Key of its kind.
    pub kind: String,
    /// What it is called.
    pub name: String,
    /// How many engines it was in.
    pub engines: u64,
    /// The engine it was entered in last.
    pub engine: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// Parts that have a serial, mark or set number, those that were entered last first.
#[utoipa::path(get, path = "/api/parts", params(PartsQuery),
    responses((status = 200, body = PartsPage), FieldAnswer, ReadAnswers))]
pub async fn parts(
    State(app): State<App>,
    QueryParams(wanted): QueryParams<PartsQuery>,
) -> Result<Json<PartsPage>, Problem> {
    let limit = page_size("limit", wanted.limit, PAGE)?;
    let after = place(wanted.after.as_deref())?;
    let mut rows = app.store.parts(&wanted.find, wanted.sort.into(), after.as_ref(), limit + 1).await?;
    let next = last_of_page(&mut rows, limit).map(|row| row.place.to_string());
    let part = |row: PartRow| PartLine {
        serial: row.serial,
        kind: row.kind,
        name: row.name,
        engines: row.engines,
        engine: row.engine,
        at: row.at,
    };
    Ok(Json(PartsPage { parts: rows.into_iter().map(part).collect(), next }))
}

/// The life of everything with one serial, mark or set number, by kind.
#[utoipa::path(get, path = "/api/parts/{serial}", params(("serial" = String, Path)),
    responses((status = 200, body = Vec<PartHistory>), NotFoundAnswer, ReadAnswers))]
pub async fn part(
    State(app): State<App>,
    Path(serial): Path<String>,
) -> Result<Json<Vec<PartHistory>>, Problem> {
    let histories = app.store.histories(&serial).await?;
    if histories.is_empty() {
        return Err(Problem::not_there(message!("server-part-with-serial-mark-or-set", serial)));
    }
    Ok(Json(histories))
}
