//! An engine goes on by another version of its plan, and figures are looked up where they are wanted.

use super::builds::{CommandAnswer, record};
use super::drafts::keep_version;
use super::plans::blocking;
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{BuildId, JsonBody, QueryParams, Recorder};
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_assembly::{Command, CommandAction, PlanMoveCommand, PlanMovePreview};
use rigore_mechanics::message;
use rigore_plan::edit::{Edit, edit};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// The longest text of a figure.
const FIGURE: usize = 400;

/// The version that an engine would go on by.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PlanVersionPath {
    /// Hash of its text.
    to: String,
}

/// The last version of the plan of an engine.
#[derive(Debug, Serialize, ToSchema)]
pub struct NewestVersion {
    /// Which version the engine goes by, from 1.
    pub number: i32,
    /// The last one, where that is another.
    pub newer: Option<super::plans::PlanVersion>,
}

/// Whether there is a newer version of the plan of an engine.
#[utoipa::path(get, path = "/api/builds/{build}/version", params(("build" = Uuid, Path)),
    responses((status = 200, body = NewestVersion), NotFoundAnswer, ReadAnswers))]
pub async fn newest(State(app): State<App>, BuildId(build): BuildId) -> Result<Json<NewestVersion>, Problem> {
    let (id, hash) =
        app.store.read(build, |state| (state.plan_ref.id.clone(), state.plan_ref.hash.clone())).await?;
    let versions = app.store.plan_versions(&id).await?;
    let number = versions.iter().find(|version| version.hash == hash).map_or(0, |version| version.number);
    let newer = versions.into_iter().next().filter(|last| last.hash != hash).map(Into::into);
    Ok(Json(NewestVersion { number, newer }))
}

/// What moving an engine to another version of its plan means for what is recorded.
#[utoipa::path(get, path = "/api/builds/{build}/move", params(("build" = Uuid, Path), PlanVersionPath),
    responses((status = 200, body = PlanMovePreview), NotFoundAnswer, FieldAnswer, ReadAnswers))]
pub async fn preview(
    State(app): State<App>,
    BuildId(build): BuildId,
    QueryParams(PlanVersionPath { to }): QueryParams<PlanVersionPath>,
) -> Result<Json<PlanMovePreview>, Problem> {
    let moving = app.store.moving(build, &to).await?;
    let (_, preview) =
        moving.ok_or_else(|| Problem::field("to", message!("server-no-version-with-this-hash-kept")))?;
    Ok(Json(preview))
}

/// A figure that somebody looked up.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SpecAnswer {
    /// Made by the client: the same id twice is answered the same.
    pub id: Uuid,
    /// The last entry the client had seen.
    pub seen: u64,
    /// Where in the plan it is wanted.
    pub path: String,
    /// What it is, such as `45 N·m`; how far off it may be behind `±`, or a procedure in one line.
    pub text: String,
    /// Where it was found.
    #[serde(default)]
    pub source: String,
    /// Whether a lead approves it where it goes past yield by the friction table.
    #[serde(default)]
    pub approved: bool,
}

/// Fills in a figure that nobody had looked up: that makes the next version of the plan, and the engine goes on by
/// it.
#[utoipa::path(post, path = "/api/builds/{build}/figures", params(("build" = Uuid, Path)), request_body = SpecAnswer,
    responses((status = 200, body = CommandAnswer), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn look_up(
    State(app): State<App>,
    BuildId(build): BuildId,
    Recorder(by): Recorder,
    JsonBody(look): JsonBody<SpecAnswer>,
) -> Result<Json<CommandAnswer>, Problem> {
    // A dry run leaves everything as it is, the plan included.
    if app.store.is_dry_run(build).await {
        return Err(Problem::field("text", message!("server-dry-run-look-up-in-the-plan")));
    }
    let known = app
        .store
        .read(build, |state| {
            (state.plan_ref.hash.clone(), state.recorded_span(look.id), state.plan.open.clone())
        })
        .await?;
    let (hash, answered, open) = known;
    let text = look.text.trim();
    if text.is_empty() || text.chars().count() > FIGURE || text.starts_with('?') {
        return Err(Problem::field("text", message!("server-what-was-looked-up-needed-up", most = FIGURE)));
    }
    let figure = open.into_iter().find(|figure| figure.path == look.path);
    let plan = match (figure, answered) {
        (_, Some(_)) => hash,
        (None, None) => {
            return Err(Problem::changed(message!("server-was-filled-meanwhile-nothing-was-changed")));
        }
        (Some(figure), None) => {
            let source = app.store.plan_source(&hash).await?;
            let (path, text) = (look.path.clone(), text.to_owned());
            let edits = [Edit::LookUp { path, text, source: look.source.clone() }];
            let edited = blocking(move || edit(&source, &edits)).await?;
            let source = edited.map_err(|fault| Problem::field("text", fault.message))?;
            let why = format!("Looked up: {}", figure.what);
            let why: String = why.chars().take(200).collect();
            let version = keep_version(&app, source, &by, &why, look.approved).await;
            version.map_err(|problem| problem.all_about("text"))?.hash
        }
    };
    let found = look.source.trim();
    let reason =
        if found.is_empty() { format!("Looked up: {text}") } else { format!("Looked up: {text}, {found}") };
    let what = CommandAction::MoveTo(PlanMoveCommand { plan, reason: reason.chars().take(400).collect() });
    let answer = record(&app, build, &by, &Command { id: look.id, seen: look.seen, action: what }).await?;
    Ok(Json(answer))
}
