//! A friction test as a person enters it.

use rigore_mechanics::message::Message;
use serde::{Deserialize, Serialize};

/// A friction test as it is entered.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FrictionTestEntry {
    /// What the bolt is called, as in plans: `Rod bolt`.
    pub fastener: String,
    /// Its thread.
    pub thread: String,
    /// Its batch, where it is known.
    #[serde(default)]
    pub batch: String,
    /// Its own resilience: `4.83 µm/kN`.
    pub resilience: String,
    /// Mean diameter of the face that turns; that of an ordinary hexagon head when left out.
    #[serde(default)]
    pub bearing_diameter: Option<String>,
    /// Where it yields, where that is known.
    #[serde(default)]
    pub yield_strength: Option<String>,
    /// Diameter of a shank that is thinner than its thread.
    #[serde(default)]
    pub shank: Option<String>,
    /// Anything else worth knowing.
    #[serde(default)]
    pub note: String,
    /// Key of the wrench.
    pub wrench: String,
    /// Key of the gauge.
    pub gauge: String,
    /// Symbol of the unit that bare torques are in; N·m when left out.
    #[serde(default)]
    pub torque_unit: Option<String>,
    /// Symbol of the unit that bare stretches are in; mm when left out.
    #[serde(default)]
    pub length_unit: Option<String>,
    /// One lubricant after another, in the order they were tried.
    pub runs: Vec<FrictionRunEntry>,
}

/// The bolt on one lubricant, as it is entered.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FrictionRunEntry {
    /// Key of what is on the thread.
    pub thread_lubricant: String,
    /// Key of what is under the head or nut; the same when left out.
    #[serde(default)]
    pub bearing_lubricant: Option<String>,
    /// Torques with their stretches.
    pub readings: Vec<FrictionReadingEntry>,
}

/// A torque with its stretch, as it is entered.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FrictionReadingEntry {
    /// The torque: `40 N·m`.
    pub torque: String,
    /// The stretch under it: `0.095 mm`.
    pub stretch: String,
    /// What was left of the stretch once it was loosened, where that was read.
    #[serde(default)]
    pub left: Option<String>,
}

/// What is wrong with a test that is entered.
#[derive(Debug, Clone, PartialEq)]
pub struct FrictionTestError {
    /// The field: `runs[0].readings[2].torque`.
    pub field: String,
    /// What is wrong with it, and what is allowed.
    pub message: Message,
}

pub(super) fn wrong(field: impl Into<String>, message: impl Into<Message>) -> FrictionTestError {
    FrictionTestError { field: field.into(), message: message.into() }
}
