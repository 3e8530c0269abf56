//! Engine plans by the hash of their text: a build keeps the version it was started on.

use crate::{Store, StoreError};
use rigore_mechanics::text;
use rigore_plan::Plan;
use sha2::{Digest, Sha256};
use sqlx::PgConnection;
use std::sync::Arc;
use time::OffsetDateTime;

/// A version of a plan that is kept.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlanRow {
    /// Hash of its text.
    pub hash: String,
    /// Key of the plan.
    pub id: String,
    /// Name of the engine.
    pub name: String,
    /// Which version it is, from 1.
    pub number: i32,
    /// Who kept it; empty where it came with the program.
    pub by_name: String,
    /// A word about why.
    pub why: String,
    /// How many warnings it gave when it was kept.
    pub warnings: i32,
    /// When.
    pub at: OffsetDateTime,
}

/// A version of a plan to be kept.
#[derive(Debug, Clone, Copy)]
pub struct NewVersion<'a> {
    /// Its text.
    pub source: &'a str,
    /// The plan it was read to.
    pub plan: &'a Plan,
    /// Who keeps it.
    pub by: &'a str,
    /// A word about why.
    pub why: &'a str,
    /// How many warnings it gives.
    pub warnings: usize,
}

/// The hash a plan's text is known by.
pub fn plan_hash(source: &str) -> String {
    hex::encode(Sha256::digest(source.as_bytes()))
}

/// Puts the text of a plan where texts are kept; whoever keeps another version of the same plan waits until this is
/// done. Gives its hash.
pub(crate) async fn put(on: &mut PgConnection, plan: &Plan, source: &str) -> Result<String, sqlx::Error> {
    let hash = plan_hash(source);
    sqlx::query!(
        "INSERT INTO plans (hash, id, name, source) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING",
        hash,
        plan.id,
        plan.name,
        source
    )
    .execute(&mut *on)
    .await?;
    sqlx::query!("SELECT pg_advisory_xact_lock(hashtextextended($1, 7))", plan.id).execute(on).await?;
    Ok(hash)
}

/// Puts a version that came in with an engine of another shop. It is listed, and never the newest of a plan that is
/// known here: no engine of this shop is to go on by it unasked.
pub(crate) async fn put_foreign(
    on: &mut PgConnection,
    plan: &Plan,
    source: &str,
    why: &str,
) -> Result<(), sqlx::Error> {
    let hash = put(&mut *on, plan, source).await?;
    sqlx::query!(
        "INSERT INTO plan_versions (plan_id, number, hash, by_name, why, warnings, at)
         SELECT $1, coalesce(min(number) - 1, 1), $2, '', $3, 0, now() FROM plan_versions WHERE plan_id = $1
         HAVING NOT coalesce(bool_or(hash = $2), false)",
        plan.id,
        hash,
        why
    )
    .execute(on)
    .await?;
    Ok(())
}

impl Store {
    /// Keeps a plan that was read from this text; the same text twice is one plan.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn add_plan(&self, source: &str, plan: &Plan) -> Result<PlanRow, StoreError> {
        self.keep_version(NewVersion { source, plan, by: "", why: "", warnings: 0 }).await
    }

    /// Keeps the next version of a plan; where its last version has this very text, that is it.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_version(&self, version: NewVersion<'_>) -> Result<PlanRow, StoreError> {
        let NewVersion { source, plan, by, why, warnings } = version;
        let mut transaction = self.pool.begin().await?;
        let hash = put(&mut transaction, plan, source).await?;
        sqlx::query!(
            "INSERT INTO plan_versions (plan_id, number, hash, by_name, why, warnings, at)
             SELECT $1, 1 + coalesce(max(number), 0), $2, $3, $4, $5, now() FROM plan_versions WHERE plan_id = $1
             HAVING coalesce((array_agg(hash ORDER BY number DESC))[1], '') <> $2",
            plan.id,
            hash,
            by,
            why,
            i32::try_from(warnings).unwrap_or(i32::MAX)
        )
        .execute(&mut *transaction)
        .await?;
        transaction.commit().await?;
        let mut versions = self.plan_versions(&plan.id).await?;
        versions.retain(|version| version.hash == hash);
        versions.into_iter().next().ok_or_else(|| StoreError::NotThere(text!("store-plan", hash)))
    }

    /// The last version of every plan, by name.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn plans(&self) -> Result<Vec<PlanRow>, StoreError> {
        let rows = sqlx::query_as!(
            PlanRow,
            "SELECT DISTINCT ON (plan_id) plans.hash, plan_id AS id, name, number, by_name, why, warnings, at
             FROM plan_versions JOIN plans USING (hash) ORDER BY plan_id, number DESC"
        );
        let mut rows = rows.fetch_all(&self.pool).await?;
        rows.sort_by_key(|row| row.name.to_lowercase());
        Ok(rows)
    }

    /// Every version of a plan, the last one first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn plan_versions(&self, id: &str) -> Result<Vec<PlanRow>, StoreError> {
        let rows = sqlx::query_as!(
            PlanRow,
            "SELECT plans.hash, plan_id AS id, name, number, by_name, why, warnings, at
             FROM plan_versions JOIN plans USING (hash) WHERE plan_id = $1 ORDER BY number DESC",
            id
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// How many engines go by each version, finished or not, by its hash.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn engines_by_plan(&self) -> Result<Vec<(String, usize)>, StoreError> {
        let rows = sqlx::query!(r#"SELECT plan_hash, count(*) AS "engines!" FROM builds GROUP BY plan_hash"#);
        let rows = rows.fetch_all(&self.pool).await?;
        Ok(rows
            .into_iter()
            .map(|row| (row.plan_hash, usize::try_from(row.engines).unwrap_or_default()))
            .collect())
    }

    /// The text of a plan.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such plan; [`StoreError::ChangedFile`] where its text was changed.
    pub async fn plan_source(&self, hash: &str) -> Result<String, StoreError> {
        let source = sqlx::query_scalar!("SELECT source FROM plans WHERE hash = $1", hash);
        let found = source.fetch_optional(&self.pool).await?;
        let source = found.ok_or_else(|| StoreError::NotThere(text!("store-plan", hash)))?;
        if plan_hash(&source) != hash {
            return Err(StoreError::ChangedFile(format!("The text of the plan {hash}")));
        }
        Ok(source)
    }

    /// A plan by its hash; read once and then kept in memory.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such plan; [`StoreError::Unreadable`] when it cannot be read.
    pub async fn plan(&self, hash: &str) -> Result<Arc<Plan>, StoreError> {
        if let Some(plan) = self.read_plans.lock().await.get(hash) {
            return Ok(Arc::clone(plan));
        }
        let source = self.plan_source(hash).await?;
        let plan = Plan::read(hash, &source).map_err(|faults| {
            let lines: Vec<String> = faults.iter().map(ToString::to_string).collect();
            StoreError::Unreadable(lines.join("\n"))
        })?;
        let plan = Arc::new(plan);
        self.read_plans.lock().await.insert(hash.to_owned(), Arc::clone(&plan));
        Ok(plan)
    }
}
