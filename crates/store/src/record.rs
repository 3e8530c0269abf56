//! Recording: from a command to events in the database, once.

use crate::chain::{Hash, link, root};
use crate::signal::{Signal, Signals};
use crate::{Roster, StoreError};
use lru::LruCache;
use rigore_core::build::{Command, Context, Do, EVENT_FORMAT, Event, Person, State, Summary, decide};
use rigore_core::plan::Plan;
use sqlx::PgPool;
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};
use std::collections::HashMap;
use std::num::NonZeroUsize;
use std::sync::Arc;
use std::time::Duration;
use time::OffsetDateTime;
use tokio::sync::{Mutex, broadcast};
use uuid::Uuid;

/// Builds kept folded in memory.
const KEPT: NonZeroUsize = NonZeroUsize::new(64).expect("above zero");
/// Times a command is decided again because another process was quicker.
const TRIES: usize = 16;
/// How long to wait for a connection before saying that the database does not answer.
const PATIENCE: Duration = Duration::from_secs(3);

/// The store. Cloning it gives another handle on the same one.
#[derive(Debug, Clone)]
pub struct Store {
    pub(crate) pool: PgPool,
    pub(crate) read_plans: Arc<Mutex<HashMap<String, Arc<Plan>>>>,
    kept: Arc<Mutex<LruCache<Uuid, Arc<Mutex<Opened>>>>>,
    signals: Signals,
}

/// A build in memory, as far as it was read.
#[derive(Debug)]
struct Opened {
    /// `None` until it was read, and again while it holds events that may not be stored.
    state: Option<State>,
    hash: Hash,
}

/// What a command led to.
#[derive(Debug, Clone, PartialEq)]
pub struct Recorded {
    /// The build.
    pub build: Uuid,
    /// The events it led to, in order.
    pub events: Vec<Event>,
    /// Whether this was the answer to an earlier sending of the same command.
    pub repeated: bool,
}

/// A build in the list of the shop.
#[derive(Debug, Clone, PartialEq)]
pub struct BuildRow {
    /// The build.
    pub id: Uuid,
    /// The last entry.
    pub seq: u64,
    /// How it stands.
    pub summary: Summary,
}

/// How connections are kept. One is not asked whether it lives before each use: a command that
/// meets a dead one is simply tried again, since it carries its own id.
fn pool(connections: u32) -> PgPoolOptions {
    PgPoolOptions::new().max_connections(connections).acquire_timeout(PATIENCE).test_before_acquire(false)
}

