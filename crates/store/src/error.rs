//! What can go wrong with the store.

use crate::broken::BrokenRecord;
use rigore_assembly::Refusal;
use rigore_mechanics::text;
use std::sync::Arc;
use thiserror::Error;

/// What can go wrong with the store.
#[derive(Debug, Error)]
pub enum StoreError {
    /// The core refused the command; nothing was recorded.
    #[error(transparent)]
    Refused(#[from] Refusal),
    /// There is no such build or plan.
    #[error("{}", text!("store-there-no", text = .0))]
    NotThere(String),
    /// What is stored is not what was recorded, or cannot be gone on from.
    #[error("{0}")]
    Broken(BrokenRecord),
    /// A plan text or a picture is not the one that was kept: it does not match the hash that it is known by.
    #[error("{}", text!("store-was-changed-database-after-was-kept", text = .0))]
    ChangedFile(String),
    /// What is stored was recorded by a newer Rigore than this.
    #[error("{}", text!("store-was-recorded-by-newer-rigore-than", text = .0))]
    Newer(String),
    /// What is stored cannot be read.
    #[error("{}", text!("store-record-cannot-read", text = .0))]
    Unreadable(String),
    /// PostgreSQL does not answer. What was acknowledged is safe; the command may be sent again.
    #[error("{}", text!("store-database-does-not-answer", text = .0.to_string()))]
    Unavailable(#[source] Arc<sqlx::Error>),
    /// PostgreSQL answered with an error.
    #[error("{}", text!("store-database-refused", text = .0.to_string()))]
    Database(#[source] sqlx::Error),
}

impl StoreError {
    /// The database does not answer, for a reason that PostgreSQL did not give.
    pub(crate) fn unavailable(error: sqlx::Error) -> Self {
        Self::Unavailable(Arc::new(error))
    }

    /// What is stored is not as it has to be to be read, or to be written.
    pub(crate) fn unreadable(error: impl std::fmt::Display) -> Self {
        Self::Unreadable(error.to_string())
    }

    /// The same once more, for another that waited for the same.
    pub(crate) fn again(&self) -> Self {
        let text = self.to_string();
        match self {
            Self::Unavailable(error) => Self::Unavailable(Arc::clone(error)),
            Self::Refused(refusal) => Self::Refused(refusal.clone()),
            Self::NotThere(what) => Self::NotThere(what.clone()),
            Self::Broken(broken) => Self::Broken(broken.clone()),
            Self::ChangedFile(what) => Self::ChangedFile(what.clone()),
            Self::Newer(what) => Self::Newer(what.clone()),
            Self::Unreadable(_) | Self::Database(_) => Self::Unreadable(text),
        }
    }
}

/// Whether an error of PostgreSQL is of a kind that goes by, so that the same may be asked again.
fn is_transient(code: &str) -> bool {
    // Class 08: connection lost. 57: shutting down, crashed, not up yet, ended by a limit. 53: no room, memory or
    // connection left. 55P03: a lock was not had in time. 25P03: a transaction in which nothing happened. 25006: nothing
    // may be written. 40: two that waited for each other.
    ["08", "57", "53", "40"].iter().any(|class| code.starts_with(class))
        || ["55P03", "25P03", "25006"].contains(&code)
}

/// Whether a row was held by somebody else for too long.
pub(crate) fn is_locked(error: &StoreError) -> bool {
    error.code().is_some_and(|code| code == "55P03")
}

impl StoreError {
    /// What PostgreSQL calls it, where the database cannot be used now and it said why.
    fn code(&self) -> Option<std::borrow::Cow<'_, str>> {
        let Self::Unavailable(error) = self else { return None };
        error.as_database_error()?.code()
    }

    /// Why the database cannot be used now, in words, where it is known.
    pub fn reason(&self) -> Option<String> {
        match self.code()?.as_ref() {
            "53100" => Some(text!("store-disk-database-full")),
            "53200" => Some(text!("store-database-has-no-memory-left")),
            "53300" => Some(text!("store-database-has-no-connection-left")),
            "25006" => Some(text!("store-database-read-only-now")),
            "55P03" => Some(text!("store-something-holds-this-engine-database")),
            _ => None,
        }
    }
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        let away = match &error {
            sqlx::Error::Io(_)
            | sqlx::Error::PoolTimedOut
            | sqlx::Error::PoolClosed
            | sqlx::Error::WorkerCrashed
            | sqlx::Error::Protocol(_)
            | sqlx::Error::Tls(_) => true,
            sqlx::Error::Database(error) => error.code().is_some_and(|code| is_transient(&code)),
            _ => false,
        };
        if away { Self::unavailable(error) } else { Self::Database(error) }
    }
}

impl From<sqlx::migrate::MigrateError> for StoreError {
    fn from(error: sqlx::migrate::MigrateError) -> Self {
        Self::Unreadable(match error {
            sqlx::migrate::MigrateError::VersionMissing(step) => {
                text!("store-this-database-was-brought-up-date", step)
            }
            error => error.to_string(),
        })
    }
}
