//! What stands against a turning check.

use super::bench::rise;
use crate::events::ApprovalSubject;
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_plan::{OperationIx, TurningCheck};

/// A crankshaft that binds, or takes more to turn than it may.
pub(super) fn issue(state: &BuildState, at: OperationIx, turning: &TurningCheck) -> Option<Issue> {
    let last = state.turns().latest(at)?;
    let id = &state.plan[at].id;
    let subject = ApprovalSubject::Turning { operation: id.clone() };
    let over = |value: Option<f64>, limit: Option<f64>| Some((value?, limit?)).filter(|(v, l)| v > l);
    let suspect = &turning.suspect;
    let loosen = message!("work-loosen-reverse-order-find-bind-then", suspect);
    let (what, now, accept) = if !last.value.free {
        (message!("work-crankshaft-binds"), loosen, false)
    } else if state.is_approved(&subject) {
        return None;
    } else if let Some((rise, limit)) = over(rise(state, last), turning.rise_nm) {
        let [rise, limit] = [rise, limit].map(|nm| Quantity::new(nm, Dimension::Torque));
        let what = message!("work-turning-torque-rose-by-max", rise, limit);
        (what, message!("work-check-was-fitted-last", suspect), true)
    } else if let Some((torque, limit)) = over(last.value.torque_nm, turning.most_nm) {
        let [torque, limit] = [torque, limit].map(|nm| Quantity::new(nm, Dimension::Torque));
        let what = message!("work-turning-torque-max", torque, limit);
        (what, loosen, true)
    } else {
        return None;
    };
    Some(Issue {
        seq: last.seq,
        subject: Some(subject),
        operation: id.clone(),
        joint: None,
        fastener: None,
        text: what,
        to_do: now,
        remedies: if accept { vec![Remedy::Accept, Remedy::Void] } else { vec![Remedy::Void] },
    })
}
