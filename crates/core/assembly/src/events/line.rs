//! The life of a build and of its operations: begun, started, left out, signed; and taking entries
//! back or standing for them.

use super::lubricate::LubricantPolicy;
use super::subject::ApprovalSubject;
use rigore_mechanics::clearance::DecisionRule;
use serde::{Deserialize, Serialize};

/// The plan a build is built to.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanRef {
    /// Hash of the plan's text.
    pub hash: String,
    /// Key of the plan.
    pub id: String,
    /// Name of the engine.
    pub name: String,
}

/// A build is begun.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildStart {
    /// What the engine is called in the shop.
    pub name: String,
    /// The plan it is built to.
    pub plan: PlanRef,
    /// What the engine is for, which chooses the windows of its clearances.
    #[serde(default, rename = "use", skip_serializing_if = "Option::is_none")]
    pub use_for: Option<String>,
    /// Whose engine it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub owner: Option<String>,
    /// What the engine itself says it is: its number or mark.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub identity: Option<String>,
    /// What is done with torques where another lubricant is used; only what is specified where it is not said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lubricants: Option<LubricantPolicy>,
    /// The rule by which measured values are judged; that of before there was a choice where it is not said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub decision_rule: Option<DecisionRule>,
}

/// An engine goes on by another version of its plan (C-48).
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanMoveEntry {
    /// The version.
    pub plan: PlanRef,
    /// Why.
    pub reason: String,
    /// What was looked up, where that is all that it changes.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub looked_up: Vec<String>,
}

/// Go on by another version of the plan.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PlanMoveCommand {
    /// Hash of the version's text.
    pub plan: String,
    /// Why.
    pub reason: String,
}

/// Work on an operation starts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OperationStart {
    /// The operation.
    pub operation: String,
}

/// An operation is left out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SkipCommand {
    /// The operation.
    pub operation: String,
    /// Why.
    pub reason: String,
}

/// An operation is signed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SignCommand {
    /// The operation.
    pub operation: String,
    /// Others that the same signature covers.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub also: Vec<String>,
}

impl SignCommand {
    /// A signature under one operation.
    pub fn one(operation: impl Into<String>) -> Self {
        Self { operation: operation.into(), also: Vec::new() }
    }
}

/// An entry is wrong and does not count.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct VoidCommand {
    /// The entry.
    pub seq: u64,
    /// Why.
    pub reason: String,
}

/// A lead approves a deviation.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ApproveCommand {
    /// The entry that deviates.
    pub seq: u64,
    /// What about it: the subject of the issue.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub subject: Option<ApprovalSubject>,
    /// Why it may stand.
    pub reason: String,
}
