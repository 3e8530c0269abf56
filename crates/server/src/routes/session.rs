//! Signing in and out, and who is at a bench.

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, TooManyAnswer,
    UnauthorizedAnswer,
};
use crate::client_ip::ClientIp;
use crate::extract::{JsonBody, SignedIn};
use crate::guesses::GuessCounter;
use crate::session::{self, COOKIE, DOOR, RequestSession};
use crate::{App, Problem, secrets, text_rule};
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use axum::response::Response;
use axum::{Extension, Json};
use rigore_assembly::Person;
use rigore_mechanics::message;
use rigore_store::{BenchDevice, Member, SecretGuess, SessionLength};
use serde::{Deserialize, Serialize};
use time::Duration;
use utoipa::ToSchema;
use uuid::Uuid;

/// How long a session by a password lasts, and one by a PIN at a bench.
const BY_PASSWORD: SessionLength = SessionLength { idle: Duration::hours(12), age: Duration::days(7) };
const BY_PIN: SessionLength = SessionLength { idle: Duration::hours(4), age: Duration::hours(16) };
/// Wrong PINs of one person at one bench, after which only the password is good there.
const FREE_PINS: i32 = 5;
/// After so long, guesses of a PIN are forgotten.
const PIN_FORGOTTEN: Duration = Duration::hours(24);

/// Who is signed in here, and how somebody else may be.
#[derive(Debug, Serialize, ToSchema)]
pub struct SessionView {
    /// What the shop is called; none before its first run.
    pub shop: Option<String>,
    /// Whether nobody is here yet: the code that the server printed founds the shop.
    pub first_run: bool,
    /// Whether this is the demonstration, whose door asks for no password.
    pub demonstration: bool,
    /// Who is signed in.
    pub person: Option<Person>,
    /// What this bench is called, where a lead has enrolled it.
    pub bench: Option<String>,
    /// Who may come in by a tap here: at the door of the demonstration, or with a PIN at a bench.
    pub people: Vec<Person>,
    /// The unit torques are shown in to who chose none.
    pub torque_unit: String,
    /// The unit lengths are shown in to who chose none.
    pub length_unit: String,
    /// Secrets of whoever is signed in that somebody else has set: they prove nothing until others are chosen.
    pub set_by_others: Vec<SecretSet>,
}

/// A secret that somebody else has set.
#[derive(Debug, Serialize, ToSchema)]
pub struct SecretSet {
    /// `password` or `PIN`.
    pub secret: &'static str,
    /// Who has set it.
    pub by: String,
}

/// The secrets of somebody that others have set.
pub(super) fn set_by_others(of: &Member) -> Vec<SecretSet> {
    let set = [("password", &of.password_set_by), ("PIN", &of.pin_set_by)];
    let set = set.into_iter().filter_map(|(secret, by)| Some(SecretSet { secret, by: by.clone()? }));
    set.collect()
}

/// Who is signed in here.
#[utoipa::path(get, path = "/api/session", responses((status = 200, body = SessionView), ReadAnswers))]
pub async fn session_view(
    State(app): State<App>,
    session: Option<Extension<RequestSession>>,
    headers: HeaderMap,
) -> Result<Json<SessionView>, Problem> {
    let bench = session::bench_of(&app, &headers).await?;
    Ok(Json(view(&app, session.map(|Extension(session)| session.person), bench).await?))
}

