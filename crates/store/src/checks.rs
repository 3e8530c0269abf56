//! Checks of instruments, what was read with them, and their cards and certificates.
//!
//! An instrument that is found wrong takes back what it said. Every reading is listed with its instrument in the
//! statement that writes it, in blocks of its engine's record whose times are in order, so that all of an
//! instrument's are counted at once; a lead's decision makes an entry on each engine, and what rests on such a reading is an issue
//! until it is read again.

use crate::people::note;
use crate::{Store, StoreError};
use rigore_assembly::{CheckResult, Event, Instrument, Person};
use rigore_mechanics::text;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use time::OffsetDateTime;
use uuid::Uuid;

/// A check before work.
#[derive(Debug, Clone, PartialEq)]
pub struct CheckRow {
    /// Its id.
    pub id: Uuid,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by_name: String,
    /// What it was read against.
    pub known_by: String,
    /// What came of it.
    pub checked: CheckResult,
}

/// Readings of an instrument on one engine.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct InstrumentUse {
    /// The build.
    pub build: Uuid,
    /// What it is called.
    pub name: String,
    /// How many.
    pub readings: u64,
    /// The first of them.
    pub first: OffsetDateTime,
    /// The last.
    pub last: OffsetDateTime,
}

/// What the shop knows of an instrument besides what a record carries of it.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct InstrumentCard {
    /// What its maker calls it.
    pub reference: String,
    /// Where it lies.
    pub drawer: String,
    /// The day of its calibration.
    pub calibrated: String,
    /// The file of its certificate, by its hash, and what it is called.
    pub certificate: Option<(String, String)>,
}

