//! Proving to be who is signed in, and changing one's own password or PIN.

use super::session::{SessionView, begin, view, wait_after};
use crate::answers::{Looking, TooLarge, Who, WrongField};
use crate::extract::Body;
use crate::session::{self, Session};
use crate::whence::Whence;
use crate::{App, Problem, secrets};
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use rigore_core::engine::Person;
use rigore_store::MemberChange;
use serde::Deserialize;
use std::net::IpAddr;
use utoipa::ToSchema;

/// A secret of whoever is signed in.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Proof {
    /// Their PIN or their password.
    pub secret: String,
}

/// Proves that whoever is signed in is at the screen: a signature asks for that.
#[utoipa::path(post, path = "/api/session/confirm", request_body = Proof,
    responses((status = 204), WrongField, TooLarge, Who, Looking))]
pub async fn confirm(
    State(app): State<App>,
    Extension(session): Extension<Session>,
    Whence(address): Whence,
    Body(given): Body<Proof>,
) -> Result<StatusCode, Problem> {
    let Some(token) = session.token else { return Ok(StatusCode::NO_CONTENT) };
    proved(&app, &session.person, address, given.secret, true).await?;
    app.store.confirm_session(&token).await?;
    app.known.forget();
    Ok(StatusCode::NO_CONTENT)
}

/// Whether a secret is the password of a person, or their PIN where that is enough.
async fn proved(
    app: &App,
    person: &Person,
    address: IpAddr,
    secret: String,
    or_pin: bool,
) -> Result<(), Problem> {
    let key = format!("confirm {} {address}", person.id);
    wait_after(app, &key).await?;
    let member = app.store.members().await?.into_iter().find(|of| of.person.id == person.id);
    let hashes =
        member.into_iter().flat_map(|of| [of.pin.filter(|_| or_pin), of.password]).flatten().collect();
    if secrets::verify(secret, hashes).await.is_none() {
        let words =
            if or_pin { "That is neither the PIN nor the password" } else { "That is not the password" };
        return Err(Problem::secret(words));
    }
    Ok(app.store.forget_guesses(&[key]).await?)
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
    responses((status = 200, body = SessionView), WrongField, TooLarge, Who, Looking))]
pub async fn own_secrets(
    State(app): State<App>,
    Extension(session): Extension<Session>,
    Whence(address): Whence,
    headers: HeaderMap,
    Body(given): Body<OwnSecrets>,
) -> Result<Response, Problem> {
    if session.token.is_none() {
        return Err(Problem::not_allowed("Nobody has a password in the demonstration"));
    }
    let (password, pin) = secrets::given(given.password.as_deref(), given.pin.as_deref()).await?;
    // Four digits that somebody saw at a bench are not to become a password.
    proved(&app, &session.person, address, given.current, password.is_none())
        .await
        .map_err(|problem| problem.at("current"))?;
    let signed_out = password.is_some();
    let change = MemberChange { password, pin, ..MemberChange::default() };
    app.store.change_member(&session.person, &session.person.id, &change).await?;
    app.renew().await?;
    let bench = session::bench_of(&app, &headers).await?;
    if signed_out {
        return begin(&app, &headers, session.person, bench, false).await;
    }
    Ok(Json(view(&app, Some(session.person), bench).await?).into_response())
}
