//! Writing what commands lead to, once.
//!
//! Commands that wait for the disk at the same time are written together: one statement, one commit.
//! Nothing waits for company; what arrives while the writer is busy goes into the next commit. Each
//! build goes on only where the database has what its writer had seen, whatever the others do.
//!
//! One engine holds up no other (`append.rs`): PostgreSQL ends what waits for too long, and an engine whose row is
//! held goes a way of its own for a while.

use crate::StoreError;
use crate::edition::EDITION;
use crate::error::is_locked;
use crate::projections::{keep_lives, keep_outlook, keep_shown};
use crate::signal::BuildSignals;
use rigore_assembly::{BuildOutlook, Event, Fact, OperationDuration, PieceLifeUpdate, PlaceFriction};
use sqlx::{Connection, PgConnection, PgPool};
use std::collections::{HashMap, HashSet};
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Duration, Instant};
use time::OffsetDateTime;
use tokio::sync::{Mutex, mpsc, oneshot};
use tokio::time::timeout;
use uuid::Uuid;

/// How long to wait for a connection before saying that the database does not answer.
pub(crate) const PATIENCE: Duration = Duration::from_secs(3);
/// Builds that are written together at most.
const MOST: usize = 64;
/// Commands that may wait to be written; what comes beyond them is told to come again.
const MOST_WAITING: usize = 1024;
/// How long all may wait for the row of one engine that somebody else holds, and for how long that engine then goes a
/// way of its own.
const LOCKED: &str = "250ms";
const HELD: Duration = Duration::from_secs(30);

/// The list row of a build.
#[derive(Debug)]
pub(crate) struct AppendRow {
    /// The build.
    pub build: Uuid,
    /// The last entry that its writer had seen; 0 for a build that begins.
    pub before: u64,
    /// The last entry now.
    pub seq: u64,
    /// Hash of the plan.
    pub plan: String,
    /// Key of the plan.
    pub plan_id: String,
    /// The summary as JSON.
    pub summary: String,
    /// Where it stands, in the word of the summary.
    pub status: String,
    /// When it was touched.
    pub touched: OffsetDateTime,
    /// What it can be found by, where that changed.
    pub words: Option<String>,
    /// Click wrenches that were set.
    pub settings: Vec<WrenchSetting>,
    /// What bolts have shown of their friction, where that changed.
    pub shown: Vec<PlaceFriction>,
    /// What parts went through, where that changed.
    pub lives: Vec<PieceLifeUpdate>,
    /// What the engine says for the day, and how long operations took, where that may have changed.
    pub outlook: Option<(BuildOutlook, Vec<OperationDuration>)>,
}

/// What a click wrench is set to.
#[derive(Debug, Clone)]
pub(crate) struct WrenchSetting {
    /// Key of the wrench.
    pub instrument: String,
    /// What it is set to, N·m.
    pub torque_nm: f64,
    /// When it was set.
    pub at: OffsetDateTime,
}

impl WrenchSetting {
    /// What an event says about a wrench.
    pub fn of(event: &Event) -> Option<Self> {
        let Fact::WrenchSet(set) = &event.fact else { return None };
        Some(Self { instrument: set.instrument.id.clone(), torque_nm: set.torque_nm, at: event.at })
    }
}

impl AppendRow {
    /// Whether it can be written in the one statement.
    fn is_plain(&self) -> bool {
        self.before > 0
            && self.words.is_none()
            && self.settings.is_empty()
            && self.shown.is_empty()
            && self.lives.is_empty()
            && self.outlook.is_none()
    }
}

/// One event in its row.
#[derive(Debug)]
pub(crate) struct EventLine {
    /// Its number.
    pub seq: u64,
    /// Its text.
    pub body: String,
    /// Its hash.
    pub hash: Vec<u8>,
    /// Key of the instrument that it was read with, and when.
    pub used: Option<(String, OffsetDateTime)>,
}

