//! Every answer is in the language of whoever asked.

use axum::extract::Request;
use axum::http::{HeaderMap, header};
use axum::middleware::Next;
use axum::response::Response;
use rigore_texts::{Language, with_language};
use std::future::poll_fn;
use std::pin::pin;

/// The cookie in which a page keeps the language that was chosen in its browser.
const COOKIE: &str = "rigore-language=";

/// The language of a request: the one that was chosen in its browser, else what it accepts.
pub fn requested(headers: &HeaderMap) -> Language {
    let text = |name| headers.get(name).and_then(|value| value.to_str().ok()).unwrap_or_default();
    let chosen = text(header::COOKIE).split(';').find_map(|cookie| cookie.trim().strip_prefix(COOKIE));
    chosen
        .and_then(Language::from_tag)
        .unwrap_or_else(|| Language::from_accept_header(text(header::ACCEPT_LANGUAGE)))
}

/// Answers a request in its language: on whichever thread it is worked on.
pub async fn answer(request: Request, next: Next) -> Response {
    let language = requested(request.headers());
    let mut answered = pin!(next.run(request));
    poll_fn(|context| with_language(language, || answered.as_mut().poll(context))).await
}

#[cfg(test)]
mod tests {
    use super::requested;
    use axum::http::{HeaderMap, header};
    use rigore_texts::Language;

    #[test]
    fn what_was_chosen_outranks_what_the_browser_accepts() {
        let mut headers = HeaderMap::new();
        assert_eq!(requested(&headers), Language::EnUs);
        headers.insert(header::ACCEPT_LANGUAGE, "en-GB,en;q=0.9".parse().unwrap());
        assert_eq!(requested(&headers), Language::EnGb);
        headers.insert(header::COOKIE, "rigore=1; rigore-language=en-US".parse().unwrap());
        assert_eq!(requested(&headers), Language::EnUs);
        headers.insert(header::COOKIE, "rigore-language=elvish".parse().unwrap());
        assert_eq!(requested(&headers), Language::EnGb);
    }
}
