//! Builds: beginning one, looking at it, recording what is done to it.

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{BuildId, JsonBody, QueryParams, SignedIn};
use crate::session::RequestSession;
use crate::{App, Problem};
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use axum::{Extension, Json};
use rigore_assembly::sheet::{BuildSheet, entries_csv};
use rigore_assembly::{
    self, BuildStart, BuildView, Command, CommandAction, Event, FastenerTimeline, InstrumentUser,
    LubricantPolicy, OperationBench, Person, PlanRef, ShopTools,
};
use rigore_mechanics::clearance::DecisionRule;
use rigore_mechanics::message;
use rigore_store::{RecordedCommand, StoreError};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// A build to begin.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewBuild {
    /// Made by the client: the same id twice begins one build.
    pub id: Uuid,
    /// What the engine is called in the shop.
    pub name: String,
    /// Hash of the plan.
    pub plan: String,
    /// What the engine is for, one of the plan's uses.
    #[serde(default, rename = "use")]
    pub use_for: Option<String>,
    /// Whose engine it is.
    #[serde(default)]
    pub owner: Option<String>,
    /// What the engine itself says it is: its number or mark.
    #[serde(default)]
    pub identity: Option<String>,
    /// What is done with torques where another lubricant is used; what the shop does where it is left out.
    #[serde(default)]
    pub lubricants: Option<LubricantPolicy>,
    /// The rule by which measured values are judged; that of the shop where it is left out.
    #[serde(default)]
    pub decision_rule: Option<DecisionRule>,
}

/// The answer to a command: what it led to. The same command is answered the same again.
#[derive(Debug, Serialize, ToSchema)]
pub struct CommandAnswer {
    /// The build.
    pub build: Uuid,
    /// Sequence number of the last event it led to.
    pub seq: u64,
    /// The events it led to, as they are stored.
    #[schema(value_type = Vec<Event>)]
    pub events: Vec<Box<RawValue>>,
    /// How the operation that is looked at stands after it, where one was named.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bench: Option<Box<OperationBench>>,
}

/// What else is answered to a command.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CommandQuery {
    /// The operation that whoever sends it looks at: how it stands then comes with the answer.
    show: Option<String>,
}

/// The operation in the path.
#[derive(Debug, Deserialize)]
pub struct OperationPath {
    operation: String,
}

/// Begins a build.
#[utoipa::path(post, path = "/api/builds", request_body = NewBuild,
    responses((status = 200, body = CommandAnswer), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn begin(
    State(app): State<App>,
    SignedIn(by): SignedIn,
    JsonBody(new): JsonBody<NewBuild>,
) -> Result<Json<CommandAnswer>, Problem> {
    let plan = match app.store.plan(&new.plan).await {
        Err(StoreError::NotThere(_)) => {
            return Err(Problem::field("plan", message!("server-no-plan-has-this-hash-choose")));
        }
        plan => plan?,
    };
    let wanted = BuildStart {
        name: new.name,
        plan: PlanRef { hash: new.plan, id: plan.id.clone(), name: plan.name.clone() },
        use_for: new.use_for,
        owner: new.owner,
        identity: new.identity,
        lubricants: Some(match new.lubricants {
            Some(policy) => policy,
            None => app.store.policy().await?,
        }),
        decision_rule: Some(match new.decision_rule {
            Some(rule) => rule,
            None => app.store.decision_rule().await?,
        }),
    };
    let begun = app.store.begin(new.id, &by, OffsetDateTime::now_utc(), new.id, &wanted).await?;
    Ok(Json(begun.try_into()?))
}

impl TryFrom<RecordedCommand> for CommandAnswer {
    type Error = Problem;

    fn try_from(recorded: RecordedCommand) -> Result<Self, Problem> {
        let events = recorded.texts.into_iter().map(RawValue::from_string).collect::<Result<_, _>>();
        let events = events.map_err(|error| {
            tracing::error!(%error, build = %recorded.build, "a stored event is no JSON");
            Problem::internal()
        })?;
        Ok(Self { build: recorded.build, seq: recorded.seq, events, bench: None })
    }
}

/// A build from its first operation to its last.
#[utoipa::path(get, path = "/api/builds/{build}", params(("build" = Uuid, Path)),
    responses((status = 200, body = BuildView), NotFoundAnswer, ReadAnswers))]
pub async fn build(State(app): State<App>, BuildId(build): BuildId) -> Result<Json<BuildView>, Problem> {
    Ok(Json(app.store.read(build, rigore_assembly::BuildState::view).await?))
}

/// One operation at the bench.
#[utoipa::path(get, path = "/api/builds/{build}/operations/{operation}",
    params(("build" = Uuid, Path), ("operation" = String, Path)),
    responses((status = 200, body = OperationBench), NotFoundAnswer, ReadAnswers))]
pub async fn bench(
    State(app): State<App>,
    SignedIn(by): SignedIn,
    BuildId(build): BuildId,
    Path(path): Path<OperationPath>,
) -> Result<Json<OperationBench>, Problem> {
    let bench = look(&app, build, &path.operation, &by).await?;
    bench
        .map(Json)
        .ok_or_else(|| Problem::not_there(message!("server-operation", operation = path.operation)))
}

