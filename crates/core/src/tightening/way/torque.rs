//! To a torque, by one smooth pull to the click or to the figure.

use super::rules::{Ability, Had, Rules, read_band};
use crate::document::Table;
use crate::joint::{Fastening, Forecast};
use crate::quantity::{self, Dimension};
use crate::tightening::band::{Band, Verdict};
use crate::tightening::reading::Reading;
use crate::tightening::steps;

/// The most that anybody pulls a fastener of an engine to, N·m.
pub const MOST_NM: f64 = 20_000.0;

/// What wrenches can be set to, N·m, where a plan does not say.
const RESOLUTION_NM: f64 = 1.0;

/// To a torque.
#[derive(Debug, Clone, PartialEq)]
pub struct Torque {
    /// What is wanted, N·m.
    pub band: Band,
}

impl Torque {
    /// Reads it out of a stage of a plan: one torque, or the steps to it by rule (M-11), in order.
    pub(super) fn read(stage: &Table<'_>) -> Option<Vec<Self>> {
        let band = read_band(stage, "torque", Dimension::Torque)?;
        let (rule, shares) = shares(stage)?;
        if shares.len() < 2 {
            return Some(vec![Self { band }]);
        }
        let resolution = if stage.has("resolution") {
            stage.positive("resolution", Dimension::Torque)?
        } else {
            RESOLUTION_NM
        };
        let settings = steps::shared(band.target, &shares, resolution);
        let mut settings = settings.map_err(|error| stage.error(rule, error.to_string())).ok()?;
        if settings.pop().is_none_or(|last| band.judge(last) != Verdict::Good) {
            stage.error("resolution", "a wrench that sets such steps cannot be set inside the tolerance");
            return None;
        }
        // The last one is the plan's own figure.
        let steps = settings.into_iter().map(|setting| Self { band: band.moved_to(setting) });
        Some(steps.chain([Self { band }]).collect())
    }
}

/// The shares of the torque that are pulled one after the other, with the field that says so.
fn shares(stage: &Table<'_>) -> Option<(&'static str, Vec<f64>)> {
    match (stage.has("steps"), stage.has("percent")) {
        (true, true) => {
            stage.error("percent", "steps are equal or by percent, not both");
            None
        }
        (true, false) => {
            let count = stage.whole("steps", 2..=steps::MOST)?;
            Some(("steps", (1..=count).map(|step| f64::from(step) / f64::from(count)).collect()))
        }
        (false, true) => {
            Some(("percent", stage.numbers("percent").into_iter().map(|part| part / 100.0).collect()))
        }
        (false, false) => Some(("torque", vec![1.0])),
    }
}

impl Rules for Torque {
    fn key(&self) -> &'static str {
        "torque"
    }

    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Torque)
    }

    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn most(&self) -> f64 {
        MOST_NM
    }

    fn figure(&self, reading: &Reading) -> Option<f64> {
        reading.torque_nm
    }

    fn put(&self, reading: &mut Reading, figure: f64) {
        reading.torque_nm = Some(figure);
    }

    /// The last torque counts, whatever was before it.
    fn load(&self, fastening: &Fastening, _before: Option<Forecast>, figure: f64) -> Option<Forecast> {
        Some(fastening.by_torque(figure))
    }

    fn ability(&self) -> Option<Ability> {
        Some(Ability::Torque(self.band.target))
    }

    fn words(&self, _had: Had) -> String {
        format!("to {}", quantity::format(self.band.target, Dimension::Torque.base()))
    }
}
