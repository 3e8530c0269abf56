//! Signing the heads of records, and finding the entry that a printed hash is of.

use crate::entry::parse;
use crate::heads::{Head, Heads};
use crate::{Store, StoreError};
use rigore_mechanics::text;
use std::io;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

/// The entry whose hash is printed on a sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PrintedEntry {
    /// The engine.
    pub build: Uuid,
    /// Its number.
    pub seq: u64,
    /// When it was made.
    pub at: OffsetDateTime,
    /// How many entries the engine has now.
    pub entries: u64,
}

impl Store {
    /// The same store, which signs heads of records, and holds records against those that were signed.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn with_heads(mut self, heads: Heads) -> Result<Self, StoreError> {
        let rows = sqlx::query!("SELECT build_id, seq, hash, at, key, signature FROM heads");
        let kept = rows.fetch_all(&self.pool).await?.into_iter().map(|row| Head {
            build: row.build_id,
            seq: row.seq.cast_unsigned(),
            hash: row.hash,
            at: row.at,
            key: row.key,
            signature: row.signature,
        });
        heads.add(kept);
        self.heads = Some(Arc::new(heads));
        Ok(self)
    }

    /// The last head of an engine that this shop has signed.
    pub fn head(&self, build: Uuid) -> Option<Head> {
        self.heads.as_ref()?.last(build)
    }

    /// Signs the head of a record. What was recorded stands whatever becomes of that.
    pub(crate) async fn sign_head(&self, build: Uuid, seq: u64, hash: &[u8]) {
        let Some(heads) = self.heads.clone() else { return };
        let head = heads.sign(build, seq, hash);
        let kept = sqlx::query!(
            "INSERT INTO heads (build_id, seq, hash, at, key, signature) VALUES ($1, $2, $3, $4, $5, $6)
             ON CONFLICT DO NOTHING",
            head.build,
            head.seq.cast_signed(),
            head.hash,
            head.at,
            head.key,
            head.signature
        );
        if let Err(error) = kept.execute(&self.pool).await {
            tracing::error!(%build, %error, "the signed head is not in the database");
        }
        let written = tokio::task::spawn_blocking(move || {
            heads.write(&head)?;
            heads.add(std::iter::once(head));
            Ok::<_, io::Error>(())
        });
        if !matches!(written.await, Ok(Ok(()))) {
            tracing::error!(%build, "the signed head is not in the file beside the database");
        }
    }

    /// Which entry has a hash, as it is printed on a sheet: of one engine, or of any, for which all entries are looked
    /// through.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] where no entry has it.
    pub async fn printed_entry(&self, hash: &str, of: Option<Uuid>) -> Result<PrintedEntry, StoreError> {
        let bytes = hex::decode(hash.trim()).unwrap_or_default();
        let found = if let Some(build) = of {
            let row = sqlx::query!("SELECT seq FROM events WHERE build_id = $1 AND hash = $2", build, bytes);
            row.fetch_optional(&self.pool).await?.map(|row| (build, row.seq))
        } else {
            let row = sqlx::query!("SELECT build_id, seq FROM events WHERE hash = $1 LIMIT 1", bytes);
            row.fetch_optional(&self.pool).await?.map(|row| (row.build_id, row.seq))
        };
        let (build, seq) = found.ok_or_else(|| StoreError::NotThere(text!("store-entry-with-hash", hash)))?;
        let row = sqlx::query!(
            r#"SELECT body, (SELECT max(seq) FROM events WHERE build_id = $1) AS "last!"
               FROM events WHERE build_id = $1 AND seq = $2"#,
            build,
            seq
        );
        let row = row.fetch_one(&self.pool).await?;
        let at = parse(&row.body)?.at;
        Ok(PrintedEntry { build, seq: seq.cast_unsigned(), at, entries: row.last.cast_unsigned() })
    }
}