pub(super) async fn view(
    app: &App,
    person: Option<Person>,
    bench: Option<BenchDevice>,
) -> Result<SessionView, Problem> {
    let (shop, members) = (app.store.shop().await?, app.store.members().await?);
    let first_run = members.is_empty();
    let own = person.as_ref().and_then(|person| members.iter().find(|of| of.person.id == person.id));
    let set_by_others = own.map(set_by_others).unwrap_or_default();
    let people = if app.settings.demonstration || bench.is_some() {
        let may = |of: &Member| of.active && (app.settings.demonstration || of.pin.is_some());
        members.into_iter().filter(may).map(|member| member.person).collect()
    } else {
        Vec::new()
    };
    let units = shop.as_ref().map(|shop| (shop.torque_unit.clone(), shop.length_unit.clone()));
    let (torque_unit, length_unit) = units.unwrap_or_else(|| ("N·m".to_owned(), "mm".to_owned()));
    Ok(SessionView {
        shop: shop.map(|shop| shop.name),
        first_run,
        demonstration: app.settings.demonstration,
        person,
        bench: bench.map(|bench| bench.name),
        people,
        torque_unit,
        length_unit,
        set_by_others,
    })
}

/// By which secret somebody came in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum SignInMethod {
    /// A password of their own.
    Password,
    /// A PIN of their own, at a bench.
    Pin,
    /// A password that somebody else has set: it lets in, and proves nothing.
    SetPassword,
    /// A PIN that somebody else has set.
    SetPin,
}

/// Begins a session and answers with it; the one that this browser had ends.
pub(super) async fn begin(
    app: &App,
    headers: &HeaderMap,
    person: Person,
    bench: Option<BenchDevice>,
    method: SignInMethod,
) -> Result<Response, Problem> {
    let by_pin = matches!(method, SignInMethod::Pin | SignInMethod::SetPin);
    let proved = matches!(method, SignInMethod::Password | SignInMethod::Pin);
    if let Some(before) = session::cookie(headers, COOKIE) {
        app.store.end_session(&secrets::kept(before)).await?;
        app.cache.forget();
    }
    let (token, lasts) = (secrets::token()?, if by_pin { BY_PIN } else { BY_PASSWORD });
    let device = bench.as_ref().filter(|_| by_pin).map(|bench| bench.id);
    app.store.begin_session(&secrets::kept(&token), &person.id, device, lasts, proved).await?;
    let answer = Json(view(app, Some(person), bench).await?);
    Ok(session::leave_cookie(app, answer, COOKIE, &token, lasts.age))
}

/// A name and a password.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SignIn {
    /// The name, as it stands on the sheet.
    pub name: String,
    /// The password.
    pub password: String,
}

/// Signs somebody in.
#[utoipa::path(post, path = "/api/session", request_body = SignIn,
    responses((status = 200, body = SessionView), TooManyAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn sign_in(
    State(app): State<App>,
    ClientIp(address): ClientIp,
    headers: HeaderMap,
    JsonBody(given): JsonBody<SignIn>,
) -> Result<Response, Problem> {
    let name: String = given.name.trim().to_lowercase().chars().take(text_rule::NAME).collect();
    let bench = session::bench_of(&app, &headers).await?;
    let guesses = GuessCounter::of_password(&name, address, bench.is_some());
    guesses.count(&app).await?;
    // Two people may have one name: the password says which.
    let members = app.store.members().await?.into_iter();
    let named =
        members.filter(|of| of.active && of.person.name.to_lowercase() == name && of.password.is_some());
    let named: Vec<Member> = named.collect();
    let hashes = named.iter().filter_map(|of| of.password.clone()).collect();
    let found = secrets::verify(given.password, hashes).await?.and_then(|at| named.into_iter().nth(at));
    let member =
        found.ok_or_else(|| guesses.was_wrong(message!("server-name-password-do-not-go-together")))?;
    guesses.was_right(&app).await?;
    let pins: Vec<String> =
        app.store.devices().await?.iter().map(|device| pin_key(&member.person.id, device.id)).collect();
    app.store.forget_guesses(&pins).await?;
    let method =
        if member.password_set_by.is_some() { SignInMethod::SetPassword } else { SignInMethod::Password };
    begin(&app, &headers, member.person, bench, method).await
}

fn pin_key(person: &str, device: Uuid) -> String {
    format!("pin {person} {device}")
}

/// A person, at a bench.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TapIn {
    /// Key of the person.
    pub person: String,
    /// Their PIN.
    pub pin: String,
}

