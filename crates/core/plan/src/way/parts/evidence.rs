//! What a figure shows: friction, clamp load, what it does to the life of the fastener.

use super::had::StageProgress;
use super::reading::WayReading;
use rigore_mechanics::joint::{Fastening, Forecast, TorqueStretchPair};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::{QualifiedTorque, StretchSteps};

/// What a figure shows of the friction of its fastener.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum EvidenceKind {
    /// The torque that is on.
    Torque,
    /// The stretch under it.
    Stretch,
}

/// What a fastener has shown of its friction.
#[derive(Debug, Clone, Copy)]
pub struct FrictionEvidence<'a> {
    /// Torques with their stretches, oldest first.
    pub pairs: &'a [TorqueStretchPair],
    /// The torque that is on, N·m, where it was not loosened since.
    pub torque_nm: Option<f64>,
    /// How often it was pulled since its stretch was last read.
    pub pulls: u32,
    /// What the fastener of its group has shown that is qualified for all of them.
    pub qualified: Option<QualifiedTorque>,
    /// The most that it may use of its yield, where that is more than the plan allows.
    pub allowed: Option<f64>,
}

/// What a figure shows of the friction, the clamp load and the life of its fastener. By default nothing, and the clamp
/// load stays as it was.
pub trait WayEvidence: WayReading {
    /// The climb that it belongs to, where a stretch is climbed to.
    fn climb<'a>(&self, _fastening: &'a Fastening) -> Option<StretchSteps<'a>> {
        None
    }

    /// What its figure shows of the friction of its fastener.
    fn shows(&self) -> Option<EvidenceKind> {
        None
    }

    /// Whether a torque that it asks for depends on the lubricant and is converted where another one is used.
    fn converts(&self) -> bool {
        self.shows().is_none()
            && self.aim(StageProgress::default()).is_some_and(|(asked, _)| asked == Dimension::Torque)
    }

    /// The clamp load that a figure leaves on a fastener which had `before`: that stays, unless it is
    /// tightened or loosened.
    fn load(&self, _fastening: &Fastening, before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        before
    }

    /// How far the paint mark has turned with it, degrees.
    fn turned_deg(&self, _had: StageProgress) -> f64 {
        0.0
    }

    /// Whether a value that is over makes scrap of the fastener.
    fn scraps(&self) -> bool {
        false
    }

    /// The most that a fastener may stay longer for good once it is loose, mm (C-25).
    fn set_mm(&self) -> Option<f64> {
        None
    }
}
