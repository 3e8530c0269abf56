//! The store: a pool of connections, and the builds that are kept folded in memory.

use crate::StoreError;
use crate::append::{PATIENCE, Writer};
use crate::chain::{Hash, root};
use crate::signal::{Signal, Signals};
use lru::LruCache;
use rigore_core::engine::Kept;
use rigore_core::plan::Plan;
use sqlx::PgPool;
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};
use std::collections::HashMap;
use std::num::NonZeroUsize;
use std::sync::Arc;
use tokio::sync::{Mutex, broadcast, watch};
use uuid::Uuid;

/// Builds kept folded in memory.
const KEPT: NonZeroUsize = NonZeroUsize::new(64).expect("above zero");

/// The store. Cloning it gives another handle on the same one.
#[derive(Debug, Clone)]
pub struct Store {
    pub(crate) pool: PgPool,
    pub(crate) read_plans: Arc<Mutex<HashMap<String, Arc<Plan>>>>,
    pub(crate) writer: Writer,
    kept: Arc<Mutex<LruCache<Uuid, Arc<Mutex<Opened>>>>>,
    signals: Signals,
}

/// A build in memory, as far as it was read.
#[derive(Debug)]
pub(crate) struct Opened {
    /// `None` until it was read, and again while it holds events that may not be stored.
    pub kept: Option<Kept>,
    /// The hash of its last event.
    pub hash: Hash,
}

/// How connections are kept: those for work, and one that hears of every build. One is not asked
/// whether it lives before each use: a command that meets a dead one is simply tried again, since
/// it carries its own id.
fn pool(connections: u32) -> PgPoolOptions {
    PgPoolOptions::new().max_connections(connections + 1).acquire_timeout(PATIENCE).test_before_acquire(false)
}

impl Store {
    /// Connects, brings the tables up to date, and computes list rows anew that were made by older
    /// rules.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn connect(url: &str, connections: u32) -> Result<Self, StoreError> {
        let options: PgConnectOptions = url.parse()?;
        let pool = pool(connections).connect_with(options).await?;
        sqlx::migrate!().run(&pool).await?;
        let store = Self::over(pool);
        store.renew_lists().await?;
        Ok(store)
    }

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

    fn over(pool: PgPool) -> Self {
        let signals = Signals::start(pool.clone());
        Self {
            writer: Writer::start(&pool, &signals),
            signals,
            pool,
            read_plans: Arc::default(),
            kept: Arc::new(Mutex::new(LruCache::new(KEPT))),
        }
    }

    /// Closes every connection.
    pub async fn close(&self) {
        self.pool.close().await;
    }

    /// Hears of every build that goes on, in any process.
    pub fn subscribe(&self) -> broadcast::Receiver<Signal> {
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
    pub(crate) async fn open(&self, build: Uuid) -> Arc<Mutex<Opened>> {
        let mut kept = self.kept.lock().await;
        let fresh = || Arc::new(Mutex::new(Opened { kept: None, hash: root(build) }));
        Arc::clone(kept.get_or_insert(build, fresh))
    }
}
