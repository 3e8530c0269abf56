//! The engines of the shop, page by page: filtered and searched in the database.

use crate::edition::read_row;
use crate::page::{PageCursor, SearchPatterns};
use crate::{Store, StoreError};
use rigore_assembly::{BuildStatus, BuildSummary};
use time::OffsetDateTime;
use uuid::Uuid;

/// A build in the list of the shop.
#[derive(Debug, Clone, PartialEq)]
pub struct BuildRow {
    /// The build.
    pub id: Uuid,
    /// How it stands.
    pub summary: BuildSummary,
    /// Whether its record is known to be broken.
    pub broken: bool,
    /// Its place in the list.
    pub place: PageCursor,
}

/// What of the list is wanted.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct ListQuery {
    /// Only engines that stand so; where it is not said, all that are not finished, or all that are
    /// found.
    pub status: Option<BuildStatus>,
    /// Only engines whose name, owner, number, or a part's serial or batch holds every word of this.
    pub find: String,
    /// In which order.
    pub order: BuildOrder,
    /// How many of them.
    pub limit: u32,
    /// Only those that come after this place.
    pub after: Option<PageCursor>,
}

/// An order of the list.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum BuildOrder {
    /// Held ones first, then those in work, then those just taken in, then finished ones; the one touched last first
    /// among them.
    #[default]
    Status,
    /// The one touched last first.
    LastWork,
    /// By name, as people count: no. 9 before no. 11.
    Name,
}

/// Where a build stands in an order.
struct BuildPlace {
    id: Uuid,
    rank: i32,
    touched: OffsetDateTime,
}

/// How many engines stand how.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct BuildCounts {
    /// Nothing is done yet.
    pub taken_in: u64,
    /// Work is going on.
    pub in_work: u64,
    /// Something is open.
    pub held: u64,
    /// Signed off.
    pub finished: u64,
}

impl BuildCounts {
    /// How many there are that stand so; all where it is not said.
    pub fn of(&self, status: Option<BuildStatus>) -> u64 {
        match status {
            Some(BuildStatus::TakenIn) => self.taken_in,
            Some(BuildStatus::InWork) => self.in_work,
            Some(BuildStatus::Held) => self.held,
            Some(BuildStatus::Finished) => self.finished,
            None => self.taken_in + self.in_work + self.held + self.finished,
        }
    }
}

/// A page of the list.
#[derive(Debug, Clone, PartialEq)]
pub struct BuildList {
    /// The engines, in the order that was wanted.
    pub rows: Vec<BuildRow>,
    /// How many engines there are of what was looked for, by how they stand.
    pub counts: BuildCounts,
    /// How many engines of the shop are being listed again by newer rules: some may not be listed until then.
    pub renewing: u64,
}

