//! What a server tells those who watch over it, on an address of its own: whether it runs, whether it can work, and
//! figures in the words of `OpenMetrics`. No name, engine or reading is in them.
//!
//! Those who watch over a server have an address of their own: requests are counted by route, never
//! by address. `Socket` is the one way to listen, by TLS or without.

use crate::metrics::{RequestLabels, RouteLabel};
use crate::{App, certificate, disk};
use axum::Router;
use axum::extract::{MatchedPath, Request, State};
use axum::http::{Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use prometheus_client::encoding::text::encode;
use rigore_mechanics::text;
use std::sync::atomic::Ordering;
use std::time::Instant;
use time::OffsetDateTime;

/// A method by its name; whatever else somebody made up is one.
fn method(of: &Method) -> &'static str {
    match *of {
        Method::GET => "GET",
        Method::HEAD => "HEAD",
        Method::POST => "POST",
        Method::PUT => "PUT",
        Method::PATCH => "PATCH",
        Method::DELETE => "DELETE",
        _ => "other",
    }
}

/// Counts a request and its answer by its route, not by its address.
pub async fn count(State(app): State<App>, request: Request, next: Next) -> Response {
    let route = request.extensions().get::<MatchedPath>().map_or("page", MatchedPath::as_str).to_owned();
    let (method, start) = (method(request.method()), Instant::now());
    let response = next.run(request).await;
    let metrics = &app.metrics;
    metrics.took.get_or_create(&RouteLabel { route: route.clone() }).observe(start.elapsed().as_secs_f64());
    let status = response.status().as_u16();
    metrics.requests.get_or_create(&RequestLabels { method, route, status }).inc();
    response
}

/// The routes of the address for those who watch.
pub fn router(app: App) -> Router {
    Router::new()
        .route("/health", get(async || "runs\n"))
        .route("/ready", get(ready))
        .route("/metrics", get(show_metrics))
        .with_state(app)
}

/// Memory that this process holds, as Linux tells.
fn resident_bytes() -> Option<i64> {
    let status = std::fs::read_to_string("/proc/self/status").ok()?;
    let line = status.lines().find(|line| line.starts_with("VmRSS:"))?;
    let kilobytes: i64 = line.split_whitespace().nth(1)?.parse().ok()?;
    Some(kilobytes * 1024)
}

async fn ready(State(app): State<App>) -> Response {
    match app.store.heartbeat().await {
        Ok(()) => "ready\n".into_response(),
        Err(error) => {
            let reason = error.reason().unwrap_or_else(|| text!("problem-no-connection-database"));
            (StatusCode::SERVICE_UNAVAILABLE, format!("{reason}\n")).into_response()
        }
    }
}

async fn show_metrics(State(app): State<App>) -> Response {
    let (metrics, (connections, idle)) = (&app.metrics, app.store.connections());
    metrics.streams.set(i64::try_from(app.streams.count()).unwrap_or(i64::MAX));
    metrics.connections.set(i64::from(connections));
    metrics.idle.set(i64::try_from(idle).unwrap_or(i64::MAX));
    metrics.waiting.set(i64::try_from(app.store.waiting()).unwrap_or(i64::MAX));
    let (commits, took) = app.store.commits();
    metrics.commits.inner().store(commits, Ordering::Relaxed);
    metrics.commit_seconds.inner().store(took.as_secs_f64().to_bits(), Ordering::Relaxed);
    metrics.engines.set(i64::try_from(app.store.in_memory().await).unwrap_or(i64::MAX));
    // A database that is away leaves them as they were last.
    if let Ok((_, proven)) = app.store.backups().await {
        metrics.backup.set(proven.map_or(0, |row| row.at.unix_timestamp()));
    }
    if let Ok(broken) = app.store.broken().await {
        metrics.broken.set(i64::try_from(broken.len()).unwrap_or(i64::MAX));
    }
    if let Ok(old) = app.store.old_lists().await {
        metrics.old_lists.set(old.cast_signed());
    }
    let room = app.settings.disks.iter().filter_map(|folder| disk::space(folder)).map(|(free, _)| free).min();
    metrics.room.set(room.map_or(-1, u64::cast_signed));
    let until = app.settings.certificate.as_deref().and_then(certificate::good_until);
    metrics.certificate.set(until.map_or(0, OffsetDateTime::unix_timestamp));
    metrics.memory.set(resident_bytes().unwrap_or_default());
    let mut text = String::new();
    match encode(&mut text, &metrics.registry) {
        Ok(()) => {
            let kind = "application/openmetrics-text; version=1.0.0; charset=utf-8";
            ([(header::CONTENT_TYPE, kind)], text).into_response()
        }
        Err(_) => StatusCode::INTERNAL_SERVER_ERROR.into_response(),
    }
}
