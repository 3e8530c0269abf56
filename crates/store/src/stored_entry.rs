//! An entry as it is stored.

/// An entry as it is stored.
#[derive(Debug, Clone)]
pub(crate) struct StoredEntry {
    /// Its number.
    pub seq: i64,
    /// Its text, as it was written.
    pub body: String,
    /// Its hash.
    pub hash: Vec<u8>,
}
