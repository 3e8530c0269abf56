//! Who asks: the one place where a request gets its person.
//!
//! A browser holds a token in a cookie that no script can read; its hash is a session in the database. Every route but
//! sign-in, first run and health asks for one. What was read is kept for a moment, and forgotten at once when anything
//! of people or benches becomes another, in any process.
//!
//! A request gets its person in one place: a browser holds a token in a cookie that no script reads;
//! its hash is a row of `sessions` (`sessions.rs` of the store). `guard` lets through what is open by name, refuses the
//! rest, and leaves a `RequestSession` in the request; `SignedIn`, `Recorder` and `Lead` take it from there. A new route is
//! closed unless it is named there; a test asks every route of the API as nobody, viewer, bench, lead and somebody
//! who left.
//!
//! What is known without asking the database each time is forgotten at once when it changes. `KnownNames` keeps the
//! roster and sessions that were read; every change of people, benches and instruments tells every process
//! (`Store::tell_shop`).

use crate::{App, Problem, secrets};
use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderValue, Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use rigore_assembly::Person;
use rigore_mechanics::message;
use rigore_store::{BenchDevice, StoreError, TokenHash};
use time::OffsetDateTime;

/// The cookie of a session, and of a bench.
pub const COOKIE: &str = "rigore";
/// The cookie of an enrolled bench.
pub const BENCH_COOKIE: &str = "rigore_bench";
/// What the token of the demonstration's door begins with; the key of a person stands behind it.
pub const DOOR: &str = "demonstration.";
/// How long somebody who has just proved to be who they are may sign, and change who may do what.
const CONFIRMED: time::Duration = time::Duration::minutes(2);

/// Whose request it is.
#[derive(Debug, Clone)]
pub struct RequestSession {
    /// The person.
    pub person: Person,
    /// The hash of its token; none of the demonstration's door.
    pub token: Option<TokenHash>,
    /// When its person last proved to be who they are.
    confirmed: OffsetDateTime,
}

impl RequestSession {
    /// Whether its person has just proved to be who they are; at the door of the demonstration nobody has to.
    pub fn is_confirmed(&self) -> bool {
        self.token.is_none() || self.confirmed + CONFIRMED > OffsetDateTime::now_utc()
    }
}

/// A cookie of a request.
pub fn cookie<'a>(headers: &'a HeaderMap, name: &str) -> Option<&'a str> {
    let all = headers.get_all(header::COOKIE).iter().filter_map(|value| value.to_str().ok());
    all.flat_map(|line| line.split(';')).find_map(|pair| pair.trim().strip_prefix(name)?.strip_prefix('='))
}

/// Leaves a cookie in the browser that no script can read, and no other site can send.
pub fn leave_cookie(
    app: &App,
    answer: impl IntoResponse,
    name: &str,
    value: &str,
    age: time::Duration,
) -> Response {
    let mut response = answer.into_response();
    let secure = if app.settings.secure { "; Secure" } else { "" };
    let age = age.whole_seconds();
    let cookie = format!("{name}={value}; Path=/; HttpOnly; SameSite=Strict; Max-Age={age}{secure}");
    response
        .headers_mut()
        .extend(HeaderValue::from_str(&cookie).ok().map(|cookie| (header::SET_COOKIE, cookie)));
    response
}

/// The bench that a browser is enrolled as.
///
/// # Errors
/// Where the database does not answer.
pub async fn bench_of(app: &App, headers: &HeaderMap) -> Result<Option<BenchDevice>, StoreError> {
    match cookie(headers, BENCH_COOKIE) {
        Some(token) => app.store.device(&secrets::kept(token)).await,
        None => Ok(None),
    }
}

/// The session of a request; `None` where it has none that is good. What a page asks for by itself does not keep it in
/// use.
///
/// # Errors
/// Where the database does not answer.
pub async fn of(app: &App, headers: &HeaderMap, in_use: bool) -> Result<Option<RequestSession>, StoreError> {
    let Some(text) = cookie(headers, COOKIE) else { return Ok(None) };
    app.renew_if_stale().await?;
    let roster = app.roster();
    if let Some(id) = text.strip_prefix(DOOR) {
        // A server that is no demonstration has no such door.
        let person = roster.person(id).filter(|_| app.settings.demonstration).cloned();
        let confirmed = OffsetDateTime::now_utc();
        return Ok(person.map(|person| RequestSession { person, token: None, confirmed }));
    }
    let token = secrets::kept(text);
    let mut row = app.cache.session(&token, in_use);
    if row.is_none() {
        let since = app.cache.forgotten();
        row =
            app.store.session(&token, in_use).await?.inspect(|row| app.cache.keep(since, token, in_use, row));
    }
    Ok(row.and_then(|row| {
        let person = roster.person(&row.person)?.clone();
        Some(RequestSession { person, token: Some(token), confirmed: row.confirmed })
    }))
}

/// Routes that ask for no session.
const OPEN: [&str; 5] =
    ["/api/session", "/api/session/enter", "/api/session/pin", "/api/first-run", "/api/units"];

/// What is open to whoever has a link to it.
const SHARED: &str = "/api/shared/";

/// Whether a path asks for a session.
pub fn asks_for_one(path: &str) -> bool {
    path.starts_with("/api/") && !OPEN.contains(&path) && !path.starts_with(SHARED)
}

