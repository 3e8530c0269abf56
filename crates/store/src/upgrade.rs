//! The way of a private PostgreSQL to a newer version: by dump and restore, with the old folder kept.

use crate::cluster::Cluster;
use crate::{Store, backup};
use rigore_mechanics::text;
use std::fs;
use std::io;
use std::path::{Path, PathBuf};
use time::OffsetDateTime;

/// What became of the data.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DatabaseUpgrade {
    /// The version that made the data before, and the one that has them now.
    pub versions: (String, String),
    /// Where they are as they were before.
    pub before: PathBuf,
    /// The dump that they went by.
    pub dump: PathBuf,
    /// Engines and entries that were verified in them.
    pub proof: backup::BackupProof,
}

fn version(folder: &Path) -> io::Result<String> {
    Ok(fs::read_to_string(folder.join("pg/PG_VERSION"))?.trim().to_owned())
}

/// Moves the private PostgreSQL of a folder to the newest version that is installed; where it is by that one already, only
/// where `anew` asks for it.
///
/// # Errors
/// Where another Rigore keeps it, there is nothing newer, or a step fails: then everything is as it was before.
pub async fn upgrade(folder: &Path, anew: bool) -> io::Result<DatabaseUpgrade> {
    let from = version(folder)?;
    let newest = crate::cluster::newest_version()?;
    if from == newest && !anew {
        return Err(io::Error::other(text!("store-these-data-by-postgresql-already-newest", from)));
    }
    let now = OffsetDateTime::now_utc();
    let dump = backup::dated_file(folder, now);
    let old = Cluster::start(folder)?;
    if !old.is_keeper() {
        return Err(io::Error::other(text!(
            "store-another-rigore-keeps-end-first",
            folder = folder.display().to_string()
        )));
    }
    backup::backup(&old.url(), &dump)?;
    drop(old);
    let (data, before) = (folder.join("pg"), folder.join(format!("pg-{from}-{}", now.unix_timestamp())));
    fs::rename(&data, &before)?;
    match into_new(folder, &dump).await {
        Ok(proof) => Ok(DatabaseUpgrade { versions: (from, version(folder)?), before, dump, proof }),
        Err(error) => {
            // What was begun gives way to what was there.
            if data.exists() {
                fs::rename(&data, folder.join(format!("pg-failed-{}", now.unix_timestamp())))?;
            }
            fs::rename(&before, &data)?;
            Err(io::Error::other(text!("store-data-as-they-were-before", error = error.to_string())))
        }
    }
}

/// Makes the data anew by the newest version from a dump, and verifies every record.
async fn into_new(folder: &Path, dump: &Path) -> io::Result<backup::BackupProof> {
    let new = Cluster::start(folder)?;
    backup::restore(&new.url(), dump).await?;
    let store = Store::connect(&new.url(), 2).await.map_err(io::Error::other)?;
    let verified = store.verify().await;
    store.close().await;
    let (builds, entries, broken) = verified.map_err(io::Error::other)?;
    // What was broken before is so still: it stands in the way of nothing.
    for broken in broken {
        tracing::warn!(%broken, "it came over as it was");
    }
    Ok(backup::BackupProof { builds, entries })
}
