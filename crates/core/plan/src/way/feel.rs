//! Yield by feel (C-21): on until the torque rises no more. The torque where that happens has to lie
//! in a band, and is what is recorded.

use super::any_way::{Way, WayOfTightening};
use super::band_text::read_band;
use super::castellated;
use super::parts::{Ability, Asks, Had, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk};
use super::torque::MOST_NM;
use crate::toml_reader::Table;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::Reading;
use rigore_mechanics::tightening::{Band, Verdict};

/// On until the torque rises no more.
#[derive(Debug, Clone, PartialEq)]
pub struct Feel {
    /// The torque at which it should stop rising, N·m.
    pub band: Band,
}

/// Reads `yield = "36 N·m"` out of a stage of a plan, with its `range`; with `slots`, of a castellated nut
/// that goes on to its next slot.
pub(super) fn read(stage: &Table<'_>) -> Option<Vec<Way>> {
    let feel = Way::new(Feel { band: read_band(stage, "yield", Dimension::Torque)? });
    let advance = if stage.has("slots") { castellated::advance(stage)? } else { Vec::new() };
    Some([vec![feel], advance].concat())
}

impl WayOfTightening for Feel {
    fn key(&self) -> &'static str {
        "yield"
    }
}

impl WayReading for Feel {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Torque)
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
}

impl WayJudgement for Feel {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    /// A bolt that yields cannot be pulled on to another figure.
    fn at_once(&self) -> bool {
        true
    }

    fn says(&self, verdict: Verdict) -> &'static str {
        match verdict {
            Verdict::Good => "Good",
            Verdict::Low => "Stopped too early",
            Verdict::Over => "Rose too far",
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<&'static str> {
        match verdict {
            Verdict::Good => None,
            Verdict::Low => Some("it stopped rising too early: a weak or used bolt, or too little friction"),
            Verdict::Over => Some("it rose too far: dry or damaged threads, or another bolt"),
        }
    }
}

impl WayWalk for Feel {}

impl WayEvidence for Feel {
    /// Where yielding begins, whatever the torque was.
    fn load(&self, fastening: &Fastening, _before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        fastening.known.then(|| fastening.at_yield())
    }
}

impl WayHandling for Feel {
    fn ability(&self, _had: Had) -> Option<Ability> {
        Some(Ability::ShowTorque(self.band.target))
    }

    fn words(&self, _had: Had) -> Message {
        message!("until it rises no more, {limits}", limits = self.band.limits())
    }

    fn asks(&self, _had: Had) -> Option<Asks> {
        Some(Asks {
            dimension: Dimension::Torque,
            head: "about",
            question: Some("On until it rises no more"),
            field: "Torque where it stopped",
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}
