//! The store: a pool of connections, and the builds that are kept folded in memory.

use crate::StoreError;
use crate::append::{PATIENCE, Writer};
use crate::chain::{Hash, root};
use crate::heads::Heads;
use crate::signal::{BuildSignal, BuildSignals};
use lru::LruCache;
use rigore_assembly::BuildProjection;
use rigore_mechanics::text;
use rigore_plan::Plan;
use sqlx::postgres::PgPoolOptions;
use sqlx::{Connection, PgPool};
use std::collections::{BTreeMap, HashMap};
use std::num::NonZeroUsize;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{Mutex, broadcast, watch};
use tokio::time::timeout;
use uuid::{Uuid, Version};

/// Builds kept folded in memory.
const KEPT: NonZeroUsize = NonZeroUsize::new(64).expect("above zero");

/// There is no such build; a dry run may have been forgotten, which its id tells.
pub(crate) fn not_there(build: Uuid) -> StoreError {
    let is_forgotten = build.get_version() == Some(Version::Custom);
    StoreError::NotThere(if is_forgotten {
        text!("store-dry-run")
    } else {
        text!("store-build", build = build.to_string())
    })
}

/// Dry runs that are kept; the one that nobody used for the longest time makes room.
const DRY_RUNS: NonZeroUsize = NonZeroUsize::new(32).expect("above zero");

/// Builds in memory by their id.
type OpenBuilds = Arc<Mutex<LruCache<Uuid, Arc<Mutex<OpenBuild>>>>>;

/// The store. Cloning it gives another handle on the same one.
#[derive(Debug, Clone)]
pub struct Store {
    pub(crate) pool: PgPool,
    pub(crate) read_plans: Arc<Mutex<HashMap<String, Arc<Plan>>>>,
    pub(crate) writer: Writer,
    pub(crate) heads: Option<Arc<Heads>>,
    kept: OpenBuilds,
    pub(crate) dry_runs: OpenBuilds,
    signals: BuildSignals,
}

/// A build in memory, as far as it was read.
#[derive(Debug)]
pub(crate) struct OpenBuild {
    /// `None` until it was read, and again while it holds events that may not be stored.
    pub kept: Option<BuildProjection>,
    /// The hash of its last event.
    pub hash: Hash,
    /// What it has in place of rows, where it is a dry run.
    pub dry: Option<DryRun>,
}

/// What a dry run has in place of rows in the database.
#[derive(Debug)]
pub(crate) struct DryRun {
    /// The draft whose plan is tried.
    pub draft: Uuid,
    /// The texts of its events, in order.
    pub texts: Vec<String>,
    /// What click wrenches are set to in it, N·m.
    pub settings: BTreeMap<String, f64>,
}

impl DryRun {
    /// Its events after a sequence number.
    pub fn events_after(&self, seq: u64) -> Vec<(u64, String)> {
        let after = (1..).zip(&self.texts).filter(|(number, _)| *number > seq);
        after.map(|(number, text)| (number, text.clone())).collect()
    }
}

impl OpenBuild {
    /// One that was not read yet.
    pub fn new(build: Uuid) -> Self {
        Self { kept: None, hash: root(build), dry: None }
    }
}

/// How long a connection may have been idle to be used without asking whether it still lives, and how long it may take
/// to answer that: one that a network dropped answers never.
const SURELY_ALIVE: Duration = Duration::from_secs(5);
const STILL_ALIVE: Duration = Duration::from_secs(1);

/// How connections are kept: those for work, and one that hears of every build. One that was used a moment ago is not
/// asked whether it lives: a command that meets a dead one is simply tried again, since it carries its own id.
pub(crate) fn pool(connections: u32) -> PgPoolOptions {
    PgPoolOptions::new()
        .max_connections(connections + 1)
        .acquire_timeout(PATIENCE)
        .test_before_acquire(false)
        .before_acquire(|connection, kept| {
            Box::pin(async move {
                if kept.idle_for < SURELY_ALIVE {
                    return Ok(true);
                }
                Ok(timeout(STILL_ALIVE, connection.ping()).await.is_ok_and(|ping| ping.is_ok()))
            })
        })
}

