//! Pulls, loosenings and what is done between stages.

use super::instrument::{Instrument, Method};
use crate::tightening::Reading;
use serde::{Deserialize, Serialize};

/// A wrench was pulled.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Pulled {
    /// The operation.
    pub operation: String,
    /// The stage it was meant for, from 0.
    pub stage: usize,
    /// The fastener.
    pub fastener: String,
    /// What was read.
    pub reading: Reading,
    /// How it came in.
    pub method: Method,
    /// With what it was read.
    pub instrument: Instrument,
}

/// A click wrench was set. What it is set to belongs to the wrench until it is set again, whatever engine
/// it is used on (C-46).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WrenchSet {
    /// The operation it was set for.
    pub operation: String,
    /// The wrench.
    pub instrument: Instrument,
    /// What it is set to, N·m.
    pub torque_nm: f64,
    /// What a person typed, to the letter.
    pub entered: String,
}

/// Record that a click wrench was set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SetWrench {
    /// The operation it is set for.
    pub operation: String,
    /// Key of the wrench.
    pub instrument: String,
    /// What it is set to, such as `22 lbf·ft` or `30`.
    pub text: String,
    /// Symbol of the unit that a bare number is in; N·m when left out.
    #[serde(default)]
    pub unit: Option<String>,
}

/// Record a pull.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pull {
    /// The operation.
    pub operation: String,
    /// The stage, from 0.
    pub stage: usize,
    /// The fastener.
    pub fastener: String,
    /// What was read; of a click, what the wrench is said to be set to.
    pub reading: Given,
    /// How it came in.
    pub method: Method,
    /// Key of the instrument.
    pub instrument: String,
    /// Whether somebody was asked about an unlikely figure and meant it.
    #[serde(default)]
    pub sure: bool,
}

/// A reading as it comes in: what a person typed, or what an instrument sent.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Given {
    /// Typed text, such as `22 lbf·ft` or `80`.
    #[serde(default)]
    pub text: Option<String>,
    /// Symbol of the unit that a bare number is in; the base unit of what is read when left out.
    #[serde(default)]
    pub unit: Option<String>,
    /// Torque sent by an instrument, N·m.
    #[serde(default)]
    pub torque_nm: Option<f64>,
    /// Angle sent by an instrument, degrees.
    #[serde(default)]
    pub angle_deg: Option<f64>,
}

/// An action between stages is done.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Act {
    /// The operation.
    pub operation: String,
    /// The stage, from 0.
    pub stage: usize,
}

/// A fastener is loosened, so that its stages start again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Loosen {
    /// The operation.
    pub operation: String,
    /// The fastener.
    pub fastener: String,
    /// Whether a new one went in.
    pub replaced: bool,
    /// Why.
    pub reason: String,
}