/// What one command leads to.
#[derive(Debug)]
pub(crate) struct Append {
    /// The list row.
    pub row: AppendRow,
    /// The events.
    pub lines: Vec<EventLine>,
}

type Answer = oneshot::Sender<Result<bool, StoreError>>;
type Waiting = (Append, Answer);

/// The one that writes. A second one would make smaller commits of the same pulls, and more of them.
#[derive(Debug, Clone)]
pub(crate) struct Writer {
    queue: mpsc::Sender<Waiting>,
    commits: Arc<Commits>,
}

/// What was committed so far.
#[derive(Debug, Default)]
struct Commits {
    count: AtomicU64,
    micros: AtomicU64,
}

impl Writer {
    /// Starts the task that writes; it ends with the last `Writer`, and is started again should it fail. It has a
    /// connection of its own, where the one statement is planned once and not again for every write.
    pub fn start(pool: &PgPool, signals: &BuildSignals) -> Self {
        let (queue, waiting) = mpsc::channel(MOST_WAITING);
        let queued = Arc::new(Mutex::new(waiting));
        let lane = Lane { pool: pool.clone(), signals: signals.clone(), held: HashMap::new() };
        let commits: Arc<Commits> = Arc::default();
        let counted = Arc::clone(&commits);
        tokio::spawn(async move {
            loop {
                let hold = Hold { pool: lane.pool.clone(), kept: None, commits: Arc::clone(&counted) };
                let task = tokio::spawn(run(hold, lane.clone(), Arc::clone(&queued)));
                match task.await {
                    Ok(()) => break,
                    Err(error) => tracing::error!(%error, "the task that writes failed; it is started again"),
                }
            }
        });
        Self { queue, commits }
    }

    /// Writes; false when the record had gone on.
    pub async fn write(&self, append: Append) -> Result<bool, StoreError> {
        let (answer, answered) = oneshot::channel();
        let away = || StoreError::unavailable(sqlx::Error::WorkerCrashed);
        self.queue.try_send((append, answer)).map_err(|_| away())?;
        answered.await.map_err(|_| away())?
    }

    /// How many wait to be written.
    pub fn waiting(&self) -> usize {
        self.queue.max_capacity() - self.queue.capacity()
    }

    /// How many commits there were, and how long they took together.
    pub fn commits(&self) -> (u64, Duration) {
        let micros = Duration::from_micros(self.commits.micros.load(Ordering::Relaxed));
        (self.commits.count.load(Ordering::Relaxed), micros)
    }
}

type Queue = Arc<Mutex<mpsc::Receiver<Waiting>>>;

/// A connection that is kept from one write to the next.
struct Hold {
    pool: PgPool,
    kept: Option<PgConnection>,
    commits: Arc<Commits>,
}

impl Hold {
    /// A new connection, to the machine that the pool uses now.
    async fn connect(&self) -> Result<PgConnection, sqlx::Error> {
        let options = (*self.pool.connect_options()).clone().options([
            ("plan_cache_mode", "force_generic_plan"),
            ("lock_timeout", LOCKED),
            ("statement_timeout", "3s"),
        ]);
        PgConnection::connect_with(&options).await
    }

    /// Writes; a connection that failed, or does not answer, is not used again.
    async fn write(&mut self, appends: &[Append]) -> Result<HashSet<Uuid>, StoreError> {
        let silent = |_| sqlx::Error::PoolTimedOut;
        let mut connection = match self.kept.take() {
            Some(kept) => kept,
            None => timeout(PATIENCE, self.connect()).await.map_err(silent)??,
        };
        let start = Instant::now();
        let stored = timeout(PATIENCE, write(&mut connection, appends)).await.map_err(silent)??;
        let micros = u64::try_from(start.elapsed().as_micros()).unwrap_or(u64::MAX);
        self.commits.count.fetch_add(1, Ordering::Relaxed);
        self.commits.micros.fetch_add(micros, Ordering::Relaxed);
        self.kept = Some(connection);
        Ok(stored)
    }
}

