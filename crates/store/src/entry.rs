//! Reading entries.

use crate::stored_entry::StoredEntry;
use crate::{Store, StoreError};
use rigore_assembly::{EVENT_FORMAT, Event};
use uuid::Uuid;

/// Reads the text of an entry.
///
/// # Errors
/// [`StoreError::Newer`] where a newer Rigore wrote it, [`StoreError::Unreadable`] where it is no entry.
pub(crate) fn parse(body: &str) -> Result<Event, StoreError> {
    let event = serde_json::from_str::<Event>(body);
    if event.as_ref().is_ok_and(|event| event.v <= EVENT_FORMAT) {
        return event.map_err(StoreError::unreadable);
    }
    // A newer one may have what this one cannot read.
    let version =
        serde_json::from_str::<serde_json::Value>(body).ok().and_then(|body| body.get("v")?.as_u64());
    if version.is_some_and(|version| version > u64::from(EVENT_FORMAT)) {
        return Err(StoreError::Newer("This engine".to_owned()));
    }
    event.map_err(StoreError::unreadable)
}

impl Store {
    /// The entries of a build after one, in order.
    pub(crate) async fn stored_entries(
        &self,
        build: Uuid,
        after: u64,
    ) -> Result<Vec<StoredEntry>, StoreError> {
        let entries = sqlx::query_as!(
            StoredEntry,
            "SELECT seq, body, hash FROM events WHERE build_id = $1 AND seq > $2 ORDER BY seq",
            build,
            after.cast_signed()
        );
        Ok(entries.fetch_all(&self.pool).await?)
    }
}
