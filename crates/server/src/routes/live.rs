//! Live updates of one build as server-sent events, resumable by the last event's id.

use crate::extract::BuildId;
use crate::{App, Problem};
use async_stream::stream;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::Stream;
use serde::Serialize;
use std::convert::Infallible;
use std::time::Duration;
use tokio::sync::broadcast::error::RecvError;
use uuid::Uuid;

/// Screens look by themselves this often, should a notification be lost.
const LOOK: Duration = Duration::from_secs(5);
const KEEP_ALIVE: Duration = Duration::from_secs(5);

/// What an instrument shows while it pulls. It is not kept.
#[derive(Debug, Clone, Serialize)]
pub struct Live {
    /// The build.
    #[serde(skip)]
    pub build: Uuid,
    /// The operation.
    pub operation: String,
    /// The fastener.
    pub fastener: String,
    /// Torque now, N·m.
    pub torque_nm: f64,
    /// Angle now, degrees.
    pub angle_deg: f64,
}

/// Live updates: `entry` events carry an entry of the record and its number as id; `live` events
/// carry what an instrument shows. With `Last-Event-ID`, entries after it come first.
#[utoipa::path(get, path = "/api/builds/{build}/events", params(("build" = Uuid, Path)),
    responses((status = 200, body = String, content_type = "text/event-stream"), (status = 404, body = Problem)))]
pub async fn events(
    State(app): State<App>,
    BuildId(build): BuildId,
    headers: HeaderMap,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let signals = app.store.subscribe();
    let live = app.live.subscribe();
    let now = app.store.read(build, |state| state.seq).await?;
    let last = headers.get("last-event-id").and_then(|id| id.to_str().ok()).and_then(|id| id.parse().ok());
    let stream = follow(app, build, last.unwrap_or(now), signals, live);
    Ok(Sse::new(stream).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}

fn follow(
    app: App,
    build: Uuid,
    mut last: u64,
    mut signals: tokio::sync::broadcast::Receiver<rigore_store::Signal>,
    mut live: tokio::sync::broadcast::Receiver<Live>,
) -> impl Stream<Item = Result<Event, Infallible>> {
    let mut ending = app.ending.subscribe();
    stream! {
        let mut look = tokio::time::interval(LOOK);
        loop {
            let due = tokio::select! {
                // It changes once, to true.
                _ = ending.changed() => break,
                _ = look.tick() => true,
                signal = signals.recv() => match signal {
                    Ok(signal) => signal.build == build,
                    Err(RecvError::Lagged(_)) => true,
                    Err(RecvError::Closed) => break,
                },
                shown = live.recv() => {
                    if let Ok(shown) = shown && shown.build == build
                        && let Ok(event) = Event::default().event("live").json_data(&shown)
                    {
                        yield Ok(event);
                    }
                    false
                }
            };
            // While the database is away there is nothing to tell; the next look tries again.
            if due && let Ok(entries) = app.store.events_after(build, last).await {
                for (seq, body) in entries {
                    last = seq;
                    yield Ok(Event::default().event("entry").id(seq.to_string()).data(body));
                }
            }
        }
    }
}
