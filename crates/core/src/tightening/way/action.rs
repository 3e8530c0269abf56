//! What is done by hand between pulls, to no fastener in particular: an action such as seating the
//! thrust bearing, a wait, or the bead of sealant that starts a clock (C-19).

use super::rules::{Had, Rules};
use crate::document::Table;
use crate::quantity::Dimension;

/// Something done by hand.
#[derive(Debug, Clone, PartialEq)]
pub struct Action {
    key: &'static str,
    /// How it is done.
    pub text: String,
    /// How long it is left alone before, minutes.
    pub rests_min: Option<f64>,
    /// How long what comes after may take, minutes.
    pub within_min: Option<f64>,
}

impl Action {
    /// Reads `action = "how"` out of a stage of a plan.
    pub(super) fn read(stage: &Table<'_>) -> Self {
        Self { key: "action", text: stage.text("action"), rests_min: None, within_min: None }
    }

    /// Reads `wait = "20 min"`, with `text` on what for.
    pub(super) fn wait(stage: &Table<'_>) -> Option<Self> {
        let rests_min = Some(stage.positive("wait", Dimension::Time)?);
        Some(Self { key: "wait", text: stage.text("text"), rests_min, within_min: None })
    }

    /// Reads `seal = "how"`, with `within` for the working time.
    pub(super) fn seal(stage: &Table<'_>) -> Option<Self> {
        let within_min = Some(stage.positive("within", Dimension::Time)?);
        Some(Self { key: "seal", text: stage.text("seal"), rests_min: None, within_min })
    }
}

impl Rules for Action {
    fn key(&self) -> &'static str {
        self.key
    }

    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn rests_min(&self) -> Option<f64> {
        self.rests_min
    }

    fn within_min(&self) -> Option<f64> {
        self.within_min
    }

    fn words(&self, _had: Had) -> String {
        self.text.clone()
    }
}
