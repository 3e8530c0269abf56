//! What work waits for outside of the bench, and what was promised (C-50).

use crate::iso_date;
use serde::{Deserialize, Serialize};
use time::Date;

/// What kind of thing work waits for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BlockerKind {
    /// Something is on order.
    Order,
    /// Something is away, at a machine shop or with its maker.
    Away,
    /// The engine was put on hold.
    Hold,
}

/// Work waits for something.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BlockerCommand {
    /// What kind of thing it is.
    pub kind: BlockerKind,
    /// What it is, or why: `main shells, second undersize`.
    pub what: String,
    /// The slot of the part, where it is one: what fits that part waits for it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slot: Option<String>,
    /// The operation that waits for it, where it is one; the whole engine where neither is said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub operation: Option<String>,
    /// The day it is expected, as `YYYY-MM-DD`, where somebody knows.
    #[serde(default, with = "iso_date::option", skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub expected: Option<Date>,
}

/// What work waited for is there.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BlockerEnd {
    /// The entry by which it began.
    pub seq: u64,
}

/// An engine was promised.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DueDate {
    /// The day it is to be ready by, as `YYYY-MM-DD`.
    #[serde(with = "iso_date")]
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub by: Date,
    /// To whom, or why it changed.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}
