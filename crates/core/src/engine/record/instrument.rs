//! With what a reading was taken, and how it came in.

use crate::plan::SiteForm;
use serde::{Deserialize, Serialize};
use time::Date;

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
    /// Whether it shows no figure, but clicks at the torque that it is set to (C-46).
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub clicks: bool,
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
    /// Heard: the wrench clicked at what it was set to (C-46).
    Clicked,
}

impl Method {
    /// How a reading with an instrument is recorded: what a stand-in sends is made up, and says so.
    #[must_use]
    pub fn with(self, instrument: &Instrument) -> Self {
        if self == Self::Device && instrument.simulated { Self::Simulated } else { self }
    }
}
