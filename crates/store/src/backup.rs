//! All of a shop in one file, by PostgreSQL's own tools, and back.

use crate::StoreError;
use crate::cluster::binaries;
use sqlx::PgPool;
use std::io;
use std::path::Path;
use std::process::{Command, Stdio};

fn run(program: &str, arguments: &[&str], output: Option<&Path>) -> io::Result<()> {
    let mut command = Command::new(binaries()?.join(program));
    command.args(arguments).stdin(Stdio::null());
    if let Some(file) = output {
        command.stdout(std::fs::File::create_new(file)?);
    }
    let output = command.stderr(Stdio::piped()).output()?;
    if output.status.success() {
        return Ok(());
    }
    let says = String::from_utf8_lossy(&output.stderr).trim().to_owned();
    Err(io::Error::other(format!("{program}: {says}")))
}

/// Writes all of a database to a file that is not there yet; what is recorded meanwhile is not in it.
///
/// # Errors
/// Where the file is there already, or the database does not answer.
pub fn backup(url: &str, file: &Path) -> io::Result<()> {
    run("pg_dump", &["--format=custom", "--no-owner", "--no-privileges", "--dbname", url], Some(file))
}

/// Reads such a file into a database that has nothing in it.
///
/// # Errors
/// Where something is in the database, or the file is none.
pub async fn restore(url: &str, file: &Path) -> io::Result<()> {
    let filled = async {
        let pool = PgPool::connect(url).await?;
        let tables = "SELECT count(*) FROM pg_tables WHERE schemaname = 'public'";
        let count: i64 = sqlx::query_scalar(tables).fetch_one(&pool).await?;
        pool.close().await;
        Ok::<_, StoreError>(count > 0)
    };
    if filled.await.map_err(io::Error::other)? {
        return Err(io::Error::other("something is in this database; a backup goes into an empty one"));
    }
    let file = file.to_string_lossy();
    run(
        "pg_restore",
        &["--single-transaction", "--exit-on-error", "--no-owner", "--dbname", url, &file],
        None,
    )
}
