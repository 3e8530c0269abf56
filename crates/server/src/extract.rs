//! What handlers take from a request: who asks, and a body whose faults name their field.
//!
//! Whatever changes who may do what asks for proof (`extract.rs`, `ConfirmedLead`); docs/security.md has the table,
//! and a test holds it.

use crate::session::RequestSession;
use crate::{App, Problem, text_rule};
use axum::body::Bytes;
use axum::extract::{FromRequest, FromRequestParts, Path, Query, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;
use rigore_assembly::{Person, Role, may_record};
use rigore_mechanics::message;
use serde::de::DeserializeOwned;
use uuid::Uuid;

/// The person who asks, as their session says.
pub struct SignedIn(pub Person);

impl FromRequestParts<App> for SignedIn {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _: &App) -> Result<Self, Problem> {
        let session = parts.extensions.get::<RequestSession>();
        session.map(|session| Self(session.person.clone())).ok_or_else(Problem::who)
    }
}

/// The same, where whoever only looks may not.
pub struct Recorder(pub Person);

impl FromRequestParts<App> for Recorder {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let SignedIn(person) = SignedIn::from_request_parts(parts, app).await?;
        may_record(&person)?;
        Ok(Self(person))
    }
}

/// The same, where only a lead may.
pub struct Lead(pub Person);

impl FromRequestParts<App> for Lead {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let SignedIn(person) = SignedIn::from_request_parts(parts, app).await?;
        if person.role == Role::Lead {
            return Ok(Self(person));
        }
        Err(Problem::not_allowed(message!("server-for-lead-none-nothing-was-changed", person = person.name)))
    }
}

/// The same, where the lead has to have proved just now that they are at the screen: whatever changes who may do what.
pub struct ConfirmedLead(pub Person);

impl FromRequestParts<App> for ConfirmedLead {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let Lead(person) = Lead::from_request_parts(parts, app).await?;
        if parts.extensions.get::<RequestSession>().is_some_and(RequestSession::is_confirmed) {
            return Ok(Self(person));
        }
        Err(Problem::confirm())
    }
}

/// A JSON body.
pub struct JsonBody<T>(pub T);

impl<T: DeserializeOwned> FromRequest<App> for JsonBody<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, app: &App) -> Result<Self, Problem> {
        let bytes = ruled(bytes(request, app).await?)?;
        serde_json::from_slice(&bytes).map(Self).map_err(|error| wrong::<T>(&bytes, &error))
    }
}

/// A JSON document whose texts are as they are kept.
fn ruled(bytes: Bytes) -> Result<Bytes, Problem> {
    if !text_rule::needs_check(&bytes) {
        return Ok(bytes);
    }
    // What is no JSON is told by whoever reads it.
    let Ok(mut document) = serde_json::from_slice::<serde_json::Value>(&bytes) else { return Ok(bytes) };
    text_rule::normalize_all(&mut document).map_err(|(field, says)| Problem::field(field, says))?;
    Ok(serde_json::to_vec(&document).map_or(bytes, Bytes::from))
}

/// What is wrong with a body, by field: it is read once more with its path kept.
fn wrong<T: DeserializeOwned>(bytes: &[u8], error: &serde_json::Error) -> Problem {
    let mut reader = serde_json::Deserializer::from_slice(bytes);
    let Err(error) = serde_path_to_error::deserialize::<_, T>(&mut reader) else {
        return Problem::field("body", error.to_string());
    };
    let message = error.inner().to_string();
    let named = ["missing field `", "unknown field `"].iter().find_map(|says| {
        let (name, _) = message.split_once(says)?.1.split_once('`')?;
        Some(name.to_owned())
    });
    let path = error.path().to_string();
    let field = match named {
        Some(name) if path == "." || path == "?" || path.ends_with(&name) => name,
        Some(name) => format!("{path}.{name}"),
        None => path,
    };
    Problem::field(field, message)
}

/// A body of text.
pub struct TextBody(pub String);

impl FromRequest<App> for TextBody {
    type Rejection = Problem;

    async fn from_request(request: Request, app: &App) -> Result<Self, Problem> {
        let bytes = bytes(request, app).await?;
        let text = String::from_utf8(bytes.into());
        let text = text.map_err(|_| Problem::field("body", message!("server-text-has-utf-8")))?;
        let refused = |c| Problem::field("body", text_rule::refusal(c));
        Ok(Self(text_rule::normalize(&text).map_err(refused)?.into_owned()))
    }
}

/// The whole body, as far as a request may carry one.
async fn bytes(request: Request, app: &App) -> Result<Bytes, Problem> {
    Bytes::from_request(request, app).await.map_err(|error| {
        if error.status() == StatusCode::PAYLOAD_TOO_LARGE {
            Problem::too_large()
        } else {
            Problem::field("body", error.body_text())
        }
    })
}

/// What is asked for in the address.
pub struct QueryParams<T>(pub T);

impl<T: DeserializeOwned> FromRequestParts<App> for QueryParams<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        if parts.uri.query().is_some_and(|query| query.contains("%00")) {
            return Err(Problem::field("address", text_rule::refusal('\0')));
        }
        let Query(asked) = Query::<T>::from_request_parts(parts, app)
            .await
            .map_err(|error| Problem::field("address", error.body_text()))?;
        Ok(Self(asked))
    }
}

/// The id of a build in the path.
pub struct BuildId(pub Uuid);

impl FromRequestParts<App> for BuildId {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let Path(segments) = Path::<Vec<(String, String)>>::from_request_parts(parts, app)
            .await
            .map_err(|_| Problem::not_there(message!("server-such-page")))?;
        let id = segments.iter().find(|(name, _)| name == "build").map_or("", |(_, value)| value.as_str());
        id.parse().map(Self).map_err(|_| Problem::not_there(message!("server-build", id)))
    }
}
