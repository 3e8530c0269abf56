//! What stands against a joint.

use super::fastened::{Pull, grown};
use super::hand::Hand;
use super::lubricate;
use super::remark::Remark;
use crate::engine::matter::{Matter, Remedy};
use crate::plan::FastenerIx;
use crate::quantity::{self, Dimension};
use crate::tightening::Verdict;

/// Everything open on a joint in the stages of its operation: what is wrong, what deviates, and what was
/// loosened and not replaced.
pub(super) fn matters(hand: &Hand<'_>) -> Vec<Matter> {
    let ledger = &hand.state.ledger;
    let here = |seq: u64| ledger.line(seq).and_then(|line| line.operation) == Some(hand.operation);
    let pulls = hand
        .round
        .suspects(ledger)
        .filter(|pull| hand.runs(pull.stage))
        .flat_map(|pull| wrong(hand, pull).into_iter().chain(deviation(hand, pull)));
    let actions = hand.round.actions.entries().filter(|act| ledger.counts(act.seq) && hand.runs(act.key));
    let actions = actions.filter_map(|act| {
        let name = &hand.joint[act.key].name;
        let (what, now) = deviating(hand, act.seq, name, &act.value.remarks, "do it again in its turn")?;
        Some(about(hand, act.seq, None, what, now, vec![Remedy::Accept, Remedy::Void]))
    });
    let loosenings = hand.round.loosenings.iter().filter(|of| ledger.counts(of.seq) && here(of.seq));
    let loosenings = loosenings.filter_map(|of| {
        let name = hand.name(of.fastener);
        let (what, now) = deviating(hand, of.seq, name, &of.remarks, "void it")?;
        Some(about(hand, of.seq, Some(of.fastener), what, now, vec![Remedy::Accept, Remedy::Void]))
    });
    let owed = hand.round.owed().filter(|(_, seq)| here(*seq)).map(|(fastener, seq)| {
        let name = hand.name(fastener);
        let of = hand.round.loosenings.iter().find(|of| of.seq == seq);
        let what = match of.and_then(|of| Some((of.left_mm?, grown(hand.joint, of)?))) {
            Some((left, most)) => {
                let [left, most] = [left, most].map(|mm| quantity::format(mm, Dimension::Length.base()));
                format!("{name} stays {left} longer for good, and {most} is the most: it is scrap")
            }
            None => format!("{name} was loosened and the old fastener is still in"),
        };
        let now = format!("Put a new fastener in at {name}");
        about(hand, seq, Some(fastener), what, now, vec![Remedy::Replace, Remedy::Void])
    });
    let films = lubricate::matters(hand);
    films.into_iter().chain(pulls).chain(actions).chain(loosenings).chain(owed).collect()
}

fn about(
    hand: &Hand<'_>,
    seq: u64,
    fastener: Option<FastenerIx>,
    what: String,
    now: String,
    remedies: Vec<Remedy>,
) -> Matter {
    let what = if hand.alone { what } else { format!("{}: {what}", hand.joint.name) };
    Matter {
        seq,
        subject: None,
        operation: hand.state.plan[hand.operation].id.clone(),
        joint: Some(hand.joint.id.clone()),
        fastener: fastener.map(|fastener| hand.name(fastener).to_owned()),
        what,
        now,
        remedies,
    }
}

/// What a wrong pull calls for.
fn wrong(hand: &Hand<'_>, pull: &Pull) -> Option<Matter> {
    // Somebody may stand for what cannot be mended by pulling, not for what can be done again.
    let stands = !pull.judged.mends && hand.state.ledger.accepted(pull.seq);
    if !pull.judged.wrong() || stands {
        return None;
    }
    let (name, stage) = (hand.name(pull.fastener), &hand.joint[pull.stage]);
    let way = hand.joint.way_at(pull.stage, pull.seq);
    let rules = way.rules();
    let value = way.print(pull.judged.value);
    let what = if let Some(why) = rules.wrong(pull.judged.verdict) {
        format!("{name}: {value}, {why}")
    } else {
        let most = way.print(rules.band()?.high);
        format!("{name}: {value}, and {most} is the most for {}", stage.name)
    };
    let (now, remedy) = if pull.judged.spent {
        (format!("Loosen {name}, put a new fastener in, then repeat its stages"), Remedy::Replace)
    } else {
        (format!("Loosen {name} and repeat its stages"), Remedy::Loosen)
    };
    let mut remedies = vec![remedy, Remedy::Void];
    if !pull.judged.mends {
        remedies.insert(1, Remedy::Accept);
    }
    if rules.reopens() && pull.judged.verdict == Verdict::Low {
        remedies.insert(0, Remedy::Further);
    }
    Some(about(hand, pull.seq, Some(pull.fastener), what, now, remedies))
}

/// How a pull deviates from the plan, unless somebody stands for it.
fn deviation(hand: &Hand<'_>, pull: &Pull) -> Option<Matter> {
    let name = hand.name(pull.fastener);
    let (what, now) = deviating(hand, pull.seq, name, &pull.remarks, "loosen and repeat")?;
    let remedies = vec![Remedy::Accept, Remedy::Loosen, Remedy::Void];
    Some(about(hand, pull.seq, Some(pull.fastener), what, now, remedies))
}

/// What deviates in an entry nobody stands for, and what has to be done.
fn deviating(
    hand: &Hand<'_>,
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
