//! What a shop has chosen for its engines.

use crate::answers::{FieldAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer};
use crate::extract::{JsonBody, Lead};
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_mechanics::clearance::DecisionRule;
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
    app.store.set_decision_rule(chosen.decision_rule, &by.name, OffsetDateTime::now_utc()).await?;
    Ok(Json(chosen))
}
