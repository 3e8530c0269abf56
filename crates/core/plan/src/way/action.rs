//! What is done by hand between pulls, to no fastener in particular: an action such as seating the
//! thrust bearing, a wait, or the bead of sealant that starts a clock (C-19).

use super::any_way::{Way, WayOfTightening};
use super::parts::{StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;

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
    /// How long it has to cure before anything may be done that waits for it, minutes.
    pub cures_min: Option<f64>,
    /// What it is called, where that is not the name of its stage.
    title: Option<String>,
}

impl Action {
    /// Reads `action = "how"` out of a stage of a plan.
    pub(super) fn read(stage: &TomlTable<'_>) -> Vec<Way> {
        vec![Way::new(Self::plain("action", stage.text("action")))]
    }

    fn plain(key: &'static str, text: String) -> Self {
        Self { key, text, rests_min: None, within_min: None, cures_min: None, title: None }
    }

    /// Something to look at before what comes next, which is too late then.
    pub fn ready(title: &str, text: String) -> Self {
        Self { title: Some(title.to_owned()), ..Self::plain("ready", text) }
    }

    /// Reads `wait = "20 min"`, with `text` on what for.
    pub(super) fn wait(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let rests_min = Some(stage.positive("wait", Dimension::Time)?);
        Some(vec![Way::new(Self { rests_min, ..Self::plain("wait", stage.text("text")) })])
    }

    /// Reads `seal = "how"`, with `within` for the working time, `cure` for what waits for it, and `ready` for
    /// what has to be there before the bead is laid: a stage each.
    pub(super) fn seal(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let within_min = Some(stage.positive("within", Dimension::Time)?);
        let cures_min = if stage.has("cure") { Some(stage.positive("cure", Dimension::Time)?) } else { None };
        let ready = stage.texts("ready").into_iter().map(|text| Self::ready(&format!("Ready: {text}"), text));
        let bead = Self { within_min, cures_min, ..Self::plain("seal", stage.text("seal")) };
        Some(ready.chain([bead]).map(Way::new).collect())
    }
}

impl WayOfTightening for Action {
    fn key(&self) -> &'static str {
        self.key
    }
}

impl WayReading for Action {}

impl WayJudgement for Action {}

impl WayWalk for Action {
    fn rests_min(&self) -> Option<f64> {
        self.rests_min
    }

    fn within_min(&self) -> Option<f64> {
        self.within_min
    }

    fn cures_min(&self) -> Option<f64> {
        self.cures_min
    }
}

impl WayEvidence for Action {}

impl WayHandling for Action {
    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn title(&self) -> Option<&str> {
        self.title.as_deref()
    }

    fn words(&self, _had: StageProgress) -> Message {
        Message::from(&self.text)
    }
}
