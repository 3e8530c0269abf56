//! What fasteners really turn on, and what the shop does where that is not what the plan asks for.

use rigore_mechanics::friction::Lubrication;
use serde::{Deserialize, Serialize};

/// What is done with a torque where another lubricant is used than the one it was given for (C-26).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum LubricantPolicy {
    /// Only what the plan asks for: it is not converted, and a lead has to approve the other one.
    #[default]
    AsSpecified,
    /// It is converted at equal preload.
    Convert,
}

/// What the fasteners of a group turn on, from here on in this round of their joint.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LubricantEntry {
    /// The operation.
    pub operation: String,
    /// The joint, where the operation has more than one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<String>,
    /// The group.
    pub group: String,
    /// What it is, with its figures as they were known then.
    #[serde(flatten)]
    pub lubrication: Lubrication,
    /// Whether torques are converted to it.
    #[serde(default)]
    pub converts: bool,
    /// Whether what was pulled before in this round turned on it, too.
    #[serde(default)]
    pub pulled_too: bool,
    /// Why it is another one than the plan asks for, where it is.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub reason: String,
}

/// Record what the fasteners of a group turn on.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LubricantCommand {
    /// The operation.
    pub operation: String,
    /// Key of the joint; may be left out where the operation has one only.
    #[serde(default)]
    pub joint: Option<String>,
    /// Key of the group.
    pub group: String,
    /// Key of what is on the thread.
    pub thread: String,
    /// Key of what is under the head or nut.
    pub bearing: String,
    /// Whether its friction is the one that the shop has measured, and not that of the table (C-28).
    #[serde(default)]
    pub measured: bool,
    /// Whether what was pulled before in this round turned on it, too.
    #[serde(default)]
    pub pulled_too: bool,
    /// Why it is another one than the plan asks for; needed where it is.
    #[serde(default)]
    pub reason: String,
}

/// A lead decides what is done with torques where another lubricant is used, on this engine, from now on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LubricantPolicyCommand {
    /// What is done.
    pub lubricants: LubricantPolicy,
    /// Why.
    pub reason: String,
}
