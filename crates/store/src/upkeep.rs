//! Checking the record and making the lists again.

use crate::append::{WrenchSetting, set};
use crate::chain::BrokenLink;
use crate::checks::keep_uses;
use crate::edition::EDITION;
use crate::projections::{came_in, keep_lives, keep_outlook, keep_shown};
use crate::record::row;
use crate::{Store, StoreError};
use rigore_assembly::BuildProjection;
use rigore_mechanics::text;
use sqlx::PgPool;
use std::time::Duration;
use uuid::Uuid;

/// Times a row is computed again because an entry came in between.
const TRIES: usize = 16;
/// Rows of older rules that are computed anew before another server may take its turn, and how long to wait for one.
const AT_ONCE: i64 = 20;
const ANOTHER: Duration = Duration::from_secs(2);

impl Store {
    /// Throws everything in a database away, for demonstrations and tests.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn wipe(url: &str) -> Result<(), StoreError> {
        let pool = PgPool::connect(url).await?;
        sqlx::raw_sql("DROP SCHEMA public CASCADE; CREATE SCHEMA public").execute(&pool).await?;
        pool.close().await;
        Ok(())
    }

    /// Makes every list row again from the events. Gives how many, and which could not be made, with the reason.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn rebuild(&self) -> Result<(usize, Vec<String>), StoreError> {
        let ids = sqlx::query_scalar!("SELECT DISTINCT build_id FROM events").fetch_all(&self.pool).await?;
        let (mut made, mut failed) = (0, Vec::new());
        for build in ids {
            match self.renew(build).await {
                Ok(()) => made += 1,
                Err(error @ StoreError::Unavailable(_)) => return Err(error),
                Err(error @ StoreError::Broken(_)) => failed.push(error.to_string()),
                Err(error) => failed.push(format!("build {build}: {error}")),
            }
        }
        Ok((made, failed))
    }

    /// How many engines are still to be listed by the rules of now; not those whose record is known to be broken.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn old_lists(&self) -> Result<u64, StoreError> {
        let old = sqlx::query_scalar!(
            "SELECT count(*) FROM builds WHERE edition < $1 AND id NOT IN (SELECT build_id FROM broken_builds)",
            EDITION
        );
        Ok(old.fetch_one(&self.pool).await?.unwrap_or_default().cast_unsigned())
    }

    /// Makes the list rows again that were computed by older rules, while the shop is at work: engines that are in work
    /// first, and one server at a time. Gives how many.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn renew_lists(&self) -> Result<usize, StoreError> {
        let mut renewed = 0;
        let mut failed: Vec<Uuid> = Vec::new();
        loop {
            // Another server may have begun: whoever has the turn does the next few.
            let Some(turn) = self.turn("lists").await? else {
                tokio::time::sleep(ANOTHER).await;
                if self.old_lists().await? == 0 {
                    return Ok(renewed);
                }
                continue;
            };
            let old = sqlx::query_scalar!(
                "SELECT id FROM builds WHERE edition < $1 AND NOT id = ANY($2)
                 ORDER BY status = 'finished', touched DESC LIMIT $3",
                EDITION,
                &failed,
                AT_ONCE
            );
            let old = old.fetch_all(&self.pool).await?;
            if old.is_empty() {
                return Ok(renewed);
            }
            for build in old {
                // One that cannot be read is not to keep the others from being listed.
                match self.renew(build).await {
                    Ok(()) => renewed += 1,
                    Err(error @ StoreError::Unavailable(_)) => return Err(error),
                    Err(error) => {
                        tracing::error!(%build, %error, "this engine cannot be listed anew");
                        if !matches!(error, StoreError::Broken(_)) {
                            let what = text!("store-or-another-cannot-be-read");
                            self.record_broken(build, BrokenLink { seq: 1, what }).await;
                        }
                        failed.push(build);
                    }
                }
            }
            drop(turn);
            let left = self.old_lists().await?;
            tracing::info!(renewed, left, "computing list rows anew");
        }
    }

    /// Makes the list row of one build again, as of its last entry.
    pub(crate) async fn renew(&self, build: Uuid) -> Result<(), StoreError> {
        for _ in 0..TRIES {
            let (events, _) = self.whole_record(build).await?;
            let mut kept = BuildProjection::new(self.fold(&events).await?);
            let row = row(build, 0, &kept, None)?;
            // Whoever appends meanwhile waits for the row.
            let mut transaction = self.pool.begin().await?;
            let renewed = sqlx::query!(
                "WITH renewed AS (
                     INSERT INTO builds (id, seq, plan_hash, summary, status, touched, edition)
                     VALUES ($1, $2, $3, $4::text::jsonb, $5, $6, $7)
                     ON CONFLICT (id) DO UPDATE SET seq = excluded.seq, plan_hash = excluded.plan_hash,
                         summary = excluded.summary, status = excluded.status, touched = excluded.touched,
                         edition = excluded.edition
                     WHERE builds.seq <= excluded.seq
                     RETURNING id
                 )
                 INSERT INTO build_words (build_id, words) SELECT id, $8 FROM renewed
                 ON CONFLICT (build_id) DO UPDATE SET words = excluded.words",
                build,
                row.seq.cast_signed(),
                row.plan,
                row.summary,
                row.status,
                row.touched,
                EDITION,
                kept.words()
            )
            .execute(&mut *transaction)
            .await?;
            // Another entry came in between: once more.
            if renewed.rows_affected() > 0 {
                let here = came_in(&mut transaction, build).await?;
                let of_this_shop = || events.iter().filter(|event| event.seq > here);
                keep_uses(&mut transaction, build, of_this_shop()).await?;
                for setting in of_this_shop().filter_map(WrenchSetting::of) {
                    set(&mut transaction, &setting).await?;
                }
                sqlx::query!("DELETE FROM nut_factors WHERE build_id = $1", build)
                    .execute(&mut *transaction)
                    .await?;
                keep_shown(&mut transaction, build, &kept.state().shown()).await?;
                sqlx::query!("DELETE FROM lives WHERE build_id = $1", build)
                    .execute(&mut *transaction)
                    .await?;
                keep_lives(&mut transaction, build, &kept.state().part_lives()).await?;
                if let Some(outlook) = kept.take_changed_outlook() {
                    keep_outlook(&mut transaction, build, &row.plan_id, &outlook).await?;
                }
                transaction.commit().await?;
                return Ok(());
            }
        }
        Err(StoreError::Unreadable(format!("build {build}: its list row is ahead of its events")))
    }
}
