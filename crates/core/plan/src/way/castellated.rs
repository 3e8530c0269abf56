//! A castellated nut (C-20): to a torque inside its band, on to the next slot and never back, and the
//! twist of the split-pin hole against its limit. The nut is finished before the next one's turn.

use super::any_way::{Way, WayOfTightening};
use super::band_text::up_to;
use super::parts::{
    InstrumentAbility, PlainAnswer, ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement,
    WayReading, WayWalk,
};
use super::torque::Torque;
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// The most slots that anybody turns a nut by.
const MOST_SLOTS: f64 = 6.0;
/// The most that a hole is ever found twisted by, degrees.
const MOST_DEG: f64 = 180.0;

/// Reads `castellated = "45 N·m"` with its `range`, `slots` and `twist`.
pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
    let band = super::band_text::read_band(stage, "castellated", Dimension::Torque);
    Some([vec![Way::new(Torque { band: band? })], advance(stage)?].concat())
}

/// The advance and the twist behind any way that seats a castellated nut.
pub(super) fn advance(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
    if !stage.has("slots") {
        stage.error("slots", text_id!("way-castellated-nut-needs-number-slots-such"));
        return None;
    }
    let slots = stage.whole("slots", 3..=12)?;
    let slot = Way::new(SlotAdvance { slots, band: Band::between(1.0, 0.0, 1.0, Dimension::Count) });
    if !stage.has("twist") {
        return Some(vec![slot]);
    }
    let twist = stage.positive("twist", Dimension::Angle)?;
    Some(vec![slot, Way::new(PinHoleTwist { band: up_to(twist) })])
}

/// Forward to the next slot.
#[derive(Debug, Clone, PartialEq)]
pub struct SlotAdvance {
    /// How many slots the nut has.
    pub slots: u32,
    band: Band,
}

impl WayOfTightening for SlotAdvance {
    fn key(&self) -> &'static str {
        "slot"
    }
}

impl WayReading for SlotAdvance {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Count)
    }

    fn least(&self) -> f64 {
        -MOST_SLOTS
    }

    fn most(&self) -> f64 {
        MOST_SLOTS
    }

    fn usual(&self, _had: StageProgress) -> std::ops::RangeInclusive<f64> {
        0.0..=1.0
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.slots
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.slots = Some(figure);
    }
}

impl WayJudgement for SlotAdvance {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn at_once(&self) -> bool {
        true
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good => text_id!("way-at-slot"),
            Verdict::Low => text_id!("way-turned-back"),
            Verdict::Over => text_id!("way-slot-too-far"),
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        match verdict {
            Verdict::Good => None,
            Verdict::Low => Some(text_id!("way-nut-was-turned-back-slot-has")),
            Verdict::Over => Some(text_id!("way-went-on-by-more-than-one")),
        }
    }
}

impl WayWalk for SlotAdvance {}

impl WayEvidence for SlotAdvance {
    /// Somewhere between nothing and one slot further.
    fn load(&self, fastening: &Fastening, before: Option<Forecast>, figure: f64) -> Option<Forecast> {
        let before = before?;
        let on = |share: f64| fastening.turned_on(before, 360.0 / f64::from(self.slots) * figure * share);
        match on(0.5).zip(on(1.0)).filter(|_| figure > 0.0) {
            Some((typical, most)) => {
                Some(Forecast { low_kn: before.low_kn, high_kn: most.high_kn, ..typical })
            }
            None => Some(before),
        }
    }
}

impl WayHandling for SlotAdvance {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Eye)
    }

    fn words(&self, _had: StageProgress) -> Message {
        text_id!("way-forward-next-slot").into()
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Count,
            head: TextId::NONE,
            question: Some(text_id!("way-forward-next-slot-never-back")),
            field: text_id!("way-slots-advanced"),
            plain: vec![
                PlainAnswer { words: text_id!("way-advanced-next-slot"), figure: 1.0 },
                PlainAnswer { words: text_id!("way-already-at-slot"), figure: 0.0 },
            ],
            slots: Some(self.slots),
            by_eye: None,
        })
    }
}

/// How far the split-pin hole is twisted against its original line.
#[derive(Debug, Clone, PartialEq)]
pub struct PinHoleTwist {
    band: Band,
}

impl WayOfTightening for PinHoleTwist {
    fn key(&self) -> &'static str {
        "twist"
    }
}

impl WayReading for PinHoleTwist {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Angle)
    }

    fn least(&self) -> f64 {
        0.0
    }

    fn most(&self) -> f64 {
        MOST_DEG
    }

    fn usual(&self, _had: StageProgress) -> std::ops::RangeInclusive<f64> {
        0.0..=self.band.high * super::parts::MOST_LIKELY
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.angle_deg
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.angle_deg = Some(figure);
    }
}

impl WayJudgement for PinHoleTwist {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    fn at_once(&self) -> bool {
        true
    }

    /// Looking twice does no harm.
    fn once(&self) -> bool {
        false
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        (verdict == Verdict::Over).then_some(text_id!("way-bolt-twisted-past-limit-scrap"))
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good | Verdict::Low => text_id!("way-ok"),
            Verdict::Over => text_id!("way-twisted-scrap"),
        }
    }
}

impl WayWalk for PinHoleTwist {}

impl WayEvidence for PinHoleTwist {
    fn scraps(&self) -> bool {
        true
    }
}

impl WayHandling for PinHoleTwist {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Eye)
    }

    fn words(&self, _had: StageProgress) -> Message {
        let most = self.band.quantity(self.band.high);
        message!("plan-twist-split-pin-hole-at-most", most)
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Angle,
            head: TextId::NONE,
            question: Some(text_id!("way-how-far-pin-hole-twisted")),
            field: text_id!("way-twist"),
            plain: vec![PlainAnswer { words: text_id!("way-no-twist"), figure: 0.0 }],
            slots: None,
            by_eye: None,
        })
    }
}
