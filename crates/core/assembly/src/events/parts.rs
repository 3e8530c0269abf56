//! Parts entered into their slots.

use rigore_mechanics::message::Message;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A part goes into its slot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FitCommand {
    /// The operation.
    pub operation: String,
    /// Key of the slot.
    pub slot: String,
    /// What it is.
    pub part: PartNote,
    /// What the shop knew of it then; it is looked up when the part is entered, whatever is sent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub before: Option<EarlierUse>,
}

/// What the shop knew of a part when it was entered: where it had been by its serial, mark or set number (C-23).
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EarlierUse {
    /// Engines that it was in, the first one first.
    pub engines: Vec<String>,
    /// How often it was used: of a set, its piece that was used most.
    pub uses: u32,
    /// What of it is scrap, and why.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub scrap: Vec<Message>,
    /// Key of the place that it was in last.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub slot: String,
    /// What that place is called.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub place: String,
    /// The first free length of each piece that one is known of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub free: Vec<FreeLength>,
}

/// The free length of one piece of a set.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FreeLength {
    /// Which piece, from 1.
    pub piece: usize,
    /// Its length, mm.
    pub mm: f64,
}

/// What somebody has to say of a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum PartRemarkKind {
    /// Something was found on it.
    Finding,
    /// It was worked on.
    Reconditioned,
    /// It is not to be used again.
    Scrapped,
}

/// Something is said of a part, or of one piece of a set.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PartRemarkCommand {
    /// The operation that takes it in.
    pub operation: String,
    /// Key of the slot.
    pub slot: String,
    /// Which piece of the set, from 1; 0 for the part itself, or for the whole set.
    #[serde(default)]
    pub piece: usize,
    /// Of which kind it is.
    pub kind: PartRemarkKind,
    /// What is said.
    pub text: String,
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
    pub condition: PartCondition,
    /// How many engines it was in before.
    #[serde(default)]
    pub uses: u32,
    /// What the machine shop did to it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub machining: String,
    /// The number or side that it carries, where its kind has one (C-56).
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub stamp: String,
    /// Its sizes, by their keys in the plan (C-55).
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub sizes: BTreeMap<String, String>,
}

/// In which condition a part is taken in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum PartCondition {
    /// Never used.
    #[default]
    New,
    /// Used, as it came out.
    Used,
    /// Used and machined since.
    Reworked,
}
