//! The lives of parts across engines.

use crate::page::{PageCursor, SearchPatterns};
use crate::projections::known_as;
use crate::{Store, StoreError};
use rigore_assembly::{PartHistory, PartLife, PartUse};
use time::OffsetDateTime;
use uuid::Uuid;

/// An order of the list of parts.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum PartOrder {
    /// Those that were entered last first.
    #[default]
    LastLogged,
    /// By serial, mark or set number, as people count: B9 before B11.
    Serial,
}

/// Where a part was logged last.
struct PartPlace {
    build_id: Uuid,
    slot: String,
}

/// A part in the list of parts.
#[derive(Debug, Clone, PartialEq)]
pub struct PartRow {
    /// Its serial, mark or set number.
    pub serial: String,
    /// Key of its kind.
    pub kind: String,
    /// What it is called.
    pub name: String,
    /// How many engines it was in.
    pub engines: u64,
    /// The engine it was entered in last.
    pub engine: String,
    /// When.
    pub at: OffsetDateTime,
    /// Its place in the list.
    pub place: PageCursor,
}

impl Store {
    /// The life of everything that has a serial, mark or set number, by kind.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn histories(&self, serial: &str) -> Result<Vec<PartHistory>, StoreError> {
        let lived = self.lived(serial, None).await?;
        let mut histories = Vec::new();
        let mut rest = &lived[..];
        while let Some(first) = rest.first() {
            let of_kind = rest.iter().take_while(|lived| lived.life.kind == first.life.kind).count();
            histories.push(PartHistory::of(&rest[..of_kind]));
            rest = &rest[of_kind..];
        }
        Ok(histories)
    }

    /// Where a serial was, by kind and then in the order of time; of one kind and besides one engine where that is
    /// said.
    pub(crate) async fn lived(
        &self,
        serial: &str,
        besides: Option<(&str, Uuid)>,
    ) -> Result<Vec<PartUse>, StoreError> {
        let (kind, build) = besides.unzip();
        let rows = sqlx::query!(
            r#"SELECT lives.build_id, lives.body, builds.summary ->> 'name' AS "engine!"
             FROM lives JOIN builds ON builds.id = lives.build_id
             WHERE lives.serial = $1 AND ($2::text IS NULL OR lives.kind = $2)
                 AND ($3::uuid IS NULL OR lives.build_id <> $3)
             ORDER BY lives.kind, lives.at, lives.build_id, lives.piece"#,
            known_as(serial),
            kind,
            build
        )
        .fetch_all(&self.pool)
        .await?;
        let lived = |build, engine, body| {
            let life: PartLife = serde_json::from_value(body).map_err(StoreError::unreadable)?;
            Ok(PartUse { build, engine, life })
        };
        rows.into_iter().map(|row| lived(row.build_id, row.engine, row.body)).collect()
    }

    /// Parts whose serial, mark or set number holds every word of a text, after a place in that list.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn parts(
        &self,
        find: &str,
        order: PartOrder,
        after: Option<&PageCursor>,
        limit: u32,
    ) -> Result<Vec<PartRow>, StoreError> {
        let patterns = SearchPatterns::of(find);
        let places = match order {
            PartOrder::LastLogged => self.parts_by_time(&patterns, after, limit).await?,
            PartOrder::Serial => self.parts_by_serial(&patterns, after, limit).await?,
        };
        let (builds, slots): (Vec<Uuid>, Vec<String>) =
            places.into_iter().map(|place| (place.build_id, place.slot)).unzip();
        let rows = sqlx::query!(
            r#"SELECT lives.body ->> 'serial' AS "serial!", lives.serial AS "known_as!", lives.kind,
                 lives.body ->> 'name' AS "name!", lives.at, lives.build_id, lives.slot,
                 builds.summary ->> 'name' AS "engine!", been.engines AS "engines!"
             FROM unnest($1::uuid[], $2::text[]) WITH ORDINALITY AS page (build_id, slot, number)
             JOIN lives ON lives.build_id = page.build_id AND lives.slot = page.slot AND lives.piece = 0
             JOIN builds ON builds.id = lives.build_id
             CROSS JOIN LATERAL (
                 SELECT count(DISTINCT other.build_id) AS engines FROM lives AS other
                 WHERE other.piece = 0 AND other.serial = lives.serial AND other.kind = lives.kind
             ) AS been
             ORDER BY page.number"#,
            &builds,
            &slots
        )
        .fetch_all(&self.pool)
        .await?;
        let row = rows.into_iter().map(|row| {
            let slot = match order {
                PartOrder::LastLogged => row.slot,
                PartOrder::Serial => format!("{}\n{}", row.kind, row.known_as),
            };
            PartRow {
                serial: row.serial,
                kind: row.kind,
                name: row.name,
                engines: row.engines.cast_unsigned(),
                engine: row.engine,
                at: row.at,
                place: PageCursor { rank: 0, at: row.at, build: row.build_id, slot },
            }
        });
        Ok(row.collect())
    }

    /// The places of a page of parts by time. A part stands where it was entered last.
    async fn parts_by_time(
        &self,
        patterns: &SearchPatterns,
        after: Option<&PageCursor>,
        limit: u32,
    ) -> Result<Vec<PartPlace>, StoreError> {
        let places = sqlx::query_as!(
            PartPlace,
            "SELECT build_id, slot FROM lives
             WHERE piece = 0 AND serial || '' LIKE $1 AND serial || '' LIKE ALL($2)
                 AND ($3::timestamptz IS NULL OR (at, build_id, slot) < ($3, $4, $5))
                 AND NOT EXISTS (
                     SELECT 1 FROM lives AS later
                     WHERE later.piece = 0 AND later.serial = lives.serial AND later.kind = lives.kind
                         AND (later.at, later.build_id, later.slot) > (lives.at, lives.build_id, lives.slot)
                 )
             ORDER BY at DESC, build_id DESC, slot DESC LIMIT $6",
            patterns.first,
            &patterns.others,
            after.map(|place| place.at),
            after.map(|place| place.build),
            after.map(|place| place.slot.as_str()),
            i64::from(limit)
        );
        Ok(places.fetch_all(&self.pool).await?)
    }

    /// The places of a page of parts by serial; it goes on behind the kind and serial that the one before ended with,
    /// also where that part is taken back meanwhile.
    async fn parts_by_serial(
        &self,
        patterns: &SearchPatterns,
        after: Option<&PageCursor>,
        limit: u32,
    ) -> Result<Vec<PartPlace>, StoreError> {
        let after = after.and_then(|place| place.slot.split_once('\n'));
        let places = sqlx::query_as!(
            PartPlace,
            r#"SELECT build_id, slot FROM lives
             WHERE piece = 0 AND serial || '' LIKE $1 AND serial || '' LIKE ALL($2)
                 AND ($3::text IS NULL OR (serial COLLATE natural_order, kind COLLATE "C") > ($4, $3))
                 AND NOT EXISTS (
                     SELECT 1 FROM lives AS later
                     WHERE later.piece = 0 AND later.serial = lives.serial AND later.kind = lives.kind
                         AND (later.at, later.build_id, later.slot) > (lives.at, lives.build_id, lives.slot)
                 )
             ORDER BY serial COLLATE natural_order, kind COLLATE "C" LIMIT $5"#,
            patterns.first,
            &patterns.others,
            after.map(|(kind, _)| kind),
            after.map(|(_, serial)| serial),
            i64::from(limit)
        );
        Ok(places.fetch_all(&self.pool).await?)
    }
}
