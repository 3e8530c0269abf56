//! Whether an instrument fits what it is to read (C-7).

use super::event::Instrument;
use crate::plan::{Site, Stage};
use crate::quantity::Dimension;
use serde::Serialize;
use time::OffsetDateTime;

/// How an instrument of the shop fits what is to be read.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ToolFit {
    /// Key of the instrument.
    pub id: String,
    /// Why it should not be used, if it should not.
    pub fault: Option<String>,
}

/// What is to be read.
#[derive(Debug, Clone, Copy)]
pub(super) enum Need<'a> {
    /// A pull in a stage.
    Pull(&'a Stage),
    /// A size between two limits; `relative` when it is read against a set master.
    Size { dimension: Dimension, range: [f64; 2], relative: bool },
}

impl Need<'_> {
    /// A reading of a site before it is taken: anything plausible.
    pub(super) fn site(site: &Site) -> Self {
        Self::Size { dimension: site.dimension, range: site.plausible, relative: false }
    }
}

impl Instrument {
    /// How it fits a need; `None` where it measures something else.
    pub(super) fn fit(&self, need: &Need<'_>, now: OffsetDateTime) -> Option<ToolFit> {
        let suits = match need {
            Need::Pull(Stage::Angle { .. }) => self.angle,
            Need::Pull(_) => self.torque_nm.is_some(),
            Need::Size { dimension, .. } => self.sizes(*dimension).is_some(),
        };
        suits.then(|| ToolFit { id: self.id.clone(), fault: self.fault(need, now) })
    }

    /// Usable range for a dimension, where it measures it.
    fn sizes(&self, dimension: Dimension) -> Option<[f64; 2]> {
        match dimension {
            Dimension::Length => self.length_mm,
            Dimension::Volume => self.volume_cc,
            _ => None,
        }
    }

    /// Why it does not fit, if it does not: out of calibration, out of its range, or made for
    /// something else.
    pub(super) fn fault(&self, need: &Need<'_>, at: OffsetDateTime) -> Option<String> {
        let name = &self.name;
        if self.calibration_due.is_some_and(|due| at.date() > due) {
            return Some(format!("{name} is out of calibration"));
        }
        match need {
            Need::Pull(Stage::Torque { band, .. }) => match self.torque_nm {
                None => Some(format!("{name} does not measure torque")),
                Some([low, high]) if band.target < low || band.target > high => {
                    Some(format!("{} N·m is outside the range of {name}, {low} to {high} N·m", band.target))
                }
                Some(_) => None,
            },
            Need::Pull(Stage::Angle { .. }) => {
                (!self.angle).then(|| format!("{name} does not measure angle"))
            }
            Need::Pull(Stage::Action { .. }) => None,
            Need::Size { dimension, range, relative } => {
                let Some([low, high]) = self.sizes(*dimension) else {
                    return Some(format!("{name} does not measure a {}", dimension.word()));
                };
                let outside = !relative && (range[0] > high || range[1] < low);
                let unit = dimension.base().symbol;
                outside.then(|| format!("outside the range of {name}, {low} to {high} {unit}"))
            }
        }
    }
}
