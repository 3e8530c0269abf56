//! What may be recorded about a joint.
//!
//! A joint is taken apart again by loosening all of it (`take_apart`): its stages start over,
//! signatures that rest on it lapse, and once no fastener is in, what was done by hand starts over, too
//! (`TighteningRound::started_over_at`). A bead of sealant that skinned is laid again by the same action with a reason.

use super::climb::can_go_further;
use super::reading_check::ReadingCheck;
use super::round::TighteningRound;
use crate::commands::context::{CommandContext, operation, reason, starting, typed};
use crate::events::{
    ActionCommand, ActionEntry, Fact, FurtherPullCommand, FurtherPullEntry, Instrument, LoosenCommand,
    LooseningEntry, PullCommand, PullEntry, ReadingMethod, Refusal, RefusalKind, Role, WrenchSettingCommand,
    WrenchSettingEntry,
};
use crate::instruments::fit::{AdapterAndLubricant, same_setting};
use crate::state::BuildState;
use crate::state::ledger::EntryLedger;
use rigore_mechanics::message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::ToolReading;
use rigore_plan::way::MOST_NM;
use rigore_plan::way::{InstrumentAbility, StageProgress, Way};
use rigore_plan::{FastenerIx, Joint, JointShare, OperationIx, StageIx, TightenSpec, TightenTask};

/// What a command is about.
pub(super) struct JointCommandTarget<'a> {
    pub operation: OperationIx,
    pub work: &'a TightenSpec,
    share: &'a JointShare,
    pub joint: &'a Joint,
    round: &'a TighteningRound,
}

fn tightens<'a>(state: &'a BuildState, id: &str) -> Result<(OperationIx, &'a TightenSpec), Refusal> {
    let at = operation(state, id)?;
    let work = state.plan.tightens(at);
    Ok((at, work.ok_or_else(|| Refusal::field("operation", message!("tighten-nothing-to-tighten", id)))?))
}

pub(super) fn place<'a>(
    state: &'a BuildState,
    id: &str,
    joint: Option<&str>,
) -> Result<JointCommandTarget<'a>, Refusal> {
    let (operation, work) = tightens(state, id)?;
    let share = work.share(&state.plan, joint).ok_or_else(|| {
        let known: Vec<&str> = work.shares.iter().map(|share| state.plan[share.joint].id.as_str()).collect();
        let known = known.join(", ");
        Refusal::field(
            "joint",
            match joint {
                Some(joint) => message!("tighten-not-joint-there", joint, id, known),
                None => message!("tighten-about-more-than-one-joint-one", id, known),
            },
        )
    })?;
    let (joint, round) = (&state.plan[share.joint], state.joints().round(share.at()));
    Ok(JointCommandTarget { operation, work, share, joint, round })
}

impl JointCommandTarget<'_> {
    /// A stage that the operation runs.
    fn stage(&self, stage: usize) -> Option<StageIx> {
        let runs = self.work.task == TightenTask::Tighten && self.share.stages.contains(&stage);
        runs.then_some(StageIx(stage))
    }

    fn fastener(&self, id: &str) -> Result<FastenerIx, Refusal> {
        let unknown = || Refusal::field("fastener", message!("tighten-no-fastener-this-joint-called", id));
        self.joint.fastener(id).ok_or_else(unknown)
    }

    /// The joint's key, where the operation has more than one.
    pub fn joint_key(&self) -> Option<String> {
        (self.work.shares.len() > 1).then(|| self.joint.id.clone())
    }
}

