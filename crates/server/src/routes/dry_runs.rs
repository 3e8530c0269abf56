//! Dry runs: a draft at a bench that records nothing, before it is kept as a version.

use super::drafts::find;
use super::plans::blocking;
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{BuildId, JsonBody, Recorder, SignedIn};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::{BuildStart, Command, CommandAction, PlanRef, SkipCommand};
use rigore_mechanics::{message, text};
use rigore_plan::{OperationIx, Plan, Severity};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::BTreeSet;
use std::sync::Arc;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// A dry run to begin.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewDryRun {
    /// The step that it begins at, by its key: what comes before it is skipped. The first one where it is left out.
    #[serde(default)]
    pub from: Option<String>,
    /// What the engine is for, one of the plan's uses; the usual one where it is left out.
    #[serde(default, rename = "use")]
    pub use_for: Option<String>,
}

/// A dry run.
#[derive(Debug, Serialize, ToSchema)]
pub struct DryRunView {
    /// Its id: it is looked at and worked on as a build is.
    pub id: Uuid,
    /// The draft whose plan it tries.
    pub draft: Uuid,
    /// The step that it begins at, where that was said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub operation: Option<String>,
}

/// Begins a dry run of a draft as it stands: an engine that nothing is recorded of. It is kept in memory, and forgotten.
#[utoipa::path(post, path = "/api/drafts/{draft}/dry-run", params(("draft" = Uuid, Path)), request_body = NewDryRun,
    responses((status = 200, body = DryRunView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn begin_dry_run(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
    JsonBody(new): JsonBody<NewDryRun>,
) -> Result<Json<DryRunView>, Problem> {
    let draft = find(&app, &id).await?;
    let hash = hex::encode(Sha256::digest(draft.source.as_bytes()));
    let read = blocking(move || Plan::read("plan", &draft.source)).await?;
    let plan = read.map_err(|faults| {
        let errors = faults.into_iter().filter(|fault| fault.severity == Severity::Error);
        Problem::fields(errors.map(|fault| (fault.path, fault.message)))
    })?;
    let from = match &new.from {
        Some(key) => Some(
            step(&plan, key)
                .ok_or_else(|| Problem::field("from", message!("server-no-step-with-key", key)))?,
        ),
        None => None,
    };
    let skipped = from.map(|from| before(&plan, from)).unwrap_or_default();
    let named = |at: &OperationIx| plan[*at].id.clone();
    let (operation, skipped): (_, Vec<String>) =
        (from.as_ref().map(named), skipped.iter().map(named).collect());
    let wanted = BuildStart {
        name: text!("server-dry-run-of", name = plan.name),
        use_for: new.use_for.or_else(|| plan.uses().first().map(|of| (*of).to_owned())),
        plan: PlanRef { hash, id: plan.id.clone(), name: plan.name.clone() },
        owner: None,
        identity: None,
        lubricants: Some(app.store.policy().await?),
        decision_rule: Some(app.store.decision_rule().await?),
    };
    let build = app.store.begin_dry_run(&by, Arc::new(plan), &wanted, draft.id).await?;
    for operation in skipped {
        let reason = text!("server-dry-run-begins-later");
        let action = CommandAction::Skip(SkipCommand { operation, reason });
        let command = Command { id: Uuid::now_v7(), seen: 0, action };
        app.store.record(build, &by, &app.roster(), OffsetDateTime::now_utc(), &command).await?;
    }
    Ok(Json(DryRunView { id: build, draft: draft.id, operation }))
}

/// Whose plan a dry run tries.
#[utoipa::path(get, path = "/api/dry-runs/{build}", params(("build" = Uuid, Path)),
    responses((status = 200, body = DryRunView), NotFoundAnswer, ReadAnswers))]
pub async fn dry_run(
    State(app): State<App>,
    _by: SignedIn,
    BuildId(build): BuildId,
) -> Result<Json<DryRunView>, Problem> {
    let draft = app.store.draft_of_dry_run(build).await?;
    Ok(Json(DryRunView { id: build, draft, operation: None }))
}

/// A step by its key, or the first of those that are written with it.
fn step(plan: &Plan, key: &str) -> Option<OperationIx> {
    plan.operation(key).or_else(|| plan.line().find(|at| plan[*at].family == key))
}

/// Everything that a step waits for, in the order of the plan.
fn before(plan: &Plan, at: OperationIx) -> BTreeSet<OperationIx> {
    let mut all = BTreeSet::new();
    let mut open = vec![at];
    while let Some(at) = open.pop() {
        open.extend(plan[at].needs.iter().copied().filter(|need| all.insert(*need)));
    }
    all
}
