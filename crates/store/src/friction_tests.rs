//! Bolts in the vice: friction tests without an engine (C-64).

use crate::{Store, StoreError};
use rigore_assembly::Person;
use rigore_assembly::friction_test::FrictionTest;
use time::OffsetDateTime;
use uuid::Uuid;

/// A friction test of the shop.
#[derive(Debug, Clone, PartialEq)]
pub struct FrictionTestRow {
    /// Its id.
    pub id: Uuid,
    /// The test.
    pub test: FrictionTest,
    /// Who made it.
    pub by_name: String,
    /// When it was recorded.
    pub at: OffsetDateTime,
    /// Who voided it, when and why, where it was.
    pub voided: Option<(String, OffsetDateTime, String)>,
}

impl Store {
    /// Every friction test of the shop, the latest first; voided ones too.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn friction_tests(&self) -> Result<Vec<FrictionTestRow>, StoreError> {
        let rows = sqlx::query!(
            r#"SELECT id, body, tests.by_name, tests.at, voids.by_name AS "voided_by?", voids.at AS "voided_at?",
                 reason AS "reason?"
             FROM friction_tests AS tests LEFT JOIN friction_test_voids AS voids ON voids.test_id = tests.id
             ORDER BY tests.at DESC, id"#
        )
        .fetch_all(&self.pool)
        .await?;
        let read = |body| serde_json::from_value(body).map_err(StoreError::unreadable);
        rows.into_iter()
            .map(|row| {
                Ok(FrictionTestRow {
                    id: row.id,
                    test: read(row.body)?,
                    by_name: row.by_name,
                    at: row.at,
                    voided: match (row.voided_by, row.voided_at, row.reason) {
                        (Some(by), Some(at), Some(reason)) => Some((by, at, reason)),
                        _ => None,
                    },
                })
            })
            .collect()
    }

    /// Records a friction test. The same id again changes nothing; false where another test has it.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn add_friction_test(
        &self,
        id: Uuid,
        test: &FrictionTest,
        by: &Person,
        at: OffsetDateTime,
    ) -> Result<bool, StoreError> {
        let body = serde_json::to_value(test).map_err(StoreError::unreadable)?;
        let same = sqlx::query_scalar!(
            r#"WITH added AS (
                 INSERT INTO friction_tests (id, body, by_id, by_name, at) VALUES ($1, $2, $3, $4, $5)
                 ON CONFLICT DO NOTHING RETURNING id
             )
             SELECT EXISTS (SELECT FROM added)
                 OR EXISTS (SELECT FROM friction_tests WHERE id = $1 AND body = $2) AS "same!""#,
            id,
            body,
            by.id,
            by.name,
            at
        )
        .fetch_one(&self.pool)
        .await?;
        Ok(same)
    }

    /// Voids a friction test; false where there is none with that id. One that is voided already stays as it is.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn void_friction_test(
        &self,
        id: Uuid,
        reason: &str,
        by: &Person,
        at: OffsetDateTime,
    ) -> Result<bool, StoreError> {
        let found = sqlx::query_scalar!(
            r#"WITH voided AS (
                 INSERT INTO friction_test_voids (test_id, reason, by_id, by_name, at)
                 SELECT id, $2, $3, $4, $5 FROM friction_tests WHERE id = $1
                 ON CONFLICT DO NOTHING
             )
             SELECT EXISTS (SELECT FROM friction_tests WHERE id = $1) AS "found!""#,
            id,
            reason,
            by.id,
            by.name,
            at
        )
        .fetch_one(&self.pool)
        .await?;
        Ok(found)
    }
}
