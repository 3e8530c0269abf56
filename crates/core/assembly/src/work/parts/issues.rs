//! What stands against the parts of an engine.

use super::state::FittedPart;
use crate::events::{PartNote, PartRemarkCommand, PartRemarkKind};
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{OperationIx, OperationWork, PartSize, SlotIx};

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
        let spent: Vec<Message> = spent.into_iter().chain(scrap.iter().cloned()).collect();
        let to_do = if spent.is_empty() {
            message!("work-log-the-right-part")
        } else {
            message!("work-fit-new-part-log-or-lead")
        };
        let placed = wrong_place(state, *slot, &entry.value).into_iter();
        let placed = placed.chain(other_sizes(state, *slot, entry.seq, &entry.value.note));
        let wrong: Vec<Message> = spent.into_iter().chain(placed).collect();
        (!wrong.is_empty()).then(|| Issue {
            seq: entry.seq,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: message!("work-slot-wrong", slot = &planned.name, wrong = Message::join(wrong, "; ")),
            to_do,
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    };
    let scrapped = slots.iter().flat_map(|slot| scrapped(state, at, *slot));
    slots.iter().filter_map(issue).chain(scrapped).collect()
}

/// A part that carries another number than its place, or was in another place before (C-56).
fn wrong_place(state: &BuildState, slot: SlotIx, part: &FittedPart) -> Vec<Message> {
    let planned = &state.plan[slot];
    let stamp = part.note.stamp.as_str();
    let is_other = planned.numbered && !stamp.is_empty() && plain_mark(stamp) != plain_mark(&planned.member);
    let stamped = is_other.then(|| message!("work-carries-number-of-another", stamp));
    let was = part.before.as_ref().filter(|was| planned.returns && !was.slot.is_empty());
    let was = was.filter(|was| was.slot != planned.id);
    let moved = was.map(|was| message!("work-was-in-another-place", place = &was.place));
    stamped.into_iter().chain(moved).collect()
}

/// A mark as it is compared: `01` and `#1` are 1, `Left` is left.
fn plain_mark(mark: &str) -> String {
    let mark: String = mark.chars().filter(|c| c.is_alphanumeric()).collect();
    mark.trim_start_matches('0').to_lowercase()
}

/// Sizes of a part that are not those of what was logged before it (C-55).
fn other_sizes(state: &BuildState, slot: SlotIx, seq: u64, part: &PartNote) -> Vec<Message> {
    let others = (0..state.plan.slots.len()).map(SlotIx).filter(|other| *other != slot);
    let others = others.filter_map(|other| Some((other, state.parts().latest(other)?)));
    let others: Vec<_> = others.filter(|(_, entry)| entry.seq < seq).collect();
    let sizes = state.plan[slot].sizes.iter().map(|at| &state.plan.part_sizes[*at]);
    let other = |size: &PartSize| {
        let said = part.sizes.get(&size.id)?;
        let differs =
            |entry: &FittedPart| entry.note.sizes.get(&size.id).filter(|other| *other != said).cloned();
        let (at, other) = others.iter().find_map(|(at, entry)| Some((*at, differs(&entry.value)?)))?;
        let name = &state.plan[at].name;
        Some(message!("work-size-is-not-that-of", size = &size.name, said, name, other))
    };
    sizes.filter_map(other).collect()
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
