//! RFC 9457 problem answers that name the field, say what is allowed, and lose nothing.

use axum::body::Body;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use rigore_assembly::{Refusal, RefusalKind};
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::{message, text, text_id};
use rigore_plan::calc::CalcError;
use rigore_store::StoreError;
use serde::Serialize;
use utoipa::ToSchema;

/// What went wrong (RFC 9457).
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Problem {
    /// Which kind of problem, as a path under `/problems/`.
    #[serde(rename = "type")]
    pub kind: String,
    /// The kind in words.
    #[schema(value_type = String)]
    pub title: TextId,
    /// The HTTP status.
    pub status: u16,
    /// What was wrong here and what to do next, as text: quantities are in base units.
    pub detail: String,
    /// The same for people: a screen shows its quantities in the units of its reader.
    pub message: Message,
    /// The fields at fault.
    pub errors: Vec<FieldError>,
    /// After how many seconds it is worth asking again, for `Retry-After`.
    #[serde(skip)]
    pub retry_after: Option<u16>,
}

/// A field at fault.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct FieldError {
    /// The field.
    pub field: String,
    /// What is wrong and what is allowed.
    pub message: Message,
}

impl Problem {
    fn new(status: StatusCode, kind: &str, title: TextId, message: impl Into<Message>) -> Self {
        let message = message.into();
        Self {
            kind: format!("/problems/{kind}"),
            title,
            status: status.as_u16(),
            detail: message.in_base_units(),
            message,
            errors: Vec::new(),
            retry_after: None,
        }
    }

    /// A field is wrong.
    pub fn field(field: impl Into<String>, message: impl Into<Message>) -> Self {
        let (field, message) = (field.into(), message.into());
        let detail = message!("problem-field-message", field = &field, message = &message);
        let problem =
            Self::new(StatusCode::UNPROCESSABLE_ENTITY, "field", text_id!("problem-field-wrong"), detail);
        Self { errors: vec![FieldError { field, message }], ..problem }
    }

    /// Several fields are wrong.
    pub fn fields(errors: impl Iterator<Item = (String, Message)>) -> Self {
        let errors: Vec<FieldError> = errors.map(|(field, message)| FieldError { field, message }).collect();
        let said = errors
            .first()
            .map(|FieldError { field, message }| message!("problem-field-message", field, message))
            .unwrap_or_default();
        let more = errors.len().saturating_sub(1);
        let detail = if more > 0 { message!("problem-more", said, more) } else { said };
        let problem =
            Self::new(StatusCode::UNPROCESSABLE_ENTITY, "field", text_id!("problem-fields-wrong"), detail);
        Self { errors, ..problem }
    }

    /// The same, of one field that all of it came from.
    #[must_use]
    pub fn all_about(self, field: &str) -> Self {
        let about = |error: FieldError| FieldError { field: field.to_owned(), ..error };
        Self { errors: self.errors.into_iter().map(about).collect(), ..self }
    }

    /// There is no such thing.
    pub fn not_there(what: impl Into<Message>) -> Self {
        Self::new(
            StatusCode::NOT_FOUND,
            "not-there",
            text_id!("problem-not-there"),
            message!("problem-there-no", what = what.into()),
        )
    }

    /// More than a request may carry.
    pub fn too_large() -> Self {
        let detail = message!("problem-request-carries-more-than-may-nothing");
        Self::new(StatusCode::PAYLOAD_TOO_LARGE, "too-large", text_id!("problem-too-large"), detail)
    }

    /// Nobody said who they are.
    pub fn who() -> Self {
        let detail = message!("problem-nobody-signed-here-what-you-typed");
        Self::new(StatusCode::UNAUTHORIZED, "who", text_id!("problem-sign"), detail)
    }

    /// A secret is not the right one.
    pub fn secret(detail: impl Into<Message>) -> Self {
        Self::new(StatusCode::UNAUTHORIZED, "secret", text_id!("problem-wrong-secret"), detail)
    }

    /// Too many guesses came before.
    pub fn wait(seconds: i64) -> Self {
        let detail = message!("problem-too-many-guesses-came-before-wait", seconds);
        let problem =
            Self::new(StatusCode::TOO_MANY_REQUESTS, "wait", text_id!("problem-wait-moment"), detail);
        Self { retry_after: u16::try_from(seconds).ok(), ..problem }
    }

    /// Somebody asks for more at once than is given.
    pub fn too_many(detail: impl Into<Message>) -> Self {
        let problem = Self::new(
            StatusCode::TOO_MANY_REQUESTS,
            "too-many",
            text_id!("problem-too-many-at-once"),
            detail,
        );
        Self { retry_after: Some(1), ..problem }
    }

    /// A page shows another person as at work than the one who is signed in.
    pub fn somebody_else(name: &str) -> Self {
        let detail = message!("problem-signed-here-now-nothing-was-recorded", name);
        Self::new(StatusCode::CONFLICT, "somebody-else", text_id!("problem-somebody-else-signed"), detail)
    }

    /// What is asked for needs the person's own PIN or password once more.
    pub fn confirm() -> Self {
        let detail = message!("problem-this-needs-your-pin-or-password");
        Self::new(StatusCode::FORBIDDEN, "confirm", text_id!("problem-confirm-you"), detail)
    }