/// The way of engines whose row somebody else holds: each waits by itself, so that no other engine waits with it.
#[derive(Debug, Clone)]
struct Lane {
    pool: PgPool,
    signals: BuildSignals,
    /// Engines that were held a moment ago, and until when they go this way.
    held: HashMap<Uuid, Instant>,
}

impl Lane {
    fn is_held(&mut self, build: Uuid) -> bool {
        self.held.retain(|_, until| *until > Instant::now());
        self.held.contains_key(&build)
    }

    /// Has an engine go this way for a while, whose row was held just now.
    fn hold(&mut self, build: Uuid) {
        self.held.insert(build, Instant::now() + HELD);
    }

    /// Writes one engine's by a connection of its own, for as long as that waits for a lock.
    fn write(&self, (append, answer): Waiting) {
        let (pool, signals) = (self.pool.clone(), self.signals.clone());
        tokio::spawn(async move {
            let stored = async {
                let mut connection = pool.acquire().await?;
                write(&mut connection, std::slice::from_ref(&append)).await
            };
            let stored =
                timeout(PATIENCE, stored).await.map_err(|_| sqlx::Error::PoolTimedOut.into()).flatten();
            tell(&signals, &append, answer, stored.map(|stored| stored.contains(&append.row.build)));
        });
    }
}

async fn run(mut hold: Hold, mut lane: Lane, queue: Queue) {
    let mut together = Vec::with_capacity(MOST);
    let mut waiting = queue.lock().await;
    while waiting.recv_many(&mut together, MOST).await > 0 {
        while !together.is_empty() {
            let batch = take_batch(&mut together);
            write_batch(&mut hold, &mut lane, batch).await;
        }
    }
}

/// Takes what is written together out of what waits: of each build the first, so that what is told of a build is told of
/// one append.
fn take_batch(together: &mut Vec<Waiting>) -> Vec<Waiting> {
    let mut builds = HashSet::new();
    let (batch, rest) = together.drain(..).partition(|(append, _)| builds.insert(append.row.build));
    *together = rest;
    batch
}

async fn write_batch(hold: &mut Hold, lane: &mut Lane, batch: Vec<Waiting>) {
    let (slow, quick): (Vec<Waiting>, Vec<Waiting>) =
        batch.into_iter().partition(|(append, _)| lane.is_held(append.row.build));
    for one in slow {
        lane.write(one);
    }
    if quick.is_empty() {
        return;
    }
    let (appends, answers): (Vec<Append>, Vec<Answer>) = quick.into_iter().unzip();
    match hold.write(&appends).await {
        // One that the database refuses, or whose engine is held, must not take the others with it.
        Err(error) if matches!(error, StoreError::Database(_)) && appends.len() > 1 || is_locked(&error) => {
            for (append, answer) in appends.into_iter().zip(answers) {
                let stored = hold.write(std::slice::from_ref(&append)).await;
                if stored.as_ref().is_err_and(is_locked) {
                    lane.hold(append.row.build);
                    lane.write((append, answer));
                    continue;
                }
                let stored = stored.map(|stored| stored.contains(&append.row.build));
                tell(&lane.signals, &append, answer, stored);
            }
        }
        Err(error) => {
            for (append, answer) in appends.iter().zip(answers) {
                tell(&lane.signals, append, answer, Err(error.again()));
            }
        }
        Ok(stored) => {
            for (append, answer) in appends.iter().zip(answers) {
                tell(&lane.signals, append, answer, Ok(stored.contains(&append.row.build)));
            }
        }
    }
}

/// Tells whoever waits for it, and every screen. One that went away meanwhile reads it again.
fn tell(signals: &BuildSignals, append: &Append, answer: Answer, stored: Result<bool, StoreError>) {
    if matches!(stored, Ok(true)) {
        signals.tell(append.row.build);
    }
    let _ = answer.send(stored);
}

