//! Pulls, loosenings and what is done between stages.

use super::instrument::{Instrument, ReadingMethod};
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::adapter::Adapter;
use serde::{Deserialize, Serialize};

/// A wrench was pulled.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PullEntry {
    /// The operation.
    pub operation: String,
    /// The joint, where the operation has more than one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<String>,
    /// The stage it was meant for, from 0.
    pub stage: usize,
    /// The fastener.
    pub fastener: String,
    /// What was read.
    pub reading: ToolReading,
    /// How it came in.
    pub method: ReadingMethod,
    /// With what it was read.
    pub instrument: Instrument,
    /// What stood between the wrench and the fastener, where that changes what is read (C-15).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub adapter: Option<Adapter>,
    /// What the builder says of the pull itself.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<PullNote>,
}

/// What a builder says of a pull at the bolt.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum PullNote {
    /// Not sure that it clicked: it is pulled again, or rechecked at the end.
    Unsure,
    /// Stopped in mid-pull, where friction at rest is higher (C-12), and pulled on.
    Stopped,
}

/// A lead lets a fastener that is climbed to its stretch use more of its yield than the plan allows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FurtherPullEntry {
    /// The operation.
    pub operation: String,
    /// The joint, where the operation has more than one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<String>,
    /// The fastener.
    pub fastener: String,
    /// The most that it may use of its yield now; 1 is yield.
    pub utilisation: f64,
    /// Why.
    pub reason: String,
}

/// Let a fastener be pulled further than the plan allows, up to its yield.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FurtherPullCommand {
    /// The operation.
    pub operation: String,
    /// Key of the joint; may be left out where the operation has one only.
    #[serde(default)]
    pub joint: Option<String>,
    /// The fastener.
    pub fastener: String,
    /// Why.
    pub reason: String,
}

/// A click wrench was set. What it is set to belongs to the wrench until it is set again, whatever engine
/// it is used on (C-46).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WrenchSettingEntry {
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
pub struct WrenchSettingCommand {
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
pub struct PullCommand {
    /// The operation.
    pub operation: String,
    /// Key of the joint; may be left out where the operation has one only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<String>,
    /// The stage, from 0.
    pub stage: usize,
    /// The fastener.
    pub fastener: String,
    /// What was read; of a click, what the wrench is said to be set to.
    pub reading: GivenReading,
    /// How it came in.
    pub method: ReadingMethod,
    /// Key of the instrument.
    pub instrument: String,
    /// Whether somebody was asked about an unlikely figure and meant it.
    #[serde(default)]
    pub sure: bool,
    /// What the builder says of the pull itself.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<PullNote>,
}

/// A reading as it comes in: what a person typed, or what an instrument sent.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct GivenReading {
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
    /// Stretch sent by an instrument, mm.
    #[serde(default)]
    pub stretch_mm: Option<f64>,
    /// What a dial or phone showed before the turn, degrees: the text is then what it showed after it.
    #[serde(default)]
    pub start_deg: Option<f64>,
    /// Whether that dial counts down while the wrench tightens.
    #[serde(default)]
    pub counts_down: bool,
    /// Typed torque that the wrench showed as well at the end of an angle (C-45).
    #[serde(default)]
    pub torque_text: Option<String>,
    /// Symbol of the unit that a bare figure of that torque is in; N·m when left out.
    #[serde(default)]
    pub torque_unit: Option<String>,
}

/// Something was done by hand between pulls.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ActionEntry {
    /// The operation.
    pub operation: String,
    /// The joint, where the operation has more than one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<String>,
    /// The stage, from 0.
    pub stage: usize,
    /// Fasteners that would not run down.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub except: Vec<String>,
    /// With what, where it was not by hand.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub instrument: Option<Instrument>,
    /// Why it was done again although it was done.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub again: Option<String>,
}

/// Record that something was done by hand between pulls.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ActionCommand {
    /// The operation.
    pub operation: String,
    /// Key of the joint; may be left out where the operation has one only.
    #[serde(default)]
    pub joint: Option<String>,
    /// The stage, from 0.
    pub stage: usize,
    /// Fasteners that would not run down.
    #[serde(default)]
    pub except: Vec<String>,
    /// Key of the driver, where fasteners were run down with one.
    #[serde(default)]
    pub instrument: Option<String>,
    /// Why it is done again although it was done: a bead of sealant that skinned is laid again.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub again: Option<String>,
}

/// A fastener was loosened: for its stages to start again, or in the operation that takes a joint apart.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LooseningEntry {
    /// The operation.
    pub operation: String,
    /// The joint, where the operation has more than one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<String>,
    /// The fastener.
    pub fastener: String,
    /// Whether another one went in.
    pub replaced: bool,
    /// Which one went in, where it was replaced: `new`, or which used one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub with: Option<String>,
    /// Why.
    pub reason: String,
    /// How much longer it was then than it had been free, mm, where that was measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub left_mm: Option<f64>,
    /// How much shorter it got, mm, where the gauge was zeroed on the tight fastener.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub released_mm: Option<f64>,
    /// With what.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub instrument: Option<Instrument>,
}

/// Record that a fastener was loosened.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LoosenCommand {
    /// The operation.
    pub operation: String,
    /// Key of the joint; may be left out where the operation has one only.
    #[serde(default)]
    pub joint: Option<String>,
    /// The fastener.
    pub fastener: String,
    /// Whether another one went in.
    #[serde(default)]
    pub replaced: bool,
    /// Which one went in, where it was replaced: `new`, or which used one; `new` when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub with: Option<String>,
    /// Why; may be left out in an operation that takes a joint apart.
    #[serde(default)]
    pub reason: String,
    /// Whether everything that comes after it was loosened too, in the right order.
    #[serde(default)]
    pub rest: bool,
    /// What was left of its stretch, where that was measured: `0.001 mm`.
    #[serde(default)]
    pub left: Option<String>,
    /// How much shorter it got, where the gauge was zeroed on the tight fastener: `0.142 mm`.
    #[serde(default)]
    pub released: Option<String>,
    /// Symbol of the unit that a bare figure of it is in; mm when left out.
    #[serde(default)]
    pub unit: Option<String>,
    /// Key of the gauge it was measured with.
    #[serde(default)]
    pub instrument: Option<String>,
}
