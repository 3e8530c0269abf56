//! To a stretch (C-23, C-24): pulled to a torque that comes from what the bolt has shown, then measured; a
//! bolt that is short is pulled on. Where there is no climb, the stretch is read as proof of what was done.

use super::any_way::{Way, WayOfTightening};
use super::band_text::read_band;
use super::parts::{
    EvidenceKind, ExpectedReading, FrictionEvidence, InstrumentAbility, MOST_LIKELY, PlainAnswer,
    ReadingPrompt, StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk,
};
use super::torque::MOST_NM;
use crate::toml_reader::TomlTable;
use rigore_mechanics::joint::{Fastening, Forecast, NutFactor};
use rigore_mechanics::message::{Message, TextId};
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::StretchSteps;
use rigore_mechanics::tightening::ToolReading;
use rigore_mechanics::tightening::{Band, Verdict};
use rigore_mechanics::{message, text_id};

/// The utilisation of yield that a climb does not pass where the plan names none.
const USUAL_UTILISATION: f64 = 0.9;
/// A gauge is at zero within this part of the window to either side.
const NEAR: f64 = 5.0;
/// The most that is asked about, mm, whatever it was meant as.
const MOST_MM: f64 = 1000.0;
/// A stretch may be so many times more or less than the friction that is known of makes it.
const PLAUSIBLE: f64 = 1.6;
/// Friction of a bolt is too high from so many times what is usual for its lubricant (M-8).
pub const HIGH_FRICTION: f64 = 1.25;

/// How a stretch is climbed to.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Steps {
    first_nm: Option<f64>,
    step_nm: Option<f64>,
    /// A torque that is never passed.
    most_nm: Option<f64>,
    utilisation: f64,
    /// Whether a bolt that is short is loosened before it is pulled on.
    between: bool,
    /// How often it is pulled to a torque before its stretch is read.
    pulls: u32,
    /// Whether the first bolt of the group shows the torque for all of them.
    qualify: bool,
}

impl Steps {
    fn climb<'a>(&self, fastening: &'a Fastening, band: Band) -> StretchSteps<'a> {
        let Self { first_nm, step_nm, most_nm, utilisation, .. } = *self;
        StretchSteps { fastening, band, first_nm, step_nm, most_nm, utilisation, qualified: None }
    }
}

/// Reads `stretch = "0.150 mm"` with its `tolerance` or `range`: a climb, with `first`, `step` and
/// `utilisation` where the plan has them, and a `limit` of torque that is never passed, loosened between the steps where `loosen_between` says so, or with
/// `proof = true` a reading alone. `set` is the most that may stay of it for good. `pulls = 2`: each torque is
/// pulled twice before the stretch is read; `qualify = true`: what the first bolt of the group needs is where the
/// others begin; `zero = true`: the gauge is zeroed on each bolt first.
pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
    let band = read_band(stage, "stretch", Dimension::Clearance);
    let set_mm = if stage.has("set") { stage.positive("set", Dimension::Clearance) } else { None };
    let zeroed = stage.flag("zero");
    if stage.flag("proof") {
        // Read alone, it is read against the free length, which is known from before.
        return Some(vec![Way::new(Stretch { band: band?, steps: None, set_mm })]);
    }
    let torque = |key| if stage.has(key) { stage.positive(key, Dimension::Torque) } else { None };
    let (first_nm, step_nm, most_nm) = (torque("first"), torque("step"), torque("limit"));
    let utilisation = stage.number_if("utilisation").unwrap_or(USUAL_UTILISATION);
    if !(0.2..=1.0).contains(&utilisation) {
        stage.error("utilisation", text_id!("way-share-yield-from-0-2-1"));
        return None;
    }
    let (between, qualify) = (stage.flag("loosen_between"), stage.flag("qualify"));
    let pulls = stage.whole("pulls", 1..=3).unwrap_or(1);
    let (band, steps) = (band?, Steps { first_nm, step_nm, most_nm, utilisation, between, pulls, qualify });
    let any = Band::between(0.0, 0.0, MOST_NM, Dimension::Torque);
    let climb = [
        Way::new(StretchTorque { steps, stretch: band, any }),
        Way::new(Stretch { band, steps: Some(steps), set_mm }),
    ];
    let near =
        Band { dimension: band.dimension, ..Band::around(0.0, (band.high - band.low) / NEAR, band.unit) };
    let zero = zeroed.then_some(Way::new(GaugeZero { near, steps, stretch: band, set_mm }));
    Some(zero.into_iter().chain(climb).collect())
}

