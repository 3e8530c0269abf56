//! A stage whose figure nobody has looked up yet (C-47): it is there, in its order, and cannot be done.
//!
//! What nobody looked up is a question. A stage without its figure is a way of its own (`way/missing_stage.rs`);
//! `MissingFigure` says which operations wait for it, and `BuildState::waits_besides` holds them.

use super::any_way::WayOfTightening;
use super::parts::{StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk};
use rigore_mechanics::message::Message;

/// Nobody has looked its figure up yet.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct MissingStage {
    /// Where in the plan it is wanted: `joint[0].stage[1].torque`.
    pub path: String,
    /// What is wanted.
    pub text: String,
}

impl MissingStage {
    /// A stage that waits for a figure, with where that is to be found.
    pub fn new(path: String, note: &str) -> Self {
        let found = if note.is_empty() { String::new() } else { format!(": {note}") };
        Self { path, text: format!("Missing spec{found}") }
    }
}

impl WayOfTightening for MissingStage {
    fn key(&self) -> &'static str {
        "open"
    }
}

impl WayReading for MissingStage {}

impl WayJudgement for MissingStage {}

impl WayWalk for MissingStage {
    fn of_group(&self) -> bool {
        true
    }
}

impl WayEvidence for MissingStage {}

impl WayHandling for MissingStage {
    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn wanted(&self) -> Option<&str> {
        Some(&self.path)
    }

    fn words(&self, _had: StageProgress) -> Message {
        Message::from(&self.text)
    }
}