/// Lets through what is asked of this server by its own name, and is open or has a session; tells whose it is to what comes after.
pub async fn guard(State(app): State<App>, mut request: Request, next: Next) -> Response {
    if !is_own_host(request.headers(), &app.settings.hosts) {
        let says = message!("server-this-server-not-known-by-name");
        return Problem::unknown_host(says).into_response();
    }
    let path = request.uri().path();
    let reads = matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS);
    if !reads && !same_site(request.headers()) {
        return Problem::not_allowed(message!("server-this-comes-from-another-site-than")).into_response();
    }
    let is_open = !asks_for_one(path);
    let in_use = !reads || path == "/api/session";
    match of(&app, request.headers(), in_use).await {
        Ok(Some(session)) => {
            // A page that shows another person as at work would record in the wrong name.
            let shown = request.headers().get("x-rigore-as").and_then(|value| value.to_str().ok());
            if !is_open && !reads && shown.is_some_and(|shown| shown != session.person.id) {
                return Problem::somebody_else(&session.person.name).into_response();
            }
            request.extensions_mut().insert(session);
        }
        Ok(None) if !is_open => return Problem::who().into_response(),
        Err(error) if !is_open => return Problem::from(error).into_response(),
        Ok(None) | Err(_) => {}
    }
    next.run(request).await
}

/// Whether what changes something comes from a page of this server, or from no page at all.
fn same_site(headers: &HeaderMap) -> bool {
    let text = |name| headers.get(name).and_then(|value: &HeaderValue| value.to_str().ok());
    if text("sec-fetch-site").is_some_and(|site| !matches!(site, "same-origin" | "none")) {
        return false;
    }
    let Some(origin) = text("origin") else { return true };
    origin.split_once("://").map(|(_, of)| of) == text("host")
}

/// Whether a request names this server by one of its names. Addresses and this computer itself are always among them; where
/// none are set, every name is.
fn is_own_host(headers: &HeaderMap, hosts: &[String]) -> bool {
    if hosts.is_empty() {
        return true;
    }
    let host = headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or_default();
    let name = host.rsplit_once(':').filter(|(_, port)| port.bytes().all(|c| c.is_ascii_digit()));
    let name = name.map_or(host, |(name, _)| name).trim_end_matches('.');
    let address = name.trim_start_matches('[').trim_end_matches(']').parse::<std::net::IpAddr>();
    address.is_ok()
        || name.eq_ignore_ascii_case("localhost")
        || hosts.iter().any(|known| known.eq_ignore_ascii_case(name))
}

/// What every answer tells a browser: what a page of Rigore may load and who may show it.
pub async fn headers(State(app): State<App>, request: Request, next: Next) -> Response {
    // What is shared by a link is a page of its own: none of it stays in a browser that others use.
    let path = request.uri().path();
    let is_api = path.starts_with("/api/") || path.starts_with("/shared/");
    let mut response = next.run(request).await;
    let rules = [
        (
            "content-security-policy",
            "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; \
             connect-src 'self'; font-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; \
             frame-ancestors 'none'",
        ),
        ("x-content-type-options", "nosniff"),
        ("x-frame-options", "DENY"),
        ("referrer-policy", "same-origin"),
        ("cross-origin-opener-policy", "same-origin"),
        ("cross-origin-resource-policy", "same-origin"),
        (
            "permissions-policy",
            "camera=(self), microphone=(), geolocation=(), payment=(), usb=(), serial=(self), bluetooth=()",
        ),
    ];
    let headers = response.headers_mut();
    for (name, value) in rules {
        // An answer that sets stricter ones itself keeps them.
        headers.entry(name).or_insert(HeaderValue::from_static(value));
    }
    if is_api {
        headers.entry(header::CACHE_CONTROL).or_insert(HeaderValue::from_static("no-store"));
    }
    if app.settings.secure {
        headers.insert(header::STRICT_TRANSPORT_SECURITY, HeaderValue::from_static("max-age=31536000"));
    }
    response
}

#[cfg(test)]
mod tests {
    use super::{cookie, is_own_host, same_site};
    use axum::http::HeaderMap;

    fn headers(all: &[(&'static str, &str)]) -> HeaderMap {
        all.iter()
            .map(|(name, value)| (name.parse().expect("a name"), value.parse().expect("a value")))
            .collect()
    }

    #[test]
    fn a_cookie_is_found_by_its_whole_name() {
        let of = headers(&[("cookie", "other=1; rigore_bench=b; rigore=a")]);
        assert_eq!(
            (cookie(&of, "rigore"), cookie(&of, "rigore_bench"), cookie(&of, "rig")),
            (Some("a"), Some("b"), None)
        );
        assert_eq!(cookie(&headers(&[]), "rigore"), None);
    }

    #[test]
    fn a_server_answers_to_its_own_names() {
        let hosts = ["rigore.quay-four.example".to_owned()];
        for (host, known) in [
            ("rigore.quay-four.example", true),
            ("Rigore.Quay-Four.example:8097", true),
            ("localhost:8097", true),
            ("192.0.2.9:8097", true),
            ("[2001:db8::5]:8097", true),
            ("elsewhere.example", false),
            ("rigore.quay-four.example.elsewhere.example", false),
            ("", false),
        ] {
            assert_eq!(is_own_host(&headers(&[("host", host)]), &hosts), known, "{host}");
        }
        assert!(is_own_host(&headers(&[("host", "anything.example")]), &[]));
    }

    #[test]
    fn only_pages_of_this_server_change_anything() {
        for (of, same) in [
            (&[("host", "shop:8097")][..], true),
            (&[("host", "shop:8097"), ("origin", "http://shop:8097")], true),
            (&[("host", "shop:8097"), ("origin", "http://evil.example")], false),
            (&[("host", "shop:8097"), ("origin", "null")], false),
            (
                &[("host", "shop:8097"), ("origin", "http://shop:8097"), ("sec-fetch-site", "cross-site")],
                false,
            ),
            (&[("host", "shop:8097"), ("sec-fetch-site", "same-site")], false),
            (&[("host", "shop:8097"), ("sec-fetch-site", "same-origin")], true),
        ] {
            assert_eq!(same_site(&headers(of)), same, "{of:?}");
        }
    }
}
