//! The people of the shop and its benches, as leads keep them.

use super::session::{SecretSet, set_by_others};
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{ConfirmedLead, JsonBody, Lead};
use crate::session::{self, BENCH_COOKIE};
use crate::text_rule::{self, named};
use crate::{App, Problem, secrets};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::Response;
use rigore_assembly::{Person, Role};
use rigore_mechanics::message;
use rigore_store::{AuditRow, BenchDevice, Member, MemberChange, PeopleError};
use serde::{Deserialize, Serialize};
use time::{Duration, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

/// How long a bench stays one.
const BENCH_AGE: Duration = Duration::days(1800);
/// What was done, at most.
const DOINGS: i64 = 400;

/// Somebody of the shop, as a lead sees them.
#[derive(Debug, Serialize, ToSchema)]
pub struct PersonView {
    /// Who they are.
    #[serde(flatten)]
    pub person: Person,
    /// Whether they work here still.
    pub active: bool,
    /// Whether they can sign in by a password.
    pub has_password: bool,
    /// Whether they can come in by a PIN at a bench.
    pub has_pin: bool,
    /// Secrets of theirs that somebody else has set, in place of which they have yet to choose their own.
    pub set_by_others: Vec<SecretSet>,
}

impl From<Member> for PersonView {
    fn from(of: Member) -> Self {
        let set_by_others = set_by_others(&of);
        Self {
            set_by_others,
            person: of.person,
            active: of.active,
            has_password: of.password.is_some(),
            has_pin: of.pin.is_some(),
        }
    }
}

/// Everybody, those who work here no more among them.
#[utoipa::path(get, path = "/api/people", responses((status = 200, body = Vec<PersonView>), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn people(State(app): State<App>, Lead(_by): Lead) -> Result<Json<Vec<PersonView>>, Problem> {
    Ok(Json(app.store.members().await?.into_iter().map(PersonView::from).collect()))
}

/// Somebody new.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewPerson {
    /// The name on the sheet.
    pub name: String,
    /// What they may decide.
    pub role: Role,
    /// A first password, which they change.
    pub password: String,
}

/// Adds somebody.
#[utoipa::path(post, path = "/api/people", request_body = NewPerson,
    responses((status = 200, body = Vec<PersonView>), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn add_person(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
    JsonBody(given): JsonBody<NewPerson>,
) -> Result<Json<Vec<PersonView>>, Problem> {
    let name = named("name", &given.name)?;
    let password = secrets::password("password", &given.password).await?;
    let taken = app.store.members().await?;
    check_distinct_name(&name, None, &taken)?;
    let person = Person { id: key_of(&name, &taken), name, role: given.role };
    app.store.add_member(&by, &person, Some(&password)).await?;
    app.renew().await?;
    people(State(app), Lead(by)).await
}

/// What of somebody is another from now on.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PersonEdit {
    /// The name on the sheet.
    pub name: Option<String>,
    /// What they may decide.
    pub role: Option<Role>,
    /// Whether they work here.
    pub active: Option<bool>,
    /// A password in place of one that was forgotten.
    pub password: Option<String>,
    /// A PIN in place of one that was forgotten.
    pub pin: Option<String>,
}

/// Changes somebody. Nobody is deleted, and a lead is always left.
#[utoipa::path(put, path = "/api/people/{person}", params(("person" = String, Path)), request_body = PersonEdit,
    responses((status = 200, body = Vec<PersonView>), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn change_person(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
    Path(id): Path<String>,
    JsonBody(given): JsonBody<PersonEdit>,
) -> Result<Json<Vec<PersonView>>, Problem> {
    let name = given.name.as_deref().map(|name| named("name", name)).transpose()?;
    if let Some(name) = &name {
        check_distinct_name(name, Some(&id), &app.store.members().await?)?;
    }
    let (password, pin) = secrets::given(given.password.as_deref(), given.pin.as_deref()).await?;
    let change = MemberChange { name, role: given.role, active: given.active, password, pin };
    app.store.change_member(&by, &id, &change).await?;
    app.renew().await?;
    people(State(app), Lead(by)).await
}

/// Something that was done in the administration.
#[derive(Debug, Serialize, ToSchema)]
pub struct AuditView {
    /// Its number.
    pub id: i64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// What.
    pub what: String,
}

impl From<AuditRow> for AuditView {
    fn from(of: AuditRow) -> Self {
        Self { id: of.id, at: of.at, by: of.by_name, what: of.what }
    }
}

/// What was done in the administration, the last first.
#[utoipa::path(get, path = "/api/doings", responses((status = 200, body = Vec<AuditView>), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn doings(State(app): State<App>, Lead(_by): Lead) -> Result<Json<Vec<AuditView>>, Problem> {
    Ok(Json(app.store.doings(DOINGS).await?.into_iter().map(AuditView::from).collect()))
}

