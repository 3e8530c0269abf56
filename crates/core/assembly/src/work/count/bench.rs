//! Hardware, as the bench and the sheet show it.

use crate::state::BuildState;
use rigore_mechanics::message::Message;
use rigore_mechanics::{message, text};
use rigore_plan::{Hardware, HardwareCounting, OperationIx};
use serde::Serialize;
use time::OffsetDateTime;

/// Count one kind of hardware.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountStep {
    /// Key of the hardware.
    pub hardware: String,
    /// What it is called.
    pub name: String,
    /// Whether it is counted back after the work.
    pub back: bool,
}

impl CountStep {
    /// The step in one line.
    pub fn line(&self) -> Message {
        if self.back {
            message!("work-count-back", name = self.name)
        } else {
            message!("work-count-out", name = self.name)
        }
    }
}

/// One kind of hardware at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountView {
    /// Key in the operation.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How many the engine takes.
    pub needed: u32,
    /// How many there should be: what is needed, or what has to be left over.
    pub expected: u32,
    /// Whether this counts back what was counted out before.
    pub back: bool,
    /// How many were counted out before, where this counts back and they were.
    pub out: Option<u32>,
    /// How many were counted.
    pub count: Option<u32>,
    /// What the difference means, where there is one.
    pub difference: Option<String>,
    /// Why the difference may stand, if a lead accepted it.
    pub accepted: Option<String>,
    /// Who counted.
    pub by: Option<String>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub at: Option<OffsetDateTime>,
    /// The entry, so that it can be voided.
    pub seq: Option<u64>,
}

pub(super) fn step(line: &Hardware, back: bool) -> CountStep {
    CountStep { hardware: line.id.clone(), name: line.name.clone(), back }
}

/// Every kind of hardware of an operation with what was counted.
pub(super) fn counts(state: &BuildState, at: OperationIx, counting: &HardwareCounting) -> Vec<CountView> {
    let view = |(line, planned): (usize, &Hardware)| {
        let back = counting.back_of.is_some();
        let counted_out = counting.back_of.and_then(|before| state.counts().latest((before, line)));
        let out = counted_out.map(|entry| entry.value);
        let left_over = out.unwrap_or(planned.count).saturating_sub(planned.count);
        let expected = if back { left_over } else { planned.count };
        let counted = state.counts().latest((at, line));
        let mark = counted.and_then(|entry| state.ledger().mark(entry.seq));
        // A lead stood for the difference as it was: what was counted out may have changed since.
        let still = counted.zip(counted_out).is_none_or(|(back, out)| {
            state
                .ledger()
                .mark(back.seq)
                .and_then(|mark| mark.accepted.as_ref())
                .is_none_or(|a| a.stamp.seq > out.seq)
        });
        CountView {
            id: planned.id.clone(),
            name: planned.name.clone(),
            needed: planned.count,
            expected,
            back,
            out,
            count: counted.map(|entry| entry.value),
            difference: counted.and_then(|entry| difference(planned, expected, entry.value, back)),
            accepted: mark
                .and_then(|mark| mark.accepted.as_ref())
                .filter(|_| still)
                .map(|a| a.reason.clone()),
            by: mark.map(|mark| mark.stamp.by.name.clone()),
            at: mark.map(|mark| mark.stamp.at),
            seq: mark.map(|mark| mark.stamp.seq),
        }
    };
    counting.hardware.iter().enumerate().map(view).collect()
}

/// What a count that differs means. Counting out, spares on the tray are no fault: they are
/// expected back.
fn difference(planned: &Hardware, expected: u32, count: u32, back: bool) -> Option<String> {
    let name = &planned.name;
    let off = expected.abs_diff(count);
    match (back, count > expected, off) {
        (_, _, 0) | (false, true, _) => None,
        (false, false, _) => Some(text!("work-there-missing", name, count, expected, off)),
        (true, true, _) => Some(text!("work-left-over-so-missing-engine", name, off)),
        (true, false, _) => Some(text!("work-missing-lost-or-left-engine", name, off)),
    }
}
