//! What can go wrong with the store.

use rigore_core::engine::Refusal;
use thiserror::Error;

/// What can go wrong with the store.
#[derive(Debug, Error)]
pub enum StoreError {
    /// The core refused the command; nothing was recorded.
    #[error(transparent)]
    Refused(#[from] Refusal),
    /// There is no such build or plan.
    #[error("there is no {0}")]
    NotThere(String),
    /// What is stored cannot be read.
    #[error("the record cannot be read: {0}")]
    Unreadable(String),
    /// PostgreSQL does not answer. What was acknowledged is safe; the command may be sent again.
    #[error("the database does not answer: {0}")]
    Unavailable(#[source] sqlx::Error),
    /// PostgreSQL answered with an error.
    #[error("the database refused: {0}")]
    Database(#[source] sqlx::Error),
}

impl StoreError {
    /// The same once more, for another that waited for the same.
    pub(crate) fn again(&self) -> Self {
        let text = self.to_string();
        match self {
            Self::Unavailable(_) => Self::Unavailable(sqlx::Error::Protocol(text)),
            Self::Refused(refusal) => Self::Refused(refusal.clone()),
            Self::NotThere(what) => Self::NotThere(what.clone()),
            Self::Unreadable(_) | Self::Database(_) => Self::Unreadable(text),
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
            // Class 57: shutting down, crashed, not up yet. Class 08: connection lost.
            sqlx::Error::Database(error) => {
                error.code().is_some_and(|code| code.starts_with("57P") || code.starts_with("08"))
            }
            _ => false,
        };
        if away { Self::Unavailable(error) } else { Self::Database(error) }
    }
}

impl From<sqlx::migrate::MigrateError> for StoreError {
    fn from(error: sqlx::migrate::MigrateError) -> Self {
        Self::Unreadable(match error {
            sqlx::migrate::MigrateError::VersionMissing(step) => format!(
                "this database was brought up to date by a newer Rigore (its step {step} is not known here): run \
                 that one, or restore a backup that was made before"
            ),
            error => error.to_string(),
        })
    }
}
