//! What comes next for a fastener, and how long it takes.

use super::evidence::FrictionEvidence;
use super::had::ExpectedReading;
use super::reading::WayReading;
use rigore_mechanics::joint::Fastening;

/// What comes next for a fastener, and what has to be waited for. By default every fastener of the group has it once.
pub trait WayWalk: WayReading {
    /// What is to come next of a fastener that has shown so much.
    fn expects(&self, _fastening: &Fastening, _shown: &FrictionEvidence<'_>) -> Option<ExpectedReading> {
        None
    }

    /// Whether the gauge is zeroed in it for what comes after.
    fn zeroes(&self) -> bool {
        false
    }

    /// How often a fastener is pulled to a torque before its stretch is read.
    fn pulls_each(&self) -> u32 {
        1
    }

    /// Whether the first fastener of its group shows the torque for all of them.
    fn qualifies(&self) -> bool {
        false
    }

    /// Whether the stage before it is to be given once more where this one is low.
    fn reopens(&self) -> bool {
        false
    }

    /// Whether it is done to the fasteners of a group.
    fn of_group(&self) -> bool {
        self.dimension().is_some()
    }

    /// Whether it loosens what was tightened before: the group backwards (C-17).
    fn loosens(&self) -> bool {
        false
    }

    /// Whether a fastener that is low is loosened and lubricated again before it is pulled on (C-24).
    fn loosens_between(&self) -> bool {
        false
    }

    /// How long it has to be left alone after what was before it, minutes.
    fn rests_min(&self) -> Option<f64> {
        None
    }

    /// How long the stages after it may take from when it was done, minutes (C-19).
    fn within_min(&self) -> Option<f64> {
        None
    }

    /// How long it has to cure before anything may be done that waits for it, minutes.
    fn cures_min(&self) -> Option<f64> {
        None
    }
}
