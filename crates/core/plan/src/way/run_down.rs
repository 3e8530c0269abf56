//! Run down by hand until it touches; with a low-power driver no further than snug.

use super::any_way::{Way, WayOfTightening};
use super::parts::{
    InstrumentAbility, StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk,
};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;

/// Run down by hand.
#[derive(Debug, Clone, PartialEq)]
pub struct RunDown {
    /// How it is done.
    pub text: String,
    /// The most that a driver may give, N·m.
    pub most_nm: f64,
}

impl RunDown {
    /// Reads `run-down = "how"` out of a stage of a plan, with `most` for a driver.
    pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let most_nm = if stage.has("most") { stage.positive("most", Dimension::Torque)? } else { 0.0 };
        Some(vec![Way::new(Self { text: stage.text("run-down"), most_nm })])
    }
}

impl WayOfTightening for RunDown {
    fn key(&self) -> &'static str {
        "run-down"
    }
}

impl WayReading for RunDown {}

impl WayJudgement for RunDown {}

impl WayWalk for RunDown {
    fn of_group(&self) -> bool {
        true
    }
}

impl WayEvidence for RunDown {}

impl WayHandling for RunDown {
    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::RunDown(self.most_nm))
    }

    fn words(&self, _had: StageProgress) -> Message {
        Message::from(&self.text)
    }
}
