//! Live updates of one build as server-sent events, resumable by the last event's id.

use crate::answers::{FieldAnswer, NotFoundAnswer, ReadAnswers};
use crate::extract::{BuildId, QueryParams, SignedIn};
use crate::live_streams::{LiveReading, OF_ONE_PERSON, OpenStream};
use crate::{App, Problem, language, session};
use async_stream::stream;
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::Stream;
use rigore_mechanics::message;
use rigore_texts::with_language;
use serde::Deserialize;
use std::convert::Infallible;
use std::time::Duration;
use tokio::sync::broadcast::error::RecvError;
use utoipa::IntoParams;
use uuid::Uuid;

/// Screens look by themselves this often, should a notification be lost.
const LOOK: Duration = Duration::from_secs(5);
const KEEP_ALIVE: Duration = Duration::from_secs(5);
/// How often a stream says that it lives: a browser cannot tell one that a network dropped from one with nothing to say.
const BEAT: Duration = Duration::from_secs(1);
/// Where to go on.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct EventQuery {
    /// The last entry that the client had seen: the ones after it come first.
    after: Option<u64>,
}

/// Live updates: `here` comes first, with the number of the entry that it goes on after; `entry` events
/// carry an entry of the record and its number as id; `live` events carry what an instrument shows; a `beat` comes every
/// second.
/// With `after` or `Last-Event-ID`, entries after it come first, else those after the last one now.
#[utoipa::path(get, path = "/api/builds/{build}/events", params(("build" = Uuid, Path), EventQuery),
    responses((status = 200, body = String, content_type = "text/event-stream"), NotFoundAnswer, FieldAnswer, ReadAnswers))]
pub async fn events(
    State(app): State<App>,
    SignedIn(person): SignedIn,
    BuildId(build): BuildId,
    QueryParams(since): QueryParams<EventQuery>,
    headers: HeaderMap,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let open = app.streams.open(&person.id).ok_or_else(|| {
        Problem::too_many(message!(
            "server-has-pages-open-already-close-some",
            person = person.name,
            of_one_person = OF_ONE_PERSON
        ))
    })?;
    let signals = app.store.subscribe();
    let live = app.live.subscribe();
    let now = app.store.read(build, |state| state.seq).await?;
    let last = headers.get("last-event-id").and_then(|id| id.to_str().ok()).and_then(|id| id.parse().ok());
    let last = last.or(since.after).unwrap_or(now);
    let stream = follow(app, (build, last), signals, live, headers, open);
    Ok(Sse::new(stream).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}

fn follow(
    app: App,
    (build, mut last): (Uuid, u64),
    mut signals: tokio::sync::broadcast::Receiver<rigore_store::BuildSignal>,
    mut live: tokio::sync::broadcast::Receiver<LiveReading>,
    headers: HeaderMap,
    open: OpenStream,
) -> impl Stream<Item = Result<Event, Infallible>> {
    let mut ending = app.ending.subscribe();
    let mut shop = app.store.shop_changes();
    let language = language::requested(&headers);
    stream! {
        // It counts as long as it is open.
        let _open = open;
        yield Ok(Event::default().event("here").id(last.to_string()).data(last.to_string()));
        let mut look = tokio::time::interval(LOOK);
        let mut beat = tokio::time::interval(BEAT);
        loop {
            let due = tokio::select! {
                // It changes once, to true.
                _ = ending.changed() => break,
                _ = look.tick() => true,
                _ = beat.tick() => {
                    yield Ok(Event::default().event("beat").data("1"));
                    false
                }
                // Who is signed in no longer hears nothing more.
                _ = shop.changed() => {
                    if matches!(session::of(&app, &headers, false).await, Ok(None)) {
                        break;
                    }
                    false
                }
                signal = signals.recv() => match signal {
                    Ok(signal) => signal.build == build,
                    Err(RecvError::Lagged(_)) => true,
                    Err(RecvError::Closed) => break,
                },
                shown = live.recv() => {
                    if let Ok(shown) = shown && shown.build == build
                        && let Ok(event) = with_language(language, || Event::default().event("live").json_data(&shown))
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
