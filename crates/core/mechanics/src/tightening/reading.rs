//! What an instrument showed on one pull.

use serde::{Deserialize, Serialize};

/// What an instrument showed on one pull.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ToolReading {
    /// Peak torque in N·m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_nm: Option<f64>,
    /// Angle turned in degrees.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub angle_deg: Option<f64>,
    /// What the dial or phone showed before the turn, degrees, where it was not zeroed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub start_deg: Option<f64>,
    /// Slots that a castellated nut went on by; below zero where it was turned back.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slots: Option<f64>,
    /// How much longer the fastener was than free, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stretch_mm: Option<f64>,
    /// How far a stud stands out, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height_mm: Option<f64>,
    /// Whether it was loosened again, where a procedure asks for that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub loosened: Option<bool>,
    /// What a person typed, to the letter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub entered: Option<String>,
}
