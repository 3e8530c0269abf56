//! What a shop has chosen, each choice kept with who made it and when.

use crate::people::note;
use crate::{Store, StoreError};
use rigore_assembly::{Person, Picture};
use rigore_mechanics::clearance::DecisionRule;
use rigore_mechanics::text;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// The key of the rule by which measured values are judged.
const DECISION_RULE: &str = "decision-rule";
/// The key of the shop's letterhead.
const LETTERHEAD: &str = "letterhead";

/// What stands at the head of the shop's papers.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize)]
pub struct Letterhead {
    /// Name of the shop; empty where nobody gave one.
    pub name: String,
    /// Address and how to reach the shop, line by line; empty where nobody gave it.
    pub address: String,
    /// Logo; none where there is none.
    pub logo: Option<Picture>,
}

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
        by: &Person,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        self.choose_for_shop(DECISION_RULE, &rule, by, at, "changed how measurements are judged").await
    }

    /// What stands at the head of the shop's papers: what was set last, else the name it was created with.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn letterhead(&self) -> Result<Letterhead, StoreError> {
        if let Some(set) = self.shop_choice(LETTERHEAD).await? {
            return Ok(set);
        }
        let name = self.shop().await?.map(|shop| shop.name).unwrap_or_default();
        Ok(Letterhead { name, ..Letterhead::default() })
    }

    /// Sets what stands at the head of the shop's papers from now on.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when its logo is not stored, [`StoreError::Unavailable`] when the database does not
    /// answer.
    pub async fn set_letterhead(
        &self,
        letterhead: &Letterhead,
        by: &Person,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        if let Some(logo) = &letterhead.logo
            && !self.has_picture(logo).await?
        {
            return Err(StoreError::NotThere(text!("store-picture", hash = logo.hash)));
        }
        self.choose_for_shop(LETTERHEAD, letterhead, by, at, "changed the letterhead").await
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

    /// Chooses from now on, and tells the activity so.
    pub(crate) async fn choose_for_shop(
        &self,
        key: &str,
        value: &impl Serialize,
        by: &Person,
        at: OffsetDateTime,
        what: &str,
    ) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        sqlx::query!(
            "INSERT INTO shop_choices (key, value, by_name, at) VALUES ($1, $2, $3, $4)",
            key,
            serde_json::to_value(value).map_err(StoreError::unreadable)?,
            by.name,
            at
        )
        .execute(&mut *transaction)
        .await?;
        note(&mut transaction, by, what).await?;
        Ok(transaction.commit().await?)
    }
}
