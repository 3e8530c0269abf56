//! A joint, as the bench shows it: the step in hand, the tools for it, why this number.

use super::climb::{StretchStepsView, climb};
use super::entry_remark::OpenStep;
use super::lubricate::{LubricantView, film};
use super::map::{JointView, joint_view};
use super::pulls::PullView;
use super::tight_bolt_reading::{TightBoltReading, released};
use super::tighten_work::{JointWork, TightenWork};
use crate::instruments::fit::{AdapterAndLubricant, ReadingNeed, ShopTools, ToolFit};
use rigore_mechanics::joint::Forecast;
use rigore_mechanics::message::Message;
use rigore_mechanics::text;
use rigore_plan::way::{EvidenceKind, InstrumentAbility, ReadingPrompt, StageProgress};
use rigore_plan::{FastenerIx, GroupIx, RoundPurpose, SheetLine, SheetPart, StageIx, TightenTask};
use rigore_plan::{StageTarget, TargetSetup};
use serde::Serialize;
use time::{Duration, OffsetDateTime};

/// How well the stretch of a tight fastener is read, mm: a few percent of what rod bolts and studs are stretched.
const READ_TO_MM: f64 = 0.02;
/// Pulls that the bench shows at most.
const SHOWN: usize = 120;
/// Pull one fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PullStep {
    /// Key of the joint.
    pub joint: String,
    /// The stage, by index.
    pub stage: usize,
    /// The fastener.
    pub fastener: String,
    /// Its group's name.
    pub group: String,
    /// Its number in the group's sequence, from 1.
    pub number: usize,
    /// What it is to be given, at the fastener.
    pub target: StageTarget,
    /// How that is asked for.
    pub asks: ReadingPrompt,
    /// The climb to a stretch that it belongs to.
    pub climb: Option<StretchStepsView>,
    /// The same in one line.
    line: Message,
}

impl PullStep {
    /// The step in one line.
    pub fn line(&self) -> Message {
        self.line.clone()
    }
}

/// Do something by hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ActStep {
    /// Key of the joint.
    pub joint: String,
    /// The stage, by index.
    pub stage: usize,
    /// What it is called.
    pub name: String,
    /// How it is done.
    pub text: String,
    /// Fasteners that would not run down when it was last done.
    pub resisting: Vec<String>,
    /// Whether it is done to the fasteners of a group, any of which may resist.
    pub of_group: bool,
    /// The most that a driver may give, N·m, where they are run down.
    pub most_nm: Option<f64>,
    /// When it has been left alone for long enough.
    #[serde(with = "time::serde::rfc3339::option")]
    pub not_before: Option<OffsetDateTime>,
    /// How long what comes after may take, minutes, where it lays sealant.
    pub within_min: Option<f64>,
}

/// Loosen one fastener as its joint is taken apart, or between two steps of a climb.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LoosenStep {
    /// Key of the joint.
    pub joint: String,
    /// The fastener.
    pub fastener: String,
    /// Its group's name.
    pub group: String,
    /// Whether it goes on afterwards: what is left of its stretch is read, and it is lubricated again.
    pub goes_on: bool,
    /// With what it is lubricated then.
    pub lubricant: String,
    /// The climb that it goes on with.
    pub climb: Option<StretchStepsView>,
    /// The same in one line.
    line: Message,
}

impl LoosenStep {
    /// The step in one line.
    pub fn line(&self) -> Message {
        self.line.clone()
    }
}

/// Joints to tighten or to take apart.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TightenBench {
    /// Whether they are tightened or taken apart.
    pub task: TightenTask,
    /// What they are tightened for this time.
    pub purpose: RoundPurpose,
    /// Which fasteners are used, where it is not those that stay.
    pub fasteners: Option<String>,
    /// Which use of the fasteners this is, from 1; none where others are used.
    pub uses: Option<usize>,
    /// The joints, which are worked together.
    pub joints: Vec<JointView>,
    /// What stands behind the target in hand.
    pub why: Option<TargetReasons>,
    /// What the fasteners in hand turn on.
    pub film: Option<LubricantView>,
    /// How the instruments of the shop fit the stage in hand, by what the fastener is reached with; none
    /// where nothing is read.
    pub tools: Vec<AdapterTools>,
    /// The gauges that read how far a tight fastener is stretched, what suits first.
    pub gauges: Vec<ToolFit>,
    /// The latest pulls, the last one first.
    pub pulls: Vec<PullView>,
    /// How many pulls there are in all.
    pub pull_count: usize,
    /// Fasteners whose stretch was read while they were loosened, the last one first.
    pub released: Vec<TightBoltReading>,
}