    /// A secret that somebody else has set proves nothing until its owner has chosen another.
    pub fn own_secret(secret: &str, set_by: &str) -> Self {
        let detail = message!("problem-has-set-this-choose-one-your", set_by, secret);
        Self::new(StatusCode::FORBIDDEN, "own-secret", text_id!("problem-choose-your-own-first"), detail)
    }

    /// The same, about a field.
    #[must_use]
    pub fn at(self, field: &str) -> Self {
        let message = self.message.clone();
        Self { errors: vec![FieldError { field: field.to_owned(), message }], ..self }
    }

    /// Something is asked about before it is done.
    pub fn ask(message: impl Into<Message>) -> Self {
        Self::new(StatusCode::CONFLICT, "ask", text_id!("problem-please-confirm"), message)
    }

    /// The server is asked by a name that is not its own.
    pub fn unknown_host(detail: impl Into<Message>) -> Self {
        Self::new(
            StatusCode::MISDIRECTED_REQUEST,
            "unknown-host",
            text_id!("problem-another-name-than-this-servers"),
            detail,
        )
    }

    /// A path of the API is asked for by a method that it has not.
    pub fn method(method: &str) -> Self {
        let detail = message!("problem-none-methods-this-path-nothing-was", method);
        Self::new(StatusCode::METHOD_NOT_ALLOWED, "method", text_id!("problem-not-by-this-method"), detail)
    }

    /// The person may not do this.
    pub fn not_allowed(detail: impl Into<Message>) -> Self {
        Self::new(StatusCode::FORBIDDEN, "not-allowed", text_id!("problem-not-allowed"), detail)
    }

    /// Somebody else changed it meanwhile.
    pub fn changed(detail: impl Into<Message>) -> Self {
        Self::new(StatusCode::CONFLICT, "stale", text_id!("problem-changed-meanwhile"), detail)
    }

    /// Something broke that should not.
    pub fn internal() -> Self {
        let detail = message!("problem-rigore-made-mistake-what-was-acknowledged");
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "internal", text_id!("problem-mistake-rigore"), detail)
    }

    /// The answer as HTTP.
    pub fn into_http(self) -> Response<Body> {
        self.into_response()
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let retry_after = self.retry_after.or((status == StatusCode::SERVICE_UNAVAILABLE).then_some(1));
        let mut response = (status, axum::Json(self)).into_response();
        let headers = response.headers_mut();
        headers.insert(header::CONTENT_TYPE, HeaderValue::from_static("application/problem+json"));
        if let Some(seconds) = retry_after {
            headers.insert(header::RETRY_AFTER, HeaderValue::from(seconds));
        }
        response
    }
}

impl From<Refusal> for Problem {
    fn from(refusal: Refusal) -> Self {
        let message = refusal.message;
        match refusal.kind {
            RefusalKind::Field => Self::field(refusal.field.unwrap_or("action"), message),
            RefusalKind::NotAllowed => {
                Self::new(StatusCode::FORBIDDEN, "not-allowed", text_id!("problem-not-allowed"), message)
            }
            RefusalKind::NotYet => {
                Self::new(StatusCode::CONFLICT, "not-yet", text_id!("problem-not-yet"), message)
            }
            RefusalKind::Ask => Self::ask(message),
            RefusalKind::Stale => {
                Self::new(StatusCode::CONFLICT, "stale", text_id!("problem-recorded-meantime"), message)
            }
        }
    }
}

impl From<CalcError> for Problem {
    fn from(error: CalcError) -> Self {
        Self::field(error.field, error.message)
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Refused(refusal) => refusal.into(),
            StoreError::NotThere(what) => Self::not_there(what),
            StoreError::Unavailable(_) => {
                tracing::warn!(%error, "the database does not answer");
                let reason = error.reason().unwrap_or_else(|| text!("problem-no-connection-database"));
                let detail = message!("problem-nothing-acknowledged-lost-send-again-moment", reason);
                Self::new(StatusCode::SERVICE_UNAVAILABLE, "away", text_id!("problem-database-away"), detail)
            }
            StoreError::Broken(broken) => {
                let found = broken.found.date();
                let detail = message!(
                    "problem-record-this-engine-broken-entry-was",
                    seq = broken.seq,
                    what = broken.what,
                    found = found.to_string()
                );
                Self::new(StatusCode::CONFLICT, "broken-record", text_id!("problem-record-damaged"), detail)
            }
            StoreError::ChangedFile(_) => {
                let detail =
                    message!("problem-nothing-built-upon-restore-from-backup", error = error.to_string());
                Self::new(StatusCode::CONFLICT, "broken-record", text_id!("problem-record-damaged"), detail)
            }
            StoreError::Newer(_) => Self::new(
                StatusCode::CONFLICT,
                "newer-record",
                text_id!("problem-recorded-by-newer-rigore"),
                error.to_string(),
            ),
            StoreError::Database(_) | StoreError::Unreadable(_) => {
                tracing::error!(%error, "store");
                Self::internal()
            }
        }
    }
}
