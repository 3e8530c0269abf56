//! To a torque, by one smooth pull to the click or to the figure.

use super::rules::{Ability, Had, Rules, read_band};
use crate::document::Table;
use crate::joint::{Fastening, Forecast};
use crate::quantity::{self, Dimension};
use crate::tightening::band::Band;
use crate::tightening::reading::Reading;

/// The most that anybody pulls a fastener of an engine to, N·m.
const MOST_NM: f64 = 20_000.0;

/// To a torque.
#[derive(Debug, Clone, PartialEq)]
pub struct Torque {
    /// What is wanted, N·m.
    pub band: Band,
}

impl Torque {
    /// Reads it out of a stage of a plan.
    pub(super) fn read(stage: &Table<'_>) -> Option<Self> {
        Some(Self { band: read_band(stage, "torque", Dimension::Torque)? })
    }
}

impl Rules for Torque {
    fn key(&self) -> &'static str {
        "torque"
    }

    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Torque)
    }

    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn most(&self) -> f64 {
        MOST_NM
    }

    fn figure(&self, reading: &Reading) -> Option<f64> {
        reading.torque_nm
    }

    fn put(&self, reading: &mut Reading, figure: f64) {
        reading.torque_nm = Some(figure);
    }

    /// The last torque counts, whatever was before it.
    fn load(&self, fastening: &Fastening, _before: Option<Forecast>, figure: f64) -> Option<Forecast> {
        Some(fastening.by_torque(figure))
    }

    fn ability(&self) -> Option<Ability> {
        Some(Ability::Torque(self.band.target))
    }

    fn words(&self, _had: Had) -> String {
        format!("to {}", quantity::format(self.band.target, Dimension::Torque.base()))
    }
}
