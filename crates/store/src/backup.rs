//! All of a shop in one file, by PostgreSQL's own tools, and back.

use crate::cluster::binaries;
use crate::{StoreError, private_file};
use sqlx::PgPool;
use std::io;
use std::path::Path;
use std::process::{Command, Stdio};
use url::Url;

/// Runs one of PostgreSQL's tools on a database. Its password goes by the environment, which nobody else reads: a command
/// line is shown to every account of the computer.
fn run(program: &str, url: &str, arguments: &[&str], output: Option<&Path>) -> io::Result<()> {
    let mut url =
        Url::parse(url).map_err(|error| io::Error::other(format!("the database's address: {error}")))?;
    let mut command = Command::new(binaries()?.join(program));
    if let Some(password) = url.password() {
        let plain = percent_encoding::percent_decode_str(password).decode_utf8_lossy().into_owned();
        command.env("PGPASSWORD", plain);
        url.set_password(None)
            .map_err(|()| io::Error::other("the database's address has a password and no host"))?;
    }
    command.arg("--dbname").arg(url.as_str()).args(arguments).stdin(Stdio::null());
    if let Some(file) = output {
        command.stdout(private_file::create(file)?);
    }
    let output = command.stderr(Stdio::piped()).output()?;
    if output.status.success() {
        return Ok(());
    }
    let says = String::from_utf8_lossy(&output.stderr).trim().to_owned();
    Err(io::Error::other(format!("{program}: {says}")))
}

fn about(file: &Path) -> impl Fn(io::Error) -> io::Error {
    move |error| io::Error::new(error.kind(), format!("{}: {error}", file.display()))
}

/// Writes all of a database to a file that is not there yet and that only its owner may read; what is recorded meanwhile is
/// not in it. It has its name once it is whole.
///
/// # Errors
/// Where the file is there already or cannot be written, or the database does not answer.
pub fn backup(url: &str, file: &Path) -> io::Result<()> {
    if file.exists() {
        return Err(about(file)(io::Error::new(io::ErrorKind::AlreadyExists, "it is there already")));
    }
    let part = private_file::beside(file);
    let arguments = ["--format=custom", "--no-owner", "--no-privileges"];
    let written = run("pg_dump", url, &arguments, Some(&part)).and_then(|()| private_file::put(&part, file));
    if written.is_err() {
        let _ = std::fs::remove_file(&part);
    }
    written.map_err(about(file))
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
    run("pg_restore", url, &["--single-transaction", "--exit-on-error", "--no-owner", &file], None)
}
