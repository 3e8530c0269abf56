//! What the fasteners of a group turn on: recording it, and how it stands at the bench (C-26, C-27).

use super::commands::place;
use super::tighten_work::JointWork;
use crate::commands::context::{CommandContext, reason, starting};
use crate::events::{Fact, LubricantCommand, LubricantEntry, LubricantPolicy, Refusal};
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::friction::{Lubricant, Lubrication, SurfaceFilm};
use rigore_mechanics::joint::{BearingFace, measured_lubrication};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::mm;
use rigore_plan::{FastenerSpec, GroupIx, Joint, OperationIx, StageIx, TightenTask};
use serde::Serialize;
use time::OffsetDateTime;

/// What the fasteners in hand turn on.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LubricantView {
    /// Key of the joint.
    pub joint: String,
    /// Key of the group.
    pub group: String,
    /// The fastener, by its name and thread, as friction is collected for it.
    pub fastener: String,
    /// What the plan asks for, in words.
    pub asked: String,
    /// Keys of what the plan asks for: on the thread, under the head.
    pub asked_keys: [String; 2],
    /// Whether the plan asks for both to stay dry.
    pub goes_dry: bool,
    /// What is used, in words.
    pub used: String,
    /// Keys of what is used: on the thread, under the head.
    pub used_keys: [String; 2],
    /// Where its friction comes from.
    pub source: String,
    /// Who said what is used, where somebody did.
    pub said: Option<LubricantStatementView>,
    /// What is done with torques where another one is used.
    pub policy: LubricantPolicy,
    /// What is wrong with what is used, before anybody pulls.
    pub warning: Option<String>,
    /// Whether fasteners of the group were pulled in this round.
    pub pulled: bool,
}

/// What somebody said that fasteners turn on.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LubricantStatementView {
    /// The entry.
    pub seq: u64,
    /// Who.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Whether torques are converted to it.
    pub converts: bool,
    /// Why it is another one than the plan asks for.
    pub reason: String,
}

/// Records what the fasteners of a group turn on. Whatever it is, it is taken (C-1); another one than the plan
/// asks for needs a reason (C-4).
pub(crate) fn lubricate(
    state: &BuildState,
    context: &CommandContext,
    lubricate: &LubricantCommand,
) -> Result<Vec<Fact>, Refusal> {
    let place = place(state, &lubricate.operation, lubricate.joint.as_deref())?;
    if place.work.task == TightenTask::Loosen {
        let name = &state.plan[place.operation].name;
        return Err(Refusal::field(
            "operation",
            message!("tighten-takes-joints-apart-nothing-lubricated-there", name),
        ));
    }
    let group = place.joint.groups.iter().find(|group| group.id == lubricate.group).ok_or_else(|| {
        let known: Vec<&str> = place.joint.groups.iter().map(|group| group.id.as_str()).collect();
        let message =
            message!("tighten-no-group-of-joint", group = lubricate.group, known = known.join(", "));
        Refusal::field("group", message)
    })?;
    let spec = &state.plan[group.spec];
    let asked = &spec.lubrication;
    // What the plan asks for has the figures of the plan; anything else those of the shop.
    let find = |field: &'static str, id: &str| {
        let planned = [&asked.thread, &asked.bearing].into_iter().find(|planned| planned.id == id);
        let known = planned.or_else(|| context.lubricants.iter().find(|known| known.id == id));
        let known = known.or_else(|| state.plan.lubricants.iter().find(|known| known.id == id));
        known.cloned().ok_or_else(|| Refusal::field(field, message!("tighten-no-lubricant-called", id)))
    };
    let of_table = Lubrication {
        thread: find("thread", &lubricate.thread)?,
        bearing: find("bearing", &lubricate.bearing)?,
    };
    let lubrication = if lubricate.measured {
        let title = spec.title();
        let of_it = |known: &&rigore_mechanics::friction::MeasuredFriction| {
            known.fastener == title
                && known.thread == of_table.thread.id
                && known.bearing == of_table.bearing.id
                && known.is_enough()
        };
        let measured = context.measured.iter().find(of_it).ok_or_else(|| {
            let message =
                message!("tighten-this-shop-has-too-few-stretches", title, words = of_table.words());
            Refusal::field("measured", message)
        })?;
        let bearing = BearingFace { mean_diameter: mm(spec.fastening.bearing_diameter_mm) };
        measured_lubrication(&of_table, measured, &spec.fastening.thread, bearing)
    } else {
        of_table
    };
    let why = match lubricate.reason.trim() {
        "" if lubrication.same_stuff(asked) => String::new(),
        text => reason(text)?,
    };
    let fact = LubricantEntry {
        operation: lubricate.operation.clone(),
        joint: place.joint_key(),
        group: lubricate.group.clone(),
        converts: state.policy == LubricantPolicy::Convert && lubrication != *asked,
        lubrication,
        pulled_too: lubricate.pulled_too,
        reason: why,
    };
    Ok(starting(state, context.at, place.operation, Fact::Lubricated(Box::new(fact))))
}

