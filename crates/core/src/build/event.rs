//! What is written down about a build, for good.

use crate::plan::SiteForm;
use serde::{Deserialize, Serialize};
use time::{Date, OffsetDateTime};
use uuid::Uuid;

/// The version of the event format that is written. Older ones keep being read.
pub const EVENT_FORMAT: u8 = 1;

/// One fact with who, when and in which order (C-3).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Event {
    /// Format version.
    pub v: u8,
    /// Place in the build's record, from 1.
    pub seq: u64,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who recorded it.
    pub by: Person,
    /// The command that it answers.
    pub command: Uuid,
    /// What happened.
    pub fact: Fact,
}

/// Somebody of the shop.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Person {
    /// Key, such as `bench-one`.
    pub id: String,
    /// Name shown on the sheet.
    pub name: String,
    /// What they may decide.
    pub role: Role,
}

/// What a person may decide.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Role {
    /// Everything, deviations and the final signature included.
    Lead,
    /// Works and signs operations.
    Bench,
    /// Reads only.
    Viewer,
}

/// A measuring or tightening instrument, as it was when it was used.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Instrument {
    /// Key, such as `wrench-2`.
    pub id: String,
    /// Name shown on the sheet.
    pub name: String,
    /// Serial number.
    #[serde(default)]
    pub serial: String,
    /// Usable torque range in N·m, where it measures torque.
    #[serde(default)]
    pub torque_nm: Option<[f64; 2]>,
    /// Whether it measures angle.
    #[serde(default)]
    pub angle: bool,
    /// The day its calibration runs out, as `YYYY-MM-DD`.
    #[serde(default, with = "iso_date", skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub calibration_due: Option<Date>,
    /// Whether it is a stand-in that only pretends.
    #[serde(default)]
    pub simulated: bool,
    /// Usable range in mm, where it measures lengths.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_mm: Option<[f64; 2]>,
    /// Usable range in cm³, where it measures volumes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volume_cc: Option<[f64; 2]>,
    /// What it is made to measure, such as bores; anything in its range when empty.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub made_for: Vec<SiteForm>,
    /// Most that a length or volume it shows is off, to either side, mm or cm³.
    #[serde(default, alias = "accuracy_mm")]
    pub accuracy: f64,
    /// Smallest step of length or volume it shows, mm or cm³.
    #[serde(default, alias = "resolution_mm")]
    pub resolution: f64,
}

mod iso_date {
    time::serde::format_description!(date, Date, "[year]-[month]-[day]");
    pub use date::option::{deserialize, serialize};
}

/// How a reading came in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Method {
    /// Typed by a person.
    Typed,
    /// Sent by an instrument.
    Device,
    /// Read from a file.
    Imported,
    /// Made up by a stand-in.
    Simulated,
}

/// What an instrument showed.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reading {
    /// Peak torque in N·m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_nm: Option<f64>,
    /// Angle turned in degrees.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub angle_deg: Option<f64>,
    /// What a person typed, to the letter.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub entered: Option<String>,
}

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
    pub condition: Condition,
    /// How many engines it was in before.
    #[serde(default)]
    pub uses: u32,
    /// What the machine shop did to it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub machining: String,
}

/// In which condition a part is taken in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Condition {
    /// Never used.
    #[default]
    New,
    /// Used, as it came out.
    Used,
    /// Used and machined since.
    Reworked,
}

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case")]
pub enum Fact {
    /// A build was begun.
    Begun {
        /// What the engine is called in the shop.
        name: String,
        /// The plan it is built to.
        plan: PlanRef,
        /// What the engine is for, which chooses the windows of its clearances.
        #[serde(default, rename = "use", skip_serializing_if = "Option::is_none")]
        use_for: Option<String>,
        /// Whose engine it is.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        owner: Option<String>,
        /// What the engine itself says it is: its number or mark.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        identity: Option<String>,
    },
    /// Something was measured.
    Measured {
        /// The operation.
        operation: String,
        /// The site.
        site: String,
        /// The place on it, from 0.
        place: usize,
        /// What was read, in the site's base unit: mm or cm³.
        #[serde(alias = "read_mm")]
        read: f64,
        /// The set master it was read against, where it was.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        master: Option<f64>,
        /// Temperature of the part, °C, where it was given.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        temperature_c: Option<f64>,
        /// What a person typed, to the letter.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        entered: Option<String>,
        /// Whether it is outside the plausible range and was kept on purpose.
        #[serde(default)]
        unlikely: bool,
        /// How it came in.
        method: Method,
        /// With what it was read.
        instrument: Instrument,
    },
    /// Shells were chosen for one bore.
    ShellsChosen {
        /// The operation.
        operation: String,
        /// The clearance.
        clearance: String,
        /// Which bore, from 1.
        number: usize,
        /// Grade of the upper shell.
        upper: String,
        /// Grade of the lower shell.
        lower: String,
    },
    /// Shells of a grade at hand were counted.
    ShellsCounted {
        /// The operation.
        operation: String,
        /// The clearance.
        clearance: String,
        /// The grade.
        grade: String,
        /// How many there are.
        count: u32,
    },
    /// The crankshaft was turned.
    Turned {
        /// The operation.
        operation: String,
        /// Whether it turned freely.
        free: bool,
        /// Turning torque, N·m, where it was measured.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        torque_nm: Option<f64>,
        /// What a person typed, to the letter.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        entered: Option<String>,
    },
    /// A part was entered into its slot.
    Fitted {
        /// The operation.
        operation: String,
        /// Key of the slot.
        slot: String,
        /// What it is.
        part: PartNote,
    },
    /// Hardware was counted.
    Counted {
        /// The operation.
        operation: String,
        /// Key of the hardware.
        hardware: String,
        /// How many there were.
        count: u32,
    },
    /// An operation was left out.
    Skipped {
        /// The operation.
        operation: String,
        /// Why.
        reason: String,
    },
    /// Work on an operation was started.
    Started {
        /// The operation.
        operation: String,
    },
    /// An item of an operation was confirmed.
    Confirmed {
        /// The operation.
        operation: String,
        /// The item.
        item: String,
    },
    /// A wrench was pulled.
    Pulled {
        /// The operation.
        operation: String,
        /// The stage it was meant for, from 0.
        stage: usize,
        /// The fastener.
        fastener: String,
        /// What was read.
        reading: Reading,
        /// How it came in.
        method: Method,
        /// With what it was read.
        instrument: Instrument,
    },
    /// An action between stages was done.
    Acted {
        /// The operation.
        operation: String,
        /// The stage, from 0.
        stage: usize,
    },
    /// A fastener was loosened, so that its stages start again.
    Loosened {
        /// The operation.
        operation: String,
        /// The fastener.
        fastener: String,
        /// Whether a new one went in.
        replaced: bool,
        /// Why.
        reason: String,
    },
    /// An earlier entry was wrong and does not count.
    Voided {
        /// The entry.
        seq: u64,
        /// Why.
        reason: String,
    },
    /// A deviation was accepted by a lead.
    Accepted {
        /// The entry that deviates.
        seq: u64,
        /// What about it, where an entry may be at fault in more than one way.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        subject: Option<String>,
        /// Why it may stand.
        reason: String,
    },
    /// An operation was signed.
    Signed {
        /// The operation.
        operation: String,
    },
}
