//! Engine plans by the hash of their text: a build keeps the version it was started on.

use crate::{Store, StoreError};
use rigore_core::plan::Plan;
use sha2::{Digest, Sha256};
use std::sync::Arc;

/// A stored plan in a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlanRow {
    /// Hash of its text.
    pub hash: String,
    /// Key of the plan.
    pub id: String,
    /// Name of the engine.
    pub name: String,
}

/// The hash a plan's text is known by.
pub fn plan_hash(source: &str) -> String {
    hex::encode(Sha256::digest(source.as_bytes()))
}

impl Store {
    /// Keeps a plan that was read from this text; the same text twice is one plan.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn add_plan(&self, source: &str, plan: &Plan) -> Result<PlanRow, StoreError> {
        let hash = plan_hash(source);
        sqlx::query!(
            "INSERT INTO plans (hash, id, name, source) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING",
            hash,
            plan.id,
            plan.name,
            source
        )
        .execute(&self.pool)
        .await?;
        Ok(PlanRow { hash, id: plan.id.clone(), name: plan.name.clone() })
    }

    /// Every plan, the newest version of each first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn plans(&self) -> Result<Vec<PlanRow>, StoreError> {
        let rows = sqlx::query_as!(PlanRow, "SELECT hash, id, name FROM plans ORDER BY name, added_at DESC");
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// The text of a plan.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such plan.
    pub async fn plan_source(&self, hash: &str) -> Result<String, StoreError> {
        let source = sqlx::query_scalar!("SELECT source FROM plans WHERE hash = $1", hash);
        let found = source.fetch_optional(&self.pool).await?;
        found.ok_or_else(|| StoreError::NotThere(format!("plan {hash}")))
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
