//! The store: a pool of connections, and the builds that are kept folded in memory.

use crate::StoreError;
use crate::append::{PATIENCE, Writer};
use crate::chain::{Hash, root};
use crate::cluster::SERVER_ROLE;
use crate::heads::Heads;
use crate::signal::{Signal, Signals};
use lru::LruCache;
use rigore_core::engine::Kept;
use rigore_core::plan::Plan;
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};
use sqlx::{Connection, PgPool};
use std::collections::HashMap;
use std::num::NonZeroUsize;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{Mutex, broadcast, watch};
use tokio::time::timeout;
use uuid::Uuid;

/// Builds kept folded in memory.
const KEPT: NonZeroUsize = NonZeroUsize::new(64).expect("above zero");

/// The store. Cloning it gives another handle on the same one.
#[derive(Debug, Clone)]
pub struct Store {
    pub(crate) pool: PgPool,
    pub(crate) read_plans: Arc<Mutex<HashMap<String, Arc<Plan>>>>,
    pub(crate) writer: Writer,
    pub(crate) heads: Option<Arc<Heads>>,
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

/// How long a connection may have been idle to be used without asking whether it still lives, and how long it may take
/// to answer that: one that a network dropped answers never.
const SURELY_ALIVE: Duration = Duration::from_secs(5);
const STILL_ALIVE: Duration = Duration::from_secs(1);

/// What PostgreSQL itself is to end, so that one engine that hangs holds up no other: waiting for a lock, a statement, a
/// transaction in which nothing happens, a connection whose other end is gone.
const LIMITS: [(&str, &str); 7] = [
    ("lock_timeout", "2s"),
    ("statement_timeout", "15s"),
    ("idle_in_transaction_session_timeout", "10s"),
    ("tcp_keepalives_idle", "5"),
    ("tcp_keepalives_interval", "2"),
    ("tcp_keepalives_count", "3"),
    ("tcp_user_timeout", "10s"),
];

/// What the role that a server works by may do.
const SERVER_GRANTS: &str = include_str!("server_grants.sql");

/// How connections are kept: those for work, and one that hears of every build. One that was used a moment ago is not
/// asked whether it lives: a command that meets a dead one is simply tried again, since it carries its own id.
fn pool(connections: u32) -> PgPoolOptions {
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
    /// Connects, and brings the tables up to date. List rows of older rules stay until [`Store::renew_lists`].
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn connect(url: &str, connections: u32) -> Result<Self, StoreError> {
        let options: PgConnectOptions = url.parse()?;
        // Bringing the tables up to date takes as long as it takes.
        let mut connection = sqlx::PgConnection::connect_with(&options).await?;
        sqlx::migrate!().run(&mut connection).await?;
        let is_superuser =
            sqlx::query_scalar::<_, bool>("SELECT rolsuper FROM pg_roles WHERE rolname = current_user");
        let role = if is_superuser.fetch_one(&mut connection).await? {
            sqlx::raw_sql(SERVER_GRANTS).execute(&mut connection).await?;
            Some(SERVER_ROLE)
        } else {
            None
        };
        connection.close().await?;
        let options = options.options(LIMITS);
        let Some(role) = role else { return Ok(Self::over(pool(connections).connect_with(options).await?)) };
        // A private PostgreSQL lets its server in by that role. Any other one may not: then it is taken on.
        let as_role = options.clone().username(role);
        if let Ok(connection) = sqlx::PgConnection::connect_with(&as_role).await {
            connection.close().await?;
            return Ok(Self::over(pool(connections).connect_with(as_role).await?));
        }
        tracing::warn!(
            "the database is given as a superuser: give Rigore a role of its own (docs/running.md)"
        );
        Ok(Self::over(pool(connections).connect_with(options.options([("role", role)])).await?))
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

    fn over(pool: PgPool) -> Self {
        let signals = Signals::start(pool.clone());
        Self {
            writer: Writer::start(&pool, &signals),
            heads: None,
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
