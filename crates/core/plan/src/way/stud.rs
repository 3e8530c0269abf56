//! A stud goes in by hand, to the bottom and back by what the plan says, or to a height (C-39).

use super::any_way::{Way, WayOfTightening};
use super::band_text::read_band;
use super::parts::{
    InstrumentAbility, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading,
    WayWalk,
};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// Put in by hand: never with a tool, which would turn it into the end of its hole.
#[derive(Debug, Clone, PartialEq)]
pub struct StudByHand {
    text: String,
}

/// How far a stud stands out, read on each.
#[derive(Debug, Clone, PartialEq)]
pub struct StudHeight {
    band: Band,
}

/// Reads `stud = "how"` out of a stage of a plan, with `back` for how far it is turned back from the bottom, or
/// `height` with its `tolerance` or `range` for how far it is to stand out.
pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
    let mut text = stage.text("stud");
    if stage.has("back") {
        let back = stage.positive("back", Dimension::Angle)?;
        text = format!("{text} Then back by {back}°.");
    }
    let mut ways = vec![Way::new(StudByHand { text })];
    if stage.has("height") {
        ways.push(Way::new(StudHeight { band: read_band(stage, "height", Dimension::Length)? }));
    }
    Some(ways)
}

impl WayOfTightening for StudByHand {
    fn key(&self) -> &'static str {
        "stud"
    }
}

impl WayReading for StudByHand {}

impl WayJudgement for StudByHand {}

impl WayWalk for StudByHand {
    fn of_group(&self) -> bool {
        true
    }
}

impl WayEvidence for StudByHand {}

impl WayHandling for StudByHand {
    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::RunDown(0.0))
    }

    fn words(&self, _had: StageProgress) -> Message {
        Message::from(&self.text)
    }
}

impl WayOfTightening for StudHeight {
    fn key(&self) -> &'static str {
        "height"
    }
}

impl WayReading for StudHeight {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Length)
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.height_mm
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.height_mm = Some(figure);
    }
}

impl WayJudgement for StudHeight {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good => text_id!("way-ok"),
            Verdict::Low => text_id!("way-too-deep-turn-back"),
            Verdict::Over => text_id!("way-too-high"),
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        (verdict == Verdict::Over).then_some(text_id!("way-stands-out-too-far-too-little"))
    }
}

impl WayWalk for StudHeight {}

impl WayEvidence for StudHeight {}

impl WayHandling for StudHeight {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Stretch(self.band.high - self.band.low))
    }

    fn words(&self, _had: StageProgress) -> Message {
        message!("plan-height", limits = self.band.limits())
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Length,
            head: text_id!("way-stands-out"),
            question: None,
            field: text_id!("way-height"),
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}