/// The gauge shows zero on the bolt before it is pulled.
#[derive(Debug, Clone, PartialEq)]
pub struct GaugeZero {
    /// What is near enough.
    near: Band,
    /// The climb that it begins.
    steps: Steps,
    stretch: Band,
    /// The most that it may have stayed longer for good, mm; past that it is scrap (C-25).
    set_mm: Option<f64>,
}

impl WayOfTightening for GaugeZero {
    fn key(&self) -> &'static str {
        "zero"
    }
}

impl WayReading for GaugeZero {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Clearance)
    }

    fn least(&self) -> f64 {
        -MOST_MM
    }

    fn most(&self) -> f64 {
        MOST_MM
    }

    fn usual(&self, _had: StageProgress) -> std::ops::RangeInclusive<f64> {
        self.near.low * NEAR..=self.near.high * NEAR
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.stretch_mm
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.stretch_mm = Some(figure);
    }
}

impl WayJudgement for GaugeZero {
    fn band(&self) -> Option<&Band> {
        Some(&self.near)
    }

    fn once(&self) -> bool {
        false
    }

    /// A gauge that is off is set again, whichever way it is off.
    fn judge(&self, value: f64) -> Verdict {
        match self.near.judge(value) {
            Verdict::Good => Verdict::Good,
            Verdict::Over if self.set_mm.is_some_and(|most| value > most + 1e-9) => Verdict::Over,
            Verdict::Low | Verdict::Over => Verdict::Low,
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        (verdict == Verdict::Over).then_some(text_id!("way-longer-than-may-before-pulled-scrap"))
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good => text_id!("way-zeroed"),
            Verdict::Low => text_id!("way-off-zero-moved-or-bolt-longer"),
            Verdict::Over => text_id!("way-over-limit-scrap"),
        }
    }
}

impl WayWalk for GaugeZero {
    fn zeroes(&self) -> bool {
        true
    }
}

impl WayEvidence for GaugeZero {
    fn climb<'a>(&self, fastening: &'a Fastening) -> Option<StretchSteps<'a>> {
        Some(self.steps.climb(fastening, self.stretch))
    }

    fn scraps(&self) -> bool {
        true
    }
}

impl WayHandling for GaugeZero {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Stretch((self.near.high - self.near.low) * NEAR / 2.0))
    }

    fn words(&self, _had: StageProgress) -> Message {
        text_id!("way-zero-gauge-on").into()
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Clearance,
            head: TextId::NONE,
            question: Some(text_id!("way-zero-stretch-gauge")),
            field: text_id!("way-gauge-shows"),
            plain: vec![PlainAnswer { words: text_id!("way-gauge-zeroed"), figure: 0.0 }],
            slots: None,
            by_eye: None,
        })
    }
}

/// On to the torque that comes next.
#[derive(Debug, Clone, PartialEq)]
pub struct StretchTorque {
    steps: Steps,
    stretch: Band,
    any: Band,
}

impl WayOfTightening for StretchTorque {
    fn key(&self) -> &'static str {
        "climb"
    }
}

impl WayReading for StretchTorque {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Torque)
    }

    fn aim(&self, had: StageProgress) -> Option<(Dimension, Band)> {
        let ExpectedReading { next, low, high, .. } = had.expected?;
        Some((Dimension::Torque, Band::between(next, low, high, Dimension::Torque)))
    }

    fn most(&self) -> f64 {
        MOST_NM
    }

    fn usual(&self, had: StageProgress) -> std::ops::RangeInclusive<f64> {
        had.expected.map_or(0.0..=f64::INFINITY, |expected| expected.next * 0.2..=expected.high)
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.torque_nm
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.torque_nm = Some(figure);
    }
}

