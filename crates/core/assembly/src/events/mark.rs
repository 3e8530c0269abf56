//! What every entry of the record carries: who and when, and what became of it.

use super::person::Person;
use std::sync::Arc;
use time::OffsetDateTime;

/// Who and when, and which entry says so.
#[derive(Debug, Clone, PartialEq)]
pub struct Stamp {
    /// The entry.
    pub seq: u64,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by: Arc<Person>,
}

/// That somebody did something to an entry, and why.
#[derive(Debug, Clone, PartialEq)]
pub struct Reasoned {
    /// Who and when.
    pub stamp: Stamp,
    /// Why.
    pub reason: String,
}

/// One entry: who and when, and what became of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Mark {
    /// Who and when.
    pub stamp: Stamp,
    /// Set when it does not count.
    pub voided: Option<Box<Reasoned>>,
    /// Set when a lead stands for it.
    pub accepted: Option<Box<Reasoned>>,
}
