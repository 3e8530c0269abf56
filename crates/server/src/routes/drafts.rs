//! Drafts of plans: saved while they are typed, changed by forms or as text, and kept as a version once they are right.

use super::plans::{PlanVersion, blocking, within_limits};
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{JsonBody, QueryParams, Recorder, SignedIn};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::{Person, Role};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::edit::{Edit, EditedText, SourceText, edit_text};
use rigore_plan::format::{self, FormatTable};
use rigore_plan::procedure_preview::{LineTrial, try_line};
use rigore_plan::shape::EngineShape;
use rigore_plan::{DraftReading, Fault, Plan, PlanPage, Severity, procedure};
use rigore_store::{DraftRow, DraftStep, NewVersion, SavedText};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// The longest word about why a version was made.
const WHY: usize = 200;
/// What a draft is called that has no name yet.
const UNNAMED: &str = "Without a name";

/// A draft in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct DraftListed {
    /// Its id.
    pub id: Uuid,
    /// What the plan is called in it.
    pub name: String,
    /// Who saved it last.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// A draft with its text.
#[derive(Debug, Serialize, ToSchema)]
pub struct Draft {
    /// Its id.
    pub id: Uuid,
    /// Hash of the version that it was begun from, where it was from one.
    pub base: Option<String>,
    /// Its text.
    pub source: String,
    /// How it stands.
    #[serde(flatten)]
    pub saved: SavedDraft,
}

/// How a draft stands after it was saved.
#[derive(Debug, Serialize, ToSchema)]
pub struct SavedDraft {
    /// How often it was saved.
    pub revision: i32,
    /// Who saved it last.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// What became of it, once it is no draft any more.
    pub ended: Option<String>,
    /// Whether there is a change to undo.
    pub can_undo: bool,
    /// Whether there is one to redo.
    pub can_redo: bool,
    /// Who else has it open just now.
    pub others: Vec<String>,
    /// What can be read of it; left out where only its faults were asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub page: Option<PlanPage>,
    /// Every fault and warning, by line.
    pub faults: Vec<Fault>,
    /// Whether it can be kept as a version.
    pub usable: bool,
}

impl SavedDraft {
    fn of(row: &DraftRow, drafted: DraftReading, others: Vec<String>) -> Self {
        let DraftReading { page, faults, usable } = drafted;
        let DraftRow { revision, by_name: by, at, ended, can_undo, can_redo, .. } = row.clone();
        Self { revision, by, at, ended, can_undo, can_redo, others, page: Some(page), faults, usable }
    }
}

/// What of a draft is answered.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct AnsweredFigure {
    /// Only what is wrong with it, while it is typed as text.
    #[serde(default)]
    faults_only: bool,
}

/// A draft to begin: from a version, from a text, or from nothing.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewDraft {
    /// Made by the client: the same id twice begins one draft.
    pub id: Uuid,
    /// Hash of the version to begin from.
    #[serde(default)]
    pub base: Option<String>,
    /// The text to begin from.
    #[serde(default)]
    pub source: Option<String>,
}

/// A draft to begin with the shape of an engine.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewShape {
    /// Made by the client: the same id twice begins one draft.
    pub id: Uuid,
    /// The shape.
    pub engine: EngineShape,
}

/// A text to save.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DraftText {
    /// The revision that whoever saves it had seen.
    pub seen: i32,
    /// The text.
    pub source: String,
}

/// Changes that a form makes.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DraftEdits {
    /// The revision that whoever makes them had seen.
    pub seen: i32,
    /// The changes, in order; all of them or none.
    pub edits: Vec<Edit>,
    /// A path that has to be without an error after them, such as `fastener[3]`, or `+` for what they add: where it
    /// is not, nothing is changed, and the answer names its fields.
    #[serde(default)]
    pub sound: Option<String>,
}

/// A procedure in one line, to be tried on a joint.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TryLine {
    /// Where the joint stands in the plan, such as `joint[3]`.
    pub joint: String,
    /// The line.
    pub line: String,
}

