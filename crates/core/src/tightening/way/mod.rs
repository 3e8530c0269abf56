//! The ways to tighten one fastener in one stage, one file each.
//!
//! Each way answers the same few questions ([`Rules`]); [`Way::rules`] hands the file out and is the
//! only place that asks which way it is. To add a way: its file, its variant, and its lines in
//! [`Way::rules`] and [`READERS`].

mod action;
mod angle;
mod rules;
mod torque;

pub use action::Action;
pub use angle::Angle;
pub use rules::{Ability, Had, Rules};
pub use torque::{MOST_NM, Torque};

use super::band::Verdict;
use crate::document::Table;
use crate::quantity;

/// How one fastener is tightened in one stage, or what is done between stages.
#[derive(Debug, Clone, PartialEq)]
pub enum Way {
    /// To a torque.
    Torque(Torque),
    /// On by an angle.
    Angle(Angle),
    /// Something done by hand, to no fastener in particular.
    Action(Action),
}

/// Reads what a stage of a plan asks for, one after the other; a fault leaves nothing.
type Reader = fn(&Table<'_>) -> Option<Vec<Way>>;

/// The key in a stage of a plan that chooses each way, and what reads it.
pub const READERS: [(&str, Reader); 3] = [
    ("torque", |stage| Some(Torque::read(stage)?.into_iter().map(Way::Torque).collect())),
    ("angle", |stage| Some(vec![Way::Angle(Angle::read(stage)?)])),
    ("action", |stage| Some(vec![Way::Action(Action::read(stage))])),
];

impl Way {
    /// What answers for this way.
    pub fn rules(&self) -> &dyn Rules {
        match self {
            Self::Torque(torque) => torque,
            Self::Angle(angle) => angle,
            Self::Action(action) => action,
        }
    }

    /// What is to be done by hand, where that is all of it.
    pub fn action(&self) -> Option<&Action> {
        match self {
            Self::Action(action) => Some(action),
            _ => None,
        }
    }

    /// The verdict on what a fastener had: over as soon as anything was over, whatever came later.
    pub fn verdict(&self, had: Had) -> Option<Verdict> {
        let band = self.rules().band().filter(|_| had.pulls > 0)?;
        Some(if band.judge(had.peak) == Verdict::Over { Verdict::Over } else { band.judge(had.value) })
    }

    /// Whether a fastener that had so much needs no more.
    pub fn finished(&self, had: Had) -> bool {
        self.verdict(had).is_some_and(|verdict| verdict != Verdict::Low)
    }

    /// A figure of what is read, with its unit.
    pub fn print(&self, figure: f64) -> String {
        let dimension = self.rules().dimension();
        dimension.map(|dimension| quantity::format_fine(figure, dimension.base())).unwrap_or_default()
    }
}
