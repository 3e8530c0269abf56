//! What the database itself can do: `pgbench` repeating a write of the same rows and sizes.

use crate::bare::RowSizes;
use anyhow::{Context, Result};
use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::Duration;

/// What it repeats: the same two rows of the same sizes in one statement.
fn script(sizes: RowSizes) -> String {
    format!(
        "\\set b :client_id
WITH went_on AS (
  UPDATE bench_builds SET seq = seq + 1, summary = summary WHERE id = :b RETURNING id, seq
)
INSERT INTO bench_events SELECT id, seq, repeat('x', {}), decode(repeat('ab', 32), 'hex') FROM went_on;
",
        sizes.entry
    )
}

/// Ready to run on a database.
#[derive(Debug)]
pub struct Pgbench {
    program: PathBuf,
    folder: PathBuf,
    url: String,
}

impl Pgbench {
    /// Finds it; the tables are there.
    pub fn prepare(url: &str, folder: &Path, sizes: RowSizes) -> Result<Self> {
        let mut versions = fs::read_dir("/usr/lib/postgresql")?.flatten();
        let program = versions.find_map(|v| Some(v.path().join("bin/pgbench")).filter(|path| path.exists()));
        let program = program.context("pgbench is not here: apt-get install postgresql-contrib")?;
        fs::write(folder.join("writes.sql"), script(sizes))?;
        Ok(Self { program, folder: folder.to_owned(), url: url.to_owned() })
    }

    /// Writes a second, and how long each took, in milliseconds.
    pub fn run(&self, clients: usize, lasting: Duration) -> Result<(f64, Vec<f64>)> {
        let logs = tempfile::Builder::new().prefix("pgbench").tempdir_in(&self.folder)?;
        let (clients, seconds) = (clients.to_string(), lasting.as_secs().to_string());
        let output = Command::new(&self.program)
            .args(["-n", "-M", "prepared", "-j", "2", "-c", &clients, "-T", &seconds, "-l", "-f"])
            .arg(self.folder.join("writes.sql"))
            .arg(&self.url)
            .current_dir(logs.path())
            .output()?;
        let text = String::from_utf8_lossy(&output.stdout);
        let rate = text.lines().find_map(|line| line.strip_prefix("tps = "));
        let rate = rate.and_then(|rest| rest.split(' ').next()).with_context(|| text.clone().into_owned())?;
        let mut times = Vec::new();
        for log in fs::read_dir(logs.path())?.flatten() {
            // The third number of a line is how long it took, in microseconds.
            let log = fs::read_to_string(log.path())?;
            let took = log.lines().filter_map(|line| line.split(' ').nth(2)?.parse::<f64>().ok());
            times.extend(took.map(|microseconds| microseconds / 1000.0));
        }
        Ok((rate.parse()?, times))
    }
}