/// A draft becomes a version.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct KeepDraft {
    /// The revision that whoever keeps it had seen.
    pub seen: i32,
    /// A word about why.
    #[serde(default)]
    pub why: String,
    /// Whether a lead approves its figures that go past yield by the friction table, and have a source.
    #[serde(default)]
    pub approved: bool,
}

/// Every draft.
#[utoipa::path(get, path = "/api/drafts", responses((status = 200, body = Vec<DraftListed>), ReadAnswers))]
pub async fn drafts(State(app): State<App>) -> Result<Json<Vec<DraftListed>>, Problem> {
    let listed = |row: DraftRow| DraftListed { id: row.id, name: row.name, by: row.by_name, at: row.at };
    Ok(Json(app.store.drafts().await?.into_iter().map(listed).collect()))
}

/// Begins a draft with the shape of an engine: drawings, joints with their fasteners, parts, sizes and the line of
/// work. Its figures are to be looked up.
#[utoipa::path(post, path = "/api/drafts/shape", request_body = NewShape,
    responses((status = 200, body = Draft), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn begin_shape(
    State(app): State<App>,
    Recorder(by): Recorder,
    JsonBody(new): JsonBody<NewShape>,
) -> Result<Json<Draft>, Problem> {
    let source = new.engine.plan().map_err(|wrong| Problem::field(wrong.field, wrong.message))?;
    let DraftRead { name, source, .. } = DraftRead::of(source).await?;
    let row = app.store.begin_draft(new.id, None, (&name, &source), &by.name).await?;
    whole(&app, row, &by).await
}

/// What the shape of an engine comes to; nothing is kept.
#[utoipa::path(post, path = "/api/plans/shape", request_body = EngineShape,
    responses((status = 200, body = PlanPage), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn shape(
    _by: SignedIn,
    JsonBody(engine): JsonBody<EngineShape>,
) -> Result<Json<PlanPage>, Problem> {
    let source = engine.plan().map_err(|wrong| Problem::field(wrong.field, wrong.message))?;
    Ok(Json(DraftRead::of(source).await?.drafted.page))
}

/// Begins a draft.
#[utoipa::path(post, path = "/api/drafts", request_body = NewDraft,
    responses((status = 200, body = Draft), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn begin_draft(
    State(app): State<App>,
    Recorder(by): Recorder,
    JsonBody(new): JsonBody<NewDraft>,
) -> Result<Json<Draft>, Problem> {
    let begun_from = match &new.base {
        Some(base) => Some(app.store.plan_source(base).await?),
        None => None,
    };
    let source = match (&new.source, begun_from) {
        (Some(text), _) => text.clone(),
        (None, Some(base)) => base,
        (None, None) => "format = 1\nid = \"\"\nname = \"\"\n".to_owned(),
    };
    within_limits("source", &source)?;
    let DraftRead { name, source, .. } = DraftRead::of(source).await?;
    let row = app.store.begin_draft(new.id, new.base.as_deref(), (&name, &source), &by.name).await?;
    whole(&app, row, &by).await
}

/// A draft.
#[utoipa::path(get, path = "/api/drafts/{draft}", params(("draft" = Uuid, Path)),
    responses((status = 200, body = Draft), NotFoundAnswer, ReadAnswers))]
pub async fn draft(
    State(app): State<App>,
    Path(id): Path<String>,
    SignedIn(by): SignedIn,
) -> Result<Json<Draft>, Problem> {
    let row = find(&app, &id).await?;
    whole(&app, row, &by).await
}

/// A change of a draft to undo or to redo.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SeenDraft {
    /// The revision that whoever asks for it had seen.
    pub seen: i32,
}

