//! What is read, in which dimension, and what a reading is likely to be.

use super::had::StageProgress;
use super::judgement::WayJudgement;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::{Band, ToolReading};
use std::ops::RangeInclusive;

/// A typed figure is likely from this share of the least that will do,
const LEAST_LIKELY: f64 = 0.2;
/// up to so many times the most that will do.
pub(crate) const MOST_LIKELY: f64 = 2.5;

/// What is read of a fastener, and how a figure becomes a reading. By default nothing is: it is done by hand.
pub trait WayReading: WayJudgement {
    /// What is read; nothing where it is done by hand, which is what a way is that answers no more.
    fn dimension(&self) -> Option<Dimension> {
        None
    }

    /// What is asked for at the bench, where it is another thing than what is read.
    fn aim(&self, _had: StageProgress) -> Option<(Dimension, Band)> {
        self.dimension().zip(self.band().copied())
    }

    /// The figure of a reading that it is judged by.
    fn figure(&self, _reading: &ToolReading) -> Option<f64> {
        None
    }

    /// Puts a figure that somebody typed into a reading.
    fn put(&self, _reading: &mut ToolReading, _figure: f64) {}

    /// The least that a reading can be meant as.
    fn least(&self) -> f64 {
        f64::MIN_POSITIVE
    }

    /// The most that a reading can be meant as.
    fn most(&self) -> f64 {
        f64::INFINITY
    }

    /// What is usually read of a fastener that has had something; a typed figure outside is asked about.
    fn usual(&self, _had: StageProgress) -> RangeInclusive<f64> {
        self.band().map_or(0.0..=f64::INFINITY, |band| band.low * LEAST_LIKELY..=band.high * MOST_LIKELY)
    }
}
