//! The shop: its engines, people and instruments.

use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_core::build::{Instrument, Person, Summary};
use rigore_core::quantity::{UNITS, Unit};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Everything the shop page shows.
#[derive(Debug, Serialize, ToSchema)]
pub struct Shop {
    /// Builds, the one touched last first.
    pub builds: Vec<ShopBuild>,
    /// People by name and role.
    pub people: Vec<Person>,
    /// Instruments.
    pub instruments: Vec<Instrument>,
}

/// A build in the shop.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopBuild {
    /// The build.
    pub id: Uuid,
    /// How it stands.
    #[serde(flatten)]
    pub summary: Summary,
}

/// Answers when Rigore is ready.
#[utoipa::path(get, path = "/healthz", responses((status = 200, body = String)))]
pub async fn healthz(State(app): State<App>) -> Result<&'static str, Problem> {
    app.store.plans().await?;
    Ok("ready\n")
}

/// The shop.
#[utoipa::path(get, path = "/api/shop", responses((status = 200, body = Shop)))]
pub async fn shop(State(app): State<App>) -> Result<Json<Shop>, Problem> {
    let builds = app.store.builds().await?;
    Ok(Json(Shop {
        builds: builds.into_iter().map(|row| ShopBuild { id: row.id, summary: row.summary }).collect(),
        people: app.roster.people.clone(),
        instruments: app.roster.instruments.clone(),
    }))
}

/// Every unit, with the factor to its base unit.
#[utoipa::path(get, path = "/api/units", responses((status = 200, body = Vec<Unit>)))]
pub async fn units() -> Json<&'static [Unit]> {
    Json(UNITS)
}
