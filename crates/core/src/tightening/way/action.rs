//! Something done by hand between stages, such as seating the thrust bearing.

use super::rules::{Ability, Had, Rules};
use crate::document::Table;
use crate::joint::{Fastening, Forecast};
use crate::quantity::Dimension;
use crate::tightening::band::Band;
use crate::tightening::reading::Reading;

/// Something done by hand, to no fastener in particular.
#[derive(Debug, Clone, PartialEq)]
pub struct Action {
    /// How it is done.
    pub text: String,
}

impl Action {
    /// Reads it out of a stage of a plan.
    pub(super) fn read(stage: &Table<'_>) -> Self {
        Self { text: stage.text("action") }
    }
}

impl Rules for Action {
    fn key(&self) -> &'static str {
        "action"
    }

    fn dimension(&self) -> Option<Dimension> {
        None
    }

    fn band(&self) -> Option<&Band> {
        None
    }

    fn figure(&self, _reading: &Reading) -> Option<f64> {
        None
    }

    fn put(&self, _reading: &mut Reading, _figure: f64) {}

    /// What was there stays.
    fn load(&self, _fastening: &Fastening, before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        before
    }

    fn ability(&self) -> Option<Ability> {
        None
    }

    fn words(&self, _had: Had) -> String {
        self.text.clone()
    }
}
