//! Checking the record and making the lists again.

use crate::chain::{Hash, link, root};
use crate::record::parse;
use crate::{Store, StoreError};
use rigore_core::build::State;
use sqlx::PgPool;
use std::fmt;
use uuid::Uuid;

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
    pub async fn wipe(url: &str) -> Result<(), StoreError> {
        let pool = PgPool::connect(url).await?;
        sqlx::raw_sql("DROP SCHEMA public CASCADE; CREATE SCHEMA public").execute(&pool).await?;
        pool.close().await;
        Ok(())
    }

    /// Walks the chain of every build. Gives how many builds and entries were walked, and the
    /// first broken link of each build that has one.
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
            let (walked, first) = self.walk(build.id, build.seq as u64).await?;
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
            if row.seq as u64 != expected {
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

    /// Makes the list rows again from the events, in one transaction. Gives how many.
    pub async fn rebuild(&self) -> Result<usize, StoreError> {
        let mut transaction = self.pool.begin().await?;
        sqlx::query!("LOCK TABLE builds IN EXCLUSIVE MODE").execute(&mut *transaction).await?;
        let ids =
            sqlx::query_scalar!("SELECT DISTINCT build_id FROM events").fetch_all(&mut *transaction).await?;
        for build in &ids {
            let rows = sqlx::query_scalar!("SELECT body FROM events WHERE build_id = $1 ORDER BY seq", build)
                .fetch_all(&mut *transaction)
                .await?;
            let events = rows.iter().map(|body| parse(body)).collect::<Result<Vec<_>, _>>()?;
            let plan = events.iter().find_map(|event| match &event.fact {
                rigore_core::build::Fact::Begun { plan, .. } => Some(plan.hash.clone()),
                _ => None,
            });
            let plan =
                plan.ok_or_else(|| StoreError::Unreadable(format!("build {build} was never begun")))?;
            let state = State::fold(self.plan(&plan).await?, &events);
            let summary =
                serde_json::to_value(state.summary()).map_err(|e| StoreError::Unreadable(e.to_string()))?;
            sqlx::query!(
                "INSERT INTO builds (id, seq, plan_hash, summary) VALUES ($1, $2, $3, $4)
                 ON CONFLICT (id) DO UPDATE SET seq = excluded.seq, plan_hash = excluded.plan_hash,
                 summary = excluded.summary",
                build,
                state.seq as i64,
                plan,
                summary
            )
            .execute(&mut *transaction)
            .await?;
        }
        transaction.commit().await?;
        Ok(ids.len())
    }
}
