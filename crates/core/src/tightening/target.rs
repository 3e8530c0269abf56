//! From the plan's figure to what is pulled now, each step of the way with its reason.
//!
//! This is the only way to a figure on the bench: whatever changes it is a [`Correction`] here, and
//! "why this number" is what was computed.

use super::band::{Band, Verdict};
use super::way::{Had, Way};
use crate::quantity::Dimension;
use serde::Serialize;

/// One step from the plan's figure to the figure that is shown.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Correction {
    /// The plan's figure, and the least and most that will do.
    Planned {
        /// What is wanted.
        target: f64,
        /// The least that will do.
        low: f64,
        /// The most that will do.
        high: f64,
    },
    /// What the fastener has of it already.
    Turned {
        /// How much that is.
        so_far: f64,
    },
}

/// What one fastener is to be given in one stage.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Target {
    /// What is read; figures are in its base unit.
    pub dimension: Dimension,
    /// The plan's figure.
    pub wanted: f64,
    /// The least that will do of what is wanted in all.
    pub low: f64,
    /// The most that will do of what is wanted in all.
    pub high: f64,
    /// What counts towards it already.
    pub so_far: f64,
    /// The figure to pull to now.
    pub shown: f64,
    /// How it came from the plan's figure, in order.
    pub because: Vec<Correction>,
}

impl Target {
    /// What a fastener that had so much is to be given; `None` where nothing is read.
    pub fn of(way: &Way, had: Had) -> Option<Self> {
        let way = way.rules();
        let (dimension, band) = (way.dimension()?, way.band()?);
        let so_far = if way.adds_up() { had.value } else { 0.0 };
        let mut because = vec![Correction::Planned { target: band.target, low: band.low, high: band.high }];
        if so_far > 0.0 {
            because.push(Correction::Turned { so_far });
        }
        Some(Self {
            dimension,
            wanted: band.target,
            low: band.low,
            high: band.high,
            so_far,
            shown: band.target - so_far,
            because,
        })
    }

    /// The verdict on so much more, with what counts already.
    pub fn judge(&self, more: f64) -> Verdict {
        Band { target: self.wanted, low: self.low, high: self.high }.judge(self.so_far + more)
    }
}
