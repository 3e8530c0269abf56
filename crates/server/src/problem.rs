//! RFC 9457 problem answers that name the field, say what is allowed, and lose nothing.

use axum::body::Body;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use rigore_assembly::{Refusal, RefusalKind};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
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
    pub title: &'static str,
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
    fn new(status: StatusCode, kind: &str, title: &'static str, message: impl Into<Message>) -> Self {
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
        let detail = message!("{field}: {message}", field = &field, message = &message);
        let problem = Self::new(StatusCode::UNPROCESSABLE_ENTITY, "field", "A field is wrong", detail);
        Self { errors: vec![FieldError { field, message }], ..problem }
    }

    /// Several fields are wrong.
    pub fn fields(errors: impl Iterator<Item = (String, Message)>) -> Self {
        let errors: Vec<FieldError> = errors.map(|(field, message)| FieldError { field, message }).collect();
        let said = errors
            .first()
            .map(|FieldError { field, message }| message!("{field}: {message}", field, message))
            .unwrap_or_default();
        let more = errors.len().saturating_sub(1);
        let detail = if more > 0 { message!("{said} (and {more} more)", said, more) } else { said };
        let problem = Self::new(StatusCode::UNPROCESSABLE_ENTITY, "field", "Fields are wrong", detail);
        Self { errors, ..problem }
    }

    /// The same, of one field that all of it came from.
    #[must_use]
    pub fn all_about(self, field: &str) -> Self {
        let about = |error: FieldError| FieldError { field: field.to_owned(), ..error };
        Self { errors: self.errors.into_iter().map(about).collect(), ..self }
    }

    /// There is no such thing.
    pub fn not_there(what: &str) -> Self {
        Self::new(StatusCode::NOT_FOUND, "not-there", "Not there", format!("There is no {what}"))
    }

    /// More than a request may carry.
    pub fn too_large() -> Self {
        let detail = "The request carries more than it may. Nothing was recorded";
        Self::new(StatusCode::PAYLOAD_TOO_LARGE, "too-large", "Too large", detail)
    }

    /// Nobody said who they are.
    pub fn who() -> Self {
        let detail = "Nobody is signed in here. What you typed is kept; sign in and go on";
        Self::new(StatusCode::UNAUTHORIZED, "who", "Sign in", detail)
    }

    /// A secret is not the right one.
    pub fn secret(detail: &str) -> Self {
        Self::new(StatusCode::UNAUTHORIZED, "secret", "Wrong secret", detail)
    }

    /// Too many guesses came before.
    pub fn wait(seconds: i64) -> Self {
        let detail = format!("Too many guesses came before: wait {seconds} s and try again");
        let problem = Self::new(StatusCode::TOO_MANY_REQUESTS, "wait", "Wait a moment", detail);
        Self { retry_after: u16::try_from(seconds).ok(), ..problem }
    }

    /// Somebody asks for more at once than is given.
    pub fn too_many(detail: impl Into<Message>) -> Self {
        let problem = Self::new(StatusCode::TOO_MANY_REQUESTS, "too-many", "Too many at once", detail);
        Self { retry_after: Some(1), ..problem }
    }

    /// A page shows another person as at work than the one who is signed in.
    pub fn somebody_else(name: &str) -> Self {
        let detail = format!("{name} is signed in here now. Nothing was recorded in their name");
        Self::new(StatusCode::CONFLICT, "somebody-else", "Somebody else is signed in", detail)
    }

    /// What is asked for needs the person's own PIN or password once more.
    pub fn confirm() -> Self {
        let detail = "This needs your PIN or password. Nothing was changed";
        Self::new(StatusCode::FORBIDDEN, "confirm", "Confirm it is you", detail)
    }

    /// A secret that somebody else has set proves nothing until its owner has chosen another.
    pub fn own_secret(secret: &str, set_by: &str) -> Self {
        let detail = format!(
            "{set_by} has set this {secret}. Choose one of your own first, then it counts for signing"
        );
        Self::new(StatusCode::FORBIDDEN, "own-secret", "Choose your own first", detail)
    }

    /// The same, about a field.
    #[must_use]
    pub fn at(self, field: &str) -> Self {
        let message = self.message.clone();
        Self { errors: vec![FieldError { field: field.to_owned(), message }], ..self }
    }

    /// Something is asked about before it is done.
    pub fn ask(message: impl Into<Message>) -> Self {
        Self::new(StatusCode::CONFLICT, "ask", "Please confirm", message)
    }

    /// The server is asked by a name that is not its own.
    pub fn unknown_host(detail: &str) -> Self {
        Self::new(StatusCode::MISDIRECTED_REQUEST, "unknown-host", "Another name than this server's", detail)
    }

    /// A path of the API is asked for by a method that it has not.
    pub fn method(method: &str) -> Self {
        let detail = format!("{method} is none of the methods of this path. Nothing was changed");
        Self::new(StatusCode::METHOD_NOT_ALLOWED, "method", "Not by this method", detail)
    }

    /// The person may not do this.
    pub fn not_allowed(detail: impl Into<Message>) -> Self {
        Self::new(StatusCode::FORBIDDEN, "not-allowed", "Not allowed", detail)
    }

    /// Somebody else changed it meanwhile.
    pub fn changed(detail: impl Into<Message>) -> Self {
        Self::new(StatusCode::CONFLICT, "stale", "Changed meanwhile", detail)
    }

    /// Something broke that should not.
    pub fn internal() -> Self {
        let detail = "Rigore made a mistake. What was acknowledged is safe; the log has the details";
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "internal", "A mistake in Rigore", detail)
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
                Self::new(StatusCode::FORBIDDEN, "not-allowed", "Not allowed", message)
            }
            RefusalKind::NotYet => Self::new(StatusCode::CONFLICT, "not-yet", "Not yet", message),
            RefusalKind::Ask => Self::ask(message),
            RefusalKind::Stale => {
                Self::new(StatusCode::CONFLICT, "stale", "Recorded in the meantime", message)
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
            StoreError::NotThere(what) => Self::not_there(&what),
            StoreError::Unavailable(_) => {
                tracing::warn!(%error, "the database does not answer");
                let reason = error.reason().unwrap_or("No connection to the database");
                let detail = format!("{reason}. Nothing acknowledged is lost; send it again in a moment");
                Self::new(StatusCode::SERVICE_UNAVAILABLE, "away", "Database away", detail)
            }
            StoreError::Broken(broken) => {
                let found = broken.found.date();
                let detail = format!(
                    "The record of this engine is broken: entry {} {}. That was found on {found}. Nothing is recorded on \
                     it; a lead restores it from a backup that was made before, or exports it as broken",
                    broken.seq, broken.what
                );
                Self::new(StatusCode::CONFLICT, "broken-record", "Record damaged", detail)
            }
            StoreError::ChangedFile(_) => {
                let detail = format!("{error}. Nothing is built upon it; restore it from a backup");
                Self::new(StatusCode::CONFLICT, "broken-record", "Record damaged", detail)
            }
            StoreError::Newer(_) => Self::new(
                StatusCode::CONFLICT,
                "newer-record",
                "Recorded by a newer Rigore",
                error.to_string(),
            ),
            StoreError::Database(_) | StoreError::Unreadable(_) => {
                tracing::error!(%error, "store");
                Self::internal()
            }
        }
    }
}
