//! The questions that every way of tightening answers.

use crate::toml_reader::Table;
use rigore_mechanics::joint::{Fastening, Forecast, Pair};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Unit};
use rigore_mechanics::tightening::Reading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::tightening::{Climb, Qualified};
use serde::Serialize;
use std::ops::RangeInclusive;

/// A typed figure is likely from this share of the least that will do,
const LEAST_LIKELY: f64 = 0.2;
/// up to so many times the most that will do.
pub(super) const MOST_LIKELY: f64 = 2.5;

/// What the pulls of one fastener in one stage come to.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Had {
    /// The value that counts, in the base unit of what is read.
    pub value: f64,
    /// The most that was reached.
    pub peak: f64,
    /// How many pulls count.
    pub pulls: u32,
    /// What is to come next, where the fastener itself shows what it needs (C-24).
    pub expected: Option<Expected>,
}

/// What is to come next, in the base unit of what is read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Expected {
    /// The figure itself.
    pub next: f64,
    /// The least that is likely.
    pub low: f64,
    /// The most that is likely or allowed.
    pub high: f64,
    /// Whether the same was given already and is to be given once more before anything is read.
    pub again: bool,
}

/// What a figure shows of the friction of its fastener.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shows {
    /// The torque that is on.
    Torque,
    /// The stretch under it.
    Stretch,
}

/// What a fastener has shown of its friction.
#[derive(Debug, Clone, Copy)]
pub struct Shown<'a> {
    /// Torques with their stretches, oldest first.
    pub pairs: &'a [Pair],
    /// The torque that is on, N·m, where it was not loosened since.
    pub torque_nm: Option<f64>,
    /// How often it was pulled since its stretch was last read.
    pub pulls: u32,
    /// What the fastener of its group has shown that is qualified for all of them.
    pub qualified: Option<Qualified>,
    /// The most that it may use of its yield, where that is more than the plan allows.
    pub allowed: Option<f64>,
}

/// What an instrument has to be able to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Ability {
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

impl Ability {
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
pub struct Plain {
    /// What somebody says: `It holds`.
    pub words: &'static str,
    /// The figure that stands for it.
    pub figure: f64,
}

/// How a pull is asked for at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Asks {
    /// What is typed; a bare figure is in its unit.
    pub dimension: Dimension,
    /// Before the target: `to`, `turn by`; empty where the target is not itself what to do.
    pub head: &'static str,
    /// What to do or look for, where the target does not say it.
    pub question: Option<&'static str>,
    /// What is typed, in a word.
    pub field: &'static str,
    /// Answers that need no figure; the first is the one of the main key.
    pub plain: Vec<Plain>,
    /// How many slots the nut has, where it goes on to the next one.
    pub slots: Option<u32>,
    /// What is said where no instrument shows a figure and the target was reached by eye.
    pub by_eye: Option<&'static str>,
}

/// What every way answers.
pub trait Rules {
    /// The key of its figure in a stage of a plan.
    fn key(&self) -> &'static str;

    /// What is read; nothing where it is done by hand, which is what a way is that answers no more.
    fn dimension(&self) -> Option<Dimension> {
        None
    }

    /// What is wanted, in the base unit of what is read.
    fn band(&self) -> Option<&Band> {
        None
    }

    /// What is asked for at the bench, where it is another thing than what is read.
    fn aim(&self, _had: Had) -> Option<(Dimension, Band)> {
        self.dimension().zip(self.band().copied())
    }

