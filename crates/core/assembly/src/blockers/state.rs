//! Everything that work waited for, and every promise.

use crate::events::{BlockerCommand, BlockerEnd, DueDate};
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use crate::state::series::EntrySeries;
use rigore_plan::{OperationIx, Plan, SlotIx};

/// Something that work waits for.
#[derive(Debug, Clone)]
pub(crate) struct Blocker {
    /// The entry by which it began.
    pub seq: u64,
    /// What it is.
    pub fact: BlockerCommand,
    /// The slot, where it is a part.
    pub slot: Option<SlotIx>,
    /// The operations that wait; none where all of the engine does.
    pub holds: Option<Vec<OperationIx>>,
}

/// Everything that work waited for, in the order it came, and every promise.
#[derive(Debug, Clone, Default)]
pub(crate) struct Blockers {
    list: Vec<Blocker>,
    over: EntrySeries<u64, ()>,
    promises: EntrySeries<(), DueDate>,
}

impl Blockers {
    /// Work waits for something; `holds` are the operations on a slot.
    pub fn begin(
        &mut self,
        plan: &Plan,
        seq: u64,
        fact: &BlockerCommand,
        holds: impl Fn(SlotIx) -> Vec<OperationIx>,
    ) -> EntryTopic {
        let slot = fact.slot.as_deref().map(|id| plan.slot(id));
        let operation = fact.operation.as_deref().map(|id| plan.operation(id));
        // What a later version of the plan does not have any more holds nothing.
        let held = match (operation, slot) {
            (Some(operation), _) => Some(operation.into_iter().collect()),
            (None, Some(slot)) => Some(slot.map(holds).unwrap_or_default()),
            (None, None) => None,
        };
        self.list.push(Blocker { seq, fact: fact.clone(), slot: slot.flatten(), holds: held });
        EntryTopic::Wait(seq)
    }

    /// It is there.
    pub fn end(&mut self, seq: u64, fact: &BlockerEnd) -> Option<EntryTopic> {
        self.list.iter().find(|awaited| awaited.seq == fact.seq)?;
        self.over.push(seq, fact.seq, ());
        Some(EntryTopic::Wait(fact.seq))
    }

    /// The engine was promised.
    pub fn promise(&mut self, seq: u64, fact: &DueDate) -> EntryTopic {
        self.promises.push(seq, (), fact.clone());
        EntryTopic::Promise
    }

    /// An entry about it was voided.
    pub fn settle(&mut self, awaited: u64, ledger: &EntryLedger) {
        self.over.settle(awaited, ledger);
    }

    /// A promise was voided.
    pub fn settle_promise(&mut self, ledger: &EntryLedger) {
        self.promises.settle((), ledger);
    }

    /// Everything that was waited for and counts.
    pub fn counting<'a>(&'a self, ledger: &'a EntryLedger) -> impl Iterator<Item = &'a Blocker> {
        self.list.iter().filter(|awaited| ledger.counts(awaited.seq))
    }

    /// The entry by which it was over.
    pub fn over(&self, awaited: &Blocker) -> Option<u64> {
        self.over.latest(awaited.seq).map(|over| over.seq)
    }

    /// The promise that counts, with its entry.
    pub fn promised(&self) -> Option<(u64, &DueDate)> {
        self.promises.latest(()).map(|promise| (promise.seq, &promise.value))
    }
}

impl Blocker {
    /// Whether an operation waits for it.
    pub fn holds(&self, at: OperationIx) -> bool {
        self.holds.as_ref().is_none_or(|held| held.contains(&at))
    }
}
