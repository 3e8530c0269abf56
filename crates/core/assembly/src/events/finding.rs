//! Something that was found, and what became of it (C-41).

use serde::{Deserialize, Serialize};

/// What a finding is about.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum FindingSubject {
    /// A fastener and its hole.
    Fastener {
        /// Key of the joint.
        joint: String,
        /// The fastener.
        fastener: String,
    },
    /// A part in its slot.
    Part {
        /// Key of the slot.
        slot: String,
    },
    /// Something that is measured.
    Site {
        /// Key of the site.
        site: String,
    },
    /// The operation itself, where it is about nothing in particular.
    Operation {
        /// Key of the operation.
        operation: String,
    },
}

/// A picture, kept beside the record.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Picture {
    /// SHA-256 of its bytes, in hex.
    pub hash: String,
    /// What it is: `image/jpeg` or `image/png`.
    pub media: String,
    /// How many bytes it has.
    pub bytes: u64,
}

/// A finding was reported.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FindingCommand {
    /// The operation it was found at.
    pub operation: String,
    /// What it is about.
    pub about: FindingSubject,
    /// What was found.
    pub text: String,
    /// A picture of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<Picture>,
}

/// What is done about a finding.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FindingDecision {
    /// It is mended, and looked at again.
    Mend,
    /// The part is changed, and looked at again.
    Change,
    /// It stays as it is.
    Accept,
}

/// A lead decides what is done about a finding.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FindingDecisionCommand {
    /// The finding's entry.
    pub seq: u64,
    /// What is done.
    pub decision: FindingDecision,
    /// Why, and how.
    pub reason: String,
}

/// A finding is looked at again after it was mended or changed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FindingReviewCommand {
    /// The finding's entry.
    pub seq: u64,
    /// Whether it is right now.
    pub right: bool,
    /// What is seen.
    pub text: String,
    /// A picture of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<Picture>,
}