    /// The climb that it belongs to, where a stretch is climbed to.
    fn climb<'a>(&self, _fastening: &'a Fastening) -> Option<Climb<'a>> {
        None
    }

    /// What its figure shows of the friction of its fastener.
    fn shows(&self) -> Option<Shows> {
        None
    }

    /// Whether a torque that it asks for depends on the lubricant and is converted where another one is used.
    fn converts(&self) -> bool {
        self.shows().is_none()
            && self.aim(Had::default()).is_some_and(|(asked, _)| asked == Dimension::Torque)
    }

    /// What is to come next of a fastener that has shown so much.
    fn expects(&self, _fastening: &Fastening, _shown: &Shown<'_>) -> Option<Expected> {
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

    /// What is to be done, where nothing is read.
    fn by_hand(&self) -> Option<&str> {
        None
    }

    /// Where in the plan its figure is wanted, where nobody has looked that up yet: it cannot be done (C-47).
    fn wanted(&self) -> Option<&str> {
        None
    }

    /// Whether it is done to the fasteners of a group.
    fn of_group(&self) -> bool {
        self.dimension().is_some()
    }

    /// Whether it loosens what was tightened before: the group backwards (C-17).
    fn loosens(&self) -> bool {
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

    /// What it is called, where that is not the name of its stage.
    fn title(&self) -> Option<&str> {
        None
    }

    /// Whether a fastener that is low is loosened and lubricated again before it is pulled on (C-24).
    fn loosens_between(&self) -> bool {
        false
    }

    /// The most that a fastener may stay longer for good once it is loose, mm (C-25).
    fn set_mm(&self) -> Option<f64> {
        None
    }

    /// The least that a reading can be meant as.
    fn least(&self) -> f64 {
        f64::MIN_POSITIVE
    }

    /// The most that a reading can be meant as.
    fn most(&self) -> f64 {
        f64::INFINITY
    }

    /// What is usually read of a fastener that has had something; a typed figure outside is asked about.
    fn usual(&self, _had: Had) -> RangeInclusive<f64> {
        self.band().map_or(0.0..=f64::INFINITY, |band| band.low * LEAST_LIKELY..=band.high * MOST_LIKELY)
    }

    /// The figure of a reading that it is judged by.
    fn figure(&self, _reading: &Reading) -> Option<f64> {
        None
    }

    /// Puts a figure that somebody typed into a reading.
    fn put(&self, _reading: &mut Reading, _figure: f64) {}

    /// Whether pulls add up (C-12).
    fn adds_up(&self) -> bool {
        false
    }

    /// Whether one pull ends it, whatever was read: another cannot mend it.
    fn at_once(&self) -> bool {
        false
    }

    /// Whether a fastener may have it only once until it is loosened (C-11).
    fn once(&self) -> bool {
        self.adds_up() || self.at_once()
    }

    /// What a fastener has after one more pull.
    fn add(&self, had: Had, figure: f64) -> Had {
        let value = if self.adds_up() { had.value + figure } else { figure };
        Had { value, peak: had.peak.max(value), pulls: had.pulls + 1, ..had }
    }

    /// The verdict on a value that counts.
    fn judge(&self, value: f64) -> Verdict {
        self.band().map_or(Verdict::Good, |band| band.judge(value))
    }

    /// The verdict on a value that a fastener comes to which had `before`.
    fn judge_after(&self, _before: Had, value: f64) -> Verdict {
        self.judge(value)
    }

    /// The verdict in words.
    fn says(&self, verdict: Verdict) -> &'static str {
        match verdict {
            Verdict::Good => "Good",
            Verdict::Low => "Low: pull on",
            Verdict::Over => "Over",
        }
    }

    /// What is wrong with a value that is not good, and what may be behind it; `None` where the limit
    /// says it all.
    fn wrong(&self, _verdict: Verdict) -> Option<&'static str> {
        None
    }

    /// Whether a value that is over makes scrap of the fastener.
    fn scraps(&self) -> bool {
        false
    }

    /// Whether a value means that the fastener moved where it should have held (C-10).
    fn moved(&self, _value: f64) -> bool {
        false
    }

    /// How far the paint mark has turned with it, degrees.
    fn turned_deg(&self, _had: Had) -> f64 {
        0.0
    }

    /// The clamp load that a figure leaves on a fastener which had `before`: that stays, unless it is
    /// tightened or loosened.
    fn load(&self, _fastening: &Fastening, before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        before
    }

    /// What an instrument has to be able to do for a fastener that has had something.
    fn ability(&self, _had: Had) -> Option<Ability> {
        None
    }

    /// What is to be done, as the end of a sentence: `to 30.0 N·m`.
    fn words(&self, had: Had) -> Message;

    /// How it is asked for at the bench; nothing where it is done by hand.
    fn asks(&self, _had: Had) -> Option<Asks> {
        None
    }
}

/// The band of a target: the `range` that will do (C-44), or `tolerance` as a quantity or as `"4 %"`.
pub(super) fn read_band(table: &Table<'_>, key: &'static str, dimension: Dimension) -> Option<Band> {
    let target = table.positive(key, dimension);
    let band = if table.has("range") {
        read_range(table, target?, table.unit(key, dimension))
    } else {
        read_tolerance(table, "tolerance", target, table.unit(key, dimension))
    };
    band.map(|band| Band { dimension, ..band })
}

/// A target with the tolerance that a field gives it, as a quantity or as `"4 %"`.
pub(super) fn read_tolerance(
    table: &Table<'_>,
    key: &'static str,
    target: Option<f64>,
    unit: &'static Unit,
) -> Option<Band> {
    let text = table.text_or(key, "");
    let tolerance = match text.trim().strip_suffix('%') {
        Some(percent) => {
            let share = percent.trim().replace(',', ".").parse::<f64>().ok();
            if share.is_none() {
                table.error(key, format!("`{text}` is not a percentage such as \"4 %\""));
            }
            share.zip(target).map(|(share, target)| share / 100.0 * target)
        }
        None => table.quantity(key, unit.dimension),
    };
    let (target, tolerance) = (target?, tolerance?);
    if tolerance > 0.0 && tolerance < target {
        return Some(Band::around(target, tolerance, unit));
    }
    table.error(key, "must lie between zero and the target");
    None
}

fn read_range(table: &Table<'_>, target: f64, unit: &'static Unit) -> Option<Band> {
    if let [low, high] = table.quantities("range", unit.dimension)[..]
        && 0.0 < low
        && low <= target
        && target <= high
        && low < high
    {
        return Some(Band { target, low, high, unit, dimension: unit.dimension });
    }
    table.error("range", "two rising figures such as [\"31 N·m\", \"37 N·m\"] with the target between them");
    None
}

/// A limit of an angle that is counted from zero, degrees.
pub(super) fn up_to(most: f64) -> Band {
    Band::between(0.0, 0.0, most, Dimension::Angle)
}
