//! What is stored against what was recorded: each engine's chain is followed when it is read into memory, and by
//! `rigore verify`; plan texts and pictures are held against the hash that they are known by. What does not hold is kept
//! beside the record with the time it was found, and nothing is built upon it.
//!
//! What is read is verified (`integrity.rs`, `chain.rs`): an engine's chain is followed when it is read into
//! memory, a plan text and a picture are held against their hash. A broken one takes no entries. With every
//! signature the shop signs the head of the chain (`heads.rs`), so that an end that was cut off, an engine that was
//! removed and a record that was made anew are missed.

use crate::broken::BrokenRecord;
use crate::chain::{BrokenLink, Hash, follow, root};
use crate::entry::parse;
use crate::stored_entry::StoredEntry;
use crate::{Store, StoreError};
use rigore_assembly::Event;
use rigore_mechanics::text;
use std::collections::BTreeMap;
use time::OffsetDateTime;
use uuid::Uuid;

impl Store {
    /// Keeps that a build is broken, and since when that is known.
    pub(crate) async fn record_broken(&self, build: Uuid, link: BrokenLink) -> BrokenRecord {
        let now = OffsetDateTime::now_utc();
        let mut broken = BrokenRecord { build, seq: link.seq, what: link.what.clone(), found: now };
        let kept = sqlx::query_scalar!(
            "INSERT INTO broken_builds (build_id, seq, what, found) VALUES ($1, $2, $3, $4)
             ON CONFLICT (build_id) DO UPDATE SET seq = excluded.seq, what = excluded.what RETURNING found",
            build,
            link.seq.cast_signed(),
            link.what,
            now
        );
        // A database that cannot be written to does not make the record whole.
        match kept.fetch_one(&self.pool).await {
            Ok(found) => broken.found = found,
            Err(error) => tracing::warn!(%error, "since when a record is broken could not be kept"),
        }
        tracing::error!(%broken, "a record is broken");
        broken
    }

    /// Builds whose record is known to be broken.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn broken(&self) -> Result<Vec<BrokenRecord>, StoreError> {
        let rows =
            sqlx::query!("SELECT build_id, seq, what, found FROM broken_builds ORDER BY found, build_id");
        let rows = rows.fetch_all(&self.pool).await?.into_iter().map(|row| BrokenRecord {
            build: row.build_id,
            seq: row.seq.cast_unsigned(),
            what: row.what,
            found: row.found,
        });
        Ok(rows.collect())
    }

    /// Follows the chain of every build. Gives how many builds and entries were walked, and the first broken link of
    /// each build that has one; one that is whole again, from a backup, is no longer known as broken.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn verify(&self) -> Result<(usize, u64, Vec<BrokenRecord>), StoreError> {
        let rows = sqlx::query!(
            "SELECT id AS \"id!\", max(b_seq) AS \"seq!\" FROM (
                 SELECT id, seq AS b_seq FROM builds UNION ALL SELECT build_id, 0 FROM events
             ) AS known GROUP BY id"
        );
        let rows = rows.fetch_all(&self.pool).await?;
        let mut builds: BTreeMap<Uuid, u64> =
            rows.into_iter().map(|row| (row.id, row.seq.cast_unsigned())).collect();
        // What the shop has signed and is not there at all is missed, too.
        for build in self.heads.iter().flat_map(|heads| heads.builds()) {
            builds.entry(build).or_insert(0);
        }
        let (mut entries, mut broken) = (0, Vec::new());
        for (build, last) in &builds {
            let (walked, first) = self.walk(*build, *last).await?;
            entries += walked;
            if let Some(link) = first {
                broken.push(self.record_broken(*build, link).await);
            }
        }
        let still: Vec<Uuid> = broken.iter().map(|broken| broken.build).collect();
        sqlx::query!("DELETE FROM broken_builds WHERE NOT build_id = ANY($1)", &still)
            .execute(&self.pool)
            .await?;
        Ok((builds.len(), entries, broken))
    }

    async fn walk(&self, build: Uuid, last: u64) -> Result<(u64, Option<BrokenLink>), StoreError> {
        let entries = self.stored_entries(build, 0).await?;
        let events: Vec<Result<Event, StoreError>> = entries.iter().map(|entry| parse(&entry.body)).collect();
        let count = entries.len() as u64;
        let link = self.verify_entries(build, (0, root(build)), &entries, &events).err().or_else(|| {
            let what = text!("store-missing-at-end-or-list-row");
            (count != last).then_some(BrokenLink { seq: count + 1, what })
        });
        Ok((count, link))
    }

    /// Holds entries after one with its number and hash against the chain, and all of a record against what the shop has
    /// signed of it; gives the hash of the last.
    ///
    /// # Errors
    /// The first that is not as it was recorded.
    pub(crate) fn verify_entries(
        &self,
        build: Uuid,
        from: (u64, Hash),
        entries: &[StoredEntry],
        events: &[Result<Event, StoreError>],
    ) -> Result<Hash, BrokenLink> {
        let number_in = |at: usize| events.get(at)?.as_ref().ok().map(|event| event.seq);
        let hash = follow(from, entries, number_in)?;
        match self.heads.as_ref().filter(|_| from.0 == 0).and_then(|heads| heads.missing(build, entries)) {
            Some(link) => Err(link),
            None => Ok(hash),
        }
    }

    /// Plan texts and pictures that are not what their hash says, in words.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn verify_files(&self) -> Result<Vec<String>, StoreError> {
        let files = sqlx::query!(
            r#"SELECT 'plan ' || name AS "what!", hash AS "hash!" FROM plans
                   WHERE encode(sha256(convert_to(source, 'UTF8')), 'hex') <> hash
               UNION ALL SELECT 'picture', hash FROM pictures WHERE encode(sha256(bytes), 'hex') <> hash
               UNION ALL SELECT 'certificate ' || name, hash FROM certificates
                   WHERE encode(sha256(bytes), 'hex') <> hash"#
        );
        let files = files.fetch_all(&self.pool).await?;
        Ok(files
            .into_iter()
            .map(|file| text!("store-was-changed-after-was-kept", what = file.what, hash = file.hash))
            .collect())
    }
}
