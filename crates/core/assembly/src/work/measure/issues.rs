//! What stands against the sizes of an engine.

use super::clearances::ClearanceView;
use super::state::PlacedReading;
use crate::events::ApprovalSubject;
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::clearance::Decision;
use rigore_mechanics::message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_plan::{OperationIx, OperationWork, SiteIx};

/// Clearances that are judged in an operation and lie outside their window, and instruments
/// that should not have been used.
pub(super) fn issues(state: &BuildState, at: OperationIx) -> Vec<Issue> {
    let outside = |view: &ClearanceView| {
        view.decision == Some(Decision::Outside) && view.to_file_mm.is_none() && !view.accepted
    };
    let wrong =
        state.judged(at).into_iter().filter(outside).filter_map(|view| of_clearance(state, at, &view));
    wrong.chain(of_instruments(state, at)).chain(grown(state, at)).collect()
}

/// Pieces of a set that are longer than they were when the shop saw them first, by more than may stay (C-25).
fn grown(state: &BuildState, at: OperationIx) -> Vec<Issue> {
    let OperationWork::Measure(sites) = &state.plan[at].work else { return Vec::new() };
    let issue = |site: &SiteIx| {
        let of = &state.plan[*site];
        let slot = state.plan[of.family].slot?;
        let before = state.parts().latest(slot)?.value.before.as_ref()?;
        let first = before.free.iter().find(|free| free.piece == of.number)?.mm;
        let grown = state.mean_of(of.family, of.number - 1)? - first;
        let most = state.plan.set_mm(slot).filter(|most| grown > most + 1e-9)?;
        let seq = state.sizes().readings_on(&state.plan, *site).map(|reading| reading.seq).max()?;
        let text = |mm: f64| Quantity::new(mm, Dimension::Clearance);
        (!state.ledger().accepted(seq)).then(|| Issue {
            seq,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: message!(
                "measure-permanent-stretch-max-scrap",
                name = &of.name,
                grown = text(grown),
                most = text(most),
            ),
            to_do: message!("measure-fit-new-one-measure-or-lead"),
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    };
    sites.iter().filter_map(issue).collect()
}

fn of_clearance(state: &BuildState, at: OperationIx, view: &ClearanceView) -> Option<Issue> {
    let ([least, _, most], window) = view.span.zip(view.window)?;
    let text = |value: f64| Quantity::new(value, view.dimension);
    let (value, limit) = if most > window.high {
        (most, message!("measure-max", most = text(window.high)))
    } else {
        (least, message!("measure-min", least = text(window.low)))
    };
    Some(Issue {
        seq: view.last_seq,
        subject: Some(view.subject()),
        operation: state.plan[at].id.clone(),
        joint: None,
        fastener: None,
        text: message!(
            "measure-name-number-value-limit",
            name = &view.name,
            number = view.number,
            value = text(value),
            limit
        ),
        to_do: message!("measure-measure-no-again-change-parts-or", number = view.number),
        remedies: vec![Remedy::Accept],
    })
}

/// One issue for every fault of an instrument that was used, however often it was.
fn of_instruments(state: &BuildState, at: OperationIx) -> Vec<Issue> {
    let mut issues: Vec<Issue> = Vec::new();
    let counts = |entry: &&PlacedReading| {
        let latest = state.sizes().reading(entry.key.0, entry.key.1);
        entry.value.operation == at && latest.is_some_and(|latest| latest.seq == entry.seq)
    };
    for entry in state.sizes().readings().filter(counts) {
        let Some(unfit) = &entry.value.unfit else { continue };
        let subject = ApprovalSubject::Instrument {
            operation: state.plan[at].id.clone(),
            instrument: entry.value.instrument.id.clone(),
            fault: unfit.fault,
        };
        let seq = entry.seq;
        if state.is_approved(&subject) {
            continue;
        }
        if let Some(known) = issues.iter_mut().find(|m| m.subject.as_ref() == Some(&subject)) {
            known.seq = seq;
            continue;
        }
        issues.push(Issue {
            seq,
            subject: Some(subject),
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: message!("measure-site-fault", site = &state.plan[entry.key.0].name, fault = &unfit.words),
            to_do: message!("measure-measure-again-with-instrument-fits-or"),
            remedies: vec![Remedy::Accept],
        });
    }
    issues
}
