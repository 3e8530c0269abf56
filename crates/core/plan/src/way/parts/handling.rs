//! What is done at the bench: with which instrument, in which words.

use super::had::StageProgress;
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::Dimension;
use serde::Serialize;

/// What an instrument has to be able to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum InstrumentAbility {
    /// Stop at a torque of so many N·m, or click there.
    Torque(f64),
    /// Show a torque of so many N·m in figures.
    ShowTorque(f64),
    /// Measure an angle.
    Angle,
    /// Measure a stretch to a window of so many mm.
    Stretch(f64),
    /// Nothing that hand and eye cannot.
    Eye,
    /// Run a fastener down, to so many N·m at most.
    RunDown(f64),
}

impl InstrumentAbility {
    /// The torque that it needs the wrench for, N·m, where it needs one.
    pub fn torque_nm(self) -> Option<f64> {
        match self {
            Self::Torque(torque) | Self::ShowTorque(torque) => Some(torque),
            Self::Angle | Self::Stretch(_) | Self::Eye | Self::RunDown(_) => None,
        }
    }

    /// The same with the torque as it is beyond an adapter.
    #[must_use]
    pub fn times(self, factor: f64) -> Self {
        match self {
            Self::Torque(torque) => Self::Torque(torque * factor),
            Self::ShowTorque(torque) => Self::ShowTorque(torque * factor),
            other => other,
        }
    }
}

/// An answer that needs no figure to be typed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlainAnswer {
    /// What somebody says: `It holds`.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub words: TextId,
    /// The figure that stands for it.
    pub figure: f64,
}

/// How a pull is asked for at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadingPrompt {
    /// What is typed; a bare figure is in its unit.
    pub dimension: Dimension,
    /// Before the target: `to`, `turn by`; empty where the target is not itself what to do.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub head: TextId,
    /// What to do or look for, where the target does not say it.
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub question: Option<TextId>,
    /// What is typed, in a word.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub field: TextId,
    /// Answers that need no figure; the first is the one of the main key.
    pub plain: Vec<PlainAnswer>,
    /// How many slots the nut has, where it goes on to the next one.
    pub slots: Option<u32>,
    /// What is said where no instrument shows a figure and the target was reached by eye.
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub by_eye: Option<TextId>,
}

/// What an instrument has to be able to do, and how it is asked for. By default it needs no instrument and asks nothing.
pub trait WayHandling {
    /// What is to be done, where nothing is read.
    fn by_hand(&self) -> Option<&str> {
        None
    }

    /// Where in the plan its figure is wanted, where nobody has looked that up yet: it cannot be done (C-47).
    fn wanted(&self) -> Option<&str> {
        None
    }

    /// What it is called, where that is not the name of its stage.
    fn title(&self) -> Option<&str> {
        None
    }

    /// What an instrument has to be able to do for a fastener that has had something.
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        None
    }

    /// What is to be done, as the end of a sentence: `to 30.0 N·m`.
    fn words(&self, had: StageProgress) -> Message;

    /// How it is asked for at the bench; nothing where it is done by hand.
    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        None
    }
}