/// Undoes the last change of a draft, whoever made it, by a form or as text.
#[utoipa::path(post, path = "/api/drafts/{draft}/undo", params(("draft" = Uuid, Path)), request_body = SeenDraft,
    responses((status = 200, body = Draft), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn undo(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
    JsonBody(SeenDraft { seen }): JsonBody<SeenDraft>,
) -> Result<Json<Draft>, Problem> {
    step(&app, &id, seen, DraftStep::Undo, &by).await
}

/// Redoes the change of a draft that was undone last.
#[utoipa::path(post, path = "/api/drafts/{draft}/redo", params(("draft" = Uuid, Path)), request_body = SeenDraft,
    responses((status = 200, body = Draft), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn redo(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
    JsonBody(SeenDraft { seen }): JsonBody<SeenDraft>,
) -> Result<Json<Draft>, Problem> {
    step(&app, &id, seen, DraftStep::Redo, &by).await
}

async fn step(app: &App, id: &str, seen: i32, step: DraftStep, by: &Person) -> Result<Json<Draft>, Problem> {
    let row = find(app, id).await?;
    if !app.store.step_draft(row.id, seen, step, &by.name).await? {
        let now = app.store.draft(row.id).await?;
        if now.revision != seen {
            return Err(changed(&now));
        }
        return Err(Problem::field(
            "seen",
            match step {
                DraftStep::Undo => message!("server-nothing-to-undo"),
                DraftStep::Redo => message!("server-nothing-to-redo"),
            },
        ));
    }
    whole(app, app.store.draft(row.id).await?, by).await
}

/// Which table of a draft.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct TableQuery {
    /// Where it stands, such as `joint[3].stage[1]`.
    path: String,
}

/// A table of a draft as a form changes it: its fields as data, each as it is written.
#[utoipa::path(get, path = "/api/drafts/{draft}/table", params(("draft" = Uuid, Path), TableQuery),
    responses((status = 200, body = Object), NotFoundAnswer, FieldAnswer, ReadAnswers))]
pub async fn table(
    State(app): State<App>,
    Path(id): Path<String>,
    QueryParams(TableQuery { path }): QueryParams<TableQuery>,
    _by: SignedIn,
) -> Result<Json<serde_json::Value>, Problem> {
    let row = find(&app, &id).await?;
    let asked = path.clone();
    let value = blocking(move || SourceText::of(&row.source).value(&asked)).await?;
    let value = value.filter(|value| value.is_object() && format::table_at(&path).is_some());
    Ok(Json(value.ok_or_else(|| Problem::not_there(message!("server-table", path)))?))
}

/// The plan format as data: its tables, their fields, what each holds and when it is asked for.
#[utoipa::path(get, path = "/api/plan-format", responses((status = 200, body = Vec<FormatTable>), ReadAnswers))]
pub async fn plan_format(_by: SignedIn) -> Json<Vec<&'static FormatTable>> {
    Json(format::tables())
}

