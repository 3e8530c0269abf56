//! A procedure as a manual or a builder says it in one line (C-49, M-21): read into stages, and written again.
//!
//! [`read`] takes any text and never stops at a fault: what it understood and what not are told beside each other,
//! at the very words. [`Procedure::line`] writes the stages in the one way that everybody can read, and reading
//! that gives the same stages. What a stage does to a bolt is no matter of this folder.

mod clause;
mod phrase;
mod read;
mod stages;
mod token;
mod write;

pub use read::read;
pub use stages::{Usual, asked};

use crate::tightening::Pattern;
use std::ops::Range;

/// The most bytes of a line that are read.
pub const MOST: usize = 10_000;

/// A procedure as it was said.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Procedure {
    /// Its stages, in the order they were said.
    pub stages: Vec<Said>,
    /// In which order fasteners are turned, where that was said.
    pub order: Option<Pattern>,
    /// What they turn on, where that was said: key of a shipped lubricant.
    pub lubricant: Option<&'static str>,
    /// What was not understood, or can be read in two ways.
    pub faults: Vec<Fault>,
}

/// One stage.
#[derive(Debug, Clone, PartialEq)]
pub struct Said {
    /// The group it is for, as it was written before a colon; none where no group was named.
    pub group: Option<String>,
    /// What is asked.
    pub asked: Asked,
    /// Where in the text it was said, in bytes.
    pub at: Range<usize>,
}

/// What a stage asks for. Torques in N·m, angles in degrees, stretch in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Asked {
    /// Run down by hand until it touches.
    RunDown,
    /// A torque.
    Torque {
        /// How much.
        nm: Figure,
        /// Whether angles are counted from here.
        snug: bool,
    },
    /// An angle from where it stands.
    Angle(Figure),
    /// A torque and an angle in one pull.
    TorqueAngle {
        /// The torque that comes first.
        nm: Figure,
        /// The angle from there.
        deg: Figure,
    },
    /// A stretch.
    Stretch {
        /// How much.
        mm: Figure,
        /// The torque that is never passed on the way.
        limit_nm: Option<f64>,
    },
    /// Pulled until the torque rises no more, which has to happen in a band.
    Yield {
        /// Its lower end.
        low_nm: f64,
        /// Its upper end.
        high_nm: f64,
    },
    /// A torque, then forward to the next slot.
    Castellated {
        /// The least torque.
        low_nm: f64,
        /// The most.
        high_nm: f64,
    },
    /// A pull that should find no movement.
    Recheck {
        /// With which torque.
        nm: f64,
    },
    /// Loosened.
    Loosen,
}

/// How much, and how far off it may be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Figure {
    /// What is aimed at.
    pub target: f64,
    /// How far off it may be.
    pub spread: Spread,
}

/// How far off a figure may be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Spread {
    /// Nothing was said.
    Unsaid,
    /// So much to either side, in the figure's own unit.
    Within(f64),
    /// Anything between two figures.
    Range(f64, f64),
}

/// What was not understood, and where.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Fault {
    /// The words, in bytes of the text.
    pub at: Range<usize>,
    /// What is wrong with them, and what would do.
    pub message: String,
}

#[cfg(test)]
mod tests;
