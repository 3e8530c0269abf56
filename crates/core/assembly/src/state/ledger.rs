//! Every entry with what became of it, by number.

use crate::events::{EntryMark, EntryStamp, ReasonedStamp};
use crate::state::entry_topic::EntryTopic;
use rigore_plan::OperationIx;

/// Entries that a record can hold. A larger number can only be a damaged one.
const MOST: usize = 1 << 24;

/// One entry.
#[derive(Debug, Clone)]
pub(crate) struct LedgerLine {
    /// Who and when, and what became of it.
    pub mark: EntryMark,
    /// What it is about, where it is something that can be voided.
    pub thing: Option<EntryTopic>,
    /// The operation it was recorded in, where it was in one.
    pub operation: Option<OperationIx>,
}

/// Every entry of a build.
#[derive(Debug, Clone, Default)]
pub(crate) struct EntryLedger {
    /// By number less one; a number that is missing from a damaged record is none.
    lines: Vec<Option<LedgerLine>>,
}

fn place(seq: u64) -> Option<usize> {
    usize::try_from(seq).ok()?.checked_sub(1).filter(|at| *at < MOST)
}

impl EntryLedger {
    /// Makes room for so many more entries.
    pub fn expect(&mut self, more: usize) {
        self.lines.reserve(more);
    }

    /// Enters an entry.
    pub fn enter(&mut self, stamp: EntryStamp, thing: Option<EntryTopic>, operation: Option<OperationIx>) {
        let Some(at) = place(stamp.seq) else { return };
        if self.lines.len() <= at {
            self.lines.resize_with(at + 1, || None);
        }
        self.lines[at] =
            Some(LedgerLine { mark: EntryMark { stamp, voided: None, accepted: None }, thing, operation });
    }

    /// Everything that entries are about.
    pub fn things(&self) -> impl Iterator<Item = EntryTopic> {
        self.lines.iter().flatten().filter_map(|line| line.thing)
    }

    /// The entry with a number.
    pub fn line(&self, seq: u64) -> Option<&LedgerLine> {
        self.lines.get(place(seq)?)?.as_ref()
    }

    /// What became of an entry.
    pub fn mark(&self, seq: u64) -> Option<&EntryMark> {
        self.line(seq).map(|line| &line.mark)
    }

    /// Whether an entry counts: it is there and was not voided.
    pub fn counts(&self, seq: u64) -> bool {
        self.mark(seq).is_some_and(|mark| mark.voided.is_none())
    }

    /// Whether a lead stands for an entry itself.
    pub fn accepted(&self, seq: u64) -> bool {
        self.mark(seq).is_some_and(|mark| mark.accepted.is_some())
    }

    /// Voids an entry; gives what it is about, where it counted until now.
    pub fn void(&mut self, seq: u64, voided: ReasonedStamp) -> Option<EntryTopic> {
        let line = self.lines.get_mut(place(seq)?)?.as_mut()?;
        let thing = line.thing.filter(|_| line.mark.voided.is_none())?;
        line.mark.voided = Some(Box::new(voided));
        Some(thing)
    }

    /// A lead stands for an entry itself.
    pub fn accept(&mut self, seq: u64, accepted: ReasonedStamp) {
        let line = place(seq).and_then(|at| self.lines.get_mut(at)).and_then(Option::as_mut);
        if let Some(line) = line {
            line.mark.accepted = Some(Box::new(accepted));
        }
    }
}
