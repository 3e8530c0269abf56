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
    /// Whether there is a change to undo.
    pub can_undo: bool,
    /// Whether there is one to redo.
    pub can_redo: bool,
}

/// A text to save in a draft.
#[derive(Debug, Clone, Copy)]
pub struct SavedText<'a> {
    /// The revision that whoever saves it had seen.
    pub seen: i32,
    /// What the plan is called in it.
    pub name: &'a str,
    /// The text.
    pub source: &'a str,
    /// Whether it is saved while it is typed: what one person types without a pause is one change.
    pub typed: bool,
    /// Who saves it.
    pub by: &'a str,
}

/// How a saved text goes on from the one before.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DraftStep {
    /// To the text before.
    Undo,
    /// To the text that was undone.
    Redo,
}

/// Texts of a draft that are kept to go back to.
const KEPT: i32 = 200;

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
            "WITH begun AS (
                 INSERT INTO plan_drafts (id, base, name, source, revision, by_name, at)
                 VALUES ($1, $2, $3, $4, 1, $5, now()) ON CONFLICT DO NOTHING RETURNING id, name, source, by_name, at
             )
             INSERT INTO plan_draft_texts (draft, number, name, source, typed, by_name, at)
             SELECT id, 1, name, source, false, by_name, at FROM begun",
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
            r#"SELECT id, base, name, source, revision, by_name, at, ended,
                 EXISTS (SELECT FROM plan_draft_texts t WHERE t.draft = d.id AND t.number = d.number - 1) AS "can_undo!",
                 EXISTS (SELECT FROM plan_draft_texts t WHERE t.draft = d.id AND t.number = d.number + 1) AS "can_redo!"
             FROM plan_drafts d WHERE id = $1"#,
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
            r#"SELECT id, base, name, '' AS "source!", revision, by_name, at, ended, false AS "can_undo!",
                 false AS "can_redo!" FROM plan_drafts
             WHERE ended IS NULL ORDER BY at DESC"#
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// Saves a draft; false where somebody else saved it since it was seen, and nothing is changed then.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn save_draft(&self, id: Uuid, text: SavedText<'_>) -> Result<bool, StoreError> {
        let SavedText { seen, name, source, typed, by } = text;
        let mut change = self.pool.begin().await?;
        let saved = sqlx::query!(
            "UPDATE plan_drafts SET name = $3, source = $4, by_name = $5, revision = revision + 1, at = now(), ended = NULL
             WHERE id = $1 AND revision = $2 RETURNING number",
            id,
            seen,
            name,
            source,
            by
        );
        let Some(saved) = saved.fetch_optional(&mut *change).await? else { return Ok(false) };
        let before = sqlx::query!(
            r#"SELECT source = $3 AS "same!",
                 typed AND $4 AND by_name = $5 AND at > now() - interval '3 seconds' AS "goes_on!"
             FROM plan_draft_texts WHERE draft = $1 AND number = $2"#,
            id,
            saved.number,
            source,
            typed,
            by
        );
        let before = before.fetch_optional(&mut *change).await?;
        if before.as_ref().is_some_and(|before| before.same) {
            // What says the same is no change.
            change.commit().await?;
            return Ok(true);
        }
        // What is typed without a pause is one change, and what was undone before it is gone.
        let number = saved.number + i32::from(!before.is_some_and(|before| before.goes_on));
        sqlx::query!(
            "DELETE FROM plan_draft_texts WHERE draft = $1 AND (number >= $2 OR number <= $3)",
            id,
            number,
            number - KEPT
        )
        .execute(&mut *change)
        .await?;
        sqlx::query!(
            "INSERT INTO plan_draft_texts (draft, number, name, source, typed, by_name, at)
             VALUES ($1, $2, $3, $4, $5, $6, now())",
            id,
            number,
            name,
            source,
            typed,
            by
        )
        .execute(&mut *change)
        .await?;
        sqlx::query!("UPDATE plan_drafts SET number = $2 WHERE id = $1", id, number)
            .execute(&mut *change)
            .await?;
        change.commit().await?;
        Ok(true)
    }

    /// Brings back the text before, or the one that was undone; false where there is none, or where somebody else
    /// saved it since it was seen, and nothing is changed then.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn step_draft(
        &self,
        id: Uuid,
        seen: i32,
        step: DraftStep,
        by: &str,
    ) -> Result<bool, StoreError> {
        let by_one = match step {
            DraftStep::Undo => -1,
            DraftStep::Redo => 1,
        };
        let stepped = sqlx::query!(
            "UPDATE plan_drafts d SET name = t.name, source = t.source, number = t.number, by_name = $4,
                 revision = d.revision + 1, at = now(), ended = NULL
             FROM plan_draft_texts t
             WHERE d.id = $1 AND d.revision = $2 AND t.draft = d.id AND t.number = d.number + $3",
            id,
            seen,
            by_one,
            by
        );
        Ok(stepped.execute(&self.pool).await?.rows_affected() > 0)
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
