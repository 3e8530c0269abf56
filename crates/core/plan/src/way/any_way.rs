//! A way of tightening, whichever it is.

use super::parts::{StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk};
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::Verdict;
use std::any::Any;
use std::fmt::Debug;
use std::ops::Deref;
use std::sync::Arc;

/// A way of tightening: all of its parts, under the key that a plan knows it by.
pub trait WayOfTightening:
    WayReading + WayJudgement + WayWalk + WayEvidence + WayHandling + SameWay + Debug + Send + Sync
{
    /// The key of its figure in a stage of a plan.
    fn key(&self) -> &'static str;
}

/// Whether two ways are the same.
pub trait SameWay: Any {
    /// Whether another one is of the same kind with the same figures.
    fn is_same(&self, other: &dyn Any) -> bool;
}

impl<T: PartialEq + 'static> SameWay for T {
    fn is_same(&self, other: &dyn Any) -> bool {
        other.downcast_ref::<T>() == Some(self)
    }
}

/// How one fastener is tightened in one stage, or what is done between stages.
#[derive(Debug, Clone)]
pub struct Way(Arc<dyn WayOfTightening>);

impl Deref for Way {
    type Target = dyn WayOfTightening;

    fn deref(&self) -> &Self::Target {
        &*self.0
    }
}

impl PartialEq for Way {
    fn eq(&self, other: &Self) -> bool {
        let other: &dyn Any = &*other.0;
        self.0.is_same(other)
    }
}

impl Way {
    /// A way, of any kind.
    pub fn new(way: impl WayOfTightening) -> Self {
        Self(Arc::new(way))
    }

    /// The same as one kind of way, where it is of that.
    pub fn downcast<T: WayOfTightening>(&self) -> Option<&T> {
        let way: &dyn Any = &*self.0;
        way.downcast_ref()
    }

    /// The verdict on what a fastener had: over as soon as anything was over, whatever came later.
    pub fn verdict(&self, had: StageProgress) -> Option<Verdict> {
        self.band().filter(|_| had.pulls > 0)?;
        Some(if self.judge(had.peak) == Verdict::Over { Verdict::Over } else { self.judge(had.value) })
    }

    /// Whether a fastener that had so much needs no more.
    pub fn finished(&self, had: StageProgress) -> bool {
        self.verdict(had).is_some_and(|verdict| verdict != Verdict::Low || self.at_once())
    }

    /// A figure of what is read, with its unit.
    pub fn print(&self, figure: f64) -> Quantity {
        Quantity::fine(figure, self.dimension().unwrap_or(Dimension::Count))
    }
}
