//! Writing what commands lead to, once.
//!
//! Commands that wait for the disk at the same time are written together: one statement, one commit.
//! Nothing waits for company; what arrives while the writers are busy goes into the next commit. Each
//! build goes on only where the database has what its writer had seen, whatever the others do.

use crate::StoreError;
use crate::signal::Signals;
use sqlx::PgPool;
use std::collections::HashSet;
use std::sync::Arc;
use time::OffsetDateTime;
use tokio::sync::{Mutex, mpsc, oneshot};
use uuid::Uuid;

/// The edition of the rules that list rows are computed by. Raise it when a row may come out
/// otherwise: rows of older editions are computed anew at the start.
pub(crate) const EDITION: i32 = 2;
/// Commits under way at once: while one waits for the disk, the other's statement runs.
const WRITERS: u32 = 2;
/// Builds that are written together at most.
const MOST: usize = 64;

/// The list row of a build.
#[derive(Debug)]
pub(crate) struct Row {
    /// The build.
    pub build: Uuid,
    /// The last entry that its writer had seen; 0 for a build that begins.
    pub before: u64,
    /// The last entry now.
    pub seq: u64,
    /// Hash of the plan.
    pub plan: String,
    /// The summary as JSON.
    pub summary: String,
    /// Where it stands, in the word of the summary.
    pub status: String,
    /// When it was touched.
    pub touched: OffsetDateTime,
    /// What it can be found by, where that changed.
    pub words: Option<String>,
}

/// One event in its row.
#[derive(Debug)]
pub(crate) struct Line {
    /// Its number.
    pub seq: u64,
    /// Its text.
    pub body: String,
    /// Its hash.
    pub hash: Vec<u8>,
}

/// What one command leads to.
#[derive(Debug)]
pub(crate) struct Append {
    /// The list row.
    pub row: Row,
    /// The events.
    pub lines: Vec<Line>,
}

type Answer = oneshot::Sender<Result<bool, StoreError>>;

/// Those that write.
#[derive(Debug, Clone)]
pub(crate) struct Writer {
    queue: mpsc::UnboundedSender<(Append, Answer)>,
    pool: PgPool,
}

impl Writer {
    /// Starts the tasks that write; they end with the last `Writer`. They have connections of their
    /// own, where the one statement is planned once and not again for every write.
    pub fn start(pool: &PgPool, signals: &Signals) -> Self {
        let options = (*pool.connect_options()).clone().options([("plan_cache_mode", "force_generic_plan")]);
        let own = pool.options().clone().max_connections(WRITERS).connect_lazy_with(options);
        let (queue, waiting) = mpsc::unbounded_channel();
        let waiting = Arc::new(Mutex::new(waiting));
        for _ in 0..WRITERS {
            tokio::spawn(run(own.clone(), signals.clone(), Arc::clone(&waiting)));
        }
        Self { queue, pool: own }
    }

    /// Closes its connection.
    pub async fn close(&self) {
        self.pool.close().await;
    }

    /// Writes; false when the record had gone on.
    pub async fn write(&self, append: Append) -> Result<bool, StoreError> {
        let (answer, answered) = oneshot::channel();
        let away = || StoreError::Unavailable(sqlx::Error::PoolClosed);
        self.queue.send((append, answer)).map_err(|_| away())?;
        answered.await.map_err(|_| away())?
    }
}

type Queue = mpsc::UnboundedReceiver<(Append, Answer)>;

async fn run(pool: PgPool, signals: Signals, waiting: Arc<Mutex<Queue>>) {
    let mut together = Vec::with_capacity(MOST);
    while waiting.lock().await.recv_many(&mut together, MOST).await > 0 {
        let (appends, answers): (Vec<Append>, Vec<Answer>) = together.drain(..).unzip();
        match write(&pool, &appends).await {
            // One that the database refuses must not take the others with it.
            Err(StoreError::Database(_)) if appends.len() > 1 => {
                for (append, answer) in appends.iter().zip(answers) {
                    let stored = write(&pool, std::slice::from_ref(append)).await;
                    tell(&signals, append, answer, stored.map(|stored| stored.contains(&append.row.build)));
                }
            }
            Err(error) => {
                for (append, answer) in appends.iter().zip(answers) {
                    tell(&signals, append, answer, Err(error.again()));
                }
            }
            Ok(stored) => {
                for (append, answer) in appends.iter().zip(answers) {
                    tell(&signals, append, answer, Ok(stored.contains(&append.row.build)));
                }
            }
        }
    }
}

