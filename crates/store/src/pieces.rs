//! Pieces of plans that the shop keeps to use again: fasteners, lubricants, joints, procedures.

use crate::{Store, StoreError};
use rigore_mechanics::text;
use time::OffsetDateTime;
use uuid::Uuid;

/// A piece.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PieceRow {
    /// Its id.
    pub id: Uuid,
    /// What it is, such as `joint` or `checklist`.
    pub kind: String,
    /// What it is called.
    pub name: String,
    /// Its text.
    pub body: String,
    /// Who kept it.
    pub by_name: String,
    /// When.
    pub at: OffsetDateTime,
}

impl Store {
    /// Every piece that is offered, by kind and name.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn pieces(&self) -> Result<Vec<PieceRow>, StoreError> {
        let rows = sqlx::query_as!(
            PieceRow,
            "SELECT id, kind, name, body, by_name, at FROM plan_pieces WHERE NOT retired ORDER BY kind, name, at"
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// Keeps a piece; the same id twice is one piece.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_piece(&self, piece: &PieceRow) -> Result<(), StoreError> {
        sqlx::query!(
            "INSERT INTO plan_pieces (id, kind, name, body, by_name, at) VALUES ($1, $2, $3, $4, $5, $6)
             ON CONFLICT DO NOTHING",
            piece.id,
            piece.kind,
            piece.name,
            piece.body,
            piece.by_name,
            piece.at
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// Offers a piece no more.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none.
    pub async fn retire_piece(&self, id: Uuid) -> Result<(), StoreError> {
        let retired = sqlx::query!("UPDATE plan_pieces SET retired = true WHERE id = $1", id);
        if retired.execute(&self.pool).await?.rows_affected() == 0 {
            return Err(StoreError::NotThere(text!("store-piece", id = id.to_string())));
        }
        Ok(())
    }
}
