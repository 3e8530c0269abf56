//! What every entry of the record carries: who and when, and what became of it.

use super::person::Person;
use std::sync::Arc;
use time::OffsetDateTime;

/// Who and when, and which entry says so.
#[derive(Debug, Clone, PartialEq)]
pub struct EntryStamp {
    /// The entry.
    pub seq: u64,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by: Arc<Person>,
}

/// That somebody did something to an entry, and why.
#[derive(Debug, Clone, PartialEq)]
pub struct ReasonedStamp {
    /// Who and when.
    pub stamp: EntryStamp,
    /// Why.
    pub reason: String,
}

/// One entry: who and when, and what became of it.
#[derive(Debug, Clone, PartialEq)]
pub struct EntryMark {
    /// Who and when.
    pub stamp: EntryStamp,
    /// Set when it does not count.
    pub voided: Option<Box<ReasonedStamp>>,
    /// Set when a lead approved it.
    pub accepted: Option<Box<ReasonedStamp>>,
}