impl Store {
    /// Records a check.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_check(
        &self,
        by: &Person,
        instrument: &Instrument,
        known_by: &str,
        checked: &CheckResult,
    ) -> Result<CheckRow, StoreError> {
        let mut transaction = self.pool.begin().await?;
        let id = Uuid::now_v7();
        let at = sqlx::query_scalar!(
            "INSERT INTO checks (id, instrument, by_name, known_by, good, body) VALUES ($1, $2, $3, $4, $5, $6)
             RETURNING at",
            id,
            instrument.id,
            by.name,
            known_by,
            checked.good,
            serde_json::to_value(checked).map_err(StoreError::unreadable)?
        )
        .fetch_one(&mut *transaction)
        .await?;
        let came =
            if checked.good { text!("store-instrument-right") } else { checked.word().in_base_units() };
        note(&mut transaction, by, &format!("checked {}: {came}", instrument.name)).await?;
        transaction.commit().await?;
        self.tell_shop().await;
        let (by_name, known_by, checked) = (by.name.clone(), known_by.to_owned(), checked.clone());
        Ok(CheckRow { id, at, by_name, known_by, checked })
    }

    /// The last checks of an instrument, the last one first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn checks(&self, instrument: &str) -> Result<Vec<CheckRow>, StoreError> {
        let rows = sqlx::query!(
            "SELECT id, at, by_name, known_by, body FROM checks WHERE instrument = $1 ORDER BY at DESC LIMIT 100",
            instrument
        )
        .fetch_all(&self.pool)
        .await?;
        let row = |(id, at, by_name, known_by, body)| {
            let checked = serde_json::from_value(body).map_err(StoreError::unreadable)?;
            Ok(CheckRow { id, at, by_name, known_by, checked })
        };
        rows.into_iter().map(|row_| row((row_.id, row_.at, row_.by_name, row_.known_by, row_.body))).collect()
    }

    /// What was read with an instrument in some time, by engine, the last one first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn used(
        &self,
        instrument: &str,
        since: Option<OffsetDateTime>,
        until: OffsetDateTime,
    ) -> Result<Vec<InstrumentUse>, StoreError> {
        let since = since.unwrap_or(OffsetDateTime::UNIX_EPOCH);
        // A block's times are in order: how many of them a time has behind it is found by halving.
        let rows = sqlx::query!(
            r#"SELECT used.build_id, builds.summary ->> 'name' AS "name!", used.readings AS "readings!",
                 used.first AS "first!", used.last AS "last!"
             FROM (
                 SELECT build_id, sum(upto - before)::bigint AS readings, min(at[before + 1]) AS first,
                     max(at[upto]) AS last
                 FROM (
                     SELECT build_id, at, width_bucket($2::timestamptz, at) AS before,
                         width_bucket($3::timestamptz, at) AS upto
                     FROM read_with WHERE instrument = $1
                 ) AS block WHERE upto > before GROUP BY build_id
             ) AS used JOIN builds ON builds.id = used.build_id ORDER BY used.last DESC, used.build_id"#,
            instrument,
            since,
            until
        )
        .fetch_all(&self.pool)
        .await?;
        let used = rows.into_iter().map(|row| InstrumentUse {
            build: row.build_id,
            name: row.name,
            readings: row.readings.cast_unsigned(),
            first: row.first,
            last: row.last,
        });
        Ok(used.collect())
    }

    /// What the shop knows of an instrument besides.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such instrument.
    pub async fn card(&self, instrument: &str) -> Result<InstrumentCard, StoreError> {
        let card = sqlx::query_scalar!("SELECT card FROM instruments WHERE id = $1", instrument);
        let card = card.fetch_optional(&self.pool).await?;
        let card = card.ok_or_else(|| StoreError::NotThere(text!("store-instrument", instrument)))?;
        serde_json::from_value(card).map_err(StoreError::unreadable)
    }

    /// Keeps what the shop knows of an instrument besides.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such instrument.
    pub async fn keep_card(
        &self,
        by: &Person,
        instrument: &Instrument,
        card: &InstrumentCard,
    ) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        let body = serde_json::to_value(card).map_err(StoreError::unreadable)?;
        let kept = sqlx::query!("UPDATE instruments SET card = $2 WHERE id = $1", instrument.id, body);
        if kept.execute(&mut *transaction).await?.rows_affected() == 0 {
            return Err(StoreError::NotThere(text!("store-instrument-with-id", id = instrument.id)));
        }
        note(&mut transaction, by, &format!("changed instrument {}", instrument.name)).await?;
        Ok(transaction.commit().await?)
    }

    /// Keeps the file of a certificate under the hash of its content.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_certificate(
        &self,
        hash: &str,
        media: &str,
        name: &str,
        bytes: &[u8],
    ) -> Result<(), StoreError> {
        sqlx::query!(
            "INSERT INTO certificates (hash, media, name, bytes) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING",
            hash,
            media,
            name,
            bytes
        )
        .execute(&self.pool)
        .await?;
        Ok(())
    }

    /// The file of a certificate: its kind and content.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none.
    pub async fn certificate(&self, hash: &str) -> Result<(String, Vec<u8>), StoreError> {
        let row = sqlx::query!("SELECT media, bytes FROM certificates WHERE hash = $1", hash);
        let row = row.fetch_optional(&self.pool).await?;
        let row = row.ok_or_else(|| StoreError::NotThere(text!("store-certificate", hash)))?;
        Ok((row.media, row.bytes))
    }
}

/// Writes what was read with which instrument on an engine, in place of what was known of that.
pub(crate) async fn keep_uses<'a>(
    connection: &mut PgConnection,
    build: Uuid,
    events: impl Iterator<Item = &'a Event>,
) -> Result<(), StoreError> {
    sqlx::query!("DELETE FROM read_with WHERE build_id = $1", build).execute(&mut *connection).await?;
    let used = events.filter_map(|event| Some((event.fact.read_with()?.id.clone(), event)));
    let (instruments, (at, seqs)): (Vec<String>, (Vec<OffsetDateTime>, Vec<i64>)) =
        used.map(|(instrument, event)| (instrument, (event.at, event.seq.cast_signed()))).unzip();
    sqlx::query!(
        "INSERT INTO read_with (instrument, build_id, block, at)
         SELECT given.instrument, $4, block_of(given.seq), array_agg(given.at ORDER BY given.at)
         FROM unnest($1::text[], $2::timestamptz[], $3::bigint[]) AS given (instrument, at, seq) GROUP BY 1, 3",
        &instruments,
        &at,
        &seqs,
        build
    )
    .execute(connection)
    .await?;
    Ok(())
}