impl Store {
    /// The same database, for data that can be made again: commits do not wait for the disk.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn unhurried_disk(&self) -> Result<Self, StoreError> {
        let options = (*self.pool.connect_options()).clone().options([("synchronous_commit", "off")]);
        Ok(Self::over(pool(2).connect_with(options).await?))
    }

    /// How many connections to the database there are, and how many of them nobody uses now.
    pub fn connections(&self) -> (u32, usize) {
        (self.pool.size(), self.pool.num_idle())
    }

    /// Whether the database can be written to now.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when it cannot, or does not answer in time.
    pub async fn heartbeat(&self) -> Result<(), StoreError> {
        let beat =
            sqlx::query!("INSERT INTO heartbeat DEFAULT VALUES ON CONFLICT (one) DO UPDATE SET at = now()");
        let beat = beat.execute(&self.pool);
        timeout(PATIENCE, beat).await.map_err(|_| sqlx::Error::PoolTimedOut)??;
        Ok(())
    }

    /// How many commands wait to be written.
    pub fn waiting(&self) -> usize {
        self.writer.waiting()
    }

    /// How many commits there were of what was recorded, and how long they took together.
    pub fn commits(&self) -> (u64, Duration) {
        self.writer.commits()
    }

    /// Reads every build anew the next time that it is looked at.
    pub(crate) async fn forget_builds(&self) {
        self.kept.lock().await.clear();
    }

    /// How many builds are kept folded in memory.
    pub async fn in_memory(&self) -> usize {
        self.kept.lock().await.len()
    }

    /// The store over a pool.
    pub(crate) fn over(pool: PgPool) -> Self {
        let signals = BuildSignals::start(pool.clone());
        Self {
            writer: Writer::start(&pool, &signals),
            heads: None,
            signals,
            pool,
            read_plans: Arc::default(),
            kept: Arc::new(Mutex::new(LruCache::new(KEPT))),
            dry_runs: Arc::new(Mutex::new(LruCache::new(DRY_RUNS))),
        }
    }

    /// Closes every connection.
    pub async fn close(&self) {
        self.pool.close().await;
    }

    /// Tells whoever follows a build that it went on.
    pub(crate) fn tell_build(&self, build: Uuid) {
        self.signals.tell(build);
    }

    /// Hears of every build that goes on, in any process.
    pub fn subscribe(&self) -> broadcast::Receiver<BuildSignal> {
        self.signals.subscribe()
    }

    /// Changes whenever people, benches or instruments may be others, in any process.
    pub fn shop_changes(&self) -> watch::Receiver<u64> {
        self.signals.shop()
    }

    /// Tells every process that people, benches or instruments are others.
    pub(crate) async fn tell_shop(&self) {
        self.signals.tell_shop(&self.pool).await;
    }

    /// A build in memory, which may not be read yet.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none: only one that is there takes the room of another.
    pub(crate) async fn open(&self, build: Uuid) -> Result<Arc<Mutex<OpenBuild>>, StoreError> {
        if let Some(opened) = self.dry_runs.lock().await.get(&build) {
            return Ok(Arc::clone(opened));
        }
        if let Some(opened) = self.kept.lock().await.get(&build) {
            return Ok(Arc::clone(opened));
        }
        let there = sqlx::query_scalar!(
            r#"SELECT EXISTS (SELECT 1 FROM events WHERE build_id = $1) AS "there!""#,
            build
        );
        if !there.fetch_one(&self.pool).await? {
            return Err(not_there(build));
        }
        let mut kept = self.kept.lock().await;
        Ok(Arc::clone(kept.get_or_insert(build, || Arc::new(Mutex::new(OpenBuild::new(build))))))
    }
}
