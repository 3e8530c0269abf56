//! With what a reading was taken, and how it came in.

use rigore_mechanics::clearance::GaugeAccuracy;
use rigore_mechanics::quantity::{self, Dimension};
use rigore_plan::SiteForm;
use serde::{Deserialize, Serialize};
use time::Date;

/// A measuring or tightening instrument, as it was when it was used.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[expect(clippy::struct_excessive_bools, reason = "what it can, is, and was found to be are told apart")]
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
    /// From the hand to the drive, mm, where it is a wrench and somebody measured it (C-15).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reach_mm: Option<f64>,
    /// The scale it is set or read on, where it is a wrench and that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub scale: Option<WrenchScale>,
    /// Where it gives up, N·m, where it is a driver that only runs fasteners down.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub driver_nm: Option<f64>,
    /// The day its calibration runs out, as `YYYY-MM-DD`.
    #[serde(default, with = "crate::iso_date::option", skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub calibration_due: Option<Date>,
    /// Whether its last check found it wrong.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub found_wrong: bool,
    /// Keys of the people who may use it; anybody where nobody is named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub users: Vec<String>,
    /// Why it is not in the shop, where it is away.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub away: Option<InstrumentAbsence>,
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
    /// What else it measures.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub measures: Vec<MeasuringRange>,
}

/// An instrument that is not in the shop: at its calibration, lent, being mended.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct InstrumentAbsence {
    /// Where, in words, such as `at its calibration`.
    pub place: String,
    /// The day it is expected back, as `YYYY-MM-DD`, where somebody knows.
    #[serde(default, with = "crate::iso_date::option", skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub until: Option<Date>,
}

/// What an instrument measures besides torques to tighten to, lengths and volumes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuringRange {
    /// Symbol of a unit, such as `bar` or `°`.
    pub unit: String,
    /// Usable range, in that unit.
    pub range: [f64; 2],
    /// Most that it is off, to either side, in that unit.
    pub accuracy: f64,
    /// Smallest step it shows, in that unit.
    pub resolution: f64,
}

/// The scale of a wrench.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WrenchScale {
    /// Symbol of its unit, such as `lbf·ft`.
    pub unit: String,
    /// The smallest step on it, in that unit.
    pub step: f64,
}

/// Key of hand and eye, which no instrument may have.
const HAND: &str = "hand";

impl Instrument {
    /// What nobody has to buy: hand and eye, for a paint mark, a slot, a thread that runs.
    pub fn hand() -> Self {
        Self { id: HAND.into(), name: "Hand and eye".into(), ..Self::default() }
    }

    /// The range that it measures something in and how well it does, in the base unit, where it does.
    pub fn gauge(&self, dimension: Dimension) -> Option<([f64; 2], GaugeAccuracy)> {
        let own = GaugeAccuracy { accuracy: self.accuracy, resolution: self.resolution };
        let measures = self.measures.iter().find_map(|of| {
            let unit = quantity::unit(&of.unit).filter(|unit| unit.measures(dimension))?;
            let gauge = GaugeAccuracy {
                accuracy: of.accuracy * unit.factor,
                resolution: of.resolution * unit.factor,
            };
            Some((of.range.map(|limit| limit * unit.factor + unit.offset), gauge))
        });
        measures.or_else(|| match dimension {
            Dimension::Length | Dimension::Clearance => Some((self.length_mm?, own)),
            Dimension::Volume => Some((self.volume_cc?, own)),
            // What is counted is counted right.
            Dimension::Count if self.by_eye() => {
                Some(([0.0, f64::MAX], GaugeAccuracy { accuracy: 0.0, resolution: 0.0 }))
            }
            _ => None,
        })
    }

    /// Whether it is no instrument but hand and eye.
    pub fn by_eye(&self) -> bool {
        self.id == HAND
    }
}

/// How a reading came in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ReadingMethod {
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
    /// Seen or felt, without a figure on any instrument: a mark, a slot, that nothing moved.
    Seen,
}

impl ReadingMethod {
    /// How a reading with an instrument is recorded: what a stand-in sends is made up, and says so.
    #[must_use]
    pub fn with(self, instrument: &Instrument) -> Self {
        if self == Self::Device && instrument.simulated { Self::Simulated } else { self }
    }
}
