//! Loosened again before it is tightened for good: the group backwards, outside first (C-17).

use super::any_way::{Way, WayOfTightening};
use super::parts::{
    InstrumentAbility, PlainAnswer, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement,
    WayReading, WayWalk,
};
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// Loosened again.
#[derive(Debug, Clone, PartialEq)]
pub struct LoosenAgain {
    /// How far, in words.
    pub text: String,
    band: Band,
}

impl LoosenAgain {
    /// Reads `loosen = "by half a turn"` out of a stage of a plan.
    pub(super) fn read(stage: &TomlTable<'_>) -> Vec<Way> {
        let band = Band::between(1.0, 1.0, 1.0, Dimension::Count);
        vec![Way::new(Self { text: stage.text("loosen"), band })]
    }
}

impl WayOfTightening for LoosenAgain {
    fn key(&self) -> &'static str {
        "loosen"
    }
}

impl WayReading for LoosenAgain {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Count)
    }

    fn least(&self) -> f64 {
        1.0
    }

    fn most(&self) -> f64 {
        1.0
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.loosened.map(|loosened| f64::from(u8::from(loosened)))
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.loosened = Some(figure > 0.0);
    }
}

impl WayJudgement for LoosenAgain {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn says(&self, _verdict: Verdict) -> TextId {
        text_id!("way-loose")
    }
}

impl WayWalk for LoosenAgain {
    fn loosens(&self) -> bool {
        true
    }
}

impl WayEvidence for LoosenAgain {
    /// Nothing clamps any more.
    fn load(&self, _fastening: &Fastening, _before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        None
    }
}

impl WayHandling for LoosenAgain {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Eye)
    }

    fn words(&self, _had: StageProgress) -> Message {
        message!("plan-loosen", fasteners = &self.text)
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Count,
            head: TextId::NONE,
            question: Some(text_id!("way-loosen-again")),
            field: text_id!("way-loosened"),
            plain: vec![PlainAnswer { words: text_id!("way-loose"), figure: 1.0 }],
            slots: None,
            by_eye: None,
        })
    }
}
