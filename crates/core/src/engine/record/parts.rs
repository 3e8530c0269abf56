//! Parts entered into their slots.

use serde::{Deserialize, Serialize};

/// A part goes into its slot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fit {
    /// The operation.
    pub operation: String,
    /// Key of the slot.
    pub slot: String,
    /// What it is.
    pub part: PartNote,
}

/// A part as it is taken in.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PartNote {
    /// The maker's reference, as free text.
    pub reference: String,
    /// Batch, where it has one.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub batch: String,
    /// Serial number, where it has one.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub serial: String,
    /// In which condition it is.
    pub condition: Condition,
    /// How many engines it was in before.
    #[serde(default)]
    pub uses: u32,
    /// What the machine shop did to it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub machining: String,
}

/// In which condition a part is taken in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Condition {
    /// Never used.
    #[default]
    New,
    /// Used, as it came out.
    Used,
    /// Used and machined since.
    Reworked,
}
