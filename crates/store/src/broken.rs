//! A record that is not as it was recorded.

use std::fmt;
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;

/// What of the record is not as it was recorded.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BrokenRecord {
    /// The build.
    pub build: Uuid,
    /// The entry.
    pub seq: u64,
    /// What is wrong with it.
    pub what: String,
    /// When it was first found.
    pub found: OffsetDateTime,
}

impl fmt::Display for BrokenRecord {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let found =
            self.found.replace_nanosecond(0).unwrap_or(self.found).format(&Rfc3339).unwrap_or_default();
        write!(f, "build {}: entry {} {} (found {found})", self.build, self.seq, self.what)
    }
}
