//! A stud goes in by hand, to the bottom and back by what the plan says, or to a height (C-39).

use super::any_way::{Way, WayOfTightening};
use super::band_text::read_band;
use super::parts::{Ability, Asks, Had, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk};
use crate::toml_reader::Table;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::Reading;
use rigore_mechanics::tightening::{Band, Verdict};

/// Put in by hand: never with a tool, which would turn it into the end of its hole.
#[derive(Debug, Clone, PartialEq)]
pub struct Stud {
    text: String,
}

/// How far a stud stands out, read on each.
#[derive(Debug, Clone, PartialEq)]
pub struct Height {
    band: Band,
}

/// Reads `stud = "how"` out of a stage of a plan, with `back` for how far it is turned back from the bottom, or
/// `height` with its `tolerance` or `range` for how far it is to stand out.
pub(super) fn read(stage: &Table<'_>) -> Option<Vec<Way>> {
    let mut text = stage.text("stud");
    if stage.has("back") {
        let back = stage.positive("back", Dimension::Angle)?;
        text = format!("{text} Then back by {back}°.");
    }
    let mut ways = vec![Way::new(Stud { text })];
    if stage.has("height") {
        ways.push(Way::new(Height { band: read_band(stage, "height", Dimension::Length)? }));
    }
    Some(ways)
}

impl WayOfTightening for Stud {
    fn key(&self) -> &'static str {
        "stud"
    }
}

impl WayReading for Stud {}

impl WayJudgement for Stud {}

impl WayWalk for Stud {
    fn of_group(&self) -> bool {
        true
    }
}

impl WayEvidence for Stud {}

impl WayHandling for Stud {
    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn ability(&self, _had: Had) -> Option<Ability> {
        Some(Ability::RunDown(0.0))
    }

    fn words(&self, _had: Had) -> Message {
        Message::from(&self.text)
    }
}

impl WayOfTightening for Height {
    fn key(&self) -> &'static str {
        "height"
    }
}

impl WayReading for Height {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Length)
    }

    fn figure(&self, reading: &Reading) -> Option<f64> {
        reading.height_mm
    }

    fn put(&self, reading: &mut Reading, figure: f64) {
        reading.height_mm = Some(figure);
    }
}

impl WayJudgement for Height {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn says(&self, verdict: Verdict) -> &'static str {
        match verdict {
            Verdict::Good => "Good",
            Verdict::Low => "Too deep: turn it back",
            Verdict::Over => "Too high",
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<&'static str> {
        (verdict == Verdict::Over).then_some("it stands out too far: too little of its thread is in")
    }
}

impl WayWalk for Height {}

impl WayEvidence for Height {}

impl WayHandling for Height {
    fn ability(&self, _had: Had) -> Option<Ability> {
        Some(Ability::Stretch(self.band.high - self.band.low))
    }

    fn words(&self, _had: Had) -> Message {
        message!("its height, {limits}", limits = self.band.limits())
    }

    fn asks(&self, _had: Had) -> Option<Asks> {
        Some(Asks {
            dimension: Dimension::Length,
            head: "stands out",
            question: None,
            field: "Height",
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}
