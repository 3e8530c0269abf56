//! Yield by feel (C-21): on until the torque rises no more. The torque where that happens has to lie
//! in a band, and is what is recorded.

use super::any_way::{Way, WayOfTightening};
use super::band_text::read_band;
use super::castellated;
use super::parts::{
    InstrumentAbility, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading,
    WayWalk,
};
use super::torque::MOST_NM;
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// On until the torque rises no more.
#[derive(Debug, Clone, PartialEq)]
pub struct YieldByFeel {
    /// The torque at which it should stop rising, N·m.
    pub band: Band,
}

/// Reads `yield = "36 N·m"` out of a stage of a plan, with its `range`; with `slots`, of a castellated nut
/// that goes on to its next slot.
pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
    let feel = Way::new(YieldByFeel { band: read_band(stage, "yield", Dimension::Torque)? });
    let advance = if stage.has("slots") { castellated::advance(stage)? } else { Vec::new() };
    Some([vec![feel], advance].concat())
}

impl WayOfTightening for YieldByFeel {
    fn key(&self) -> &'static str {
        "yield"
    }
}

impl WayReading for YieldByFeel {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Torque)
    }

    fn most(&self) -> f64 {
        MOST_NM
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.torque_nm
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.torque_nm = Some(figure);
    }
}

impl WayJudgement for YieldByFeel {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    /// A bolt that yields cannot be pulled on to another figure.
    fn at_once(&self) -> bool {
        true
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good => text_id!("way-ok"),
            Verdict::Low => text_id!("way-stopped-too-early"),
            Verdict::Over => text_id!("way-rose-too-far"),
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        match verdict {
            Verdict::Good => None,
            Verdict::Low => Some(text_id!("way-stopped-rising-too-early-weak-or")),
            Verdict::Over => Some(text_id!("way-rose-too-far-dry-or-damaged")),
        }
    }
}

impl WayWalk for YieldByFeel {}

impl WayEvidence for YieldByFeel {
    /// Where yielding begins, whatever the torque was.
    fn load(&self, fastening: &Fastening, _before: Option<Forecast>, _figure: f64) -> Option<Forecast> {
        fastening.known.then(|| fastening.at_yield())
    }
}

impl WayHandling for YieldByFeel {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::ShowTorque(self.band.target))
    }

    fn words(&self, _had: StageProgress) -> Message {
        message!("plan-until-torque-stops-rising", limits = self.band.limits())
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Torque,
            head: text_id!("way-about"),
            question: Some(text_id!("way-pull-until-torque-stops-rising")),
            field: text_id!("way-torque-where-stopped"),
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}
