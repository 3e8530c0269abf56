//! Engine plans in their versions: which there are, one as it is read, and how two differ.

use crate::answers::{FieldAnswer, NotFoundAnswer, ReadAnswers, TooLargeAnswer, UnauthorizedAnswer};
use crate::extract::{JsonBody, QueryParams, SignedIn, TextBody};
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use rigore_mechanics::message;
use rigore_plan::{Difference, Fault, Plan, PlanPage, SpecIx, differences};
use rigore_store::PlanRow;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};

/// The most bytes that the text of a plan may have.
pub const MOST: usize = 2_000_000;
/// The most lines that it may have.
pub const MOST_LINES: usize = 20_000;
/// Requests that carry the text of a plan, as JSON.
pub const MOST_CARRIED: usize = 5 << 20;

/// A plan in the list: its last version.
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
    /// The version.
    pub version: PlanVersion,
    /// How many operations it has.
    pub operations: usize,
    /// How many joints, those that are alike counted once.
    pub joints: usize,
    /// How many fasteners in all.
    pub fastened: usize,
    /// How many figures nobody has looked up yet.
    pub open: usize,
    /// How many engines go by this version.
    pub engines: usize,
    /// How many go by an earlier one.
    pub engines_before: usize,
    /// Uses that its clearances have windows for.
    pub uses: Vec<String>,
    /// Fasteners that are brought to a clamp load.
    pub fasteners: Vec<FastenerListed>,
}

/// A version of a plan.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PlanVersion {
    /// Hash of its text.
    pub hash: String,
    /// Which, from 1.
    pub number: i32,
    /// Who kept it; empty where it came with the program.
    pub by: String,
    /// A word about why.
    pub why: String,
    /// How many warnings it gave when it was kept.
    pub warnings: i32,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

impl From<PlanRow> for PlanVersion {
    fn from(row: PlanRow) -> Self {
        let PlanRow { hash, number, by_name: by, why, warnings, at, .. } = row;
        Self { hash, number, by, why, warnings, at }
    }
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

/// A version of a plan as it is read.
#[derive(Debug, Serialize, ToSchema)]
pub struct PlanRead {
    /// The version.
    pub version: PlanVersion,
    /// Every version of the plan, the last one first.
    pub versions: Vec<PlanVersion>,
    /// What it says.
    pub page: PlanPage,
    /// What was to be told about it when it was kept, as it would be today.
    pub warnings: Vec<Fault>,
    /// How many engines go by it.
    pub engines: usize,
}

/// What came of checking a plan.
#[derive(Debug, Serialize, ToSchema)]
pub struct PlanCheck {
    /// Whether the plan can be used.
    pub usable: bool,
    /// Every fault, by line.
    pub faults: Vec<Fault>,
}

/// Every plan.
#[utoipa::path(get, path = "/api/plans", responses((status = 200, body = Vec<PlanListed>), ReadAnswers))]
pub async fn plans(State(app): State<App>) -> Result<Json<Vec<PlanListed>>, Problem> {
    let engines = app.store.engines_by_plan().await?;
    let going_by = |hash: &str| engines.iter().find(|(of, _)| of == hash).map_or(0, |(_, count)| *count);
    let mut listed = Vec::new();
    for row in app.store.plans().await? {
        let plan = app.store.plan(&row.hash).await?;
        let versions = app.store.plan_versions(&row.id).await?;
        let mut earlier: Vec<String> = versions.into_iter().map(|version| version.hash).collect();
        earlier.sort_unstable();
        earlier.dedup();
        let specs = plan.specs.iter().enumerate();
        let loaded = specs.filter(|(at, _)| plan.wanted_load(SpecIx(*at)).is_some());
        let fasteners = loaded.map(|(at, spec)| FastenerListed {
            id: spec.id.clone(),
            name: spec.title(),
            stretched: plan.is_stretched(SpecIx(at)),
        });
        let mut families: Vec<&str> = plan.joints.iter().map(|joint| joint.family.as_str()).collect();
        families.dedup();
        listed.push(PlanListed {
            fasteners: fasteners.collect(),
            hash: row.hash.clone(),
            id: row.id.clone(),
            name: row.name.clone(),
            about: plan.about.clone(),
            operations: plan.operations.len(),
            joints: families.len(),
            fastened: plan.joints.iter().map(|joint| joint.fasteners.len()).sum(),
            open: plan.open.len(),
            engines: going_by(&row.hash),
            engines_before: earlier.iter().filter(|hash| **hash != row.hash).map(|hash| going_by(hash)).sum(),
            uses: plan.uses().into_iter().map(str::to_owned).collect(),
            version: row.into(),
        });
    }
    Ok(Json(listed))
}

/// A version of a plan as it is read.
#[utoipa::path(get, path = "/api/plans/{hash}", params(("hash" = String, Path)),
    responses((status = 200, body = PlanRead), NotFoundAnswer, ReadAnswers))]