/// Saves a draft. It is saved whatever faults it has; where somebody else saved it meanwhile, nothing is changed.
#[utoipa::path(put, path = "/api/drafts/{draft}", params(("draft" = Uuid, Path), AnsweredFigure), request_body = DraftText,
    responses((status = 200, body = SavedDraft), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn save_draft(
    State(app): State<App>,
    Path(id): Path<String>,
    QueryParams(answered): QueryParams<AnsweredFigure>,
    Recorder(by): Recorder,
    JsonBody(text): JsonBody<DraftText>,
) -> Result<Json<SavedDraft>, Problem> {
    within_limits("source", &text.source)?;
    let row = find(&app, &id).await?;
    let read = DraftRead::of(text.source).await?;
    let mut saved = keep_text(&app, row.id, (text.seen, read, true), &by).await?;
    saved.page = saved.page.filter(|_| !answered.faults_only);
    Ok(Json(saved))
}

/// Changes a draft where it stands: what is not touched keeps its comments and its order.
#[utoipa::path(post, path = "/api/drafts/{draft}/edits", params(("draft" = Uuid, Path)), request_body = DraftEdits,
    responses((status = 200, body = Draft), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn edit_draft(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
    JsonBody(edits): JsonBody<DraftEdits>,
) -> Result<Json<Draft>, Problem> {
    let row = find(&app, &id).await?;
    if row.revision != edits.seen {
        return Err(changed(&row));
    }
    let text = row.source;
    let edited = blocking(move || edit_text(&text, &edits.edits)).await?;
    let EditedText { text: source, added } =
        edited.map_err(|fault| Problem::field(fault.path, fault.message))?;
    within_limits("edits", &source)?;
    let text = DraftRead::of(source).await?;
    let sound = edits.sound.and_then(|path| if path == "+" { added } else { Some(path) });
    if let Some(path) = sound {
        let errors = errors_under(&text.drafted.faults, &path);
        if !errors.is_empty() {
            return Err(Problem::fields(errors.into_iter()));
        }
    }
    let source = text.source.clone();
    let saved = keep_text(&app, row.id, (edits.seen, text, false), &by).await?;
    Ok(Json(Draft { id: row.id, base: row.base, source, saved }))
}

/// The errors at a path of a plan and under it: the field from there on, and what is wrong with it.
fn errors_under(faults: &[Fault], path: &str) -> Vec<(String, Message)> {
    let errors = faults.iter().filter(|fault| fault.severity == Severity::Error);
    let under = errors.filter_map(|fault| {
        let rest = fault.path.strip_prefix(path)?;
        let field = rest.strip_prefix('.').or_else(|| rest.is_empty().then_some(rest))?;
        Some((field.to_owned(), fault.message.clone()))
    });
    under.collect()
}

/// What a procedure in one line would do to a joint of a draft; nothing is changed.
#[utoipa::path(post, path = "/api/drafts/{draft}/procedure", params(("draft" = Uuid, Path)), request_body = TryLine,
    responses((status = 200, body = LineTrial), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn try_procedure(
    State(app): State<App>,
    Path(id): Path<String>,
    _by: SignedIn,
    JsonBody(tried): JsonBody<TryLine>,
) -> Result<Json<LineTrial>, Problem> {
    if tried.line.len() > procedure::MAX_LENGTH {
        return Err(Problem::field(
            "line",
            message!("server-line-has-characters-at-most", max_length = procedure::MAX_LENGTH),
        ));
    }
    let row = find(&app, &id).await?;
    Ok(Json(blocking(move || try_line(&row.source, &tried.joint, &tried.line)).await?))
}

/// Keeps a draft as the next version of its plan. A fault stops that; the draft stays as it is then.
#[utoipa::path(post, path = "/api/drafts/{draft}/keep", params(("draft" = Uuid, Path)), request_body = KeepDraft,
    responses((status = 200, body = PlanVersion), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn keep_draft(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
    JsonBody(keep): JsonBody<KeepDraft>,
) -> Result<Json<PlanVersion>, Problem> {
    let row = find(&app, &id).await?;
    if row.revision != keep.seen {
        return Err(changed(&row));
    }
    let why = keep.why.trim();
    if why.chars().count() > WHY {
        return Err(Problem::field("why", message!("server-at-most-characters", most = WHY)));
    }
    let version = keep_version(&app, row.source, &by, why, keep.approved).await?;
    app.store.end_draft(row.id, "kept").await?;
    Ok(Json(version))
}

/// Puts a draft away. Its text stays where it is, and saving it again brings it back.
#[utoipa::path(delete, path = "/api/drafts/{draft}", params(("draft" = Uuid, Path)),
    responses((status = 204), NotFoundAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn put_draft_away(
    State(app): State<App>,
    Path(id): Path<String>,
    Recorder(by): Recorder,
) -> Result<axum::http::StatusCode, Problem> {
    let row = find(&app, &id).await?;
    app.store.end_draft(row.id, "put-away").await?;
    app.draft_editors.leave(row.id, &by.name);
    Ok(axum::http::StatusCode::NO_CONTENT)
}

pub(super) async fn find(app: &App, id: &str) -> Result<DraftRow, Problem> {
    let id: Uuid = id.parse().map_err(|_| Problem::not_there(message!("server-draft", id)))?;
    Ok(app.store.draft(id).await?)
}

fn changed(row: &DraftRow) -> Problem {
    Problem::changed(message!("server-saved-this-draft-meanwhile-look-at", by_name = row.by_name))
}

/// A text of a draft with what can be read of it.
struct DraftRead {
    /// What the plan is called in it.
    name: String,
    source: String,
    drafted: DraftReading,
}

impl DraftRead {
    async fn of(source: String) -> Result<Self, Problem> {
        blocking(move || {
            let drafted = Plan::draft("plan", &source);
            let name = drafted.page.name.trim();
            let name = if name.is_empty() { UNNAMED } else { name };
            Self { name: name.chars().take(80).collect(), source, drafted }
        })
        .await
    }
}

async fn whole(app: &App, row: DraftRow, by: &Person) -> Result<Json<Draft>, Problem> {
    let others = app.draft_editors.look(row.id, &by.name);
    let DraftRead { source, drafted, .. } = DraftRead::of(row.source.clone()).await?;
    let saved = SavedDraft::of(&row, drafted, others);
    Ok(Json(Draft { id: row.id, base: row.base, source, saved }))
}

/// Saves a text that is typed, or that a form changed, over the revision that was seen.
async fn keep_text(
    app: &App,
    id: Uuid,
    (seen, read, typed): (i32, DraftRead, bool),
    by: &Person,
) -> Result<SavedDraft, Problem> {
    let DraftRead { name, source, drafted } = read;
    if source.contains('\0') {
        return Err(Problem::field("source", message!("server-character-u-0000-which-no-text")));
    }
    let text = SavedText { seen, name: &name, source: &source, typed, by: &by.name };
    let saved = app.store.save_draft(id, text).await?;
    let row = app.store.draft(id).await?;
    if !saved {
        return Err(changed(&row));
    }
    let others = app.draft_editors.look(id, &by.name);
    // Somebody else may have saved it since: this is what was saved here.
    let row = DraftRow { revision: seen + 1, by_name: by.name.clone(), ..row };
    Ok(SavedDraft::of(&row, drafted, others))
}

/// Why a version is kept, with what a lead approves by keeping it: figures with a source that go past yield by the
/// friction table.
fn approval(warnings: &[Fault], by: &Person, why: &str, approved: bool) -> Result<String, Problem> {
    let asked: Vec<&Fault> = warnings.iter().filter(|fault| fault.approves.is_some()).collect();
    let Some(first) = asked.first() else { return Ok(why.to_owned()) };
    if by.role != Role::Lead {
        let what = &first.message;
        return Err(Problem::not_allowed(message!("server-lead-approval-needed-stays-draft", what)));
    }
    if !approved {
        return Err(Problem::ask(message!("server-do-you-approve", what = &first.message)));
    }
    let mut about: Vec<&str> = Vec::new();
    for of in asked.iter().filter_map(|fault| fault.approves.as_deref()) {
        if !about.contains(&of) {
            about.push(of);
        }
    }
    let approves = format!("approved: {}", about.join("; "));
    Ok(if why.is_empty() { approves } else { format!("{why}; {approves}") })
}

/// Keeps a text as a version of its plan; every fault is a field of the answer.
pub(super) async fn keep_version(
    app: &App,
    source: String,
    by: &Person,
    why: &str,
    approved: bool,
) -> Result<PlanVersion, Problem> {
    let (source, judged) = blocking(move || {
        let judged = Plan::judge("plan", &source);
        (source, judged)
    })
    .await?;
    let (plan, warnings) = judged.map_err(|faults| {
        let errors = faults.into_iter().filter(|fault| fault.severity == Severity::Error);
        Problem::fields(errors.map(|fault| {
            let message = message!("server-line", line = fault.line, message = fault.message);
            (fault.path, message)
        }))
    })?;
    let why = approval(&warnings, by, why, approved)?;
    let version =
        NewVersion { source: &source, plan: &plan, by: &by.name, why: &why, warnings: warnings.len() };
    Ok(app.store.keep_version(version).await?.into())
}
