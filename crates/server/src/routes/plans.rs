//! Engine plans: which there are, and checking a text before it becomes one.

use crate::answers::{Looking, TooLarge, Who, WrongField};
use crate::extract::{By, Text};
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_core::plan::{Fault, Plan, SpecIx};
use serde::Serialize;
use utoipa::ToSchema;

/// A plan in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct PlanListed {
    /// Hash of its text.
    pub hash: String,
    /// Key of the plan.
    pub id: String,
    /// Name of the engine.
    pub name: String,
    /// What it is.
    pub about: String,
    /// How many operations it has.
    pub operations: usize,
    /// Uses that its clearances have windows for.
    pub uses: Vec<String>,
    /// Fasteners that are brought to a clamp load.
    pub fasteners: Vec<FastenerListed>,
}

/// A fastener of a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct FastenerListed {
    /// Key in the plan.
    pub id: String,
    /// Its name and thread.
    pub name: String,
    /// Whether its stretch is read.
    pub stretched: bool,
}

/// What came of checking a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct Checked {
    /// Whether the plan can be used.
    pub usable: bool,
    /// Every fault, by line.
    pub faults: Vec<Fault>,
}

/// Every plan.
#[utoipa::path(get, path = "/api/plans", responses((status = 200, body = Vec<PlanListed>), Looking))]
pub async fn plans(State(app): State<App>) -> Result<Json<Vec<PlanListed>>, Problem> {
    let mut listed = Vec::new();
    for row in app.store.plans().await? {
        let plan = app.store.plan(&row.hash).await?;
        let (about, operations) = (plan.about.clone(), plan.operations.len());
        let uses = plan.uses().into_iter().map(str::to_owned).collect();
        let specs = plan.specs.iter().enumerate();
        let loaded = specs.filter(|(at, _)| plan.wanted_load(SpecIx(*at)).is_some());
        let fasteners = loaded.map(|(at, spec)| FastenerListed {
            id: spec.id.clone(),
            name: spec.title(),
            stretched: plan.is_stretched(SpecIx(at)),
        });
        let fasteners = fasteners.collect();
        listed.push(PlanListed {
            fasteners,
            hash: row.hash,
            id: row.id,
            name: row.name,
            about,
            operations,
            uses,
        });
    }
    Ok(Json(listed))
}

/// Checks the TOML text of a plan; every fault at once, with its line.
#[utoipa::path(post, path = "/api/plans/check", request_body = String,
    responses((status = 200, body = Checked), WrongField, TooLarge, Who))]
pub async fn check(_by: By, Text(source): Text) -> Json<Checked> {
    Json(match Plan::judge("plan.toml", &source) {
        Ok((_, faults)) => Checked { usable: true, faults },
        Err(faults) => Checked { usable: false, faults },
    })
}