/// Changes who is at an enrolled bench.
#[utoipa::path(post, path = "/api/session/pin", request_body = TapIn,
    responses((status = 200, body = SessionView), RefusedAnswer, TooManyAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn tap_in(
    State(app): State<App>,
    ClientIp(address): ClientIp,
    headers: HeaderMap,
    JsonBody(given): JsonBody<TapIn>,
) -> Result<Response, Problem> {
    let bench = session::bench_of(&app, &headers).await?;
    let bench =
        bench.ok_or_else(|| Problem::not_allowed(message!("server-pin-for-benches-lead-has-enrolled")))?;
    let guesses = GuessCounter::of_pin(bench.id, address);
    guesses.count(&app).await?;
    let key = pin_key(&given.person, bench.id);
    // No wait, but an end: after so many only the password is good.
    let guess = app.store.guess(&key, i32::MAX, PIN_FORGOTTEN).await?;
    if !matches!(guess, SecretGuess::Counted { failed_before } if failed_before < FREE_PINS) {
        return Err(guesses.was_wrong(message!("server-five-pins-were-wrong-here-sign")));
    }
    let members = app.store.members().await?;
    let member = members.into_iter().find(|of| of.active && of.person.id == given.person);
    let hash = member.as_ref().and_then(|of| of.pin.clone());
    let right = secrets::verify(given.pin, hash.into_iter().collect()).await?.is_some();
    let member = member.filter(|_| right).ok_or_else(|| guesses.was_wrong(message!("server-not-pin")))?;
    guesses.was_right(&app).await?;
    app.store.forget_guesses(&[key]).await?;
    let method = if member.pin_set_by.is_some() { SignInMethod::SetPin } else { SignInMethod::Pin };
    begin(&app, &headers, member.person, Some(bench), method).await
}

/// A person, at the door of the demonstration.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DoorEntry {
    /// Key of the person.
    pub person: String,
}

/// Enters the demonstration as somebody, without a password. No other server has this door.
#[utoipa::path(post, path = "/api/session/enter", request_body = DoorEntry,
    responses((status = 200, body = SessionView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn enter(
    State(app): State<App>,
    JsonBody(given): JsonBody<DoorEntry>,
) -> Result<Response, Problem> {
    if !app.settings.demonstration {
        return Err(Problem::not_there(message!("server-such-door-this-no-demonstration")));
    }
    let person = app.roster().person(&given.person).cloned();
    let person = person.ok_or_else(|| Problem::field("person", message!("server-nobody-this-key")))?;
    let token = format!("{DOOR}{}", person.id);
    let answer = Json(view(&app, Some(person), None).await?);
    Ok(session::leave_cookie(&app, answer, COOKIE, &token, BY_PASSWORD.age))
}

/// Signs out, here.
#[utoipa::path(delete, path = "/api/session", responses((status = 204), ReadAnswers))]
pub async fn sign_out(
    State(app): State<App>,
    session: Option<Extension<RequestSession>>,
) -> Result<Response, Problem> {
    if let Some(token) = session.and_then(|Extension(session)| session.token) {
        app.store.end_session(&token).await?;
        app.cache.forget();
    }
    Ok(gone(&app))
}

/// Signs out everywhere at once.
#[utoipa::path(delete, path = "/api/session/everywhere", responses((status = 204), UnauthorizedAnswer, ReadAnswers))]
pub async fn sign_out_everywhere(
    State(app): State<App>,
    SignedIn(by): SignedIn,
) -> Result<Response, Problem> {
    app.store.end_sessions_of(&by.id).await?;
    app.cache.forget();
    Ok(gone(&app))
}

fn gone(app: &App) -> Response {
    session::leave_cookie(app, StatusCode::NO_CONTENT, COOKIE, "", Duration::ZERO)
}
