//! A tightening procedure as a manual or a builder says it in one line (C-49, C-51, M-21).
//!
//! [`read`] takes any text and makes stages of it. **Every number of the text has exactly one role**
//! ([`NumberRole`]); a number whose role is not certain is asked about at its place, never guessed, and the rest of
//! the line is read all the same. [`Procedure::line`] writes the stages in the one way that everybody can read, and
//! reading that gives the same stages. [`Procedure::for_groups`] says which group of a joint has which stage, and
//! [`Procedure::tables`] writes them out as a plan has them. What a stage does to a bolt is judged elsewhere.
//!
//! | step | file |
//! | --- | --- |
//! | characters to words, numbers and signs | `token` |
//! | words to what they mean | `phrase` |
//! | numbers to figures, counts, fasteners | `clauses`, `figures`, `counts`, `names` |
//! | units and percentages that are given once for a list | `sharing` |
//! | clauses to stages | `reader` |
//! | stages to groups of a joint | `groups` |
//! | stages to the text of a plan, and to a line | `tables`, `write` |
//!
//! A procedure is read from one line and written as one: what manuals write becomes stages. It
//! gives every number of the text exactly one role, and asks about what has none (its table says which file does
//! what). `groups.rs` says which group of a joint has which stage; `tables.rs` writes them out in the units they
//! were written in, and a plan reads that as it reads stages that are written out. A `Band` keeps the unit it was
//! written in.

mod clauses;
mod counts;
mod figures;
mod groups;
mod names;
mod phrase;
mod reader;
mod sharing;
mod tables;
mod token;
mod write;
mod written;

pub use groups::{GroupNames, groups_of};
pub use reader::read;
use rigore_mechanics::message::Message;
pub use tables::{StageDefaults, stage_kind};

use rigore_mechanics::quantity::Unit;
use rigore_mechanics::tightening::SequencePattern;
use std::ops::Range;

/// The most bytes of a line that are read.
pub const MAX_LENGTH: usize = 10_000;

/// A procedure as it was read from a line.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Procedure {
    /// Its stages, in the order they were written.
    pub stages: Vec<LineStage>,
    /// In which order fasteners are turned, where that is written.
    pub order: Option<LineOrder>,
    /// What they turn on, where that is written: key of a shipped lubricant.
    pub lubricant: Option<&'static str>,
    /// What each number of the text is, in order. A number that is in none is in a question.
    pub numbers: Vec<NumberClaim>,
    /// What was not understood, or can be read in two ways.
    pub questions: Vec<LineQuestion>,
}

/// In which order fasteners are turned.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LineOrder {
    /// By a pattern on the layout.
    Pattern(SequencePattern),
    /// By name, one after the other.
    Listed(Vec<String>),
}

/// One stage of a line.
#[derive(Debug, Clone, PartialEq)]
pub struct LineStage {
    /// The group it is for, as it was written; none where no group was named.
    pub group: Option<String>,
    /// What is done.
    pub kind: StageKind,
    /// Where in the text it was written, in bytes.
    pub at: Range<usize>,
}

/// What a stage of a line does.
#[derive(Debug, Clone, PartialEq)]
pub enum StageKind {
    /// Run down by hand until it touches.
    RunDown,
    /// To a torque.
    Torque {
        /// How much.
        torque: LineFigure,
        /// Whether angles are counted from here.
        snug: bool,
    },
    /// On by an angle from where it stands.
    Angle(LineFigure),
    /// A torque and an angle in one pull.
    TorqueAngle {
        /// The torque that comes first.
        torque: LineFigure,
        /// The angle from there.
        angle: LineFigure,
    },
    /// To a stretch.
    Stretch {
        /// How much.
        stretch: LineFigure,
        /// The torque that is never passed on the way.
        limit: Option<LineFigure>,
    },
    /// Pulled until the torque stops rising, which has to happen in a band.
    Yield(LineFigure),
    /// To a torque, then forward to the next slot.
    Castellated(LineFigure),
    /// A pull that should find no movement.
    Recheck(LineFigure),
    /// Loosened.
    Loosen,
    /// Something done by hand, in the words that were quoted.
    Action(String),
    /// Left alone for a time.
    Wait(LineFigure),
    /// A bead of sealant is laid, which starts its clock.
    Seal {
        /// How long it can be worked.
        within: LineFigure,
        /// How long it cures, where that is written.
        cure: Option<LineFigure>,
    },
}

impl StageKind {
    /// Every figure of it.
    pub fn figures(&self) -> Vec<LineFigure> {
        match self {
            Self::RunDown | Self::Loosen | Self::Action(_) => Vec::new(),
            Self::Torque { torque, .. } => vec![*torque],
            Self::Angle(figure)
            | Self::Yield(figure)
            | Self::Castellated(figure)
            | Self::Recheck(figure)
            | Self::Wait(figure) => vec![*figure],
            Self::TorqueAngle { torque, angle } => vec![*torque, *angle],
            Self::Stretch { stretch, limit } => [*stretch].into_iter().chain(*limit).collect(),
            Self::Seal { within, cure } => [*within].into_iter().chain(*cure).collect(),
        }
    }
}

/// How much, in the unit it was written in, and how far off it may be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LineFigure {
    /// What is aimed at, in `unit`.
    pub target: f64,
    /// How far off it may be.
    pub spread: LineTolerance,
    /// The unit of all its numbers.
    pub unit: &'static Unit,
}

impl LineFigure {
    /// A figure that says nothing of how far off it may be.
    pub const fn plain(target: f64, unit: &'static Unit) -> Self {
        Self { target, spread: LineTolerance::Unsaid, unit }
    }

    /// Its target in the base unit of what it measures.
    pub fn base(&self) -> f64 {
        self.target * self.unit.factor
    }

    /// The least and the most that will do, in the base unit, where that is written.
    pub fn range(&self) -> Option<(f64, f64)> {
        let (low, high) = match self.spread {
            LineTolerance::Unsaid => return None,
            LineTolerance::Within(tolerance) => (self.target - tolerance, self.target + tolerance),
            LineTolerance::Range(low, high) => (low, high),
        };
        Some((low * self.unit.factor, high * self.unit.factor))
    }
}

/// How far off a figure may be, in the figure's own unit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LineTolerance {
    /// Nothing was written.
    Unsaid,
    /// So much to either side.
    Within(f64),
    /// Anything between two figures.
    Range(f64, f64),
}

/// What a number of the text is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NumberClaim {
    /// Where it stands, in bytes.
    pub at: Range<usize>,
    /// Its role.
    pub role: NumberRole,
}

/// The roles that a number of a procedure can have (C-51).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum NumberRole {
    /// What a stage aims at, or an end of its range.
    Figure,
    /// The same figure in another unit.
    Equivalent,
    /// How far off a figure may be.
    Tolerance,
    /// A share of a figure, in percent.
    Percent,
    /// What is never passed.
    Limit,
    /// About what to expect, beside a stretch or an angle.
    Guidance,
    /// How many passes, times or fasteners.
    Count,
    /// Which step it is.
    StepNumber,
    /// A fastener, by its number.
    Fastener,
    /// A thread or a strength class.
    Thread,
    /// A time to wait, to work or to cure.
    Time,
}

/// What was not understood, and where.
#[derive(Debug, Clone, PartialEq)]
pub struct LineQuestion {
    /// The words, in bytes of the text.
    pub at: Range<usize>,
    /// What is wrong with them, and what would do.
    pub message: Message,
}

#[cfg(test)]
mod tests;
