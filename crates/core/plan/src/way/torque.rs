//! To a torque, by one smooth pull to the click or to the figure.

use super::any_way::{Way, WayOfTightening};
use super::band_text::read_band;
use super::parts::{
    InstrumentAbility, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading,
    WayWalk,
};
use super::recheck::Recheck;
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Unit};
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::steps;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// The most that anybody pulls a fastener of an engine to, N·m.
pub const MOST_NM: f64 = 20_000.0;

/// To a torque.
#[derive(Debug, Clone, PartialEq)]
pub struct Torque {
    /// What is wanted, N·m.
    pub band: Band,
}

impl Torque {
    /// Reads it out of a stage of a plan: one torque, or the steps to it by rule (M-11), in order; with a
    /// settle pass behind it where the stage says so (C-10).
    pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let band = read_band(stage, "torque", Dimension::Torque)?;
        let mut ways: Vec<Way> = steps_to(stage, band)?.into_iter().map(Way::new).collect();
        if stage.flag("settle") {
            ways.push(Way::new(Recheck::settle(band)));
        }
        Some(ways)
    }

    /// Reads a torque and the turn that follows it in the same pull.
    pub(super) fn read_with_angle(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let band = read_band(stage, "torque-angle", Dimension::Torque);
        let angle = super::angle::Angle::then(stage);
        Some(vec![Way::new(Self { band: band? }), Way::new(angle?)])
    }
}

/// One torque, or the steps to it.
fn steps_to(stage: &TomlTable<'_>, band: Band) -> Option<Vec<Torque>> {
    let (rule, shares) = shares(stage)?;
    if shares.len() < 2 {
        return Some(vec![Torque { band }]);
    }
    let resolution = if stage.has("resolution") {
        stage.positive("resolution", Dimension::Torque)?
    } else {
        step_of(band.unit)
    };
    let settings = steps::shared(band.target, &shares, resolution);
    let settings = settings.map_err(|error| stage.error(rule, error.message(band.unit))).ok()?;
    let settable = (band.target / resolution).round() * resolution;
    if band.judge(settable) != Verdict::Good {
        stage.error("resolution", text_id!("way-wrench-sets-such-steps-cannot-set"));
        return None;
    }
    let (_, before) = settings.split_last()?;
    let steps = before.iter().map(|setting| Torque { band: band.moved_to(*setting) });
    Some(steps.chain([Torque { band }]).collect())
}

/// What a wrench is set to at the finest, where a plan does not say: whole units of its scale, tenths of a large one.
fn step_of(unit: &Unit) -> f64 {
    if unit.decimals > 1 { 0.1 * unit.factor } else { unit.factor }
}

/// Steps that schools go by, in percent of the torque.
const PRESETS: [(&str, &[f64]); 5] = [
    ("halves", &[50.0, 100.0]),
    ("thirds", &[100.0 / 3.0, 200.0 / 3.0, 100.0]),
    ("quarters", &[25.0, 50.0, 75.0, 100.0]),
    ("half-three-quarters", &[50.0, 75.0, 100.0]),
    ("six-eight-ten", &[60.0, 80.0, 100.0]),
];

/// The shares of the torque that are pulled one after the other, with the field that says so.
fn shares(stage: &TomlTable<'_>) -> Option<(&'static str, Vec<f64>)> {
    let mut given = ["steps", "percent", "preset"].into_iter().filter(|key| stage.has(key));
    let rule = given.next();
    if let Some(second) = given.next() {
        stage.error(second, text_id!("way-steps-equal-by-percent-or-by"));
        return None;
    }
    let of = |percents: &[f64]| percents.iter().map(|part| part / 100.0).collect();
    Some(match rule {
        Some("steps") => {
            let count = stage.whole("steps", 2..=steps::MOST)?;
            ("steps", (1..=count).map(|step| f64::from(step) / f64::from(count)).collect())
        }
        Some("percent") => ("percent", of(&stage.numbers("percent"))),
        Some(_) => ("preset", of(stage.choice("preset", &PRESETS)?)),
        None => ("torque", vec![1.0]),
    })
}

impl WayOfTightening for Torque {
    fn key(&self) -> &'static str {
        "torque"
    }
}

impl WayReading for Torque {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Torque)
    }

    fn most(&self) -> f64 {
        MOST_NM
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.torque_nm
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.torque_nm = Some(figure);
    }
}

impl WayJudgement for Torque {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }
}

impl WayWalk for Torque {}

impl WayEvidence for Torque {
    /// The last torque counts, whatever was before it.
    fn load(&self, fastening: &Fastening, _before: Option<Forecast>, figure: f64) -> Option<Forecast> {
        fastening.known.then(|| fastening.by_torque(figure))
    }
}

impl WayHandling for Torque {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Torque(self.band.target))
    }

    fn words(&self, _had: StageProgress) -> Message {
        message!("plan-to-with-torque", torque = self.band.quantity(self.band.target))
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Torque,
            head: text_id!("way-to"),
            question: None,
            field: text_id!("way-torque"),
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}
