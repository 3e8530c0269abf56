//! What a server tells those who watch over it, on an address of its own: whether it runs, whether it can work, and
//! figures in the words of `OpenMetrics`. No name, engine or reading is in them.

use crate::{App, certificate, disk};
use axum::Router;
use axum::extract::{MatchedPath, Request, State};
use axum::http::{Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use prometheus_client::encoding::EncodeLabelSet;
use prometheus_client::encoding::text::encode;
use prometheus_client::metrics::counter::Counter;
use prometheus_client::metrics::family::Family;
use prometheus_client::metrics::gauge::Gauge;
use prometheus_client::metrics::histogram::Histogram;
use prometheus_client::registry::{Registry, Unit};
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Instant;
use time::OffsetDateTime;

/// Upper ends of the times that answers are sorted into, seconds.
const TIMES: [f64; 9] = [0.001, 0.0025, 0.005, 0.01, 0.025, 0.1, 0.25, 1.0, 5.0];

#[derive(Debug, Clone, PartialEq, Eq, Hash, EncodeLabelSet)]
struct Asked {
    method: &'static str,
    route: String,
    status: u16,
}

#[derive(Debug, Clone, PartialEq, Eq, Hash, EncodeLabelSet)]
struct Route {
    route: String,
}

/// The figures.
#[derive(Debug)]
pub struct Measures {
    registry: Registry,
    requests: Family<Asked, Counter>,
    took: Family<Route, Histogram>,
    streams: Gauge,
    connections: Gauge,
    idle: Gauge,
    waiting: Gauge,
    commits: Counter,
    commit_seconds: Counter<f64, AtomicU64>,
    engines: Gauge,
    backup: Gauge,
    room: Gauge,
    certificate: Gauge,
    broken: Gauge,
    old_lists: Gauge,
    memory: Gauge,
}

impl Default for Measures {
    fn default() -> Self {
        let mut registry = Registry::with_prefix("rigore");
        let requests = Family::default();
        registry.register("requests", "Requests answered", requests.clone());
        let took = Family::new_with_constructor((|| Histogram::new(TIMES)) as fn() -> Histogram);
        let help = "How long an answer took until its first byte";
        registry.register_with_unit("answer", help, Unit::Seconds, took.clone());
        let gauge = |registry: &mut Registry, name: &str, help: &str| {
            let gauge = Gauge::default();
            registry.register(name, help, gauge.clone());
            gauge
        };
        let streams = gauge(&mut registry, "streams", "Streams of live updates that are held open");
        let connections = gauge(&mut registry, "database_connections", "Connections to the database");
        let idle = gauge(&mut registry, "database_connections_idle", "Those of them that nobody uses now");
        let waiting = gauge(&mut registry, "commands_waiting", "Commands that wait to be written");
        let commits = Counter::default();
        registry.register("commits", "Commits of what was recorded", commits.clone());
        let commit_seconds = Counter::<f64, AtomicU64>::default();
        let help = "How long commits took, together";
        registry.register_with_unit("commit", help, Unit::Seconds, commit_seconds.clone());
        let engines = gauge(&mut registry, "engines_in_memory", "Engines that are kept read in memory");
        let help = "When the last proven backup was made, seconds since 1970; 0 where there is none";
        let backup = gauge(&mut registry, "backup_proven_at", help);
        let help =
            "Bytes that are free on the fullest disk that the shop is kept on; -1 where that is not known";
        let room = gauge(&mut registry, "disk_free_bytes", help);
        let help = "Until when the certificate is good, seconds since 1970; 0 where Rigore shows none";
        let certificate = gauge(&mut registry, "certificate_good_until", help);
        let broken = gauge(&mut registry, "broken_records", "Engines whose record is known to be broken");
        let old_lists = gauge(&mut registry, "lists_to_renew", "Engines that are being listed again");
        let memory = gauge(&mut registry, "process_resident_bytes", "Memory that the process holds");
        Self {
            registry,
            requests,
            took,
            streams,
            connections,
            idle,
            waiting,
            commits,
            commit_seconds,
            engines,
            backup,
            room,
            certificate,
            broken,
            old_lists,
            memory,
        }
    }
}

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
    let measures = &app.measures;
    measures.took.get_or_create(&Route { route: route.clone() }).observe(start.elapsed().as_secs_f64());
    let status = response.status().as_u16();
    measures.requests.get_or_create(&Asked { method, route, status }).inc();
    response
}

/// The routes of the address for those who watch.
pub fn router(app: App) -> Router {
    Router::new()
        .route("/health", get(async || "runs\n"))
        .route("/ready", get(ready))
        .route("/metrics", get(metrics))
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
            let reason = error.reason().unwrap_or("The database does not answer");
            (StatusCode::SERVICE_UNAVAILABLE, format!("{reason}\n")).into_response()
        }
    }
}

async fn metrics(State(app): State<App>) -> Response {
    let (measures, (connections, idle)) = (&app.measures, app.store.connections());
    measures.streams.set(i64::try_from(app.held.count()).unwrap_or(i64::MAX));
    measures.connections.set(i64::from(connections));
    measures.idle.set(i64::try_from(idle).unwrap_or(i64::MAX));
    measures.waiting.set(i64::try_from(app.store.waiting()).unwrap_or(i64::MAX));
    let (commits, took) = app.store.commits();
    measures.commits.inner().store(commits, Ordering::Relaxed);
    measures.commit_seconds.inner().store(took.as_secs_f64().to_bits(), Ordering::Relaxed);
    measures.engines.set(i64::try_from(app.store.in_memory().await).unwrap_or(i64::MAX));
    // A database that is away leaves them as they were last.
    if let Ok((_, proven)) = app.store.backups().await {
        measures.backup.set(proven.map_or(0, |row| row.at.unix_timestamp()));
    }
    if let Ok(broken) = app.store.broken().await {
        measures.broken.set(i64::try_from(broken.len()).unwrap_or(i64::MAX));
    }
    if let Ok(old) = app.store.old_lists().await {
        measures.old_lists.set(old.cast_signed());
    }
    let room = app.settings.disks.iter().filter_map(|folder| disk::space(folder)).map(|(free, _)| free).min();
    measures.room.set(room.map_or(-1, u64::cast_signed));
    let until = app.settings.certificate.as_deref().and_then(certificate::good_until);
    measures.certificate.set(until.map_or(0, OffsetDateTime::unix_timestamp));
    measures.memory.set(resident_bytes().unwrap_or_default());
    let mut text = String::new();
    match encode(&mut text, &measures.registry) {
        Ok(()) => {
            let kind = "application/openmetrics-text; version=1.0.0; charset=utf-8";
            ([(header::CONTENT_TYPE, kind)], text).into_response()
        }
        Err(_) => StatusCode::INTERNAL_SERVER_ERROR.into_response(),
    }
}
