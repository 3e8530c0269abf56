//! Drafts of plans: what somebody is writing, saved while it is typed. A draft is no version until it is kept as one.

use crate::{Store, StoreError};
use rigore_mechanics::text;
use time::OffsetDateTime;
use uuid::Uuid;

/// A draft.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct DraftRow {
    /// Its id.
    pub id: Uuid,
    /// Hash of the version that it was begun from, where it was from one.
    pub base: Option<String>,
    /// What the plan is called in it, as far as that could be read.
    pub name: String,
    /// Its text.
    pub source: String,
    /// How often it was saved.
    pub revision: i32,
    /// Who saved it last.
    pub by_name: String,
    /// When.
    pub at: OffsetDateTime,
    /// What became of it, once it is no draft any more: kept, or put away.
    pub ended: Option<String>,
}

impl Store {
    /// Begins a draft. The same id twice is one draft.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn begin_draft(
        &self,
        id: Uuid,
        base: Option<&str>,
        (name, source): (&str, &str),
        by: &str,
    ) -> Result<DraftRow, StoreError> {
        sqlx::query!(
            "INSERT INTO plan_drafts (id, base, name, source, revision, by_name, at)
             VALUES ($1, $2, $3, $4, 1, $5, now()) ON CONFLICT DO NOTHING",
            id,
            base,
            name,
            source,
            by
        )
        .execute(&self.pool)
        .await?;
        self.draft(id).await
    }

    /// A draft as it was saved last.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none.
    pub async fn draft(&self, id: Uuid) -> Result<DraftRow, StoreError> {
        let row = sqlx::query_as!(
            DraftRow,
            "SELECT id, base, name, source, revision, by_name, at, ended FROM plan_drafts WHERE id = $1",
            id
        );
        let found = row.fetch_optional(&self.pool).await?;
        found.ok_or_else(|| StoreError::NotThere(text!("store-draft", id = id.to_string())))
    }

    /// Every draft that is one still, the one that was saved last first; without its text.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn drafts(&self) -> Result<Vec<DraftRow>, StoreError> {
        let rows = sqlx::query_as!(
            DraftRow,
            r#"SELECT id, base, name, '' AS "source!", revision, by_name, at, ended FROM plan_drafts
             WHERE ended IS NULL ORDER BY at DESC"#
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// Saves a draft; false where somebody else saved it since it was seen, and nothing is changed then.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn save_draft(
        &self,
        id: Uuid,
        seen: i32,
        (name, source): (&str, &str),
        by: &str,
    ) -> Result<bool, StoreError> {
        let saved = sqlx::query!(
            "UPDATE plan_drafts SET name = $3, source = $4, by_name = $5, revision = revision + 1, at = now(), ended = NULL
             WHERE id = $1 AND revision = $2",
            id,
            seen,
            name,
            source,
            by
        );
        Ok(saved.execute(&self.pool).await?.rows_affected() > 0)
    }

    /// Ends a draft: it was kept as a version, or is put away. Its text stays.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn end_draft(&self, id: Uuid, how: &str) -> Result<(), StoreError> {
        sqlx::query!("UPDATE plan_drafts SET ended = $2 WHERE id = $1", id, how).execute(&self.pool).await?;
        Ok(())
    }
}