/// Records a pull. Asked about is one that somebody else recorded in the meantime, one that can hardly be
/// meant, and a second one where there may be one only (C-11).
pub(crate) fn pull(
    state: &BuildState,
    context: &CommandContext,
    pull: &PullCommand,
) -> Result<Vec<Fact>, Refusal> {
    let place = place(state, &pull.operation, pull.joint.as_deref())?;
    let pulled = |stage: &StageIx| place.joint[*stage].way.dimension().is_some();
    let stage = place.stage(pull.stage).filter(pulled);
    let stage = stage
        .ok_or_else(|| Refusal::field("stage", message!("tighten-no-such-stage-with-something-pull")))?;
    let way = &place.joint[stage].way;
    let fastener = place.joint.fastener(&pull.fastener).filter(|fastener| {
        place.joint.group_of(stage).is_some_and(|group| group.fasteners.contains(&fastener.0))
    });
    let fastener = fastener.ok_or_else(|| {
        let (id, name) = (&pull.fastener, &place.joint[stage].name);
        Refusal::field("fastener", message!("tighten-not-fastener", id, name))
    })?;
    let had = place.round.fastened(fastener).had(stage);
    if place.round.fastened(fastener).last(stage) > context.seen {
        let message = message!(
            "tighten-was-just-pulled-on-another-screen",
            fastener = &pull.fastener,
            value = way.print(had.value),
        );
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    let instrument = context.instrument(&pull.instrument)?;
    let torque = way.ability(had).and_then(InstrumentAbility::torque_nm);
    let adapter = state.plan.adapter(place.joint, fastener).filter(|_| torque.is_some());
    let used = place.joint.group_ix(fastener).map(|group| {
        let counts = |seq| state.ledger().counts(seq);
        place.round.used_fastener(&state.plan, place.joint, group, u64::MAX, counts)
    });
    let between =
        AdapterAndLubricant { adapter, conversion: used.as_ref().and_then(|used| used.conversion(way)) };
    let before = place.round.read_before(stage, fastener, &instrument.id, |seq| state.ledger().counts(seq));
    let (_, free_mm) = state.free_length(place.share.joint, fastener);
    let asked =
        ReadingCheck { way, had, between, instrument: &instrument, given: &pull.reading, before, free_mm };
    let reading = match pull.method {
        ReadingMethod::Clicked => clicked(context, &instrument, &asked.read()?)?,
        ReadingMethod::Seen => asked.seen()?,
        _ => asked.read()?,
    };
    let told_by_person = matches!(pull.method, ReadingMethod::Typed | ReadingMethod::Seen);
    if told_by_person && !pull.sure && way.once() && place.round.fastened(fastener).finished(stage) {
        let (fastener, stage) = (&pull.fastener, &place.joint[stage].name);
        let message =
            message!("tighten-has-had-done-once-tap-another", fastener, stage, value = way.print(had.value),);
        return Err(Refusal::of(RefusalKind::Ask, message));
    }
    if pull.method == ReadingMethod::Typed && !pull.sure {
        asked.likely(&reading)?;
    }
    let reading = with_setting(reading, (way, had), &instrument, context);
    let fact = Fact::Pulled(PullEntry {
        operation: pull.operation.clone(),
        joint: place.joint_key(),
        stage: pull.stage,
        fastener: pull.fastener.clone(),
        reading,
        method: pull.method.with(&instrument),
        adapter: adapter.cloned(),
        instrument,
        note: pull.note,
    });
    Ok(starting(state, context.at, place.operation, fact))
}

/// What a click wrench was set to belongs to what was found with it, where that is not the torque itself.
fn with_setting(
    reading: ToolReading,
    (way, had): (&Way, StageProgress),
    wrench: &Instrument,
    context: &CommandContext,
) -> ToolReading {
    let held = way.ability(had).and_then(InstrumentAbility::torque_nm).filter(|_| wrench.clicks);
    let torque_nm = reading.torque_nm.or(held.and(context.set_to_nm));
    ToolReading { torque_nm, ..reading }
}

/// A click says no more than that the wrench reached what it was set to: that has to be known, and to be
/// what its sender believes.
fn clicked(
    context: &CommandContext,
    wrench: &Instrument,
    said: &ToolReading,
) -> Result<ToolReading, Refusal> {
    let Some(believed) = said.torque_nm else {
        return Err(Refusal::field("reading", message!("tighten-click-torque-this-stage-needs-another")));
    };
    let name = &wrench.name;
    let Some(set_to) = context.set_to_nm.filter(|_| wrench.clicks) else {
        return Err(Refusal::field("instrument", message!("tighten-setting-not-known-set-first", name)));
    };
    if same_setting(set_to, believed) {
        return Ok(ToolReading { torque_nm: Some(set_to), ..ToolReading::default() });
    }
    let set_to = Quantity::new(set_to, Dimension::Torque);
    let message = message!("tighten-was-set-meanwhile-check-set-again", name, set_to);
    Err(Refusal::of(RefusalKind::Stale, message))
}

/// Records that a click wrench was set.
pub(crate) fn set_wrench(
    state: &BuildState,
    context: &CommandContext,
    set: &WrenchSettingCommand,
) -> Result<Vec<Fact>, Refusal> {
    tightens(state, &set.operation)?;
    let instrument = context.instrument(&set.instrument)?;
    if !instrument.clicks {
        let message = message!("tighten-does-not-click-at-setting", instrument = instrument.name);
        return Err(Refusal::field("instrument", message));
    }
    let torque_nm = typed("text", &set.text, set.unit.as_deref(), Dimension::Torque)?;
    if !(torque_nm > 0.0 && torque_nm <= MOST_NM) {
        return Err(Refusal::field(
            "text",
            message!("tighten-torque-above-zero-up-needed", most = Quantity::new(MOST_NM, Dimension::Torque)),
        ));
    }
    let (operation, entered) = (set.operation.clone(), set.text.clone());
    Ok(vec![Fact::WrenchSet(WrenchSettingEntry { operation, instrument, torque_nm, entered })])
}

/// Records what was done by hand.
pub(crate) fn act(
    state: &BuildState,
    context: &CommandContext,
    act: &ActionCommand,
) -> Result<Vec<Fact>, Refusal> {
    let place = place(state, &act.operation, act.joint.as_deref())?;
    let by_hand = |stage: &StageIx| place.joint[*stage].way.by_hand().is_some();
    let stage = place.stage(act.stage).filter(by_hand);
    let stage = stage.ok_or_else(|| Refusal::field("stage", message!("tighten-this-stage-not-action")))?;
    if place.joint[stage].way.wanted().is_some() {
        let message = message!("tighten-spec-missing-enter-first");
        return Err(Refusal::of(RefusalKind::NotYet, message));
    }
    let again = act.again.as_deref().map(reason).transpose()?;
    if place.round.acted(stage) {
        laid_again(&place, stage, again.as_deref())?;
    }
    for id in &act.except {
        let fastener = place.joint.fastener(id);
        let group = place.joint.group_of(stage).map(|group| group.fasteners.clone()).unwrap_or_default();
        if fastener.is_none_or(|fastener| !group.contains(&fastener.0)) {
            return Err(Refusal::field("except", message!("tighten-not-fastener-this-stage", id)));
        }
    }
    let mut except = act.except.clone();
    except.sort_unstable();
    except.dedup();
    let instrument = act.instrument.as_deref().map(|id| context.instrument(id)).transpose()?;
    let fact = Fact::Acted(ActionEntry {
        operation: act.operation.clone(),
        joint: place.joint_key(),
        stage: act.stage,
        except,
        instrument: instrument.filter(|tool| !tool.by_eye()),
        again,
    });
    Ok(starting(state, context.at, place.operation, fact))
}

/// A bead of sealant may be laid again once no bolt is in (C-54); anything else is done once.
fn laid_again(place: &JointCommandTarget<'_>, stage: StageIx, again: Option<&str>) -> Result<(), Refusal> {
    let seals = place.joint[stage].way.within_min().is_some();
    if again.is_none() || !seals {
        return Err(Refusal::of(RefusalKind::Stale, message!("tighten-this-action-done-already")));
    }
    if !place.round.is_loose() {
        let message = message!("tighten-loosen-all-first-then-faces-cleaned", joint = place.joint.name);
        return Err(Refusal::of(RefusalKind::NotYet, message));
    }
    Ok(())
}

/// A lead lets a fastener be pulled on to its yield, where the plan's limit comes before its stretch.
pub(crate) fn allow_further(
    state: &BuildState,
    context: &CommandContext,
    allow: &FurtherPullCommand,
) -> Result<Vec<Fact>, Refusal> {
    let place = place(state, &allow.operation, allow.joint.as_deref())?;
    let fastener = place.fastener(&allow.fastener)?;
    if context.by.role != Role::Lead {
        let message = message!("tighten-lead-decides-about-going-past-limit");
        return Err(Refusal::of(RefusalKind::NotAllowed, message));
    }
    let group = place.joint.group_ix(fastener);
    let climbs = |stage: usize| {
        place.joint.stages[stage].group == group && can_go_further(&state.plan, place.joint, StageIx(stage))
    };
    if !place.share.stages.clone().any(climbs) {
        let message = message!("tighten-not-tightened-stretch-here", fastener = allow.fastener);
        return Err(Refusal::field("fastener", message));
    }
    Ok(vec![Fact::Allowed(FurtherPullEntry {
        operation: allow.operation.clone(),
        joint: place.joint_key(),
        fastener: allow.fastener.clone(),
        utilisation: 1.0,
        reason: reason(&allow.reason)?,
    })])
}

/// Why a bolt is loosened between two steps of a climb.
pub(super) const BETWEEN: &str = "to be lubricated again between two steps";
/// The most that is ever left of a stretch, to either side, mm.
const MOST_LEFT_MM: f64 = 1.0;

/// The most that any fastener is stretched while it holds, mm.
const MOST_RELEASED_MM: f64 = 3.0;

/// What a gauge on the fastener showed when it was loosened.
#[derive(Debug, Clone, Default)]
struct LooseningReadings {
    /// What was left of its stretch, mm.
    left_mm: Option<f64>,
    /// How much shorter it got, mm.
    released_mm: Option<f64>,
    /// With what that was measured.
    gauge: Option<Instrument>,
}

/// What was measured of a fastener as it was loosened.
fn loosening_readings(
    place: &JointCommandTarget<'_>,
    context: &CommandContext,
    loosen: &LoosenCommand,
) -> Result<LooseningReadings, Refusal> {
    let given = |text: &Option<String>| text.as_ref().is_some_and(|text| !text.trim().is_empty());
    let field = match (given(&loosen.left), given(&loosen.released)) {
        (false, false) => return Ok(LooseningReadings::default()),
        (true, true) => {
            let message = message!("tighten-gauge-zeroed-on-free-fastener-or");
            return Err(Refusal::field("released", message));
        }
        (true, false) => "left",
        (false, true) => "released",
    };
    if loosen.rest {
        return Err(Refusal::field(field, message!("tighten-measured-on-one-fastener")));
    }
    let read = |text: &Option<String>| {
        let text = text.as_deref().filter(|text| !text.trim().is_empty());
        text.map(|text| typed(field, text, loosen.unit.as_deref(), Dimension::Clearance)).transpose()
    };
    let (left_mm, released_mm) = (read(&loosen.left)?, read(&loosen.released)?);
    let length = |mm| Quantity::new(mm, Dimension::Clearance);
    if let Some(left) = left_mm.filter(|left| left.abs() > MOST_LEFT_MM) {
        let (left, most) = (length(left), length(MOST_LEFT_MM));
        let message = message!("tighten-not-possible-remaining-stretch-at-most", left, most);
        return Err(Refusal::field("left", message));
    }
    if let Some(released) = released_mm.filter(|released| !(0.0..=MOST_RELEASED_MM).contains(released)) {
        let (released, most) = (length(released), length(MOST_RELEASED_MM));
        let message = message!("tighten-not-possible-gets-shorter-by-0", released, most);
        return Err(Refusal::field("released", message));
    }
    if released_mm.is_some() && !place.round.fastened(place.fastener(&loosen.fastener)?).holds() {
        let message = message!("tighten-loose-already-stretch-read-while-lets", fastener = loosen.fastener);
        return Err(Refusal::field("released", message));
    }
    let gauge = context.instrument(loosen.instrument.as_deref().unwrap_or_default())?;
    if released_mm.is_some() && gauge.gauge(Dimension::Clearance).is_none() {
        return Err(Refusal::field("instrument", message!("tighten-measures-no-length", gauge = gauge.name)));
    }
    Ok(LooseningReadings { left_mm, released_mm, gauge: Some(gauge) })
}

/// A joint that is tight is taken apart again, with a reason, in the reverse order: everything that rested on it
/// lapses, and its stages start over (C-53). With new fasteners, those that may not go in again are replaced, too.
fn take_apart(
    (place, ledger): (&JointCommandTarget<'_>, &EntryLedger),
    loosen: &LoosenCommand,
    fact: impl Fn(&Joint, FastenerIx, &str) -> Fact,
) -> Result<Vec<Fact>, Refusal> {
    let why = reason(&loosen.reason)?;
    let goes = |at: &FastenerIx| {
        place.round.is_tight(*at, ledger)
            || (loosen.replaced && place.joint.fastener(&loosen.fastener) == Some(*at))
    };
    let facts: Vec<Fact> =
        place.joint.backwards().into_iter().filter(goes).map(|at| fact(place.joint, at, &why)).collect();
    if facts.is_empty() {
        return Err(Refusal::of(
            RefusalKind::Stale,
            message!("tighten-nothing-tight", joint = place.joint.name),
        ));
    }
    Ok(facts)
}

/// Records that a fastener was loosened; where its joint is taken apart, with the rest if that is said.
pub(crate) fn loosen(
    state: &BuildState,
    context: &CommandContext,
    loosen: &LoosenCommand,
) -> Result<Vec<Fact>, Refusal> {
    let place = place(state, &loosen.operation, loosen.joint.as_deref())?;
    let fastener = place.fastener(&loosen.fastener)?;
    let LooseningReadings { left_mm, released_mm, gauge } = loosening_readings(&place, context, loosen)?;
    let fact = |joint: &Joint, fastener: FastenerIx, reason: &str| {
        Fact::Loosened(LooseningEntry {
            operation: loosen.operation.clone(),
            joint: (place.work.shares.len() > 1).then(|| joint.id.clone()),
            fastener: joint[fastener].id.clone(),
            replaced: loosen.replaced,
            with: loosen.with.clone().filter(|_| loosen.replaced),
            reason: reason.to_owned(),
            left_mm,
            released_mm,
            instrument: gauge.clone(),
        })
    };
    if place.work.task == TightenTask::Tighten {
        if loosen.rest {
            return take_apart((&place, state.ledger()), loosen, fact);
        }
        let mut stages = place.share.stages.clone().map(StageIx);
        let between = stages.any(|stage| place.round.fastened(fastener).to_loosen(place.joint, stage));
        let why = match loosen.reason.trim() {
            "" if between => BETWEEN.to_owned(),
            text => reason(text)?,
        };
        return Ok(vec![fact(place.joint, fastener, &why)]);
    }
    let why = match loosen.reason.trim() {
        "" => state.plan[place.operation].name.clone(),
        text => reason(text)?,
    };
    if !place.round.fastened(fastener).holds() {
        let message = message!("tighten-loose-already", fastener = loosen.fastener);
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    if !loosen.rest {
        return Ok(starting(state, context.at, place.operation, fact(place.joint, fastener, &why)));
    }
    let open: Vec<_> = state.joints().open(&state.plan, place.work).collect();
    let of_it = |open: &super::entry_remark::OpenStep| {
        (open.at(), open.fastener()) == (place.share.at(), Some(fastener))
    };
    if !open.first().is_some_and(of_it) {
        let message = message!("tighten-not-next-loosened-any-more-look", fastener = loosen.fastener);
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    let facts =
        open.into_iter().filter_map(|open| Some(fact(&state.plan[open.at().0], open.fastener()?, &why)));
    let mut facts: Vec<Fact> = facts.collect();
    let first = facts.remove(0);
    Ok(starting(state, context.at, place.operation, first).into_iter().chain(facts).collect())
}
