//! Turns of the crankshaft.

use serde::{Deserialize, Serialize};

/// The crankshaft was turned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TurnEntry {
    /// The operation.
    pub operation: String,
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, N·m, where it was measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_nm: Option<f64>,
    /// What a person typed, to the letter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub entered: Option<String>,
}

/// Record a turn of the crankshaft.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TurnCommand {
    /// The operation.
    pub operation: String,
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, where it was measured: text such as `4.5` or `40 lbf·in`.
    #[serde(default)]
    pub text: Option<String>,
    /// Symbol of the unit that a bare number is in; N·m when left out.
    #[serde(default)]
    pub unit: Option<String>,
}