/// Writes what each build leads to; gives the builds that went on. Nearly always that is one statement.
async fn write(connection: &mut PgConnection, appends: &[Append]) -> Result<HashSet<Uuid>, StoreError> {
    let (begun, going_on): (Vec<&Append>, Vec<&Append>) =
        appends.iter().partition(|append| append.row.before == 0);
    if appends.iter().all(|append| append.row.is_plain()) {
        return go_on(connection, &going_on).await;
    }
    let mut transaction = connection.begin().await?;
    let mut stored = go_on(&mut transaction, &going_on).await?;
    for append in begun {
        stored.extend(begin(&mut transaction, append).await?);
    }
    for append in appends.iter().filter(|append| stored.contains(&append.row.build)) {
        find_by(&mut transaction, &append.row).await?;
        for setting in &append.row.settings {
            set(&mut transaction, setting).await?;
        }
        keep_shown(&mut transaction, append.row.build, &append.row.shown).await?;
        keep_lives(&mut transaction, append.row.build, &append.row.lives).await?;
        if let Some(outlook) = &append.row.outlook {
            keep_outlook(&mut transaction, append.row.build, &append.row.plan_id, outlook).await?;
        }
    }
    transaction.commit().await?;
    Ok(stored)
}

/// Appends events and list rows in one statement, where the database has what their writers had seen.
async fn go_on(connection: &mut PgConnection, appends: &[&Append]) -> Result<HashSet<Uuid>, StoreError> {
    let rows = || appends.iter().map(|append| &append.row);
    let lines = || appends.iter().flat_map(|append| append.lines.iter().map(|line| (append.row.build, line)));
    let builds: Vec<Uuid> = rows().map(|row| row.build).collect();
    let before: Vec<i64> = rows().map(|row| row.before.cast_signed()).collect();
    let seqs: Vec<i64> = rows().map(|row| row.seq.cast_signed()).collect();
    let summaries: Vec<&str> = rows().map(|row| row.summary.as_str()).collect();
    let statuses: Vec<&str> = rows().map(|row| row.status.as_str()).collect();
    let touched: Vec<OffsetDateTime> = rows().map(|row| row.touched).collect();
    let plans: Vec<&str> = rows().map(|row| row.plan.as_str()).collect();
    let of: Vec<Uuid> = lines().map(|(build, _)| build).collect();
    let numbers: Vec<i64> = lines().map(|(_, line)| line.seq.cast_signed()).collect();
    let bodies: Vec<&str> = lines().map(|(_, line)| line.body.as_str()).collect();
    let hashes: Vec<&[u8]> = lines().map(|(_, line)| line.hash.as_slice()).collect();
    let used = || lines().filter_map(|(build, line)| Some((build, line.seq, line.used.as_ref()?)));
    let instruments: Vec<&str> = used().map(|(_, _, (instrument, _))| instrument.as_str()).collect();
    let used_at: Vec<OffsetDateTime> = used().map(|(_, _, (_, at))| *at).collect();
    let used_on: Vec<Uuid> = used().map(|(build, _, _)| build).collect();
    let used_seq: Vec<i64> = used().map(|(_, seq, _)| seq.cast_signed()).collect();
    let stored = sqlx::query_scalar!(
        r#"WITH went_on AS (
             UPDATE builds SET seq = given.seq, summary = given.summary::jsonb, status = given.status,
                 touched = given.touched, plan_hash = given.plan, edition = $12
             FROM unnest($1::uuid[], $2::bigint[], $3::bigint[], $4::text[], $5::text[], $6::timestamptz[],
                     $7::text[])
                 AS given (id, before, seq, summary, status, touched, plan)
             WHERE builds.id = given.id AND builds.seq = given.before RETURNING builds.id
         ), written AS (
             INSERT INTO events (build_id, seq, body, hash)
             SELECT line.build_id, line.seq, line.body, line.hash
             FROM unnest($8::uuid[], $9::bigint[], $10::text[], $11::bytea[]) AS line (build_id, seq, body, hash)
                 JOIN went_on ON went_on.id = line.build_id
         ), used AS (
             INSERT INTO read_with (instrument, build_id, block, at)
             SELECT given.instrument, given.build_id, block_of(given.seq), array_agg(given.at ORDER BY given.at)
             FROM unnest($13::text[], $14::timestamptz[], $15::uuid[], $16::bigint[])
                     AS given (instrument, at, build_id, seq)
                 JOIN went_on ON went_on.id = given.build_id GROUP BY 1, 2, 3
             ON CONFLICT (instrument, build_id, block) DO UPDATE
                 SET at = CASE WHEN read_with.at[cardinality(read_with.at)] <= excluded.at[1]
                     THEN read_with.at || excluded.at
                     ELSE array(SELECT one FROM unnest(read_with.at || excluded.at) AS one ORDER BY one) END
         )
         SELECT id AS "id!" FROM went_on"#,
        &builds,
        &before,
        &seqs,
        &summaries as &[&str],
        &statuses as &[&str],
        &touched,
        &plans as &[&str],
        &of,
        &numbers,
        &bodies as &[&str],
        &hashes as &[&[u8]],
        EDITION,
        &instruments as &[&str],
        &used_at,
        &used_on,
        &used_seq
    )
    .fetch_all(connection)
    .await?;
    Ok(stored.into_iter().collect())
}

