//! What engines say for the day, how long operations took, and the hours and calendar of the shop.

use crate::edition::read_row;
use crate::people::note;
use crate::{Store, StoreError};
use rigore_assembly::schedule::{UsualDuration, WorkingHours};
use rigore_assembly::{BuildOutlook, BuildStatus, BuildSummary, Person};
use std::collections::HashMap;
use uuid::Uuid;

/// An engine in the day.
#[derive(Debug, Clone, PartialEq)]
pub struct DayRow {
    /// The build.
    pub id: Uuid,
    /// How it stands.
    pub summary: BuildSummary,
    /// Key of its plan.
    pub plan: String,
    /// The version of the plan that it goes by.
    pub plan_hash: String,
    /// What it says for the day.
    pub outlook: BuildOutlook,
}

/// How long steps took this shop, by plan and step.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct UsualTimes(HashMap<String, HashMap<String, UsualDuration>>);

impl UsualTimes {
    /// How long a step of a plan took.
    pub fn of(&self, plan: &str, step: &str) -> Option<UsualDuration> {
        self.0.get(plan)?.get(step).copied()
    }
}

impl Store {
    /// Every engine that is in the shop, with what it says for the day: the one touched last first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn day(&self) -> Result<Vec<DayRow>, StoreError> {
        let open: Vec<String> = BuildStatus::OPEN.map(|status| status.word().to_owned()).to_vec();
        let rows = sqlx::query!(
            r#"SELECT builds.id, builds.summary::text AS "summary!", builds.edition, outlooks.body::text AS "outlook!",
                 plans.id AS plan, plans.hash AS plan_hash
             FROM builds JOIN outlooks ON outlooks.build_id = builds.id JOIN plans ON plans.hash = builds.plan_hash
             WHERE builds.status = ANY($1) ORDER BY builds.touched DESC, builds.id"#,
            &open
        )
        .fetch_all(&self.pool)
        .await?;
        let mut day = Vec::with_capacity(rows.len());
        for row in rows {
            let kept = (read_row(&row.summary, row.edition)?, read_row(&row.outlook, row.edition)?);
            if let (Some(summary), Some(outlook)) = kept {
                day.push(DayRow { id: row.id, summary, plan: row.plan, plan_hash: row.plan_hash, outlook });
            }
        }
        Ok(day)
    }

    /// How long steps took this shop.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn usual_times(&self) -> Result<UsualTimes, StoreError> {
        let rows = sqlx::query!("SELECT plan, step, records, low, median, high FROM usual_times");
        let mut times = UsualTimes::default();
        for row in rows.fetch_all(&self.pool).await? {
            let usual = UsualDuration {
                records: row.records.cast_unsigned(),
                median_min: row.median,
                low_min: row.low,
                high_min: row.high,
            };
            times.0.entry(row.plan).or_default().insert(row.step, usual);
        }
        Ok(times)
    }

    /// When the shop works.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn calendar(&self) -> Result<WorkingHours, StoreError> {
        let kept =
            sqlx::query_scalar!("SELECT calendar FROM working_hours").fetch_optional(&self.pool).await?;
        kept.map_or(Ok(WorkingHours::default()), |kept| {
            serde_json::from_value(kept).map_err(StoreError::unreadable)
        })
    }

    /// Keeps when the shop works.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_calendar(&self, by: &Person, calendar: &WorkingHours) -> Result<(), StoreError> {
        let body = serde_json::to_value(calendar).map_err(StoreError::unreadable)?;
        let mut transaction = self.pool.begin().await?;
        sqlx::query!(
            "INSERT INTO working_hours (calendar) VALUES ($1) ON CONFLICT (one) DO UPDATE SET calendar = $1",
            body
        )
        .execute(&mut *transaction)
        .await?;
        note(&mut transaction, by, "changed the working hours").await?;
        Ok(transaction.commit().await?)
    }
}