pub async fn plan(State(app): State<App>, Path(hash): Path<String>) -> Result<Json<PlanRead>, Problem> {
    let plan = app.store.plan(&hash).await?;
    let source = app.store.plan_source(&hash).await?;
    let engines = app.store.engines_by_plan().await?;
    let versions = app.store.plan_versions(&plan.id).await?;
    let versions: Vec<PlanVersion> = versions.into_iter().map(Into::into).collect();
    let version = versions.iter().find(|version| version.hash == hash).cloned();
    let version = version.ok_or_else(|| Problem::not_there(message!("server-version-with-hash", hash)))?;
    let (warnings, page) = blocking(move || {
        let warnings = Plan::judge("plan", &source).map_or_else(|faults| faults, |(_, faults)| faults);
        (warnings, plan.page(&source))
    })
    .await?;
    let engines = engines.iter().find(|(of, _)| *of == hash).map_or(0, |(_, count)| *count);
    Ok(Json(PlanRead { version, versions, page, warnings, engines }))
}

/// The text of a plan, as one file that holds all of it.
#[utoipa::path(get, path = "/api/plans/{hash}/text", params(("hash" = String, Path)),
    responses((status = 200, body = String, content_type = "application/toml"), NotFoundAnswer, ReadAnswers))]
pub async fn text(State(app): State<App>, Path(hash): Path<String>) -> Result<impl IntoResponse, Problem> {
    let (plan, source) = (app.store.plan(&hash).await?, app.store.plan_source(&hash).await?);
    let name: String = plan.id.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let headers = [
        (header::CONTENT_TYPE, "application/toml; charset=utf-8".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}.toml\"")),
    ];
    Ok((headers, source))
}

/// Another version that one is compared with.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct DifferenceQuery {
    /// Hash of the earlier one.
    since: String,
}

/// How a version differs from an earlier one, by meaning.
#[utoipa::path(get, path = "/api/plans/{hash}/differences", params(("hash" = String, Path), DifferenceQuery),
    responses((status = 200, body = Vec<Difference>), FieldAnswer, NotFoundAnswer, ReadAnswers))]
pub async fn differs(
    State(app): State<App>,
    Path(hash): Path<String>,
    QueryParams(DifferenceQuery { since }): QueryParams<DifferenceQuery>,
) -> Result<Json<Vec<Difference>>, Problem> {
    let (old, new) = (app.store.plan(&since).await?, app.store.plan(&hash).await?);
    Ok(Json(differences(&old, &new)))
}

/// Two texts of plans.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TwoTexts {
    /// The earlier one.
    pub old: String,
    /// The later one.
    pub new: String,
}

/// How two texts of plans differ, by meaning.
#[utoipa::path(post, path = "/api/plans/compare", request_body = TwoTexts,
    responses((status = 200, body = Vec<Difference>), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn compare(
    _by: SignedIn,
    JsonBody(TwoTexts { old, new }): JsonBody<TwoTexts>,
) -> Result<Json<Vec<Difference>>, Problem> {
    for (field, text) in [("old", &old), ("new", &new)] {
        within_limits(field, text)?;
    }
    let read = |field: &'static str, text: String| {
        Plan::read(field, &text).map_err(|faults| {
            let first = faults.first().map(ToString::to_string).unwrap_or_default();
            Problem::field(field, message!("server-cannot-read", first))
        })
    };
    blocking(move || Ok(Json(differences(&read("old", old)?, &read("new", new)?)))).await?
}

/// Checks the TOML text of a plan; every fault at once, with its line.
#[utoipa::path(post, path = "/api/plans/check", request_body = String,
    responses((status = 200, body = PlanCheck), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn check(_by: SignedIn, TextBody(source): TextBody) -> Result<Json<PlanCheck>, Problem> {
    within_limits("body", &source)?;
    blocking(move || {
        Json(match Plan::judge("plan.toml", &source) {
            Ok((_, faults)) => PlanCheck { usable: true, faults },
            Err(faults) => PlanCheck { usable: false, faults },
        })
    })
    .await
}

/// Whether a text is one that is read at all.
pub(super) fn within_limits(field: &str, text: &str) -> Result<(), Problem> {
    if text.len() > MOST {
        return Err(Problem::field(
            field,
            message!("server-plan-has-bytes-at-most-not", most = MOST, bytes = text.len()),
        ));
    }
    let lines = text.lines().count();
    if lines > MOST_LINES {
        return Err(Problem::field(
            field,
            message!("server-plan-has-lines-at-most-not", most = MOST_LINES, lines),
        ));
    }
    Ok(())
}

/// Computing that may take longer than anybody else should wait for.
pub(super) async fn blocking<T: Send + 'static>(
    compute: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Problem> {
    let language = rigore_texts::language();
    let compute = move || rigore_texts::with_language(language, compute);
    tokio::task::spawn_blocking(compute).await.map_err(|error| {
        tracing::error!(%error, "reading a plan");
        Problem::internal()
    })
}

/// An invented engine that ships with Rigore.
#[derive(Debug, Serialize, ToSchema)]
pub struct Example {
    /// Key of its plan.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it is.
    pub about: String,
    /// Text of its plan.
    pub text: String,
}

/// The invented engines that ship with Rigore, to look at and to begin from.
#[utoipa::path(get, path = "/api/plans/examples", responses((status = 200, body = Vec<Example>)))]
pub async fn examples() -> Json<Vec<Example>> {
    let example = |(file, text): &(&str, &str)| {
        let (plan, _) = Plan::judge(file, text).ok()?;
        Some(Example { id: plan.id, name: plan.name, about: plan.about, text: (*text).to_owned() })
    };
    Json(crate::demo::PLANS.iter().filter_map(example).collect())
}
