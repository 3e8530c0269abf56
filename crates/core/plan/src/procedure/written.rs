//! What a line says, clause by clause, before stages are made of it: figures as they were written, counts, marks.

use super::phrase::PhraseMeaning;
use super::{LineOrder, LineQuestion, NumberClaim};
use rigore_mechanics::quantity::{Dimension, Unit};
use std::ops::Range;

/// A figure as it was written, in its own unit.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct WrittenFigure {
    /// Its value, or the lower of two.
    pub low: f64,
    /// The higher of two.
    pub high: Option<f64>,
    /// What is aimed at between the two, where that is written.
    pub target: Option<f64>,
    pub unit: FigureMeasure,
    /// How far off it may be.
    pub tolerance: Option<WrittenTolerance>,
    pub used: FigureUse,
    /// Whether what it is used for stands behind it: `14 N·m max`.
    pub bound_after: bool,
    /// Whether a list in front of it ends before it.
    pub list_ended: bool,
    /// In how many equal parts it is reached.
    pub parts: Option<u32>,
    pub at: Range<usize>,
}

/// What a figure is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum FigureUse {
    /// A stage aims at it.
    Stage,
    NotOver,
    AtLeast,
    About,
    Skins,
    Cures,
}

/// How far off a figure may be, in its own unit or of itself.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum WrittenTolerance {
    Amount(f64, Option<&'static Unit>),
    Percent(f64),
    /// So much less, so much more.
    Uneven(f64, f64),
}

/// What a figure is given in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum FigureMeasure {
    In(&'static Unit),
    /// It comes with a later figure.
    Unsaid,
    Percent,
    /// It is no figure of a stage: what it is was not said, or percentages are of it.
    Apart,
}

impl FigureMeasure {
    /// Its unit, where it has one.
    pub const fn unit(self) -> Option<&'static Unit> {
        match self {
            Self::In(unit) => Some(unit),
            Self::Unsaid | Self::Percent | Self::Apart => None,
        }
    }

    pub fn dimension(self) -> Option<Dimension> {
        self.unit().map(|unit| unit.dimension)
    }
}

/// What stands between two marks.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct LineClause {
    pub group: Option<String>,
    pub figures: Vec<WrittenFigure>,
    /// What its words say.
    pub marks: Vec<PhraseMeaning>,
    /// How many stages or pulls a figure is reached in.
    pub count: Option<StageCount>,
    /// Something done by hand, as it was quoted.
    pub action: Option<String>,
    /// Whether it comes after a "then" or the like, and not after a comma.
    pub after_then: bool,
    pub at: Range<usize>,
}

/// How many stages a list has or a figure is reached in, or how many pulls an angle is parted into.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct StageCount {
    pub number: u32,
    /// Pulls of one angle, and not stages.
    pub swings: bool,
    /// Whether "to" stands behind it: `in 3 steps to`.
    pub to: bool,
    /// How much each is, where that is written: `two turns of 50°`.
    pub of: Option<WrittenFigure>,
    pub at: Range<usize>,
}

impl LineClause {
    pub fn says(&self, meaning: PhraseMeaning) -> bool {
        self.marks.contains(&meaning)
    }

    /// How often it is done.
    pub fn times(&self) -> Option<u32> {
        self.marks.iter().find_map(|mark| match mark {
            PhraseMeaning::Times(times) => Some(*times),
            _ => None,
        })
    }

    pub fn is_empty(&self) -> bool {
        self.figures.is_empty() && self.marks.is_empty() && self.count.is_none() && self.action.is_none()
    }
}

/// A line in clauses, with the role of each number in it.
#[derive(Debug, Default)]
pub(super) struct LineClauses {
    pub list: Vec<LineClause>,
    pub order: Option<LineOrder>,
    pub numbers: Vec<NumberClaim>,
    pub questions: Vec<LineQuestion>,
}