/// Tells whoever waits for it, and every screen. One that went away meanwhile reads it again.
fn tell(signals: &Signals, append: &Append, answer: Answer, stored: Result<bool, StoreError>) {
    if matches!(stored, Ok(true)) {
        signals.tell(append.row.build);
    }
    let _ = answer.send(stored);
}

/// Appends events and list rows in one statement; gives the builds that went on. Rows are locked in
/// one order, so that two processes do not wait for each other.
async fn write(pool: &PgPool, appends: &[Append]) -> Result<HashSet<Uuid>, StoreError> {
    let rows = || appends.iter().map(|append| &append.row);
    let lines = || appends.iter().flat_map(|append| append.lines.iter().map(|line| (append.row.build, line)));
    let signed = |seq: u64| seq.cast_signed();
    let builds: Vec<Uuid> = rows().map(|row| row.build).collect();
    let before: Vec<i64> = rows().map(|row| signed(row.before)).collect();
    let seqs: Vec<i64> = rows().map(|row| signed(row.seq)).collect();
    let plans: Vec<&str> = rows().map(|row| row.plan.as_str()).collect();
    let summaries: Vec<&str> = rows().map(|row| row.summary.as_str()).collect();
    let statuses: Vec<&str> = rows().map(|row| row.status.as_str()).collect();
    let touched: Vec<OffsetDateTime> = rows().map(|row| row.touched).collect();
    let words: Vec<Option<&str>> = rows().map(|row| row.words.as_deref()).collect();
    let of: Vec<Uuid> = lines().map(|(build, _)| build).collect();
    let numbers: Vec<i64> = lines().map(|(_, line)| signed(line.seq)).collect();
    let bodies: Vec<&str> = lines().map(|(_, line)| line.body.as_str()).collect();
    let hashes: Vec<&[u8]> = lines().map(|(_, line)| line.hash.as_slice()).collect();
    let stored = sqlx::query_scalar!(
        r#"WITH given AS (
             SELECT * FROM unnest($1::uuid[], $2::bigint[], $3::bigint[], $4::text[], $5::text[], $6::text[],
                     $7::timestamptz[], $8::text[])
                 AS given (id, before, seq, plan_hash, summary, status, touched, words)
         ), locked AS MATERIALIZED (
             SELECT id, seq FROM builds WHERE id = ANY($1) ORDER BY id FOR UPDATE
         ), begun AS (
             INSERT INTO builds (id, seq, plan_hash, summary, status, touched, edition)
             SELECT id, seq, plan_hash, summary::jsonb, status, touched, $13 FROM given WHERE before = 0
             ON CONFLICT DO NOTHING RETURNING id
         ), went_on AS (
             UPDATE builds SET seq = given.seq, summary = given.summary::jsonb, status = given.status,
                 touched = given.touched, edition = $13
             FROM given JOIN locked ON locked.id = given.id AND locked.seq = given.before
             WHERE builds.id = given.id AND given.before > 0 RETURNING builds.id
         ), stored AS (
             SELECT id FROM begun UNION ALL SELECT id FROM went_on
         ), found_by AS (
             INSERT INTO build_words (build_id, words)
             SELECT id, words FROM given JOIN stored USING (id) WHERE words IS NOT NULL
             ON CONFLICT (build_id) DO UPDATE SET words = excluded.words
         ), written AS (
             INSERT INTO events (build_id, seq, body, hash)
             SELECT line.build_id, line.seq, line.body, line.hash
             FROM unnest($9::uuid[], $10::bigint[], $11::text[], $12::bytea[]) AS line (build_id, seq, body, hash)
                 JOIN stored ON stored.id = line.build_id
         )
         SELECT id AS "id!" FROM stored"#,
        &builds,
        &before,
        &seqs,
        &plans as &[&str],
        &summaries as &[&str],
        &statuses as &[&str],
        &touched,
        &words as &[Option<&str>],
        &of,
        &numbers,
        &bodies as &[&str],
        &hashes as &[&[u8]],
        EDITION
    )
    .fetch_all(pool)
    .await?;
    Ok(stored.into_iter().collect())
}
