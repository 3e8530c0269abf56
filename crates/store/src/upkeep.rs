//! Checking the record and making the lists again.

use crate::append::{EDITION, Setting, set};
use crate::archive::came_in;
use crate::chain::{Hash, link, root};
use crate::checks::keep_uses;
use crate::day::keep_outlook;
use crate::lives::keep_lives;
use crate::lubricants::keep_shown;
use crate::record::{parse, row};
use crate::{Store, StoreError};
use rigore_core::engine::{Event, Kept};
use sqlx::PgPool;
use std::fmt;
use uuid::Uuid;

/// Times a row is computed again because an entry came in between.
const TRIES: usize = 16;

/// The first broken link of a build's record.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Broken {
    /// The build.
    pub build: Uuid,
    /// The entry.
    pub seq: u64,
    /// What is wrong with it.
    pub what: String,
}

impl fmt::Display for Broken {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "build {}: entry {}: {}", self.build, self.seq, self.what)
    }
}

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

    /// Walks the chain of every build. Gives how many builds and entries were walked, and the
    /// first broken link of each build that has one.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn verify(&self) -> Result<(usize, u64, Vec<Broken>), StoreError> {
        let builds = sqlx::query!(
            "SELECT id AS \"id!\", max(b_seq) AS \"seq!\" FROM (
                 SELECT id, seq AS b_seq FROM builds UNION ALL SELECT build_id, 0 FROM events
             ) AS known GROUP BY id ORDER BY id"
        )
        .fetch_all(&self.pool)
        .await?;
        let (mut entries, mut broken) = (0, Vec::new());
        for build in &builds {
            let (walked, first) = self.walk(build.id, build.seq.cast_unsigned()).await?;
            entries += walked;
            broken.extend(first);
        }
        Ok((builds.len(), entries, broken))
    }

    async fn walk(&self, build: Uuid, last: u64) -> Result<(u64, Option<Broken>), StoreError> {
        let rows = sqlx::query!("SELECT seq, body, hash FROM events WHERE build_id = $1 ORDER BY seq", build)
            .fetch_all(&self.pool)
            .await?;
        let broken =
            |seq, what: &str| Ok((rows.len() as u64, Some(Broken { build, seq, what: what.to_owned() })));
        let mut hash: Hash = root(build);
        for (expected, row) in (1u64..).zip(&rows) {
            if row.seq.cast_unsigned() != expected {
                return broken(expected, "is missing");
            }
            hash = link(&hash, &row.body);
            if hash[..] != row.hash[..] {
                return broken(expected, "does not match its hash: it or an entry before it was changed");
            }
            if parse(&row.body).is_ok_and(|event| event.seq != expected) {
                return broken(expected, "carries another number");
            }
        }
        if rows.len() as u64 != last {
            return broken(rows.len() as u64 + 1, "is missing at the end, or the list row does not match");
        }
        Ok((rows.len() as u64, None))
    }

    /// Makes every list row again from the events. Gives how many.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn rebuild(&self) -> Result<usize, StoreError> {
        let ids = sqlx::query_scalar!("SELECT DISTINCT build_id FROM events").fetch_all(&self.pool).await?;
        for build in &ids {
            self.renew(*build).await?;
        }
        Ok(ids.len())
    }

    /// Makes the list rows again that were computed by older rules.
    pub(crate) async fn renew_lists(&self) -> Result<(), StoreError> {
        let old = sqlx::query_scalar!("SELECT id FROM builds WHERE edition < $1", EDITION);
        let old = old.fetch_all(&self.pool).await?;
        if !old.is_empty() {
            tracing::info!(engines = old.len(), "computing list rows anew");
        }
        for build in old {
            // One that cannot be read is not to keep the others from being served.
            if let Err(error) = self.renew(build).await {
                if matches!(error, StoreError::Unavailable(_)) {
                    return Err(error);
                }
                tracing::error!(%build, %error, "this engine cannot be listed anew");
            }
        }
        Ok(())
    }

    /// Makes the list row of one build again, as of its last entry.
    pub(crate) async fn renew(&self, build: Uuid) -> Result<(), StoreError> {
        for _ in 0..TRIES {
            let texts = self.events_after(build, 0).await?;
            let events = texts.iter().map(|(_, body)| parse(body)).collect::<Result<Vec<Event>, _>>()?;
            let mut kept = Kept::new(self.fold(&events).await?);
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
                for setting in of_this_shop().filter_map(Setting::of) {
                    set(&mut transaction, &setting).await?;
                }
                sqlx::query!("DELETE FROM nut_factors WHERE build_id = $1", build)
                    .execute(&mut *transaction)
                    .await?;
                keep_shown(&mut transaction, build, &kept.state().shown()).await?;
                sqlx::query!("DELETE FROM lives WHERE build_id = $1", build)
                    .execute(&mut *transaction)
                    .await?;
                keep_lives(&mut transaction, build, &kept.state().lives()).await?;
                if let Some(outlook) = kept.outlook_anew() {
                    keep_outlook(&mut transaction, build, &row.plan_id, &outlook).await?;
                }
                transaction.commit().await?;
                return Ok(());
            }
        }
        Err(StoreError::Unreadable(format!("build {build}: its list row is ahead of its events")))
    }
}
