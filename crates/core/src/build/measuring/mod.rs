//! Measuring: readings of sites, the clearances that follow from them, and graded shells.

mod apply;
mod bench;
mod clearances;
mod decide;
mod matter;

pub use bench::{ClearanceLine, FamilyTools, MeasureBench, MeasuredView, PlaceView, SiteView};
pub use clearances::{ClearanceView, Mark, Position, SecondMethod};
pub(super) use decide::{choose_shells, count_shells, measure};

use super::event::{Instrument, Method};
use super::state::{Stamp, Voided};
use serde::Serialize;
use std::sync::Arc;

/// One reading at one place of a site.
#[derive(Debug, Clone, PartialEq)]
pub struct Measured {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// The operation, by index.
    pub operation: usize,
    /// The site, by index.
    pub site: usize,
    /// The place on it.
    pub place: usize,
    /// What was read, mm or cm³; with the set master where it was read against one.
    pub read: f64,
    /// The same at 20 °C.
    pub value: f64,
    /// The set master it was read against, where it was.
    pub master: Option<f64>,
    /// Temperature of the part, °C, where it was given.
    pub temperature_c: Option<f64>,
    /// What a person typed, to the letter.
    pub entered: Option<String>,
    /// Whether it is outside the plausible range and was kept on purpose.
    pub unlikely: bool,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: Arc<Instrument>,
    /// Why the instrument does not fit, where it does not (C-7).
    pub fault: Option<String>,
    /// Set when it does not count.
    pub voided: Option<Voided>,
    /// Set when a lead stands for the clearance it leads to, in records that do not say which.
    pub accepted: Option<Voided>,
}

/// Shells for one bore, by grade.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shells {
    /// Grade of the upper shell.
    pub upper: String,
    /// Grade of the lower shell.
    pub lower: String,
}

/// Shells that were chosen.
#[derive(Debug, Clone, PartialEq)]
pub struct ChosenShells {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// Which.
    pub shells: Shells,
}
