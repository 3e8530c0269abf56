//! What every handler shares, and what the server was started as.
//!
//! A request is carried out to its end (`app.rs`, `run_to_completion`), also where its browser hangs up: what is
//! committed is told to every server.

use crate::backup_plan::BackupPlan;
use crate::draft_editors::DraftEditors;
use crate::live_streams::{LiveReading, OpenStreams};
use crate::metrics::Metrics;
use crate::shop_cache::ShopCache;
use crate::simulated_tools::with_simulated_tools;
use crate::trusted_proxy::TrustedProxy;
use rigore_store::{Roster, Store, StoreError};
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;
use tokio::sync::{broadcast, watch};
use uuid::Uuid;

/// How long to wait before reading again what could not be read.
const AGAIN: Duration = Duration::from_millis(500);

/// What every handler shares.
#[derive(Debug, Clone)]
pub struct App {
    /// Where builds are kept.
    pub store: Store,
    /// What is known of the shop without asking the database each time.
    pub cache: Arc<ShopCache>,
    /// What it was started as.
    pub settings: Arc<Settings>,
    /// What simulated instruments show while they pull.
    pub live: broadcast::Sender<LiveReading>,
    /// Streams that are held open.
    pub streams: OpenStreams,
    /// Who has which draft of a plan open.
    pub draft_editors: DraftEditors,
    /// What those who watch over it are told.
    pub metrics: Arc<Metrics>,
    /// Turns true when the server is asked to end.
    pub ending: watch::Sender<bool>,
}

/// What a server was started as.
#[derive(Debug, Clone, Default)]
pub struct Settings {
    /// Whether it is the demonstration, whose door asks for no password.
    pub demonstration: bool,
    /// Whether browsers come by TLS.
    pub secure: bool,
    /// The proxies whose word is taken for where a request comes from.
    pub trusted: Vec<TrustedProxy>,
    /// The code that founds an empty shop.
    pub code: Option<String>,
    /// The names of the server; any name where there are none.
    pub hosts: Vec<String>,
    /// Where and when backups are made by themselves, where they are.
    pub backups: Option<BackupPlan>,
    /// Folders whose disks must not fill: where the private database lies, and where backups go.
    pub disks: Vec<PathBuf>,
    /// The file of the certificate that browsers are shown, where Rigore ends TLS itself.
    pub certificate: Option<PathBuf>,
}

impl App {
    /// The application over a store, with the people and instruments as they are now.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn new(store: Store, settings: Settings) -> Result<Self, StoreError> {
        let app = Self {
            store,
            cache: Arc::default(),
            settings: Arc::new(settings),
            live: broadcast::channel(256).0,
            streams: OpenStreams::default(),
            draft_editors: DraftEditors::default(),
            metrics: Arc::default(),
            ending: watch::channel(false).0,
        };
        app.renew().await?;
        tokio::spawn(app.clone().keep_up());
        Ok(app)
    }

    /// The people and instruments of the shop.
    pub fn roster(&self) -> Arc<Roster> {
        self.cache.roster()
    }

    /// The same as a build has it at its bench: a dry run has simulated tools in any shop.
    pub async fn roster_of(&self, build: Uuid) -> Arc<Roster> {
        if self.store.is_dry_run(build).await {
            Arc::new(with_simulated_tools(&self.roster()))
        } else {
            self.roster()
        }
    }

    /// Reads the people and instruments again where that was longer ago than `crate::shop_cache::KEPT`: whatever was not heard
    /// meanwhile, nobody keeps a role for longer.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn renew_if_stale(&self) -> Result<(), StoreError> {
        if !self.cache.is_stale() {
            return Ok(());
        }
        let _one = self.cache.renewing.lock().await;
        // Another request may have read them meanwhile.
        if self.cache.is_stale() {
            self.cache.renew(self.store.roster().await?);
        }
        Ok(())
    }

    /// Reads the people and instruments again.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn renew(&self) -> Result<(), StoreError> {
        // One at a time: what was read first is never kept last.
        let _one = self.cache.renewing.lock().await;
        self.cache.renew(self.store.roster().await?);
        Ok(())
    }

    /// Reads them again whenever another process says that they are others.
    async fn keep_up(self) {
        let (mut changes, mut ending) = (self.store.shop_changes(), self.ending.subscribe());
        loop {
            tokio::select! {
                changed = changes.changed() => if changed.is_err() { break },
                _ = ending.changed() => break,
            }
            // Nobody goes by a session that may have ended, whatever the database says now.
            self.cache.forget();
            while let Err(error) = self.renew().await {
                tracing::warn!(%error, "reading people and instruments again in a moment");
                tokio::time::sleep(AGAIN).await;
                if *ending.borrow() {
                    return;
                }
            }
        }
    }
}
