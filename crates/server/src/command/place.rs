//! Where a shop is kept, and what a command does there.

use anyhow::{Context, Result};
use rigore_store::cluster::Cluster;
use rigore_store::{Heads, Store};
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::thread::{self, JoinHandle};

/// Connections of a command that is done in a moment.
const FEW: u32 = 4;

/// Where a shop is kept.
#[derive(clap::Args)]
pub struct ShopLocation {
    /// Its database
    #[arg(long, env = "DATABASE_URL")]
    pub database_url: Option<String>,
    /// Folder its private PostgreSQL lives in, where it has one
    #[arg(long, env = "RIGORE_DATA", default_value = "data")]
    pub data: PathBuf,
}

impl ShopLocation {
    /// The folder of the private PostgreSQL, where it has one.
    pub fn private_folder(&self) -> Option<PathBuf> {
        self.database_url.is_none().then(|| self.data.clone())
    }

    /// As [`ShopLocation::open`], where a shop is kept already.
    pub fn visit(self) -> Result<(String, Option<WatchedCluster>)> {
        if self.database_url.is_none() && !self.data.join("pg").exists() {
            let data = self.data.display();
            anyhow::bail!("no shop is kept in `{data}`: --data or --database-url says where it is");
        }
        self.open()
    }

    /// Its address, and the private PostgreSQL that has to stay up meanwhile.
    pub fn open(self) -> Result<(String, Option<WatchedCluster>)> {
        if let Some(url) = self.database_url {
            return Ok((url, None));
        }
        let watched = WatchedCluster::start(&self.data)?;
        Ok((watched.cluster.url(), Some(watched)))
    }

    /// Does something in the shop that is kept there, and leaves it.
    pub async fn within<T>(self, work: impl AsyncFnOnce(&Store) -> Result<T>) -> Result<T> {
        let heads = self.private_folder().filter(|folder| folder.join("shop.key").exists());
        let (url, _watched) = self.visit()?;
        inside(&url, heads.as_deref(), work).await
    }
}

/// Does something in the shop that a database holds, and leaves it; by the key of the shop where its folder is given.
pub async fn inside<T>(
    url: &str,
    heads: Option<&Path>,
    work: impl AsyncFnOnce(&Store) -> Result<T>,
) -> Result<T> {
    let mut store = Store::connect(url, FEW).await.context("opening the database")?;
    if let Some(folder) = heads {
        store = store.with_heads(Heads::open(folder)?).await?;
    }
    let done = work(&store).await;
    store.close().await;
    done
}

/// A private PostgreSQL that is looked after, and stopped when this is dropped.
pub struct WatchedCluster {
    /// The server.
    pub cluster: Arc<Cluster>,
    ended: Arc<AtomicBool>,
    watch: Option<JoinHandle<()>>,
}

impl WatchedCluster {
    /// Starts or takes up the server of a folder, and looks after it.
    pub fn start(folder: &Path) -> Result<Self> {
        let cluster = Arc::new(Cluster::start(&std::path::absolute(folder)?)?);
        let ended = Arc::new(AtomicBool::new(false));
        let (looked_after, told) = (Arc::clone(&cluster), Arc::clone(&ended));
        let watch = thread::spawn(move || looked_after.watch(|| told.load(Ordering::Relaxed)));
        Ok(Self { cluster, ended, watch: Some(watch) })
    }
}

impl Drop for WatchedCluster {
    fn drop(&mut self) {
        // It must not be started again while it is being stopped.
        self.ended.store(true, Ordering::Relaxed);
        if let Some(watch) = self.watch.take() {
            let _ = watch.join();
        }
    }
}
