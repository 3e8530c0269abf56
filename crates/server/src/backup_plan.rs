//! Where and when backups are made by themselves.

use std::path::PathBuf;
use time::Time;

/// Where and when backups are made.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BackupPlan {
    /// The database, by the role that owns it.
    pub url: String,
    /// The folder.
    pub folder: PathBuf,
    /// When, by the shop's clock.
    pub time: Time,
    /// How many are kept.
    pub keep: usize,
}
