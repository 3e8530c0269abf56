//! What is read from outside, by a secret address: sheets by a link that a lead made, and the calendar of the shop. Of
//! an address only the hash is kept.

use crate::people::note;
use crate::{Store, StoreError, TokenHash};
use rigore_assembly::{Person, Refusal};
use rigore_mechanics::text;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// A link to a sheet.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShareRow {
    /// Its id.
    pub id: Uuid,
    /// The engine.
    pub build_id: Uuid,
    /// What the engine is called.
    pub engine: String,
    /// Who made it.
    pub by_name: String,
    /// Whether they are of the shop still.
    pub by_active: bool,
    /// When.
    pub made_at: OffsetDateTime,
    /// Until when it is good.
    pub ends: OffsetDateTime,
}

/// The address of the calendar, without its secret.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct FeedRow {
    /// Who made it.
    pub by_name: String,
    /// Whether they are of the shop still.
    pub by_active: bool,
    /// When.
    pub made_at: OffsetDateTime,
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
        token: &TokenHash,
        lasts: Duration,
    ) -> Result<ShareRow, StoreError> {
        if self.is_dry_run(build).await {
            return Err(Refusal::field("build", text!("store-dry-run-has-no-sheet-to-share")).into());
        }
        let engine = self.read(build, |state| state.begun.name.clone()).await?;
        let (id, ends) = (Uuid::now_v7(), OffsetDateTime::now_utc() + lasts);
        let mut transaction = self.pool.begin().await?;
        let made_at = sqlx::query_scalar!(
            "INSERT INTO shares (id, token, build_id, by_name, by_id, ends) VALUES ($1, $2, $3, $4, $5, $6)
             RETURNING made_at",
            id,
            hex::encode(token),
            build,
            by.name,
            by.id,
            ends
        );
        let made_at = made_at.fetch_one(&mut *transaction).await?;
        note(
            &mut transaction,
            by,
            &format!("made a link to the sheet of {engine}, good until {}", ends.date()),
        )
        .await?;
        transaction.commit().await?;
        let by_name = by.name.clone();
        Ok(ShareRow { id, build_id: build, engine, by_name, by_active: true, made_at, ends })
    }

    /// The links to sheets that are good now: to that of one build, or of all.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn shares(&self, build: Option<Uuid>) -> Result<Vec<ShareRow>, StoreError> {
        let rows = sqlx::query_as!(
            ShareRow,
            r#"SELECT shares.id, build_id, coalesce(builds.summary ->> 'name', '') AS "engine!", by_name,
                   coalesce(people.active, false) AS "by_active!", made_at, ends
               FROM shares LEFT JOIN people ON people.id = by_id LEFT JOIN builds ON builds.id = build_id
               WHERE NOT retired AND ends > now() AND ($1::uuid IS NULL OR build_id = $1) ORDER BY made_at DESC"#,
            build
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// The engine that a link leads to, and until when, where it is good now.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] where there is none, it has ended, or it was taken back.
    pub async fn shared(&self, token: &TokenHash) -> Result<(Uuid, OffsetDateTime), StoreError> {
        let row = sqlx::query!(
            "SELECT build_id, ends FROM shares WHERE token = $1 AND NOT retired AND ends > now()",
            hex::encode(token)
        );
        let found = row.fetch_optional(&self.pool).await?.map(|row| (row.build_id, row.ends));
        found.ok_or_else(|| StoreError::NotThere(text!("store-such-link-or-has-ended-or").to_owned()))
    }

    /// Takes a link back.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none.
    pub async fn end_share(&self, by: &Person, id: Uuid) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        let end = sqlx::query!("UPDATE shares SET retired = true WHERE id = $1 AND NOT retired", id);
        if end.execute(&mut *transaction).await?.rows_affected() == 0 {
            return Err(StoreError::NotThere(text!("store-link", id = id.to_string())));
        }
        note(&mut transaction, by, "removed a link to a build sheet").await?;
        Ok(transaction.commit().await?)
    }

    /// The address at which the calendar of the shop can be read, where it has one.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn feed(&self) -> Result<Option<FeedRow>, StoreError> {
        let row = sqlx::query_as!(
            FeedRow,
            r#"SELECT by_name, coalesce(people.active, false) AS "by_active!", made_at
               FROM feeds LEFT JOIN people ON people.id = by_id ORDER BY made_at DESC LIMIT 1"#
        );
        Ok(row.fetch_optional(&self.pool).await?)
    }

    /// Whether the calendar of the shop is read by this secret.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn is_feed(&self, token: &TokenHash) -> Result<bool, StoreError> {
        let found = sqlx::query_scalar!("SELECT by_name FROM feeds WHERE token = $1", hex::encode(token));
        Ok(found.fetch_optional(&self.pool).await?.is_some())
    }

    /// Gives the calendar an address in place of the one it had, or none.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_feed(&self, by: &Person, token: Option<&TokenHash>) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        sqlx::query!("DELETE FROM feeds").execute(&mut *transaction).await?;
        if let Some(token) = token {
            sqlx::query!(
                "INSERT INTO feeds (token, by_name, by_id) VALUES ($1, $2, $3)",
                hex::encode(token),
                by.name,
                by.id
            )
            .execute(&mut *transaction)
            .await?;
        }
        let what = if token.is_some() { "made a calendar link" } else { "removed the calendar link" };
        note(&mut transaction, by, what).await?;
        Ok(transaction.commit().await?)
    }

    /// The hash of an entry, in hexadecimal digits.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such entry.
    pub async fn hash_of(&self, build: Uuid, seq: u64) -> Result<String, StoreError> {
        // Of a dry run nothing is recorded, and nothing proves it.
        if self.is_dry_run(build).await {
            return Ok(String::new());
        }
        let hash = sqlx::query_scalar!(
            "SELECT hash FROM events WHERE build_id = $1 AND seq = $2",
            build,
            seq.cast_signed()
        );
        let hash = hash.fetch_optional(&self.pool).await?;
        hash.map(hex::encode)
            .ok_or_else(|| StoreError::NotThere(text!("store-entry-build", seq, build = build.to_string())))
    }
}
