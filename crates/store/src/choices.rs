//! What a shop has chosen, each choice kept with who made it and when.

use crate::{Store, StoreError};
use rigore_mechanics::clearance::DecisionRule;
use serde::Serialize;
use serde::de::DeserializeOwned;
use time::OffsetDateTime;

/// The key of the rule by which measured values are judged.
const DECISION_RULE: &str = "decision-rule";

impl Store {
    /// The rule by which measured values are judged on engines that are begun from now on.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn decision_rule(&self) -> Result<DecisionRule, StoreError> {
        Ok(self.shop_choice(DECISION_RULE).await?.unwrap_or(DecisionRule::USUAL))
    }

    /// Chooses that rule.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn set_decision_rule(
        &self,
        rule: DecisionRule,
        by: &str,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        self.choose_for_shop(DECISION_RULE, &rule, by, at).await
    }

    /// What was chosen last; none where nobody has chosen.
    pub(crate) async fn shop_choice<T: DeserializeOwned>(&self, key: &str) -> Result<Option<T>, StoreError> {
        let row = sqlx::query_scalar!(
            "SELECT value FROM shop_choices WHERE key = $1 ORDER BY number DESC LIMIT 1",
            key
        );
        let value = row.fetch_optional(&self.pool).await?;
        value.map(|value| serde_json::from_value(value).map_err(StoreError::unreadable)).transpose()
    }

    /// Chooses from now on.
    pub(crate) async fn choose_for_shop(
        &self,
        key: &str,
        value: &impl Serialize,
        by: &str,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        sqlx::query!(
            "INSERT INTO shop_choices (key, value, by_name, at) VALUES ($1, $2, $3, $4)",
            key,
            serde_json::to_value(value).map_err(StoreError::unreadable)?,
            by,
            at
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }
}
