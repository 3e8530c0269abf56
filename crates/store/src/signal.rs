//! Telling every open screen that a build went on, across server processes.
//!
//! Screens of this process hear of it at once. Others hear through LISTEN/NOTIFY, sent by a
//! task of its own outside the transaction: a notification inside it would make PostgreSQL
//! commit one transaction at a time. One that is lost costs nothing but a moment, since screens
//! also look by themselves every few seconds. What a process told it does not hear once more.

use sqlx::PgPool;
use sqlx::postgres::PgListener;
use std::collections::HashSet;
use std::time::Duration;
use tokio::sync::{broadcast, mpsc, watch};
use tokio::time::timeout;
use uuid::Uuid;

const CHANNEL: &str = "rigore_builds";
/// What is told of people, benches, instruments: that something of it is another.
const SHOP: &str = "rigore_shop";
/// How long to wait before listening again after the database went away.
const PAUSE: Duration = Duration::from_millis(500);
/// After how long without a notification the connection is asked whether it still lives, and how long it may take to
/// answer: a network that drops packets ends no connection.
const HEARTBEAT: Duration = Duration::from_secs(5);
const HEARTBEAT_PATIENCE: Duration = Duration::from_secs(3);

/// How long notifications to other processes are gathered into one statement.
const GATHER: Duration = Duration::from_millis(25);

/// That a build went on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct BuildSignal {
    /// The build.
    pub build: Uuid,
}

/// Both ends of the signalling.
#[derive(Debug, Clone)]
pub(crate) struct BuildSignals {
    heard: broadcast::Sender<BuildSignal>,
    outbox: mpsc::UnboundedSender<Uuid>,
    shop: watch::Sender<u64>,
}

impl BuildSignals {
    /// Starts the tasks that send and listen; they end with the last `BuildSignals`.
    pub(crate) fn start(pool: PgPool) -> Self {
        let (heard, _) = broadcast::channel(256);
        let (outbox, inbox) = mpsc::unbounded_channel();
        let own = Uuid::now_v7();
        let shop = watch::channel(0).0;
        tokio::spawn(send(pool.clone(), own, inbox));
        tokio::spawn(listen(pool, own, heard.clone(), shop.clone()));
        Self { heard, outbox, shop }
    }

    /// Tells this process, and others through the database, that people, benches or instruments are others.
    pub(crate) async fn tell_shop(&self, pool: &PgPool) {
        self.shop.send_modify(|count| *count += 1);
        if let Err(error) = sqlx::query("SELECT pg_notify($1, '')").bind(SHOP).execute(pool).await {
            tracing::warn!(%error, "other processes were not told");
        }
    }

    /// Changes whenever people, benches or instruments may be others.
    pub(crate) fn shop(&self) -> watch::Receiver<u64> {
        self.shop.subscribe()
    }

    /// Tells this process and the others.
    pub(crate) fn tell(&self, build: Uuid) {
        // Nobody listening is no error.
        let _ = self.heard.send(BuildSignal { build });
        let _ = self.outbox.send(build);
    }

    pub(crate) fn subscribe(&self) -> broadcast::Receiver<BuildSignal> {
        self.heard.subscribe()
    }
}

async fn send(pool: PgPool, own: Uuid, mut inbox: mpsc::UnboundedReceiver<Uuid>) {
    while let Some(first) = inbox.recv().await {
        let mut builds = HashSet::from([first]);
        tokio::time::sleep(GATHER).await;
        while let Ok(more) = inbox.try_recv() {
            builds.insert(more);
        }
        let texts: Vec<String> = builds.iter().map(|build| format!("{own} {build}")).collect();
        let sent = sqlx::query("SELECT pg_notify($1, build) FROM unnest($2::text[]) AS build")
            .bind(CHANNEL)
            .bind(&texts)
            .execute(&pool)
            .await;
        if let Err(error) = sent
            && !pool.is_closed()
        {
            tracing::warn!(%error, "other processes were not told");
        }
    }
}

async fn listen(pool: PgPool, own: Uuid, heard: broadcast::Sender<BuildSignal>, shop: watch::Sender<u64>) {
    while !pool.is_closed() {
        if let Err(error) = listen_once(&pool, own, &heard, &shop).await
            && !pool.is_closed()
        {
            tracing::warn!(%error, "listening again in a moment");
        }
        tokio::time::sleep(PAUSE).await;
    }
}

async fn listen_once(
    pool: &PgPool,
    own: Uuid,
    heard: &broadcast::Sender<BuildSignal>,
    shop: &watch::Sender<u64>,
) -> Result<(), sqlx::Error> {
    let mut listener = timeout(HEARTBEAT_PATIENCE, PgListener::connect_with(pool)).await.map_err(lost)??;
    timeout(HEARTBEAT_PATIENCE, listener.listen_all([CHANNEL, SHOP])).await.map_err(lost)??;
    // What was told while nobody listened.
    shop.send_modify(|count| *count += 1);
    loop {
        let told = match timeout(HEARTBEAT, listener.try_recv()).await {
            Ok(Ok(Some(told))) => told,
            // It was lost for a moment, and with it what was told then.
            Ok(Ok(None)) => return Ok(()),
            Ok(Err(error)) => return Err(error),
            Err(_) => {
                let alive = sqlx::query("SELECT 1").execute(&mut listener);
                timeout(HEARTBEAT_PATIENCE, alive).await.map_err(lost)??;
                continue;
            }
        };
        if told.channel() == SHOP {
            shop.send_modify(|count| *count += 1);
            continue;
        }
        if let Some((by, build)) = told.payload().split_once(' ')
            && by.parse() != Ok(own)
            && let Ok(build) = build.parse()
        {
            let _ = heard.send(BuildSignal { build });
        }
    }
}

fn lost(_: tokio::time::error::Elapsed) -> sqlx::Error {
    sqlx::Error::PoolTimedOut
}
