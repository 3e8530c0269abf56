//! What goes into an engine for the work and has to come out again.

use serde::{Deserialize, Serialize};

/// A temporary item goes in: it has to come out again.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TemporaryItemCommand {
    /// The operation it goes in at.
    pub operation: String,
    /// What it is, and where: `rag in the oil gallery`.
    pub what: String,
    /// How many of it.
    pub count: u32,
}

/// It came out.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TemporaryItemRemoval {
    /// The operation it comes out at.
    pub operation: String,
    /// The entry by which it went in.
    pub seq: u64,
}
