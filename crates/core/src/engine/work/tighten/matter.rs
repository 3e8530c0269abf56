//! What stands against a joint.

use super::hand::Tightening;
use super::state::{Pull, Remark};
use crate::engine::matter::{Matter, Remedy};
use crate::plan::FastenerIx;
use crate::tightening::Verdict;

/// Everything open on a joint: over-pulled, deviating, or loosened and not replaced.
pub(super) fn matters(hand: &Tightening<'_>) -> Vec<Matter> {
    let ledger = &hand.state.ledger;
    let pulls = hand
        .round
        .suspects(ledger)
        .flat_map(|pull| over(hand, pull).into_iter().chain(deviation(hand, pull)));
    let actions =
        hand.round.actions.entries().filter(|action| ledger.counts(action.seq)).filter_map(|action| {
            let name = &hand.joint[action.key].name;
            let (what, now) = deviating(hand, action.seq, name, &action.value, "do it again in its turn")?;
            Some(about(hand, action.seq, None, what, now, vec![Remedy::Accept, Remedy::Void]))
        });
    let owed = hand.round.owed().map(|(fastener, seq)| {
        let name = hand.name(fastener);
        let what = format!("{name} was loosened and the old fastener is still in");
        let now = format!("Put a new fastener in at {name}");
        about(hand, seq, Some(fastener), what, now, vec![Remedy::Replace, Remedy::Void])
    });
    pulls.chain(actions).chain(owed).collect()
}

fn about(
    hand: &Tightening<'_>,
    seq: u64,
    fastener: Option<FastenerIx>,
    what: String,
    now: String,
    remedies: Vec<Remedy>,
) -> Matter {
    Matter {
        seq,
        subject: None,
        operation: hand.state.plan[hand.at].id.clone(),
        fastener: fastener.map(|fastener| hand.name(fastener).to_owned()),
        what,
        now,
        remedies,
    }
}

/// What an over-pulled fastener calls for.
fn over(hand: &Tightening<'_>, pull: &Pull) -> Option<Matter> {
    if pull.judged.verdict != Verdict::Over {
        return None;
    }
    let (name, stage) = (hand.name(pull.fastener), &hand.joint[pull.stage]);
    let most = stage.way.rules().band()?.high;
    let value = stage.way.print(pull.judged.value);
    let what = format!("{name}: {value}, and {} is the most for {}", stage.way.print(most), stage.name);
    let (now, remedy) = if pull.judged.spent {
        (format!("Loosen {name}, put a new fastener in, then repeat its stages"), Remedy::Replace)
    } else {
        (format!("Loosen {name} and repeat its stages"), Remedy::Loosen)
    };
    Some(about(hand, pull.seq, Some(pull.fastener), what, now, vec![remedy, Remedy::Void]))
}

/// How a pull deviates from the plan, unless somebody stands for it.
fn deviation(hand: &Tightening<'_>, pull: &Pull) -> Option<Matter> {
    let name = hand.name(pull.fastener);
    let (what, now) = deviating(hand, pull.seq, name, &pull.remarks, "loosen and repeat")?;
    let remedies = vec![Remedy::Accept, Remedy::Loosen, Remedy::Void];
    Some(about(hand, pull.seq, Some(pull.fastener), what, now, remedies))
}

/// What deviates in an entry nobody stands for, and what has to be done.
fn deviating(
    hand: &Tightening<'_>,
    seq: u64,
    name: &str,
    remarks: &[Remark],
    or: &str,
) -> Option<(String, String)> {
    if hand.state.ledger.accepted(seq) {
        return None;
    }
    let words: Vec<String> = remarks.iter().filter(|r| r.deviates()).map(|r| hand.remark(r)).collect();
    (!words.is_empty()).then(|| {
        (format!("{name}: {}", words.join("; ")), format!("A lead accepts it with a reason, or {or}"))
    })
}
