//! Every part that was entered into a slot, and what was said of it.

use crate::events::{EarlierUse, FitCommand, PartNote, PartRemarkCommand};
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use crate::state::series::EntrySeries;
use rigore_plan::{Plan, SlotIx};

/// A part as it was entered.
#[derive(Debug, Clone)]
pub(crate) struct FittedPart {
    /// What it is.
    pub note: PartNote,
    /// What the shop knew of it then.
    pub before: Option<EarlierUse>,
}

/// Every part of an engine, by slot; what was in a slot before stays readable.
pub(crate) type FittedParts = EntrySeries<SlotIx, FittedPart>;

/// What was said of parts, in the order it came.
#[derive(Debug, Clone, Default)]
pub(crate) struct PartRemarks {
    entries: Vec<(u64, SlotIx, PartRemarkCommand)>,
}

impl PartRemarks {
    /// What counts of what was said of the part that is in a slot now, or of one piece of its set.
    pub fn of<'a>(
        &'a self,
        slot: SlotIx,
        parts: &FittedParts,
        ledger: &'a EntryLedger,
    ) -> impl Iterator<Item = (u64, &'a PartRemarkCommand)> + use<'a> {
        // What was said of another part that was entered there before is not said of this one.
        let counting = parts.entries().rev().filter(|entry| entry.key == slot && ledger.counts(entry.seq));
        let serial = parts.latest(slot).map(|entry| entry.value.note.serial.to_lowercase());
        let same = counting.take_while(|entry| Some(entry.value.note.serial.to_lowercase()) == serial);
        let since = same.map(|entry| entry.seq).last().unwrap_or(u64::MAX);
        let of_it = self.entries.iter();
        let of_it = of_it.filter(move |(seq, of, _)| *of == slot && *seq > since && ledger.counts(*seq));
        of_it.map(|(seq, _, remark)| (*seq, remark))
    }
}

/// A part was entered.
pub(crate) fn fit(parts: &mut FittedParts, plan: &Plan, seq: u64, fact: &FitCommand) -> Option<EntryTopic> {
    let slot = plan.slot(&fact.slot)?;
    parts.push(seq, slot, FittedPart { note: fact.part.clone(), before: fact.before.clone() });
    Some(EntryTopic::Slot(slot))
}

/// Something was said of a part.
pub(crate) fn remark(
    remarks: &mut PartRemarks,
    plan: &Plan,
    seq: u64,
    fact: &PartRemarkCommand,
) -> Option<EntryTopic> {
    let slot = plan.slot(&fact.slot)?;
    remarks.entries.push((seq, slot, fact.clone()));
    Some(EntryTopic::PartRemark(slot))
}
