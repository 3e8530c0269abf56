//! Proving to be who is signed in, and changing one's own password or PIN.

use super::session::{SessionView, SignInMethod, begin, view};
use crate::answers::{
    FieldAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, TooManyAnswer, UnauthorizedAnswer,
};
use crate::client_ip::ClientIp;
use crate::extract::JsonBody;
use crate::guesses::GuessCounter;
use crate::session::{self, RequestSession};
use crate::{App, Problem, secrets};
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use rigore_assembly::Person;
use rigore_mechanics::message;
use rigore_store::{Member, MemberChange};
use serde::Deserialize;
use std::net::IpAddr;
use utoipa::ToSchema;

/// A secret of whoever is signed in.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SecretProof {
    /// Their PIN or their password.
    pub secret: String,
}

/// Proves that whoever is signed in is at the screen: a signature asks for that.
#[utoipa::path(post, path = "/api/session/confirm", request_body = SecretProof,
    responses((status = 204), FieldAnswer, TooLargeAnswer, TooManyAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn confirm(
    State(app): State<App>,
    Extension(session): Extension<RequestSession>,
    ClientIp(address): ClientIp,
    JsonBody(given): JsonBody<SecretProof>,
) -> Result<StatusCode, Problem> {
    let Some(token) = session.token else { return Ok(StatusCode::NO_CONTENT) };
    let of = app.store.members().await?.into_iter().find(|of| of.person.id == session.person.id);
    let proof = proved(&app, of.as_ref(), &session.person, address, given.secret, true).await?;
    // Whoever has set a secret for somebody else could sign as them by it.
    if let Some((secret, by)) = proof.set_by {
        return Err(Problem::own_secret(secret, &by));
    }
    app.store.confirm_session(&token).await?;
    app.cache.forget();
    Ok(StatusCode::NO_CONTENT)
}

/// A secret that was right.
struct ProvenSecret {
    /// What it is and who has set it, where that was somebody else.
    set_by: Option<(&'static str, String)>,
    /// Whether it is the PIN.
    is_pin: bool,
}

/// Whether a secret is the password of a person, or their PIN where that is enough.
async fn proved(
    app: &App,
    member: Option<&Member>,
    person: &Person,
    address: IpAddr,
    secret: String,
    or_pin: bool,
) -> Result<ProvenSecret, Problem> {
    let guesses = GuessCounter::of(&format!("confirm {}", person.id), address);
    guesses.count(app).await?;
    let secrets = member.map_or(Vec::new(), |of| {
        let pin = of.pin.clone().filter(|_| or_pin).map(|hash| (hash, "PIN", of.pin_set_by.clone()));
        let password = of.password.clone().map(|hash| (hash, "password", of.password_set_by.clone()));
        pin.into_iter().chain(password).collect()
    });
    let hashes = secrets.iter().map(|(hash, ..)| hash.clone()).collect();
    let Some((_, name, by)) =
        secrets::verify(secret, hashes).await?.and_then(|at| secrets.into_iter().nth(at))
    else {
        let words = if or_pin {
            message!("server-neither-pin-nor-password")
        } else {
            message!("server-not-password")
        };
        return Err(guesses.was_wrong(words));
    };
    guesses.was_right(app).await?;
    Ok(ProvenSecret { set_by: by.map(|by| (name, by)), is_pin: name == "PIN" })
}

/// Other secrets of one's own.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnSecrets {
    /// The PIN or password as it is now.
    pub current: String,
    /// The password from now on.
    pub password: Option<String>,
    /// The PIN from now on.
    pub pin: Option<String>,
}

/// Changes one's own password or PIN. Another password signs out everywhere else.
#[utoipa::path(put, path = "/api/session/secrets", request_body = OwnSecrets,
    responses((status = 200, body = SessionView), FieldAnswer, TooLargeAnswer, TooManyAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn own_secrets(
    State(app): State<App>,
    Extension(session): Extension<RequestSession>,
    ClientIp(address): ClientIp,
    headers: HeaderMap,
    JsonBody(given): JsonBody<OwnSecrets>,
) -> Result<Response, Problem> {
    if session.token.is_none() {
        return Err(Problem::not_allowed(message!("server-nobody-has-password-demonstration")));
    }
    let (password, pin) = secrets::given(given.password.as_deref(), given.pin.as_deref()).await?;
    let of = app.store.members().await?.into_iter().find(|of| of.person.id == session.person.id);
    // Four digits that somebody saw at a bench are not to become a password.
    let proof = proved(&app, of.as_ref(), &session.person, address, given.current, password.is_none())
        .await
        .map_err(|problem| problem.at("current"))?;
    if let (true, Some((_, by))) = (proof.is_pin, &proof.set_by) {
        let words = message!("server-has-set-this-pin-your-password", by);
        return Err(Problem::secret(&words).at("current"));
    }
    if let (Some((_, by)), None) = (&proof.set_by, &password) {
        let words = message!("server-has-set-your-password-choose-one", by);
        return Err(Problem::field("password", words));
    }
    let signed_out = password.is_some();
    let change = MemberChange { password, pin, ..MemberChange::default() };
    app.store.change_member(&session.person, &session.person.id, &change).await?;
    app.renew().await?;
    let bench = session::bench_of(&app, &headers).await?;
    if signed_out {
        return begin(&app, &headers, session.person, bench, SignInMethod::Password).await;
    }
    Ok(Json(view(&app, Some(session.person), bench).await?).into_response())
}