/// Instruments for fasteners that are reached in one way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AdapterTools {
    /// Key of the adapter; none where the wrench stands on the fastener.
    pub adapter: Option<String>,
    /// What it is called.
    pub name: Option<String>,
    /// The instruments, what suits first.
    pub tools: Vec<ToolFit>,
}

/// What stands behind the target in hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TargetReasons {
    /// Hash of the plan.
    pub plan: String,
    /// Key of the joint's page in it.
    pub joint: String,
    /// Key of the fastener in it.
    pub spec: String,
    /// The fastener in words.
    pub fastener: String,
    /// The lubricants in words.
    pub lubricant: String,
    /// The clamp load to expect, where it can be computed.
    pub forecast: Option<Forecast>,
    /// Where the figure comes from, where the plan says so (C-47).
    pub source: Option<String>,
    /// What it has to stand once the engine runs, hot and cold, and what it allows (M-22 to M-25), as planned.
    pub running: Vec<SheetLine>,
}

/// What is done by hand; studs go in with what that end has.
fn act_text(hand: &JointWork<'_>, stage: StageIx) -> String {
    let way = &hand.joint[stage].way;
    let text = way.by_hand().unwrap_or_default().to_owned();
    let used = hand.used_fastener(stage);
    match used.as_ref().and_then(|used| used.spec.stud_end(way)) {
        Some(stud) => {
            let (thread, lubricant) = (&stud.designation, &stud.lubricant.name);
            text!("tighten-stud-end", text, thread, lubricant)
        }
        None => text,
    }
}

pub(super) fn act_step(hand: &JointWork<'_>, stage: StageIx) -> ActStep {
    let planned = &hand.joint[stage];
    let rules = &planned.way;
    let since = rules.rests_min().and(hand.round.touched(stage, hand.state.ledger()));
    let rest = |minutes: f64| Duration::seconds_f64(minutes * 60.0);
    let names = |fasteners: &[FastenerIx]| fasteners.iter().map(|at| hand.name(*at).to_owned()).collect();
    ActStep {
        joint: hand.joint.id.clone(),
        stage: stage.0,
        name: planned.name.clone(),
        text: act_text(hand, stage),
        resisting: names(hand.round.resisting(stage)),
        of_group: rules.of_group(),
        most_nm: match rules.ability(StageProgress::default()) {
            Some(InstrumentAbility::RunDown(most)) => Some(most),
            _ => None,
        },
        not_before: since.zip(rules.rests_min()).map(|(since, minutes)| since + rest(minutes)),
        within_min: rules.within_min(),
    }
}

pub(super) fn loosen_step(hand: &JointWork<'_>, fastener: FastenerIx, open: OpenStep) -> LoosenStep {
    LoosenStep {
        joint: hand.joint.id.clone(),
        fastener: hand.name(fastener).to_owned(),
        group: hand.joint.group_with(fastener).map(|group| group.name.clone()).unwrap_or_default(),
        goes_on: open.stage().is_some(),
        lubricant: open
            .stage()
            .and_then(|stage| Some(hand.used_fastener(stage)?.spec.lubrication.in_full()))
            .unwrap_or_default(),
        climb: open.stage().and_then(|stage| climb(hand, stage, fastener)).map(|climb| {
            // Nothing is to be read under a torque any more.
            StretchStepsView { on_nm: None, ..climb }
        }),
        line: hand.words(open, StageProgress::default()),
    }
}

pub(super) fn pull_step(
    hand: &JointWork<'_>,
    stage: StageIx,
    fastener: FastenerIx,
    place: usize,
    open: OpenStep,
) -> Option<PullStep> {
    let planned = &hand.joint[stage];
    let had = hand.round.fastened(fastener).had(stage);
    let used = hand.used_fastener(stage)?;
    let setup = TargetSetup { conversion: used.conversion(&planned.way), ..TargetSetup::default() };
    Some(PullStep {
        joint: hand.joint.id.clone(),
        stage: stage.0,
        fastener: hand.name(fastener).to_owned(),
        group: planned.group.map(|group| hand.joint[group].name.clone()).unwrap_or_default(),
        number: place + 1,
        target: StageTarget::of(&planned.way, had, &setup)?,
        asks: planned.way.asks(had)?,
        climb: climb(hand, stage, fastener),
        line: hand.words(open, had),
    })
}

