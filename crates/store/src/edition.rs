//! What is kept beside the record by rules that may change: each row says by which edition of them it was computed.

use crate::StoreError;
use serde::de::DeserializeOwned;

/// The edition of the rules that list rows are computed by. Raise it when a row may come out otherwise: rows of older
/// editions are computed anew after the start.
pub(crate) const EDITION: i32 = 15;

/// Reads what is kept of a build; none where older rules wrote it so that it cannot be read any more, until it is computed
/// anew.
pub(crate) fn read_row<T: DeserializeOwned>(body: &str, edition: i32) -> Result<Option<T>, StoreError> {
    match serde_json::from_str(body) {
        Ok(read) => Ok(Some(read)),
        Err(_) if edition < EDITION => Ok(None),
        Err(error) => Err(StoreError::Unreadable(error.to_string())),
    }
}
