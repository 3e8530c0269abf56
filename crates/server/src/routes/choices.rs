//! What a shop has chosen for its engines and its papers.

use crate::answers::{FieldAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer};
use crate::extract::{JsonBody, Lead};
use crate::text_rule::named;
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_assembly::Picture;
use rigore_mechanics::clearance::DecisionRule;
use rigore_mechanics::message;
use rigore_store::Letterhead;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;

/// How the shop judges what it measures.
#[derive(Debug, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ShopDecisionRule {
    /// The rule by which measured values are judged on engines that are begun from now on.
    pub decision_rule: DecisionRule,
}

/// The rule by which measured values are judged.
#[utoipa::path(get, path = "/api/decision-rule", responses((status = 200, body = ShopDecisionRule), UnauthorizedAnswer, ReadAnswers))]
pub async fn decision_rule(State(app): State<App>) -> Result<Json<ShopDecisionRule>, Problem> {
    Ok(Json(ShopDecisionRule { decision_rule: app.store.decision_rule().await? }))
}

/// Chooses the rule by which measured values are judged on engines that are begun from now on.
#[utoipa::path(put, path = "/api/decision-rule", request_body = ShopDecisionRule,
    responses((status = 200, body = ShopDecisionRule), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn set_decision_rule(
    State(app): State<App>,
    Lead(by): Lead,
    JsonBody(chosen): JsonBody<ShopDecisionRule>,
) -> Result<Json<ShopDecisionRule>, Problem> {
    app.store.set_decision_rule(chosen.decision_rule, &by, OffsetDateTime::now_utc()).await?;
    Ok(Json(chosen))
}

/// The most characters and lines of an address.
const MOST_ADDRESS: usize = 300;
const MOST_LINES: usize = 6;

/// What stands at the head of the shop's papers.
#[derive(Debug, Default, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ShopLetterhead {
    /// Name of the shop, 1 to 200 characters; empty in an answer where nobody gave one.
    pub name: String,
    /// Address and how to reach the shop, up to six lines of together 300 characters.
    #[serde(default)]
    pub address: String,
    /// Logo, stored before by `POST /api/pictures`.
    #[serde(default)]
    pub logo: Option<Picture>,
}

impl From<Letterhead> for ShopLetterhead {
    fn from(of: Letterhead) -> Self {
        Self { name: of.name, address: of.address, logo: of.logo }
    }
}

/// The letterhead of build sheets, work orders, parts lists and labels.
#[utoipa::path(get, path = "/api/letterhead", responses((status = 200, body = ShopLetterhead), UnauthorizedAnswer, ReadAnswers))]
pub async fn letterhead(State(app): State<App>) -> Result<Json<ShopLetterhead>, Problem> {
    Ok(Json(app.store.letterhead().await?.into()))
}

/// Sets the letterhead.
#[utoipa::path(put, path = "/api/letterhead", request_body = ShopLetterhead,
    responses((status = 200, body = ShopLetterhead), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn set_letterhead(
    State(app): State<App>,
    Lead(by): Lead,
    JsonBody(given): JsonBody<ShopLetterhead>,
) -> Result<Json<ShopLetterhead>, Problem> {
    let lines: Vec<&str> = given.address.lines().map(str::trim).filter(|line| !line.is_empty()).collect();
    let address = lines.join("\n");
    if lines.len() > MOST_LINES || address.chars().count() > MOST_ADDRESS {
        let allowed = message!(
            "server-up-lines-together-characters",
            most_lines = MOST_LINES,
            most_address = MOST_ADDRESS
        );
        return Err(Problem::field("address", allowed));
    }
    let letterhead = Letterhead { name: named("name", &given.name)?, address, logo: given.logo };
    app.store.set_letterhead(&letterhead, &by, OffsetDateTime::now_utc()).await?;
    Ok(Json(letterhead.into()))
}
