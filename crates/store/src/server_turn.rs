//! Servers on one database take turns at what only one of them should do.

use crate::{Store, StoreError};
use sqlx::{Postgres, Transaction};

/// The turn of this server, until it is dropped.
#[derive(Debug)]
pub struct ServerTurn {
    _held: Transaction<'static, Postgres>,
}

impl Store {
    /// Takes the turn at something, by its name; none where another server has it.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn turn(&self, name: &str) -> Result<Option<ServerTurn>, StoreError> {
        let mut transaction = self.pool.begin().await?;
        // A transaction in which nothing happens is ended by a limit: this one waits for work that is done beside it.
        sqlx::query("SET LOCAL idle_in_transaction_session_timeout = 0").execute(&mut *transaction).await?;
        let mine = sqlx::query_scalar!(r#"SELECT pg_try_advisory_xact_lock(hashtext($1)) AS "mine!""#, name);
        let mine = mine.fetch_one(&mut *transaction).await?;
        Ok(mine.then_some(ServerTurn { _held: transaction }))
    }
}