impl WayJudgement for StretchTorque {
    /// Any torque is one: what it came to, the stretch tells.
    fn band(&self) -> Option<&Band> {
        Some(&self.any)
    }

    fn at_once(&self) -> bool {
        true
    }

    /// It is pulled again and again.
    fn once(&self) -> bool {
        false
    }

    /// A torque past the limit is kept, and somebody has to stand for it.
    fn judge_after(&self, before: StageProgress, value: f64) -> Verdict {
        let past = before.expected.is_some_and(|expected| value > expected.high * (1.0 + 1e-6));
        if past { Verdict::Over } else { Verdict::Good }
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good | Verdict::Low if self.steps.pulls > 1 => text_id!("way-pulled"),
            Verdict::Good | Verdict::Low => text_id!("way-read"),
            Verdict::Over => text_id!("way-past-limit-read"),
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        (verdict == Verdict::Over).then_some(match self.steps.most_nm {
            Some(_) => text_id!("way-more-than-limit-of-plan"),
            None => text_id!("way-more-than-plan-allows-yield"),
        })
    }
}

impl WayWalk for StretchTorque {
    fn expects(&self, fastening: &Fastening, shown: &FrictionEvidence<'_>) -> Option<ExpectedReading> {
        let climb =
            StretchSteps { qualified: shown.qualified, ..self.climb(fastening)?.within(shown.allowed) };
        let next = climb.next(shown.pairs)?.shown();
        let low = shown.pairs.last().map_or(0.0, |pair| pair.torque_nm).min(next.torque_nm);
        Some(ExpectedReading { next: next.torque_nm, low, high: next.limit_nm, again: shown.pulls > 0 })
    }

    fn pulls_each(&self) -> u32 {
        self.steps.pulls
    }

    fn qualifies(&self) -> bool {
        self.steps.qualify
    }
}

impl WayEvidence for StretchTorque {
    fn climb<'a>(&self, fastening: &'a Fastening) -> Option<StretchSteps<'a>> {
        Some(self.steps.climb(fastening, self.stretch))
    }

    fn shows(&self) -> Option<EvidenceKind> {
        Some(EvidenceKind::Torque)
    }
}

impl WayHandling for StretchTorque {
    fn ability(&self, had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Torque(had.expected?.next))
    }

    fn words(&self, had: StageProgress) -> Message {
        had.expected.map_or_else(
            || text_id!("way-next-torque").into(),
            |expected| {
                let again = if expected.again { text_id!("way-once-more") } else { TextId::NONE };
                message!("plan-to", again, torque = Quantity::new(expected.next, Dimension::Torque))
            },
        )
    }

    fn asks(&self, had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Torque,
            head: if had.expected.is_some_and(|expected| expected.again) {
                text_id!("way-once-more-to")
            } else {
                text_id!("way-to")
            },
            question: None,
            field: text_id!("way-torque"),
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}

/// How much longer it is than it was free.
#[derive(Debug, Clone, PartialEq)]
pub struct Stretch {
    /// What is wanted, mm.
    pub band: Band,
    steps: Option<Steps>,
    /// The most that may stay of it once it is loose, mm.
    set_mm: Option<f64>,
}

impl Stretch {
    /// The torque that is never passed on the way, N·m, where the plan gives one.
    pub fn most_nm(&self) -> Option<f64> {
        self.steps.and_then(|steps| steps.most_nm)
    }
}

impl WayOfTightening for Stretch {
    fn key(&self) -> &'static str {
        "stretch"
    }
}

impl WayReading for Stretch {
    fn dimension(&self) -> Option<Dimension> {
        Some(Dimension::Clearance)
    }

    fn most(&self) -> f64 {
        MOST_MM
    }

