//! Statements on a database by `psql`.

use anyhow::{Result, ensure};

/// Runs statements on a database.
pub fn psql(url: &str, commands: &[&str]) -> Result<()> {
    let commands = commands.iter().flat_map(|command| ["-c", command]);
    let ran = std::process::Command::new("psql").args([url, "-q"]).args(commands).status()?;
    ensure!(ran.success(), "psql did not take it");
    Ok(())
}
