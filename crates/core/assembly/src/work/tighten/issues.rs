//! What stands against a joint.

use super::climb::can_go_further;
use super::entry_remark::EntryRemark;
use super::fastener_history::{RecordedLoosening, RecordedPull, grown};
use super::round::TighteningRound;
use super::tighten_work::{JointWork, with_others};
use super::{lubricate, replaced_stages, tight_bolt_reading};
use crate::events::ApprovalSubject;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::Verdict;
use rigore_plan::{FastenerIx, TightenTask};
use std::collections::BTreeSet;

/// Everything open on a joint in the stages of its operation: what is wrong, what deviates, and what was
/// loosened and not replaced.
pub(super) fn issues(hand: &JointWork<'_>) -> Vec<Issue> {
    let ledger = hand.state.ledger();
    let here = |seq: u64| ledger.line(seq).and_then(|line| line.operation) == Some(hand.operation);
    let order = order(hand);
    let together: BTreeSet<u64> = order.iter().flat_map(|(seqs, _)| seqs.iter().copied()).collect();
    let suspects: Vec<&RecordedPull> =
        hand.round.suspects(ledger).filter(|pull| hand.runs(pull.stage)).collect();
    let pulls = suspects.into_iter().flat_map(|pull| {
        let alone = !together.contains(&pull.seq);
        wrong(hand, pull).into_iter().chain(alone.then(|| deviation(hand, pull)).flatten())
    });
    let order = order.into_iter().filter_map(|(_, issue)| issue);
    let actions = hand.round.actions.entries().filter(|act| ledger.counts(act.seq) && hand.runs(act.key));
    let actions = actions.filter_map(|act| {
        let name = &hand.joint[act.key].name;
        let (what, now) =
            deviating(hand, act.seq, name, &act.value.remarks, &message!("tighten-repeat-sequence"))?;
        Some(hand.issue(act.seq, None, what, now, vec![Remedy::Accept, Remedy::Void]))
    });
    let loosenings = hand.round.loosenings.iter().filter(|of| ledger.counts(of.seq) && here(of.seq));
    let held = loosenings.clone().filter_map(|of| held_otherwise(hand, of));
    let loosenings = loosenings.filter_map(|of| {
        let name = hand.name(of.fastener);
        let (what, now) = deviating(hand, of.seq, name, &of.remarks, &message!("tighten-void"))?;
        Some(hand.issue(of.seq, Some(of.fastener), what, now, vec![Remedy::Accept, Remedy::Void]))
    });
    let owed = hand.round.owed_fasteners().filter(|(_, seq)| here(*seq)).map(|(fastener, seq)| {
        let name = hand.name(fastener);
        let of = hand.round.loosenings.iter().find(|of| of.seq == seq);
        let too_long = of.and_then(|of| {
            let spec = &hand.state.plan[hand.joint.group_with(of.fastener)?.spec];
            Some((of.left_mm?, grown(hand.joint, spec, of)?))
        });
        let what = if let Some((left, most)) = too_long {
            let [left, most] = [left, most].map(|mm| Quantity::new(mm, Dimension::Clearance));
            message!("tighten-permanent-stretch-max-scrap", name, left, most)
        } else {
            message!("tighten-was-loosened-old-fastener-still", name)
        };
        let now = message!("tighten-fit-new-fastener-at", name);
        hand.issue(seq, Some(fastener), what, now, vec![Remedy::Replace, Remedy::Void])
    });
    let films = lubricate::issues(hand);
    let unsure = hand.round.unsure(ledger).filter_map(|pull| unsure(hand, pull));
    films
        .into_iter()
        .chain(order)
        .chain(pulls)
        .chain(unsure)
        .chain(used_before(hand))
        .chain(replaced_stages::issues(hand))
        .chain(actions)
        .chain(loosenings)
        .chain(held)
        .chain(owed)
        .collect()
}

