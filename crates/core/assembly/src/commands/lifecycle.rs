//! Decisions about a build and its line of work: beginning, starting, leaving out, signing, taking
//! back and standing for a deviation.

use crate::commands::context::{
    CommandContext, may_record, not_startable, operation, reason, starting, still_cures, waits_for,
};
use crate::events::{
    ApproveCommand, BuildStart, DecisionRuleCommand, Fact, LubricantPolicyCommand, OperationStart, Refusal,
    RefusalKind, Role, SignCommand, SkipCommand, VoidCommand,
};
use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use crate::status::issue::Remedy;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{OperationIx, OperationWork, Plan};
use time::OffsetDateTime;

/// The longest name of an engine, and the longest free text about it.
const NAME: usize = 80;
const NOTE: usize = 120;

/// Decides on beginning a build to a plan.
///
/// # Errors
/// A [`Refusal`] names the field that is wrong, or says that the person may not.
pub fn begin(plan: &Plan, context: &CommandContext, begin: &BuildStart) -> Result<Fact, Refusal> {
    may_record(&context.by)?;
    let name = begin.name.trim();
    if name.is_empty() || name.chars().count() > NAME {
        return Err(Refusal::field("name", message!("assembly-engine-needs-name", most = NAME)));
    }
    let note = |field, text: &Option<String>| {
        let text = text.as_deref().map(str::trim).filter(|text| !text.is_empty());
        if text.is_some_and(|text| text.chars().count() > NOTE) {
            return Err(Refusal::field(field, message!("assembly-at-most-characters", most = NOTE)));
        }
        Ok(text.map(str::to_owned))
    };
    let uses = plan.uses();
    if let Some(wanted) = begin.use_for.as_ref().filter(|wanted| !uses.contains(&wanted.as_str())) {
        let message = message!("assembly-not-use-this-plan-there", wanted, uses = uses.join(", "));
        return Err(Refusal::field("use", message));
    }
    Ok(Fact::Begun(BuildStart {
        name: name.to_owned(),
        plan: begin.plan.clone(),
        use_for: begin.use_for.clone(),
        owner: note("owner", &begin.owner)?,
        identity: note("identity", &begin.identity)?,
        lubricants: begin.lubricants,
        decision_rule: begin.decision_rule,
    }))
}

/// What is done with torques where another lubricant is used is for a lead to decide.
pub(crate) fn set_policy(
    context: &CommandContext,
    policy: &LubricantPolicyCommand,
) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        let message = message!("assembly-what-done-where-another-lubricant-used");
        return Err(Refusal::of(RefusalKind::NotAllowed, message));
    }
    Ok(vec![Fact::PolicySet(LubricantPolicyCommand { reason: reason(&policy.reason)?, ..policy.clone() })])
}

/// By which rule measured values are judged is for a lead to decide.
pub(crate) fn set_decision_rule(
    context: &CommandContext,
    rule: &DecisionRuleCommand,
) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        let message = message!("assembly-rule-by-which-measured-values-judged");
        return Err(Refusal::of(RefusalKind::NotAllowed, message));
    }
    Ok(vec![Fact::DecisionRuleSet(DecisionRuleCommand { reason: reason(&rule.reason)?, ..rule.clone() })])
}

pub(crate) fn start(
    state: &BuildState,
    context: &CommandContext,
    start: &OperationStart,
) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, &start.operation)?;
    if let Some(refusal) = not_startable(state, at, context.at) {
        return Err(refusal);
    }
    if state.operations().started(at).is_some() {
        let message = message!("assembly-started-already", at = state.plan[at].name);
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    Ok(vec![Fact::Started(start.clone())])
}

/// Anybody at the bench may leave something out and say why; a lead has to stand for it.
pub(crate) fn skip(state: &BuildState, skip: &SkipCommand) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, &skip.operation)?;
    if state.operations().signed(at).is_some() {
        return Err(Refusal::of(RefusalKind::Stale, message!("assembly-signed", at = state.plan[at].name)));
    }
    if matches!(state.plan[at].work, OperationWork::Sign) {
        return Err(Refusal::field("operation", message!("assembly-sign-off-engine-cannot-skipped")));
    }
    Ok(vec![Fact::Skipped(SkipCommand { reason: reason(&skip.reason)?, ..skip.clone() })])
}

