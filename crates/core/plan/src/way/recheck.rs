//! A pull at a torque the fastener has had: does it move, and by how much (C-10, C-18)? A recheck
//! should find nothing; a settle pass is there to find something.

use super::any_way::{Way, WayOfTightening};
use super::band_text::{read_band, up_to};
use super::parts::{
    InstrumentAbility, PlainAnswer, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement,
    WayReading, WayWalk,
};
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// Movement that nobody can tell from none, degrees, where a plan does not say.
const STILL_DEG: f64 = 2.0;
/// The most that a fastener at its torque is turned on by, degrees.
const MOST_DEG: f64 = 360.0;
/// More than this is asked about: perhaps it is the torque, or the angle of another stage, degrees.
const USUAL_DEG: f64 = 25.0;

/// A pull at a torque the fastener has had.
#[derive(Debug, Clone, PartialEq)]
pub struct Recheck {
    /// The torque, N·m.
    pub torque: Band,
    /// How far it may move, degrees; as far as it likes in a settle pass.
    pub moves: Band,
    settles: bool,
}

impl Recheck {
    /// Reads `recheck = "30 N·m"` out of a stage of a plan, with `most` for what still counts as
    /// holding.
    pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let torque = read_band(stage, "recheck", Dimension::Torque)?;
        let most = if stage.has("most") { stage.positive("most", Dimension::Angle)? } else { STILL_DEG };
        Some(vec![Way::new(Self { torque, moves: up_to(most), settles: false })])
    }

    /// The settle pass after a torque.
    pub(super) fn settle(torque: Band) -> Self {
        Self { torque, moves: up_to(MOST_DEG), settles: true }
    }
}

impl WayOfTightening for Recheck {
    fn key(&self) -> &'static str {
        if self.settles { "settle" } else { "recheck" }
    }
}

impl WayReading for Recheck {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Angle)
    }

    fn aim(&self, _had: StageProgress) -> Option<(Dimension, Band)> {
        Some((Dimension::Torque, self.torque))
    }

    fn least(&self) -> f64 {
        0.0
    }

    fn most(&self) -> f64 {
        MOST_DEG
    }

    fn usual(&self, _had: StageProgress) -> std::ops::RangeInclusive<f64> {
        0.0..=USUAL_DEG
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.angle_deg
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.angle_deg = Some(figure);
    }
}

impl WayJudgement for Recheck {
    fn band(&self) -> Option<&Band> {
        Some(&self.moves)
    }

    /// One that moved has its torque now, and has to hold at the next pull.
    fn judge(&self, value: f64) -> Verdict {
        if self.moves.judge(value) == Verdict::Good { Verdict::Good } else { Verdict::Low }
    }

    fn moved(&self, value: f64) -> bool {
        value > 0.0 && (self.settles || self.judge(value) != Verdict::Good)
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good if self.settles => text_id!("way-settled"),
            Verdict::Good => text_id!("way-holds"),
            Verdict::Low | Verdict::Over => text_id!("way-moved-pull-again-then-neighbours"),
        }
    }
}

impl WayWalk for Recheck {}

impl WayEvidence for Recheck {
    /// A pull at less than what clamps already changes nothing.
    fn load(&self, fastening: &Fastening, before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        let pulled = fastening.known.then(|| fastening.by_planned_torque(self.torque.target))?;
        before.filter(|before| before.typical_kn >= pulled.typical_kn).or(Some(pulled))
    }
}

impl WayHandling for Recheck {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Torque(self.torque.target))
    }

    fn words(&self, had: StageProgress) -> Message {
        let torque = self.torque.quantity(self.torque.target);
        if had.pulls > 0 {
            message!("plan-again-at-moved", torque, moved = Quantity::new(had.value, Dimension::Angle))
        } else {
            message!("plan-at-does-move", torque)
        }
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Angle,
            head: text_id!("way-at"),
            question: Some(text_id!("way-does-move")),
            field: text_id!("way-moved-by"),
            plain: vec![PlainAnswer {
                words: if self.settles { text_id!("way-did-not-move") } else { text_id!("way-it-holds") },
                figure: 0.0,
            }],
            slots: None,
            by_eye: None,
        })
    }
}