/// Whether all that deviates in a pull is its place in the order.
fn only_of_order(pull: &RecordedPull) -> bool {
    let mut deviating = pull.remarks.iter().filter(|remark| remark.deviates()).peekable();
    deviating.peek().is_some() && deviating.all(EntryRemark::is_of_order)
}

/// Pulls of the joint's stages that were out of order or too early, and nobody approved by itself.
fn out_of_order_pulls<'a>(hand: &'a JointWork<'_>) -> impl Iterator<Item = &'a RecordedPull> {
    let ledger = hand.state.ledger();
    let suspects = hand.round.suspects(ledger).filter(|pull| hand.runs(pull.stage));
    suspects.filter(|pull| only_of_order(pull) && !ledger.accepted(pull.seq))
}

/// The entries of a joint that were made out of order in an operation.
pub(super) fn out_of_order(hand: &JointWork<'_>) -> BTreeSet<u64> {
    out_of_order_pulls(hand).map(|pull| pull.seq).collect()
}

/// Several entries out of order on one joint are one issue: what a lead approves is the order. The entries it
/// is about, and the issue unless somebody approved it.
fn order(hand: &JointWork<'_>) -> Option<(BTreeSet<u64>, Option<Issue>)> {
    let pulls: Vec<&RecordedPull> = out_of_order_pulls(hand).collect();
    let operation = hand.state.plan[hand.operation].id.clone();
    let subject = ApprovalSubject::OutOfOrder { operation, joint: hand.joint.id.clone() };
    let seqs: BTreeSet<u64> = pulls.iter().map(|pull| pull.seq).collect();
    if hand.state.is_approved(&subject) && !seqs.is_empty() {
        return Some((seqs, None));
    }
    let [first, _, ..] = pulls[..] else { return None };
    let mut names: Vec<&str> = pulls.iter().map(|pull| hand.name(pull.fastener)).collect();
    names.dedup();
    let what = message!("tighten-out-sequence", count = pulls.len(), names = names.join(", "));
    let now = message!("tighten-lead-approves-them-with-reason-or").to_owned();
    let issue = hand.issue(first.seq, None, what, now, vec![Remedy::Accept]);
    Some((seqs, Some(Issue { subject: Some(subject), ..issue })))
}

/// What held another clamp load than it should have says the same of those that were tightened like it.
fn held_otherwise(hand: &JointWork<'_>, of: &RecordedLoosening) -> Option<Issue> {
    of.held.filter(|held| held.is_off() && !hand.state.ledger().accepted(of.seq))?;
    let name = hand.name(of.fastener);
    let what = message!("tighten-got", name, words = tight_bolt_reading::words(of)?);
    let now = message!("tighten-check-others-were-tightened-like-or");
    Some(hand.issue(of.seq, Some(of.fastener), what, now, vec![Remedy::Accept, Remedy::Void]))
}

/// Nobody is sure that the wrench clicked, and the fastener was not pulled or rechecked since.
fn unsure(hand: &JointWork<'_>, pull: &RecordedPull) -> Option<Issue> {
    if !hand.runs(pull.stage) || hand.state.ledger().accepted(pull.seq) {
        return None;
    }
    let name = hand.name(pull.fastener);
    let what = message!("tighten-not-sure-clicked-at", name, stage = hand.joint[pull.stage].name);
    let now = message!("tighten-pull-again-or-recheck-at-end", name);
    Some(hand.issue(pull.seq, Some(pull.fastener), what, now, vec![Remedy::Accept, Remedy::Void]))
}

