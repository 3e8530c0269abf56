//! Sheets that are read from outside, by a link that a lead made.

use crate::people::note;
use crate::{Store, StoreError};
use rigore_core::engine::Person;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// A link to a sheet.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShareRow {
    /// Its id.
    pub id: Uuid,
    /// What the link ends in.
    pub token: String,
    /// The engine.
    pub build_id: Uuid,
    /// Who made it.
    pub by_name: String,
    /// When.
    pub made_at: OffsetDateTime,
    /// Until when it is good.
    pub ends: OffsetDateTime,
}

impl Store {
    /// Makes a link to the sheet of a build.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build.
    pub async fn share(
        &self,
        by: &Person,
        build: Uuid,
        token: &str,
        lasts: Duration,
    ) -> Result<ShareRow, StoreError> {
        let name = self.read(build, |state| state.begun.name.clone()).await?;
        let ends = OffsetDateTime::now_utc() + lasts;
        let mut transaction = self.pool.begin().await?;
        let row = sqlx::query_as!(
            ShareRow,
            "INSERT INTO shares (id, token, build_id, by_name, ends) VALUES ($1, $2, $3, $4, $5)
             RETURNING id, token, build_id, by_name, made_at, ends",
            Uuid::now_v7(),
            token,
            build,
            by.name,
            ends
        );
        let row = row.fetch_one(&mut *transaction).await?;
        note(
            &mut transaction,
            by,
            &format!("made a link to the sheet of {name}, good until {}", ends.date()),
        )
        .await?;
        transaction.commit().await?;
        Ok(row)
    }

    /// The links to the sheet of a build that are good now.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn shares(&self, build: Uuid) -> Result<Vec<ShareRow>, StoreError> {
        let rows = sqlx::query_as!(
            ShareRow,
            "SELECT id, token, build_id, by_name, made_at, ends FROM shares
             WHERE build_id = $1 AND NOT retired AND ends > now() ORDER BY made_at DESC",
            build
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// The link of a token, where it is good now.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] where there is none, it has ended, or it was taken back.
    pub async fn shared(&self, token: &str) -> Result<ShareRow, StoreError> {
        let row = sqlx::query_as!(
            ShareRow,
            "SELECT id, token, build_id, by_name, made_at, ends FROM shares
             WHERE token = $1 AND NOT retired AND ends > now()",
            token
        );
        let found = row.fetch_optional(&self.pool).await?;
        found.ok_or_else(|| StoreError::NotThere("such link, or it has ended or was taken back".to_owned()))
    }

    /// Takes a link back.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none.
    pub async fn end_share(&self, by: &Person, id: Uuid) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        let end = sqlx::query!("UPDATE shares SET retired = true WHERE id = $1 AND NOT retired", id);
        if end.execute(&mut *transaction).await?.rows_affected() == 0 {
            return Err(StoreError::NotThere(format!("link {id}")));
        }
        note(&mut transaction, by, "took a link to a sheet back").await?;
        Ok(transaction.commit().await?)
    }

    /// The hash of an entry, in hexadecimal digits.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such entry.
    pub async fn hash_of(&self, build: Uuid, seq: u64) -> Result<String, StoreError> {
        let hash = sqlx::query_scalar!(
            "SELECT hash FROM events WHERE build_id = $1 AND seq = $2",
            build,
            seq.cast_signed()
        );
        let hash = hash.fetch_optional(&self.pool).await?;
        hash.map(hex::encode).ok_or_else(|| StoreError::NotThere(format!("entry {seq} of build {build}")))
    }
}
