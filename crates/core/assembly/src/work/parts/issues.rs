//! What stands against the parts of an engine.

use crate::events::{PartRemarkCommand, PartRemarkKind};
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{OperationIx, OperationWork, SlotIx};

/// Parts that were used as often as they may be (C-16), or are scrap by what the shop knows of them (C-25).
pub(super) fn issues(state: &BuildState, at: OperationIx, slots: &[SlotIx]) -> Vec<Issue> {
    let issue = |slot: &SlotIx| {
        let planned = &state.plan[*slot];
        let entry = state.parts().latest(*slot).filter(|entry| !state.ledger().accepted(entry.seq))?;
        let before = entry.value.before.as_ref();
        let uses = entry.value.note.uses.max(before.map_or(0, |before| before.uses));
        let spent = state.plan.uses_allowed(*slot).filter(|allowed| uses >= *allowed);
        let spent = spent.map(|allowed| message!("work-used-times-max", uses, allowed));
        let scrap = before.map(|before| before.scrap.as_slice()).unwrap_or_default();
        let wrong: Vec<Message> = spent.into_iter().chain(scrap.iter().cloned()).collect();
        (!wrong.is_empty()).then(|| Issue {
            seq: entry.seq,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: message!("work-slot-wrong", slot = &planned.name, wrong = Message::join(wrong, "; ")),
            to_do: message!("work-fit-new-part-log-or-lead"),
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    };
    let scrapped = slots.iter().flat_map(|slot| scrapped(state, at, *slot));
    slots.iter().filter_map(issue).chain(scrapped).collect()
}

/// What somebody said is scrap while it is in an engine that is not signed off.
fn scrapped(state: &BuildState, at: OperationIx, slot: SlotIx) -> Vec<Issue> {
    let signed_off = state.plan.line().any(|at| {
        matches!(state.plan[at].work, OperationWork::Sign) && state.operations().signed(at).is_some()
    });
    if signed_off {
        return Vec::new();
    }
    let pieces = state.plan.pieces(slot);
    let remarks = state.part_remarks().of(slot, state.parts(), state.ledger());
    let open = remarks
        .filter(|(seq, remark)| remark.kind == PartRemarkKind::Scrapped && !state.ledger().accepted(*seq));
    let issue = |(seq, remark): (u64, &PartRemarkCommand)| {
        let piece = remark.piece.checked_sub(1).and_then(|piece| pieces.get(piece));
        let piece = piece.map(|(joint, fastener)| {
            format!(", {} {}", state.plan[*joint].name, state.plan[*joint][*fastener].id)
        });
        Issue {
            seq,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: message!(
                "work-scrap",
                slot = state.plan[slot].name,
                piece = piece.unwrap_or_default(),
                remark = remark.text
            ),
            to_do: message!("work-fit-new-one-log-or-lead"),
            remedies: vec![Remedy::Accept, Remedy::Void],
        }
    };
    open.map(issue).collect()
}
