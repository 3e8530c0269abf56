//! Which problems a route may answer with, for the OpenAPI document.
//!
//! The web part shows what the core computed. It converts units by the factors of `/api/units` and holds no rule of
//! the job. Its types come from docs/openapi.json, which comes from the handlers, problem answers included
//! (`answers.rs`).

use std::collections::BTreeMap;
use utoipa::IntoResponses;
use utoipa::openapi::{Content, Ref, RefOr, Response, ResponseBuilder};

/// Problem answers by status, all of one shape.
fn problems(answers: &[(u16, &str)]) -> BTreeMap<String, RefOr<Response>> {
    let answer = |(status, says): &(u16, &str)| {
        let content = Content::new(Some(Ref::from_schema_name("Problem")));
        let response = ResponseBuilder::new().description(*says).content("application/problem+json", content);
        (status.to_string(), RefOr::T(response.build()))
    };
    answers.iter().map(answer).collect()
}

/// Any look at the record may end so.
pub struct ReadAnswers;

impl IntoResponses for ReadAnswers {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[
            (500, "A mistake in Rigore; what was acknowledged is safe"),
            (503, "No connection to the database; nothing acknowledged is lost, send it again in a moment"),
        ])
    }
}

/// There may be no such thing.
pub struct NotFoundAnswer;

impl IntoResponses for NotFoundAnswer {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[(404, "There is no such thing")])
    }
}

/// A field may be wrong.
pub struct FieldAnswer;

impl IntoResponses for FieldAnswer {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[(422, "A field is wrong: which one, and what is allowed")])
    }
}

/// What carries a body may carry too much.
pub struct TooLargeAnswer;

impl IntoResponses for TooLargeAnswer {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[(413, "More than a request may carry; nothing was recorded")])
    }
}

/// Who asks has to be somebody of the shop.
pub struct UnauthorizedAnswer;

impl IntoResponses for UnauthorizedAnswer {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[(401, "Nobody said who they are")])
    }
}

/// Too many ask for the same at once, or guessed before: `Retry-After` says when it is worth asking again.
pub struct TooManyAnswer;

impl IntoResponses for TooManyAnswer {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[(
            429,
            "Too many at once, or too many wrong secrets before: `Retry-After` says when to ask again",
        )])
    }
}

/// Recording may be refused.
pub struct RefusedAnswer;

impl IntoResponses for RefusedAnswer {
    fn responses() -> BTreeMap<String, RefOr<Response>> {
        problems(&[
            (403, "The person may not do this"),
            (
                409,
                "Something comes first, it was recorded in the meantime, or it is asked whether that is right",
            ),
        ])
    }
}