impl Store {
    /// Connects and brings the tables up to date.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn connect(url: &str, connections: u32) -> Result<Self, StoreError> {
        let options: PgConnectOptions = url.parse()?;
        let pool = pool(connections).connect_with(options).await?;
        sqlx::migrate!().run(&pool).await?;
        Ok(Self::over(pool))
    }

    /// The same database, for data that can be made again: commits do not wait for the disk.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn unhurried_disk(&self) -> Result<Self, StoreError> {
        let options = (*self.pool.connect_options()).clone().options([("synchronous_commit", "off")]);
        Ok(Self::over(pool(2).connect_with(options).await?))
    }

    fn over(pool: PgPool) -> Self {
        Self {
            signals: Signals::start(pool.clone()),
            pool,
            read_plans: Arc::default(),
            kept: Arc::new(Mutex::new(LruCache::new(KEPT))),
        }
    }

    /// Closes every connection.
    pub async fn close(&self) {
        self.pool.close().await;
    }

    /// Every build, the one touched last first.
    pub async fn builds(&self) -> Result<Vec<BuildRow>, StoreError> {
        let rows = sqlx::query!("SELECT id, seq, summary FROM builds ORDER BY summary->>'touched' DESC, id")
            .fetch_all(&self.pool)
            .await?;
        let row = |row: (Uuid, i64, serde_json::Value)| {
            let summary = serde_json::from_value(row.2).map_err(|e| StoreError::Unreadable(e.to_string()))?;
            Ok(BuildRow { id: row.0, seq: row.1 as u64, summary })
        };
        rows.into_iter().map(|r| row((r.id, r.seq, r.summary))).collect()
    }

    /// Looks at a build as it is now.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build.
    pub async fn read<T>(&self, build: Uuid, look: impl FnOnce(&State) -> T) -> Result<T, StoreError> {
        let opened = self.open(build).await;
        let mut opened = opened.lock().await;
        Ok(look(self.refresh(build, &mut opened).await?))
    }

    /// Events of a build after a sequence number, as their texts.
    pub async fn events_after(&self, build: Uuid, seq: u64) -> Result<Vec<(u64, String)>, StoreError> {
        let rows = sqlx::query!(
            "SELECT seq, body FROM events WHERE build_id = $1 AND seq > $2 ORDER BY seq",
            build,
            seq as i64
        )
        .fetch_all(&self.pool)
        .await?;
        Ok(rows.into_iter().map(|row| (row.seq as u64, row.body)).collect())
    }

    /// Hears of every build that goes on, in any process.
    pub fn subscribe(&self) -> broadcast::Receiver<Signal> {
        self.signals.subscribe()
    }

    /// Records what a command leads to. The same command id is recorded once and answered the
    /// same whenever it comes again.
    ///
    /// # Errors
    /// [`StoreError::Refused`] with nothing recorded; [`StoreError::Unavailable`] when the
    /// database went away, and then the command may be sent again as it is.
    pub async fn record(
        &self,
        build: Uuid,
        by: &Person,
        roster: &Roster,
        at: OffsetDateTime,
        command: &Command,
    ) -> Result<Recorded, StoreError> {
        let instrument = match &command.what {
            Do::Pull { instrument, .. } | Do::Measure { instrument, .. } => {
                roster.instrument(instrument).cloned()
            }
            _ => None,
        };
        // PostgreSQL keeps microseconds; so does the record.
        let at = at.replace_nanosecond(at.nanosecond() / 1000 * 1000).unwrap_or(at);
        let context = Context { by: by.clone(), at, instrument };
        let opened = self.open(build).await;
        let mut opened = opened.lock().await;
        for _ in 0..TRIES {
            // What is in memory is tried first: should the record have gone on, appending says so.
            let fresh = opened.state.is_none();
            match self.record_once(build, &mut opened, &context, command).await {
                Ok(Some(recorded)) => {
                    if !recorded.repeated {
                        self.signals.tell(build);
                    }
                    return Ok(recorded);
                }
                Ok(None) => {}
                // A refusal counts only on the record as it is now.
                Err(StoreError::Refused(_)) if !fresh => {
                    let seq = opened.state.as_ref().map(|state| state.seq);
                    if self.refresh(build, &mut opened).await.map(|state| state.seq).ok() == seq {
                        return self
                            .record_once(build, &mut opened, &context, command)
                            .await?
                            .ok_or_else(gone_on);
                    }
                }
                Err(error) => return Err(error),
            }
        }
        Err(gone_on())
    }

    /// One attempt; `None` when another process appended first.
    async fn record_once(
        &self,
        build: Uuid,
        opened: &mut Opened,
        context: &Context,
        command: &Command,
    ) -> Result<Option<Recorded>, StoreError> {
        if opened.state.is_none() {
            match self.refresh(build, opened).await {
                Err(StoreError::NotThere(_)) if matches!(command.what, Do::Begin { .. }) => {
                    let Do::Begin { plan, .. } = &command.what else { return Ok(None) };
                    opened.state = Some(State::new(self.plan(&plan.hash).await?));
                    opened.hash = root(build);
                }
                read => drop(read?),
            }
        }
        let Some(state) = opened.state.as_ref() else { return Ok(None) };
        if let Some((first, last)) = state.answered(command.id) {
            let mut events = self.events_after(build, first - 1).await?;
            events.retain(|(seq, _)| *seq <= last);
            let events = events.iter().map(|(_, body)| parse(body)).collect::<Result<_, _>>()?;
            return Ok(Some(Recorded { build, events, repeated: true }));
        }
        let before = state.seq;
        let facts = decide(state, context, command)?;
        let event = |(seq, fact)| Event {
            v: EVENT_FORMAT,
            seq,
            at: context.at,
            by: context.by.clone(),
            command: command.id,
            fact,
        };
        let events: Vec<Event> = (before + 1..).zip(facts).map(event).collect();
        let stored = self.append(build, opened, before, &events).await?;
        Ok(stored.then_some(Recorded { build, events, repeated: false }))
    }

    /// Appends events and the list row in one statement; false when the record had gone on.
    async fn append(
        &self,
        build: Uuid,
        opened: &mut Opened,
        before: u64,
        events: &[Event],
    ) -> Result<bool, StoreError> {
        // Taken out while it is ahead of the database: should this be broken off, it is read anew.
        let Some(mut state) = opened.state.take() else { return Ok(false) };
        let mut hash = opened.hash;
        let (mut seqs, mut bodies, mut hashes) = (Vec::new(), Vec::new(), Vec::new());
        for event in events {
            let body = serde_json::to_string(event).map_err(|e| StoreError::Unreadable(e.to_string()))?;
            hash = link(&hash, &body);
            seqs.push(event.seq as i64);
            bodies.push(body);
            hashes.push(hash.to_vec());
            state.apply(event);
        }
        let summary =
            serde_json::to_value(state.summary()).map_err(|e| StoreError::Unreadable(e.to_string()))?;
        let plan = state.plan_ref.as_ref().map(|plan| plan.hash.clone()).unwrap_or_default();
        let done = sqlx::query!(
            "WITH head AS (
                 INSERT INTO builds (id, seq, plan_hash, summary) SELECT $1, $3, $4, $5 WHERE $2 = 0::bigint
                 ON CONFLICT DO NOTHING RETURNING id
             ), went_on AS (
                 UPDATE builds SET seq = $3, summary = $5 WHERE id = $1 AND seq = $2 AND $2 > 0::bigint RETURNING id
             )
             INSERT INTO events (build_id, seq, body, hash)
             SELECT $1, e.seq, e.body, e.hash
             FROM (SELECT id FROM head UNION ALL SELECT id FROM went_on) AS build,
                  unnest($6::bigint[], $7::text[], $8::bytea[]) AS e (seq, body, hash)",
            build,
            before as i64,
            state.seq as i64,
            plan,
            summary,
            &seqs,
            &bodies,
            &hashes
        )
        .execute(&self.pool)
        .await?;
        let stored = done.rows_affected() > 0;
        if stored {
            opened.state = Some(state);
            opened.hash = hash;
        }
        Ok(stored)
    }

    async fn open(&self, build: Uuid) -> Arc<Mutex<Opened>> {
        let mut kept = self.kept.lock().await;
        let fresh = || Arc::new(Mutex::new(Opened { state: None, hash: root(build) }));
        Arc::clone(kept.get_or_insert(build, fresh))
    }

    /// Brings a build in memory up to what is stored.
    async fn refresh<'a>(&self, build: Uuid, opened: &'a mut Opened) -> Result<&'a State, StoreError> {
        let mut state = match opened.state.take() {
            Some(state) => state,
            None => {
                opened.hash = root(build);
                let hash = sqlx::query_scalar!("SELECT plan_hash FROM builds WHERE id = $1", build)
                    .fetch_optional(&self.pool)
                    .await?
                    .ok_or_else(|| StoreError::NotThere(format!("build {build}")))?;
                State::new(self.plan(&hash).await?)
            }
        };
        let rows = sqlx::query!(
            "SELECT body, hash FROM events WHERE build_id = $1 AND seq > $2 ORDER BY seq",
            build,
            state.seq as i64
        )
        .fetch_all(&self.pool)
        .await?;
        for row in rows {
            state.apply(&parse(&row.body)?);
            opened.hash =
                row.hash.try_into().map_err(|_| StoreError::Unreadable("a hash is not 32 bytes".into()))?;
        }
        Ok(opened.state.insert(state))
    }
}

/// Others were quicker every time.
fn gone_on() -> StoreError {
    StoreError::Unavailable(sqlx::Error::PoolTimedOut)
}

pub(crate) fn parse(body: &str) -> Result<Event, StoreError> {
    serde_json::from_str(body).map_err(|error| StoreError::Unreadable(error.to_string()))
}
