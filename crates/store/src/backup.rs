//! All of a shop in one file, by PostgreSQL's own tools, and back.

use crate::cluster::binaries;
use crate::{Store, StoreError, private_file};
use rigore_mechanics::text;
use sqlx::PgPool;
use std::fs;
use std::io;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use time::OffsetDateTime;
use time::macros::format_description;
use url::Url;
use uuid::Uuid;

/// What the name of a backup that was made by itself begins and ends with; between them is its time.
const NAME: (&str, &str) = ("rigore-", ".backup");

/// Runs one of PostgreSQL's tools on a database. Its password goes by the environment, which nobody else reads: a command
/// line is shown to every account of the computer.
fn run(program: &str, url: &str, arguments: &[&str], output: Option<&Path>) -> io::Result<()> {
    let mut url = Url::parse(url)
        .map_err(|error| io::Error::other(text!("store-databases-address", error = error.to_string())))?;
    let mut command = Command::new(binaries()?.join(program));
    if let Some(password) = url.password() {
        let plain = percent_encoding::percent_decode_str(password).decode_utf8_lossy().into_owned();
        command.env("PGPASSWORD", plain);
        url.set_password(None)
            .map_err(|()| io::Error::other(text!("store-databases-address-has-password-no-host")))?;
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
        return Err(about(file)(io::Error::new(io::ErrorKind::AlreadyExists, text!("store-there-already"))));
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
        return Err(io::Error::other(text!("store-something-this-database-backup-goes-into")));
    }
    let file = file.to_string_lossy();
    run("pg_restore", url, &["--single-transaction", "--exit-on-error", "--no-owner", &file], None)?;
    // Until it is told how much there is, PostgreSQL looks things up in ways that suit little.
    let analyzed = async {
        let pool = PgPool::connect(url).await?;
        // Tables of the whole server that are not the role's own are skipped, each with a warning.
        sqlx::raw_sql("SET client_min_messages = error; ANALYZE").execute(&pool).await?;
        pool.close().await;
        Ok::<_, sqlx::Error>(())
    };
    analyzed.await.map_err(io::Error::other)
}

/// What a backup has in it, as restoring it has shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct BackupProof {
    /// Engines.
    pub builds: usize,
    /// Entries of their records.
    pub entries: u64,
}

/// Proves a backup: restores it into a database of its own, verifies every record in it, and throws that away.
///
/// # Errors
/// Where it cannot be restored, or a record in it is broken: which.
pub async fn prove(url: &str, file: &Path) -> io::Result<BackupProof> {
    let name = format!("rigore_proof_{}", Uuid::now_v7().simple());
    let server = PgPool::connect(url).await.map_err(io::Error::other)?;
    let create = sqlx::AssertSqlSafe(format!("CREATE DATABASE {name}"));
    sqlx::raw_sql(create).execute(&server).await.map_err(io::Error::other)?;
    let proven = async {
        let mut own = Url::parse(url).map_err(io::Error::other)?;
        own.set_path(&name);
        restore(own.as_str(), file).await?;
        let store = Store::connect(own.as_str(), 2).await.map_err(io::Error::other)?;
        let verified =
            async { Ok::<_, StoreError>((store.verify().await?, store.verify_files().await?)) }.await;
        store.close().await;
        let ((builds, entries, broken), files) = verified.map_err(io::Error::other)?;
        let faults: Vec<String> = broken.iter().map(ToString::to_string).chain(files).collect();
        if faults.is_empty() {
            Ok(BackupProof { builds, entries })
        } else {
            Err(io::Error::other(faults.join("; ")))
        }
    }
    .await;
    let drop = sqlx::AssertSqlSafe(format!("DROP DATABASE IF EXISTS {name} WITH (FORCE)"));
    if let Err(error) = sqlx::raw_sql(drop).execute(&server).await {
        tracing::warn!(%error, name, "what a backup was proven in is left");
    }
    server.close().await;
    proven.map_err(about(file))
}