/// Fasteners for one use that had it in an earlier round, and are still in (C-62).
fn used_before(hand: &JointWork<'_>) -> Vec<Issue> {
    let plan = &hand.state.plan;
    let ledger = hand.state.ledger();
    let others = |round: usize| with_others(plan, (hand.share.joint, round));
    if hand.task != TightenTask::Tighten || others(hand.share.round) {
        return Vec::new();
    }
    let earlier: Vec<&TighteningRound> = (0..hand.share.round)
        .filter(|round| !others(*round))
        .map(|round| hand.state.joints().round((hand.share.joint, round)))
        .collect();
    let new_one = |at: FastenerIx| {
        hand.round.loosenings.iter().any(|of| of.fastener == at && of.replaced && ledger.counts(of.seq))
    };
    let single_use =
        |at: &FastenerIx| hand.joint.group_with(*at).is_some_and(|group| plan[group.spec].single_use);
    let spent = (0..hand.joint.fasteners.len())
        .map(FastenerIx)
        .filter(single_use)
        .filter(|at| earlier.iter().any(|round| round.fastened(*at).is_spent()) && !new_one(*at));
    let issue = |at: FastenerIx| {
        let name = hand.name(at);
        let seq = earlier
            .iter()
            .filter_map(|round| round.pulls.iter().rev().find(|pull| pull.fastener == at))
            .map(|pull| pull.seq);
        let what = message!("tighten-for-one-use-was-used-on", name);
        hand.issue(
            seq.max().unwrap_or_default(),
            Some(at),
            what,
            message!("tighten-fit-new-fastener-at", name),
            vec![Remedy::Replace],
        )
    };
    spent.map(issue).collect()
}

/// What a wrong pull calls for.
fn wrong(hand: &JointWork<'_>, pull: &RecordedPull) -> Option<Issue> {
    // Somebody may approve what cannot be mended by pulling, not for what can be done again.
    let stands = !pull.judged.mends && hand.state.ledger().accepted(pull.seq);
    if !pull.judged.wrong() || stands {
        return None;
    }
    let (name, stage) = (hand.name(pull.fastener), &hand.joint[pull.stage]);
    let way = hand.joint.way_at(pull.stage, pull.seq);
    let rules = &way;
    let value = way.print(pull.judged.value);
    let what = if let Some(why) = rules.wrong(pull.judged.verdict) {
        message!("tighten-name-value-why", name, value, why)
    } else {
        let most = way.print(rules.band()?.high);
        message!("tighten-max-for", name, value, most, stage = &stage.name)
    };
    let (now, remedy) = if pull.judged.spent {
        (message!("tighten-loosen-fit-new-fastener-then-repeat", name), Remedy::Replace)
    } else {
        (message!("tighten-loosen-repeat-stages", name), Remedy::Loosen)
    };
    let mut remedies = vec![remedy, Remedy::Void];
    if !pull.judged.mends {
        remedies.insert(1, Remedy::Accept);
    }
    let can_go_further = can_go_further(&hand.state.plan, hand.joint, pull.stage);
    if can_go_further && pull.judged.verdict == Verdict::Low {
        remedies.insert(0, Remedy::Further);
    }
    Some(hand.issue(pull.seq, Some(pull.fastener), what, now, remedies))
}

/// How a pull deviates from the plan, unless somebody approved it.
fn deviation(hand: &JointWork<'_>, pull: &RecordedPull) -> Option<Issue> {
    let name = hand.name(pull.fastener);
    let (what, now) = deviating(hand, pull.seq, name, &pull.remarks, &message!("tighten-loosen-repeat"))?;
    let remedies = vec![Remedy::Accept, Remedy::Loosen, Remedy::Void];
    Some(hand.issue(pull.seq, Some(pull.fastener), what, now, remedies))
}

/// What deviates in an entry that nobody approved, and what has to be done.
fn deviating(
    hand: &JointWork<'_>,
    seq: u64,
    name: &str,
    remarks: &[EntryRemark],
    or: &Message,
) -> Option<(Message, Message)> {
    if hand.state.ledger().accepted(seq) {
        return None;
    }
    let remarks: Vec<Message> = remarks.iter().filter(|r| r.deviates()).map(|r| hand.remark(r)).collect();
    (!remarks.is_empty()).then(|| {
        let remarks = Message::join(remarks, "; ");
        (
            message!("tighten-name-remarks", name, remarks),
            message!("tighten-lead-approves-with-reason-or", or),
        )
    })
}