/// An operation as it stands now; none where the plan has no such operation.
async fn look(
    app: &App,
    build: Uuid,
    operation: &str,
    by: &Person,
) -> Result<Option<OperationBench>, Problem> {
    let settings = app.store.settings_on(build).await?;
    let roster = app.roster_of(build).await;
    let using = InstrumentUser { by: Some(&by.id), at: OffsetDateTime::now_utc() };
    let tools = ShopTools { instruments: &roster.instruments, settings: &settings, using };
    let bench = |state: &rigore_assembly::BuildState| {
        state.plan.operation(operation).map(|at| state.bench(at, tools))
    };
    Ok(app.store.read(build, bench).await?)
}

/// A fastener of a build.
#[derive(Debug, Deserialize)]
pub struct FastenerPath {
    joint: String,
    fastener: String,
}

/// What happened to one fastener, from its first entry to its last.
#[utoipa::path(get, path = "/api/builds/{build}/joints/{joint}/{fastener}",
    params(("build" = Uuid, Path), ("joint" = String, Path), ("fastener" = String, Path)),
    responses((status = 200, body = FastenerTimeline), NotFoundAnswer, ReadAnswers))]
pub async fn story(
    State(app): State<App>,
    BuildId(build): BuildId,
    Path(FastenerPath { joint, fastener }): Path<FastenerPath>,
) -> Result<Json<FastenerTimeline>, Problem> {
    let story = app.store.read(build, |state| state.fastener_timeline(&joint, &fastener)).await?;
    story.map(Json).ok_or_else(|| Problem::not_there(message!("server-fastener", fastener, joint)))
}

/// Every pull of a build as CSV.
#[utoipa::path(get, path = "/api/builds/{build}/sheet.csv", params(("build" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/csv"), NotFoundAnswer, ReadAnswers))]
pub async fn sheet_csv(
    State(app): State<App>,
    BuildId(build): BuildId,
) -> Result<impl IntoResponse, Problem> {
    let csv = app.store.read(build, BuildSheet::csv).await?;
    download(csv, "build-sheet-pulls.csv")
}

/// Every size that was read on a build, as CSV.
#[utoipa::path(get, path = "/api/builds/{build}/readings.csv", params(("build" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/csv"), NotFoundAnswer, ReadAnswers))]
pub async fn readings_csv(
    State(app): State<App>,
    BuildId(build): BuildId,
) -> Result<impl IntoResponse, Problem> {
    let csv = app.store.read(build, BuildSheet::readings_csv).await?;
    download(csv, "build-sheet-readings.csv")
}

/// Every part of a build, as CSV.
#[utoipa::path(get, path = "/api/builds/{build}/parts.csv", params(("build" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/csv"), NotFoundAnswer, ReadAnswers))]
pub async fn parts_csv(
    State(app): State<App>,
    BuildId(build): BuildId,
) -> Result<impl IntoResponse, Problem> {
    let csv = app.store.read(build, BuildSheet::parts_csv).await?;
    download(csv, "build-sheet-parts.csv")
}

/// Every entry of a build, as CSV.
#[utoipa::path(get, path = "/api/builds/{build}/entries.csv", params(("build" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/csv"), NotFoundAnswer, ReadAnswers))]
pub async fn build_entries_csv(
    State(app): State<App>,
    BuildId(build): BuildId,
) -> Result<impl IntoResponse, Problem> {
    let events = app.store.events(build).await?;
    download(entries_csv(events.iter()), "build-entries.csv")
}

/// A CSV as a file to keep.
pub(super) fn download<E: std::fmt::Display>(
    csv: Result<String, E>,
    name: &str,
) -> Result<impl IntoResponse, Problem> {
    let csv = csv.map_err(|error| {
        tracing::error!(%error, "writing a sheet");
        Problem::internal()
    })?;
    let headers = [
        (header::CONTENT_TYPE, "text/csv; charset=utf-8".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}\"")),
    ];
    // Spreadsheets know by its mark that a text is UTF-8.
    Ok((headers, format!("\u{feff}{csv}")))
}

/// Records what was done. Facts are always recorded; decisions may be refused.
#[utoipa::path(post, path = "/api/builds/{build}/commands", params(("build" = Uuid, Path), CommandQuery),
    request_body = Command,
    responses((status = 200, body = CommandAnswer), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn command(
    State(app): State<App>,
    BuildId(build): BuildId,
    QueryParams(besides): QueryParams<CommandQuery>,
    Extension(session): Extension<RequestSession>,
    JsonBody(command): JsonBody<Command>,
) -> Result<Json<CommandAnswer>, Problem> {
    let by = session.person.clone();
    let signs = matches!(command.action, CommandAction::Sign(_));
    if signs && !session.is_confirmed() && !app.store.is_dry_run(build).await {
        let answered = app.store.read(build, |state| state.recorded_span(command.id)).await?;
        if answered.is_none() {
            return Err(Problem::confirm());
        }
    }
    let answer = record(&app, build, &by, &command).await?;
    // It is recorded, whatever becomes of the look at it.
    let bench = match &besides.show {
        Some(operation) => look(&app, build, operation, &by).await.ok().flatten(),
        None => None,
    };
    Ok(Json(CommandAnswer { bench: bench.map(Box::new), ..answer }))
}

/// The one way to record, for people and stand-ins alike.
pub async fn record(
    app: &App,
    build: Uuid,
    by: &Person,
    command: &Command,
) -> Result<CommandAnswer, Problem> {
    let now = OffsetDateTime::now_utc();
    let roster = app.roster_of(build).await;
    let recorded = app.store.record(build, by, &roster, now, command).await?;
    recorded.try_into()
}