    fn usual(&self, had: StageProgress) -> std::ops::RangeInclusive<f64> {
        match had.expected {
            Some(expected) => expected.low..=expected.high,
            None => self.band.low * 0.2..=self.band.high * MOST_LIKELY,
        }
    }

    fn figure(&self, reading: &ToolReading) -> Option<f64> {
        reading.stretch_mm
    }

    fn put(&self, reading: &mut ToolReading, figure: f64) {
        reading.stretch_mm = Some(figure);
    }
}

impl WayJudgement for Stretch {
    fn band(&self) -> Option<&Band> {
        Some(&self.band)
    }

    /// Read as proof, it cannot be pulled on.
    fn at_once(&self) -> bool {
        self.steps.is_none()
    }

    /// Looking twice does no harm.
    fn once(&self) -> bool {
        false
    }

    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good => text_id!("way-ok"),
            Verdict::Low if self.at_once() => text_id!("way-under-target"),
            Verdict::Low if self.loosens_between() => text_id!("way-under-target"),
            Verdict::Low => text_id!("way-under-target-pull-further"),
            Verdict::Over => text_id!("way-over"),
        }
    }

    fn wrong(&self, verdict: Verdict) -> Option<TextId> {
        match verdict {
            Verdict::Good => None,
            Verdict::Low if self.at_once() => Some(text_id!("way-not-stretched-enough")),
            Verdict::Low if self.most_nm().is_some() => Some(text_id!("way-limit-comes-before-stretch")),
            Verdict::Low => Some(text_id!("way-more-would-use-more-yield-than")),
            Verdict::Over => Some(text_id!("way-stretched-too-far")),
        }
    }
}

impl WayWalk for Stretch {
    /// What the torque that is on makes of it, with the friction that the bolt has shown, else with that of
    /// its lubricant.
    fn expects(&self, fastening: &Fastening, shown: &FrictionEvidence<'_>) -> Option<ExpectedReading> {
        let (torque_nm, bolt) = (shown.torque_nm?, fastening.own_resilience()?);
        let by = |k: f64| torque_nm / (k * fastening.thread.nominal_mm()) * 1000.0 * bolt;
        let [least, usual, most] = fastening.nut_factors();
        Some(match NutFactor::of(&fastening.thread, bolt, shown.pairs) {
            Some(found) => {
                let next = by(found.k);
                ExpectedReading { next, low: next / PLAUSIBLE, high: next * PLAUSIBLE, again: false }
            }
            None => ExpectedReading {
                next: by(usual),
                low: by(most) / PLAUSIBLE,
                high: by(least) * PLAUSIBLE,
                again: false,
            },
        })
    }

    fn qualifies(&self) -> bool {
        self.steps.is_some_and(|steps| steps.qualify)
    }

    fn reopens(&self) -> bool {
        self.steps.is_some()
    }

    fn loosens_between(&self) -> bool {
        self.steps.is_some_and(|steps| steps.between)
    }
}

impl WayEvidence for Stretch {
    fn climb<'a>(&self, fastening: &'a Fastening) -> Option<StretchSteps<'a>> {
        Some(self.steps?.climb(fastening, self.band))
    }

    fn shows(&self) -> Option<EvidenceKind> {
        Some(EvidenceKind::Stretch)
    }

    fn set_mm(&self) -> Option<f64> {
        self.set_mm
    }

    fn load(&self, fastening: &Fastening, before: Option<Forecast>, figure: f64) -> Option<Forecast> {
        fastening.by_stretch(figure).filter(|_| fastening.known).or(before)
    }
}

impl WayHandling for Stretch {
    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::Stretch(self.band.high - self.band.low))
    }

    fn words(&self, _had: StageProgress) -> Message {
        message!("plan-stretch", limits = self.band.limits())
    }

    fn asks(&self, _had: StageProgress) -> Option<ReadingPrompt> {
        Some(ReadingPrompt {
            dimension: Dimension::Clearance,
            head: text_id!("way-wanted"),
            question: None,
            field: text_id!("way-stretch"),
            plain: Vec::new(),
            slots: None,
            by_eye: None,
        })
    }
}