pub(crate) fn void(state: &BuildState, void: &VoidCommand) -> Result<Vec<Fact>, Refusal> {
    let seq = void.seq;
    let line = state.ledger().line(seq);
    let Some((line, thing)) = line.and_then(|line| Some((line, line.thing?))) else {
        return Err(Refusal::field("seq", message!("assembly-entry-not-one-can-voided", seq)));
    };
    let gone = match thing {
        EntryTopic::Signature(at) => {
            let stands = |at: &OperationIx| {
                state.operations().signed(*at).is_some_and(|signature| signature.stamp.seq == seq)
            };
            let signature = state.operations().signatures(at).iter().find(|of| of.stamp.seq == seq);
            !signature.is_some_and(|signature| signature.with.iter().chain([&at]).any(stands))
        }
        _ => line.mark.voided.is_some(),
    };
    if gone {
        return Err(Refusal::of(RefusalKind::Stale, message!("assembly-entry-does-not-count-any-more", seq)));
    }
    Ok(vec![Fact::Voided(VoidCommand { seq, reason: reason(&void.reason)? })])
}

pub(crate) fn accept(
    state: &BuildState,
    context: &CommandContext,
    accept: &ApproveCommand,
) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, message!("assembly-lead-approves-deviations")));
    }
    let seq = accept.seq;
    let issues = state.issues();
    let mut of_it = issues.iter().filter(|issue| issue.seq == seq && issue.subject == accept.subject);
    if of_it.any(|issue| issue.remedies.contains(&Remedy::Accept)) {
        return Ok(vec![Fact::Accepted(ApproveCommand {
            reason: reason(&accept.reason)?,
            ..accept.clone()
        })]);
    }
    if accept.subject.is_none() && state.ledger().line(seq).is_none_or(|line| line.thing.is_none()) {
        return Err(Refusal::field("seq", message!("assembly-entry-not-deviation", seq)));
    }
    Err(Refusal::of(RefusalKind::Stale, message!("assembly-entry-has-no-open-deviation-approve", seq)))
}

pub(crate) fn sign(
    state: &BuildState,
    context: &CommandContext,
    sign: &SignCommand,
) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, &sign.operation)?;
    let mut all = vec![at];
    for id in &sign.also {
        let also = state.plan.operation(id);
        let also =
            also.ok_or_else(|| Refusal::field("also", message!("assembly-no-operation-called", id)))?;
        if all.contains(&also) {
            return Err(Refusal::field("also", message!("assembly-comes-twice", id)));
        }
        all.push(also);
    }
    for of in &all {
        may_sign(state, *of, &all, context.at)?;
    }
    if matches!(state.plan[at].work, OperationWork::Sign) && context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, message!("assembly-lead-signs-engine-off")));
    }
    Ok(starting(state, context.at, at, Fact::Signed(sign.clone())))
}

/// Whether an operation can be signed, together with others.
fn may_sign(
    state: &BuildState,
    at: OperationIx,
    with: &[OperationIx],
    now: OffsetDateTime,
) -> Result<(), Refusal> {
    let planned = &state.plan[at];
    let not_yet = |message: Message| Err(Refusal::of(RefusalKind::NotYet, message));
    if state.operations().signed(at).is_some() {
        return Err(Refusal::of(
            RefusalKind::Stale,
            message!("assembly-signed-already", planned = planned.name),
        ));
    }
    let open = state.open_needs(at).into_iter().filter(|need| !with.contains(need));
    if let Some(refusal) = waits_for(state, at, &open.collect::<Vec<_>>()) {
        return Err(refusal);
    }
    let (done, total) = state.progress(at);
    if done < total {
        let of = if with.len() > 1 { format!("{}: ", planned.name) } else { String::new() };
        return not_yet(message!("assembly-done-next", of, done, total, next = state.step(at).line()));
    }
    let whole = matches!(planned.work, OperationWork::Sign);
    if let Some(refusal) = still_cures(state, at, now).filter(|_| whole) {
        return Err(refusal);
    }
    let issues = if whole { state.issues() } else { state.issues_of(at) };
    if let Some(first) = issues.first() {
        return not_yet(message!(
            "assembly-open-first",
            open = issues.len(),
            what = &first.text,
            now = &first.to_do
        ));
    }
    let mut others = state.plan.line().filter(|other| *other != at);
    match others.find(|other| whole && state.operations().signed(*other).is_none()) {
        Some(open) => not_yet(message!("assembly-not-signed-yet", name = &state.plan[open].name)),
        None => Ok(()),
    }
}