/// A bench whose browser is enrolled.
#[derive(Debug, Serialize, ToSchema)]
pub struct BenchView {
    /// Its id.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// Who enrolled it.
    pub enrolled_by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub enrolled_at: OffsetDateTime,
    /// Whether it is this browser.
    pub here: bool,
}

/// Every bench that is enrolled.
#[utoipa::path(get, path = "/api/benches", responses((status = 200, body = Vec<BenchView>), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn benches(
    State(app): State<App>,
    Lead(_by): Lead,
    headers: axum::http::HeaderMap,
) -> Result<Json<Vec<BenchView>>, Problem> {
    let here = session::bench_of(&app, &headers).await?.map(|device| device.id);
    let view = |BenchDevice { id, name, enrolled_by, enrolled_at }| BenchView {
        id,
        name,
        enrolled_by,
        enrolled_at,
        here: here == Some(id),
    };
    Ok(Json(app.store.devices().await?.into_iter().map(view).collect()))
}

/// A name for a bench.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewBench {
    /// What it is called.
    pub name: String,
}

/// Enrols this browser as a bench: there a tap on a name and a PIN change the person.
#[utoipa::path(post, path = "/api/benches", request_body = NewBench,
    responses((status = 204), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn enrol_bench(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
    JsonBody(given): JsonBody<NewBench>,
) -> Result<Response, Problem> {
    let (name, token) = (named("name", &given.name)?, secrets::token()?);
    app.store.enrol(&by, Uuid::now_v7(), &name, &secrets::kept(&token)).await?;
    Ok(session::leave_cookie(&app, StatusCode::NO_CONTENT, BENCH_COOKIE, &token, BENCH_AGE))
}

/// A bench is none any more.
#[utoipa::path(delete, path = "/api/benches/{bench}", params(("bench" = Uuid, Path)),
    responses((status = 204), NotFoundAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn retire_bench(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
    Path(id): Path<String>,
) -> Result<StatusCode, Problem> {
    let id = id.parse().map_err(|_| Problem::not_there(message!("server-bench", id)))?;
    app.store.retire_device(&by, id).await?;
    app.cache.forget();
    Ok(StatusCode::NO_CONTENT)
}

/// Whether a name can be told from those of everybody else who works here.
///
/// # Errors
/// Of the name, where it looks like another one.
fn check_distinct_name(name: &str, own: Option<&str>, all: &[Member]) -> Result<(), Problem> {
    let look = text_rule::name_skeleton(name);
    let same = |of: &&Member| {
        of.active && Some(&*of.person.id) != own && text_rule::name_skeleton(&of.person.name) == look
    };
    let Some(same) = all.iter().find(same) else { return Ok(()) };
    if own.is_some_and(|own| all.iter().any(|of| of.person.id == own && of.person.name == name)) {
        // They were called so before.
        return Ok(());
    }
    let says = message!("server-works-here-whose-name-looks-same", person = same.person.name);
    Err(Problem::field("name", says))
}

/// A key made of a name that nobody has yet; it stays whatever the name becomes.
pub fn key_of(name: &str, taken: &[Member]) -> String {
    let plain: String =
        name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let plain: Vec<&str> = plain.split('-').filter(|part| !part.is_empty()).collect();
    let plain: String = plain.join("-").chars().take(40).collect();
    let plain = if plain.is_empty() { "person".to_owned() } else { plain };
    let is_free = |key: &String| taken.iter().all(|of| of.person.id != *key);
    let numbered = (2..).map(|number| format!("{plain}-{number}"));
    std::iter::once(plain.clone()).chain(numbered).find(is_free).unwrap_or(plain)
}

impl From<PeopleError> for Problem {
    fn from(error: PeopleError) -> Self {
        match error {
            PeopleError::Nobody => Self::not_there(message!("server-such-person")),
            PeopleError::LastLead | PeopleError::Founded => {
                Self::changed(message!("server-error-nothing-was-changed", error = error.to_string()))
            }
            PeopleError::Store(error) => error.into(),
        }
    }
}