/// The file of a backup that is made in a folder now.
pub fn dated_file(folder: &Path, now: OffsetDateTime) -> PathBuf {
    let time =
        now.format(format_description!("[year]-[month]-[day]T[hour][minute][second]")).unwrap_or_default();
    folder.join(format!("{}{time}{}", NAME.0, NAME.1))
}

/// Removes the oldest backups of a folder that were made by themselves, but for the last so many; gives how many.
///
/// # Errors
/// Where the folder cannot be read, or one cannot be removed.
pub fn keep_last(folder: &Path, count: usize) -> io::Result<usize> {
    let is_one = |path: &PathBuf| {
        let name = path.file_name().and_then(|name| name.to_str()).unwrap_or_default();
        let time = name.strip_prefix(NAME.0).and_then(|name| name.strip_suffix(NAME.1));
        time.is_some_and(|time| {
            time.len() == 17 && time.bytes().all(|c| c.is_ascii_digit() || b"-T".contains(&c))
        })
    };
    let entries = fs::read_dir(folder).map_err(about(folder))?.flatten().map(|entry| entry.path());
    let mut backups: Vec<PathBuf> = entries.filter(is_one).collect();
    // Their names are in the order of their times.
    backups.sort();
    let surplus = backups.len().saturating_sub(count);
    for old in &backups[..surplus] {
        fs::remove_file(old).map_err(about(old))?;
    }
    Ok(surplus)
}

/// A backup that was to be made by itself.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BackupRow {
    /// When.
    pub at: OffsetDateTime,
    /// Its file.
    pub file: String,
    /// How large it is.
    pub bytes: i64,
    /// How many entries it has.
    pub entries: i64,
    /// Why it was not made, or is not proven; none where it is.
    pub failed: Option<String>,
}

impl Store {
    /// Writes down a backup that was made, or was not.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn note_backup(&self, row: &BackupRow) -> Result<(), StoreError> {
        sqlx::query!(
            "INSERT INTO backups (at, file, bytes, entries, failed) VALUES ($1, $2, $3, $4, $5)",
            row.at,
            row.file,
            row.bytes,
            row.entries,
            row.failed
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// The last backup that was to be made, and the last that is proven.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn backups(&self) -> Result<(Option<BackupRow>, Option<BackupRow>), StoreError> {
        let last = sqlx::query_as!(
            BackupRow,
            "SELECT at, file, bytes, entries, failed FROM backups ORDER BY at DESC LIMIT 1"
        );
        let proven = sqlx::query_as!(
            BackupRow,
            "SELECT at, file, bytes, entries, failed FROM backups WHERE failed IS NULL ORDER BY at DESC LIMIT 1"
        );
        Ok((last.fetch_optional(&self.pool).await?, proven.fetch_optional(&self.pool).await?))
    }
}

#[cfg(test)]
mod tests {
    use super::{dated_file, keep_last};
    use std::fs;
    use time::macros::datetime;

    #[test]
    fn the_last_backups_are_kept_and_nothing_else_is_touched() {
        let folder = tempfile::tempdir().expect("a folder");
        for hour in [1, 3, 2, 5, 4] {
            let at = datetime!(2026-11-30 00:30 UTC).replace_hour(hour).expect("an hour");
            fs::write(dated_file(folder.path(), at), "x").expect("written");
        }
        for other in ["rigore-by-hand.backup", "rigore-2026.backup", "notes.txt"] {
            fs::write(folder.path().join(other), "x").expect("written");
        }
        assert_eq!(keep_last(folder.path(), 2).expect("removed"), 3);
        let mut left: Vec<String> = fs::read_dir(folder.path())
            .expect("a folder")
            .map(|entry| entry.expect("one").file_name().into_string().expect("text"))
            .collect();
        left.sort();
        let last = ["rigore-2026-11-30T043000.backup", "rigore-2026-11-30T053000.backup"];
        let kept = ["notes.txt", last[0], last[1], "rigore-2026.backup", "rigore-by-hand.backup"];
        assert_eq!(left, kept);
        assert!(keep_last(&folder.path().join("nothing"), 2).is_err());
    }
}
