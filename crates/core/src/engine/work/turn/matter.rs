//! What stands against a turning check.

use super::bench::rise;
use crate::engine::matter::{Matter, Remedy};
use crate::engine::record::Subject;
use crate::engine::state::State;
use crate::plan::{OperationIx, Turning};

/// A crankshaft that binds, or takes more to turn than it may.
pub(super) fn matter(state: &State, at: OperationIx, turning: &Turning) -> Option<Matter> {
    let last = state.turns.latest(at)?;
    let id = &state.plan[at].id;
    let subject = Subject::Turning { operation: id.clone() };
    let over = |value: Option<f64>, limit: Option<f64>| Some((value?, limit?)).filter(|(v, l)| v > l);
    let suspect = &turning.suspect;
    let loosen = format!("Loosen {suspect} in reverse order, find the bind, then turn again");
    let (what, now, accept) = if !last.value.free {
        ("The crankshaft binds".to_owned(), loosen, false)
    } else if state.stands_for(&subject) {
        return None;
    } else if let Some((rise, limit)) = over(rise(state, last), turning.rise_nm) {
        let what = format!("Turning takes {rise:.1} N·m more than before, and {limit:.1} is the most");
        (what, format!("Look at {suspect}: it was fitted last"), true)
    } else if let Some((torque, limit)) = over(last.value.torque_nm, turning.most_nm) {
        let what = format!("Turning takes {torque:.1} N·m, and {limit:.1} is the most");
        (what, loosen, true)
    } else {
        return None;
    };
    Some(Matter {
        seq: last.seq,
        subject: Some(subject),
        operation: id.clone(),
        joint: None,
        fastener: None,
        what,
        now,
        remedies: if accept { vec![Remedy::Accept, Remedy::Void] } else { vec![Remedy::Void] },
    })
}
