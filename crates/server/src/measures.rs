//! What a server tells those who watch over it, on an address of its own: whether it runs, whether it can work, and
//! figures in the words of `OpenMetrics`. No name, engine or reading is in them.

use crate::App;
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
use std::time::Instant;

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
        Self { registry, requests, took, streams, connections, idle, waiting }
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
    let mut text = String::new();
    match encode(&mut text, &measures.registry) {
        Ok(()) => {
            let kind = "application/openmetrics-text; version=1.0.0; charset=utf-8";
            ([(header::CONTENT_TYPE, kind)], text).into_response()
        }
        Err(_) => StatusCode::INTERNAL_SERVER_ERROR.into_response(),
    }
}