/// What the fasteners of a stage turn on, as the bench shows it; none where nothing turns.
pub(super) fn film(hand: &JointWork<'_>, stage: StageIx) -> Option<LubricantView> {
    let group = hand.joint[stage].group?;
    let spec = &hand.state.plan[hand.joint[group].spec];
    let said = hand.lubricant_statement(group);
    let used = said.map_or(&spec.lubrication, |(_, said)| &said.lubrication);
    let keys = |of: &Lubrication| [of.thread.id.clone(), of.bearing.id.clone()];
    let fasteners = &hand.joint[group].fasteners;
    let dry = |lubricant: &Lubricant| lubricant.film == SurfaceFilm::Dry;
    Some(LubricantView {
        joint: hand.joint.id.clone(),
        group: hand.joint[group].id.clone(),
        fastener: spec.title(),
        asked: spec.lubrication.words(),
        asked_keys: keys(&spec.lubrication),
        goes_dry: dry(&spec.lubrication.thread) && dry(&spec.lubrication.bearing),
        used: used.words(),
        used_keys: keys(used),
        source: used.thread.source.clone(),
        said: said.and_then(|(seq, said)| {
            let stamp = &hand.state.ledger().mark(seq)?.stamp;
            Some(LubricantStatementView {
                seq,
                by: stamp.by.name.clone(),
                at: stamp.at,
                converts: said.converts,
                reason: said.reason.clone(),
            })
        }),
        policy: hand.state.policy,
        warning: wrong(hand, group).map(|what| what.in_base_units()),
        pulled: hand
            .round
            .pulls
            .iter()
            .any(|pull| fasteners.contains(&pull.fastener.0) && hand.round.stands(pull, hand.state.ledger())),
    })
}

impl BuildState {
    /// The fasteners of a stage that an operation runs, as they are used.
    pub fn fastener_used(&self, at: OperationIx, joint: &Joint, stage: StageIx) -> Option<FastenerSpec> {
        let (work, group) = (self.plan.tightens(at)?, joint[stage].group?);
        let round = self.joints().round(work.share(&self.plan, Some(&joint.id))?.at());
        let used = round.used_fastener(&self.plan, joint, group, u64::MAX, |seq| self.ledger().counts(seq));
        Some(used.spec.into_owned())
    }
}

/// What is wrong with what a group turns on: not the kind that the plan asks for, or another one whose torques are
/// not converted.
fn wrong(hand: &JointWork<'_>, group: GroupIx) -> Option<Message> {
    let asked = &hand.state.plan[hand.joint[group].spec].lubrication;
    let (_, said) = hand.lubricant_statement(group)?;
    let used = &said.lubrication;
    let of_kind = used.kind_against(asked);
    let apart = (!used.same_stuff(asked) && !said.converts)
        .then(|| message!("tighten-used-torques-for", used = used.words(), asked = asked.words()));
    of_kind.or(apart)
}

/// What stands against a joint because of what its fasteners turn on, where the operation tightens them.
pub(super) fn issues(hand: &JointWork<'_>) -> Vec<Issue> {
    let ledger = hand.state.ledger();
    let groups = (0..hand.joint.groups.len()).map(GroupIx);
    let here = |group: &GroupIx| {
        hand.task == TightenTask::Tighten
            && hand.stages().any(|stage| hand.joint[stage].group == Some(*group))
    };
    let issue = |group: GroupIx| {
        let (seq, _) = hand.lubricant_statement(group)?;
        let what = wrong(hand, group).filter(|_| !ledger.accepted(seq))?;
        let name = &hand.joint[group].name;
        Some(Issue {
            seq,
            subject: None,
            operation: hand.state.plan[hand.operation].id.clone(),
            joint: Some(hand.joint.id.clone()),
            fastener: None,
            text: if hand.alone {
                message!("tighten-name-what", name, what)
            } else {
                message!("tighten-joint-name-what", joint = &hand.joint.name, name, what)
            },
            to_do: message!("tighten-clean-them-use-specified-lubricant-or"),
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    };
    groups.filter(here).filter_map(issue).collect()
}
