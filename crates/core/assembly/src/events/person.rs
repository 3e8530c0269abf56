//! Who records.

use serde::{Deserialize, Serialize};

/// Somebody of the shop.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Person {
    /// Key, such as `bench-one`.
    pub id: String,
    /// Name shown on the sheet.
    pub name: String,
    /// What they may decide.
    pub role: Role,
}

/// What a person may decide.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Role {
    /// Everything, deviations and the final signature included.
    Lead,
    /// Works and signs operations.
    Bench,
    /// Reads only.
    Viewer,
}

impl Role {
    /// Whether it may write anything at all.
    pub fn may_record(self) -> bool {
        self != Self::Viewer
    }
}
