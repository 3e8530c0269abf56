//! Sizes that were read, and graded shells.

use super::instrument::{Instrument, ReadingMethod};
use rigore_mechanics::clearance::DecisionRule;
use serde::{Deserialize, Serialize};

/// Something was measured.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasurementEntry {
    /// The operation.
    pub operation: String,
    /// The site.
    pub site: String,
    /// The place on it, from 0.
    pub place: usize,
    /// What was read, in the site's base unit: mm or cm³.
    #[serde(alias = "read_mm")]
    pub read: f64,
    /// The set master it was read against, where it was.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub master: Option<f64>,
    /// Temperature of the part, °C, where it was given.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature_c: Option<f64>,
    /// What a person typed, to the letter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub entered: Option<String>,
    /// Whether it is outside the plausible range and was kept on purpose.
    #[serde(default)]
    pub unlikely: bool,
    /// How it came in.
    pub method: ReadingMethod,
    /// With what it was read.
    pub instrument: Instrument,
}

/// Record a reading.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MeasureCommand {
    /// The operation.
    pub operation: String,
    /// Key of the site.
    pub site: String,
    /// The place on it, from 0.
    pub place: usize,
    /// What was read: text such as `54.987`, `2.165 in` or `+0.012 on 55`.
    pub text: String,
    /// Symbol of the unit that a bare number is in; mm or cm³ when left out.
    #[serde(default)]
    pub unit: Option<String>,
    /// Temperature of the part, °C.
    #[serde(default)]
    pub temperature_c: Option<f64>,
    /// Keep it although it is outside the plausible range.
    #[serde(default)]
    pub sure: bool,
    /// How it came in.
    pub method: ReadingMethod,
    /// Key of the instrument.
    pub instrument: String,
}

/// Shells are chosen for one bore.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShellChoiceCommand {
    /// The operation.
    pub operation: String,
    /// Key of the clearance.
    pub clearance: String,
    /// Which bore, from 1.
    pub number: usize,
    /// Grade of the upper shell.
    pub upper: String,
    /// Grade of the lower shell.
    pub lower: String,
}

/// Shells of a grade at hand are counted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShellCountCommand {
    /// The operation.
    pub operation: String,
    /// Key of the clearance.
    pub clearance: String,
    /// The grade.
    pub grade: String,
    /// How many there are.
    pub count: u32,
}

/// A lead decides by which rule measured values are judged, on this engine, from now on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DecisionRuleCommand {
    /// The rule.
    pub decision_rule: DecisionRule,
    /// Why.
    pub reason: String,
}