/// Begins a build with its one event; none where it is there already.
async fn begin(connection: &mut PgConnection, append: &Append) -> Result<Option<Uuid>, StoreError> {
    let (row, lines) = (&append.row, &append.lines);
    let numbers: Vec<i64> = lines.iter().map(|line| line.seq.cast_signed()).collect();
    let bodies: Vec<&str> = lines.iter().map(|line| line.body.as_str()).collect();
    let hashes: Vec<&[u8]> = lines.iter().map(|line| line.hash.as_slice()).collect();
    let begun = sqlx::query_scalar!(
        r#"WITH begun AS (
             INSERT INTO builds (id, seq, plan_hash, summary, status, touched, edition)
             VALUES ($1, $2, $3, $4::text::jsonb, $5, $6, $7) ON CONFLICT DO NOTHING RETURNING id
         ), written AS (
             INSERT INTO events (build_id, seq, body, hash)
             SELECT begun.id, line.seq, line.body, line.hash
             FROM begun, unnest($8::bigint[], $9::text[], $10::bytea[]) AS line (seq, body, hash)
         )
         SELECT id AS "id!" FROM begun"#,
        row.build,
        row.seq.cast_signed(),
        row.plan,
        row.summary,
        row.status,
        row.touched,
        EDITION,
        &numbers,
        &bodies as &[&str],
        &hashes as &[&[u8]]
    )
    .fetch_optional(connection)
    .await?;
    Ok(begun)
}

/// What a build can be found by, where that changed.
async fn find_by(connection: &mut PgConnection, row: &AppendRow) -> Result<(), StoreError> {
    let Some(words) = &row.words else { return Ok(()) };
    sqlx::query!(
        "INSERT INTO build_words (build_id, words) VALUES ($1, $2)
         ON CONFLICT (build_id) DO UPDATE SET words = excluded.words",
        row.build,
        words
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// A wrench was set; what was set later stays.
pub(crate) async fn set(connection: &mut PgConnection, setting: &WrenchSetting) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO wrench_settings (instrument, torque_nm, set_at) VALUES ($1, $2, $3)
         ON CONFLICT (instrument) DO UPDATE SET torque_nm = excluded.torque_nm, set_at = excluded.set_at
         WHERE wrench_settings.set_at <= excluded.set_at",
        setting.instrument,
        setting.torque_nm,
        setting.at
    )
    .execute(connection)
    .await?;
    Ok(())
}
