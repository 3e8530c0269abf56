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
    /// Whether it is made for just this.
    pub made_for: bool,
    /// Why it should not be used, if it should not.
    pub fault: Option<String>,
}

/// What is to be read.
#[derive(Debug, Clone, Copy)]
pub(super) enum Need<'a> {
    /// A pull in a stage.
    Pull(&'a Stage),
    /// A reading of a site before it is taken: anything plausible.
    Site(&'a Site),
    /// A size that was read; `relative` when it was against a set master.
    Size { dimension: Dimension, read: f64, relative: bool },
}

impl Instrument {
    /// How it fits a need; `None` where it measures something else.
    pub(super) fn fit(&self, need: &Need<'_>, now: OffsetDateTime) -> Option<ToolFit> {
        let suits = match need {
            Need::Pull(Stage::Angle { .. }) => self.angle,
            Need::Pull(_) => self.torque_nm.is_some(),
            Need::Size { dimension, .. } => self.sizes(*dimension).is_some(),
            Need::Site(site) => self.sizes(site.dimension).is_some(),
        };
        let made_for = match need {
            Need::Site(site) => self.made_for.contains(&site.form),
            Need::Pull(_) | Need::Size { .. } => false,
        };
        suits.then(|| ToolFit { id: self.id.clone(), made_for, fault: self.fault(need, now) })
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
            Need::Site(site) => self.outside(site.dimension, site.plausible),
            Need::Size { dimension, relative: true, .. } => self.outside(*dimension, [f64::MIN, f64::MAX]),
            Need::Size { dimension, read, .. } => self.outside(*dimension, [*read; 2]),
        }
    }

    /// Why it does not measure sizes of a range, if it does not.
    fn outside(&self, dimension: Dimension, [least, most]: [f64; 2]) -> Option<String> {
        let name = &self.name;
        let Some([low, high]) = self.sizes(dimension) else {
            return Some(format!("{name} does not measure a {}", dimension.word()));
        };
        let unit = dimension.base().symbol;
        (least > high || most < low).then(|| format!("outside the range of {name}, {low} to {high} {unit}"))
    }
}
