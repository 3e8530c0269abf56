//! On by an angle from where the fastener is (C-11 to C-13). Swings add up, and once it has the
//! angle it may not be given it again.

use super::any_way::{Way, WayOfTightening};
use super::band_text::{read_band, read_tolerance};
use super::parts::{
    InstrumentAbility, MOST_LIKELY, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement,
    WayReading, WayWalk,
};
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::Band;
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::{message, text_id};

/// The most that anybody turns a fastener on by, degrees.
const MOST_DEG: f64 = 3600.0;

/// On by an angle.
#[derive(Debug, Clone, PartialEq)]
pub struct Angle {
    /// What is wanted, degrees.
    pub band: Band,
}

impl Angle {
    /// Reads it out of a stage of a plan.
    pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        Some(vec![Way::new(Self { band: read_band(stage, "angle", Dimension::Angle)? })])
    }

    /// Reads the turn that follows a torque in the same pull: `then_angle`, with `angle_tolerance`.
    pub(super) fn then(stage: &TomlTable<'_>) -> Option<Self> {
        let target = stage.positive("then_angle", Dimension::Angle);
        Some(Self {
            band: read_tolerance(
                stage,
                "angle_tolerance",
                target,
                stage.unit("then_angle", Dimension::Angle),
            )?,
        })
    }
}

impl WayOfTightening for Angle {
    fn key(&self) -> &'static str {
        "angle"
    }
}

impl WayReading for Angle {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Angle)
    }

    fn most(&self) -> f64 {
        MOST_DEG
    }

    /// A swing may be as small as it likes.
    fn usual(&self, had: StageProgress) -> std::ops::RangeInclusive<f64> {
        0.0..=(self.band.high - had.value).max(0.0) * MOST_LIKELY
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.angle_deg
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.angle_deg = Some(figure);
    }
}

impl WayJudgement for Angle {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn adds_up(&self) -> bool {
        true
    }
}

impl WayWalk for Angle {}

impl WayEvidence for Angle {
    fn turned_deg(&self, had: StageProgress) -> f64 {
        had.value
    }

    /// The elastic share of the turn, on top of what was there.
    fn load(&self, fastening: &Fastening, before: Option<Forecast>, figure: f64) -> Option<Forecast> {
        fastening.turned_on(before?, figure)
    }
}

impl WayHandling for Angle {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Angle)
    }

    fn words(&self, had: StageProgress) -> Message {
        let left = self.band.quantity(self.band.target - had.value);
        if had.value > 0.0 { message!("plan-on-by", left) } else { message!("plan-by", left) }
    }

    fn asks(&self, had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Angle,
            head: if had.value > 0.0 { text_id!("way-on-by-2") } else { text_id!("way-turn-by") },
            question: None,
            field: text_id!("way-angle"),
            plain: Vec::new(),
            slots: None,
            by_eye: Some(text_id!("way-mark-there")),
        })
    }
}