/// The joints at the bench.
pub(super) fn bench(of: &TightenWork<'_>, tools: ShopTools<'_>) -> TightenBench {
    let next = of.open().next();
    let hand = next.and_then(|open| of.hand(open.at().0));
    let in_hand = hand.as_ref().zip(next);
    let stage = in_hand.as_ref().and_then(|(hand, open)| Some((hand, open.stage()?)));
    let latest = |hand: JointWork<'_>| hand.pulls().take(SHOWN).collect::<Vec<_>>();
    let mut pulls: Vec<PullView> = of.hands().flat_map(latest).collect();
    pulls.sort_by_key(|pull| std::cmp::Reverse(pull.seq));
    pulls.truncate(SHOWN);
    TightenBench {
        task: of.work.task,
        purpose: of.hands().next().map_or(RoundPurpose::Final, |hand| hand.purpose),
        fasteners: of.work.fasteners.clone(),
        uses: of.hands().filter_map(|hand| hand.uses()).max(),
        joints: of.hands().map(|hand| joint_view(&hand, next)).collect(),
        why: stage.and_then(|(hand, stage)| why(hand, stage)),
        film: match stage {
            Some((hand, stage)) => film(hand, stage),
            None => of.hands().next_back().and_then(|hand| film(&hand, hand.stages().next_back()?)),
        },
        tools: in_hand.as_ref().map(|(hand, open)| tools_for(hand, *open, tools)).unwrap_or_default(),
        gauges: tools.fits(&ReadingNeed::Pull(InstrumentAbility::Stretch(READ_TO_MM))),
        pulls,
        pull_count: of.hands().map(|hand| hand.pull_count()).sum(),
        released: of.hands().flat_map(|hand| released(&hand)).collect(),
    }
}

/// The instruments for the stage in hand, for the fastener that is next and for those that are reached in
/// another way.
fn tools_for(hand: &JointWork<'_>, open: OpenStep, tools: ShopTools<'_>) -> Vec<AdapterTools> {
    let Some(stage) = open.stage() else { return Vec::new() };
    let way = &hand.joint[stage].way;
    let OpenStep::Pull { fastener: next, .. } = open else {
        let Some(ability) = way.ability(StageProgress::default()) else { return Vec::new() };
        return vec![AdapterTools {
            adapter: None,
            name: None,
            tools: tools.fits(&ReadingNeed::Pull(ability)),
        }];
    };
    let group = hand.joint.group_of(stage).map(|group| group.fasteners.clone()).unwrap_or_default();
    let mut ways: Vec<AdapterTools> = Vec::new();
    let used = hand.used_fastener(stage);
    let conversion = used.as_ref().and_then(|used| used.conversion(way));
    for fastener in std::iter::once(next).chain(group.map(FastenerIx)) {
        let adapter = hand.state.plan.adapter(hand.joint, fastener);
        let key = adapter.map(|adapter| &adapter.id);
        if ways.iter().any(|known| known.adapter.as_ref() == key) {
            continue;
        }
        let had = if fastener == next {
            hand.round.fastened(fastener).had(stage)
        } else {
            StageProgress::default()
        };
        ways.push(AdapterTools {
            adapter: key.cloned(),
            name: adapter.map(|adapter| adapter.name.clone()),
            tools: tools.fits_pull(way, had, AdapterAndLubricant { adapter, conversion }),
        });
    }
    ways
}

/// What a group has to stand once the engine runs, where the plan says what pulls on it or how warm it gets.
fn running(hand: &JointWork<'_>, group: GroupIx) -> Vec<SheetLine> {
    if hand.joint.running.is_none() {
        return Vec::new();
    }
    let sheet = hand.state.plan.group_sheet(hand.joint, group);
    let lines = sheet.into_iter().flat_map(|sheet| sheet.lines);
    let is_running = |line: &SheetLine| {
        matches!(line.part, SheetPart::Running | SheetPart::Temperature | SheetPart::Settling)
    };
    lines.filter(is_running).collect()
}

fn why(hand: &JointWork<'_>, stage: StageIx) -> Option<TargetReasons> {
    hand.joint[stage].way.dimension()?;
    let used = hand.used_fastener(stage)?;
    // What is climbed to is the stretch, whatever torque that takes.
    let climbs = hand.joint[stage].way.shows() == Some(EvidenceKind::Torque);
    let wanted = if climbs { StageIx(stage.0 + 1) } else { stage };
    Some(TargetReasons {
        plan: hand.state.plan_ref.hash.clone(),
        joint: hand.joint.family.clone(),
        spec: used.spec.id.clone(),
        fastener: used.spec.title(),
        lubricant: match used.spec.stud_end(&hand.joint[stage].way) {
            Some(stud) => stud.lubricant.name.clone(),
            None => used.spec.lubrication.in_full(),
        },
        forecast: hand.joint.forecast(&used.spec.fastening, wanted),
        source: [&hand.joint[stage].source, &hand.joint.source]
            .into_iter()
            .find(|of| !of.is_empty())
            .cloned(),
        running: hand.joint[stage].group.map(|group| running(hand, group)).unwrap_or_default(),
    })
}