impl Store {
    /// Whether there is any build.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn has_builds(&self) -> Result<bool, StoreError> {
        let any = sqlx::query_scalar!("SELECT EXISTS (SELECT 1 FROM builds) AS \"any!\"");
        Ok(any.fetch_one(&self.pool).await?)
    }

    /// A page of the engines of the shop.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn list(&self, wanted: &ListQuery) -> Result<BuildList, StoreError> {
        let patterns = SearchPatterns::of(&wanted.find);
        let shown: Vec<String> = match wanted.status {
            Some(status) => vec![status.word().to_owned()],
            None if patterns.is_empty() => BuildStatus::OPEN.map(|status| status.word().to_owned()).to_vec(),
            None => BuildStatus::ALL.map(|status| status.word().to_owned()).to_vec(),
        };
        let places = match wanted.order {
            BuildOrder::Status | BuildOrder::LastWork => self.by_status(wanted, &patterns, &shown).await?,
            BuildOrder::Name => self.by_name(wanted, &patterns, &shown).await?,
        };
        let ids: Vec<Uuid> = places.iter().map(|place| place.id).collect();
        let rows = sqlx::query!(
            r#"SELECT builds.id, summary::text AS "summary!", edition, broken_builds.found IS NOT NULL AS "broken!"
             FROM unnest($1::uuid[]) WITH ORDINALITY AS page (id, number)
             JOIN builds ON builds.id = page.id LEFT JOIN broken_builds ON broken_builds.build_id = builds.id
             ORDER BY page.number"#,
            &ids
        )
        .fetch_all(&self.pool)
        .await?;
        let mut listed = Vec::with_capacity(rows.len());
        // A build is never deleted: every place has its row.
        for (row, BuildPlace { rank, touched, .. }) in rows.into_iter().zip(places) {
            if let Some(summary) = read_row(&row.summary, row.edition)? {
                let place = PageCursor { rank, at: touched, build: row.id, slot: String::new() };
                listed.push(BuildRow { id: row.id, summary, broken: row.broken, place });
            }
        }
        Ok(BuildList {
            rows: listed,
            counts: self.counts(&patterns).await?,
            renewing: self.old_lists().await?,
        })
    }

    /// The places of a page by status, or by the last work alone: then all statuses rank the same.
    async fn by_status(
        &self,
        wanted: &ListQuery,
        patterns: &SearchPatterns,
        shown: &[String],
    ) -> Result<Vec<BuildPlace>, StoreError> {
        let order: Vec<String> = BuildStatus::ALL.map(|status| status.word().to_owned()).to_vec();
        let after = wanted.after.as_ref();
        let places = sqlx::query_as!(
            BuildPlace,
            r#"SELECT id, rank AS "rank!", touched FROM (
                 SELECT id, touched, CASE WHEN $9 THEN -array_position($4::text[], status) ELSE 0 END AS rank FROM builds
                 WHERE status = ANY($1)
                     AND ($2 = '%' OR id IN (SELECT build_id FROM build_words WHERE words LIKE $2 AND words LIKE ALL($3)))
             ) AS ranked
             WHERE $5::int IS NULL OR (rank, touched, id) < ($5, $6, $7)
             ORDER BY rank DESC, touched DESC, id DESC LIMIT $8"#,
            shown,
            patterns.first,
            &patterns.others,
            &order,
            after.map(|place| place.rank),
            after.map(|place| place.at),
            after.map(|place| place.build),
            i64::from(wanted.limit),
            wanted.order == BuildOrder::Status
        );
        Ok(places.fetch_all(&self.pool).await?)
    }

    /// The places of a page by name; it goes on behind the engine that the one before ended with.
    async fn by_name(
        &self,
        wanted: &ListQuery,
        patterns: &SearchPatterns,
        shown: &[String],
    ) -> Result<Vec<BuildPlace>, StoreError> {
        let places = sqlx::query_as!(
            BuildPlace,
            r#"SELECT id, 0 AS "rank!", touched FROM builds
             WHERE status = ANY($1)
                 AND ($2 = '%' OR id IN (SELECT build_id FROM build_words WHERE words LIKE $2 AND words LIKE ALL($3)))
                 AND ($4::uuid IS NULL OR ((summary ->> 'name') COLLATE natural_order, id)
                     > ((SELECT last.summary ->> 'name' FROM builds AS last WHERE last.id = $4), $4))
             ORDER BY (summary ->> 'name') COLLATE natural_order, id LIMIT $5"#,
            shown,
            patterns.first,
            &patterns.others,
            wanted.after.as_ref().map(|place| place.build),
            i64::from(wanted.limit)
        );
        Ok(places.fetch_all(&self.pool).await?)
    }

    async fn counts(&self, patterns: &SearchPatterns) -> Result<BuildCounts, StoreError> {
        let counted = sqlx::query!(
            "SELECT status, count(*) AS \"count!\" FROM builds
             WHERE $1 = '%' OR id IN (SELECT build_id FROM build_words WHERE words LIKE $1 AND words LIKE ALL($2))
             GROUP BY status",
            patterns.first,
            &patterns.others
        )
        .fetch_all(&self.pool)
        .await?;
        let of = |status: BuildStatus| {
            let found = counted.iter().find(|row| row.status == status.word());
            found.map_or(0, |row| row.count.cast_unsigned())
        };
        Ok(BuildCounts {
            taken_in: of(BuildStatus::TakenIn),
            in_work: of(BuildStatus::InWork),
            held: of(BuildStatus::Held),
            finished: of(BuildStatus::Finished),
        })
    }
}
