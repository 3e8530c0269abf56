//! The questions that every way of tightening answers.

use crate::document::Table;
use crate::joint::{Fastening, Forecast};
use crate::quantity::Dimension;
use crate::tightening::band::Band;
use crate::tightening::reading::Reading;

/// What the pulls of one fastener in one stage come to.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Had {
    /// The value that counts, in the base unit of what is read.
    pub value: f64,
    /// The most that was reached.
    pub peak: f64,
    /// How many pulls count.
    pub pulls: u32,
}

/// What an instrument has to be able to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Ability {
    /// Measure a torque of so many N·m.
    Torque(f64),
    /// Measure an angle.
    Angle,
}

/// What every way answers.
pub trait Rules {
    /// The key of its figure in a stage of a plan.
    fn key(&self) -> &'static str;

    /// What is read; nothing for an action.
    fn dimension(&self) -> Option<Dimension>;

    /// What is wanted, in the base unit of what is read.
    fn band(&self) -> Option<&Band>;

    /// The most that a reading can be meant as.
    fn most(&self) -> f64 {
        f64::INFINITY
    }

    /// The figure of a reading that it is judged by.
    fn figure(&self, reading: &Reading) -> Option<f64>;

    /// Puts a figure that somebody typed into a reading.
    fn put(&self, reading: &mut Reading, figure: f64);

    /// Whether pulls add up, and the whole may not be given a second time (C-11, C-12).
    fn adds_up(&self) -> bool {
        false
    }

    /// What a fastener has after one more pull.
    fn add(&self, had: Had, figure: f64) -> Had {
        let value = if self.adds_up() { had.value + figure } else { figure };
        Had { value, peak: had.peak.max(value), pulls: had.pulls + 1 }
    }

    /// How far the paint mark has turned with it, degrees.
    fn turned_deg(&self, _had: Had) -> f64 {
        0.0
    }

    /// The clamp load that a figure leaves on a fastener which had `before`.
    fn load(&self, fastening: &Fastening, before: Option<Forecast>, figure: f64) -> Option<Forecast>;

    /// What an instrument has to be able to do.
    fn ability(&self) -> Option<Ability>;

    /// What is to be done, as the end of a sentence: `to 30.0 N·m`.
    fn words(&self, had: Had) -> String;
}

/// The band of a target: the `range` that will do (C-44), or `tolerance` as a quantity or as `"4 %"`.
pub(super) fn read_band(table: &Table<'_>, key: &'static str, dimension: Dimension) -> Option<Band> {
    let target = table.positive(key, dimension);
    if table.has("range") {
        return read_range(table, target?, dimension);
    }
    let text = table.text_or("tolerance", "");
    let tolerance = match text.trim().strip_suffix('%') {
        Some(percent) => {
            let share = percent.trim().replace(',', ".").parse::<f64>().ok();
            if share.is_none() {
                table.error("tolerance", format!("`{text}` is not a percentage such as \"4 %\""));
            }
            share.zip(target).map(|(share, target)| share / 100.0 * target)
        }
        None => table.quantity("tolerance", dimension),
    };
    let (target, tolerance) = (target?, tolerance?);
    if tolerance > 0.0 && tolerance < target {
        return Some(Band::around(target, tolerance));
    }
    table.error("tolerance", "must lie between zero and the target");
    None
}

fn read_range(table: &Table<'_>, target: f64, dimension: Dimension) -> Option<Band> {
    if let [low, high] = table.quantities("range", dimension)[..]
        && 0.0 < low
        && low <= target
        && target <= high
        && low < high
    {
        return Some(Band { target, low, high });
    }
    table.error("range", "two rising figures such as [\"31 N·m\", \"37 N·m\"] with the target between them");
    None
}
