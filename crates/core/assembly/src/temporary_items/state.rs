//! Everything that went in, and what came out.

use crate::events::{TemporaryItemCommand, TemporaryItemRemoval};
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use crate::state::series::EntrySeries;
use rigore_plan::{OperationIx, OperationWork, Plan, TemporaryItemSpec};

/// Something that went in.
#[derive(Debug, Clone)]
pub(crate) struct TemporaryItem {
    /// The entry by which it went in.
    pub seq: u64,
    /// The operation.
    pub operation: OperationIx,
    /// The item of that operation that put it in, where the plan says so.
    pub item: Option<usize>,
    /// What it is.
    pub what: String,
    /// How many.
    pub count: u32,
}

/// Everything that went in, in the order it came, and by what it came out.
#[derive(Debug, Clone, Default)]
pub(crate) struct TemporaryItems {
    aids: Vec<TemporaryItem>,
    out: EntrySeries<u64, ()>,
}

impl TemporaryItems {
    /// Something goes in with an item of the plan.
    pub fn by_item(
        &mut self,
        seq: u64,
        (operation, item): (OperationIx, usize),
        planned: &TemporaryItemSpec,
    ) {
        let (what, count) = (planned.name.clone(), planned.count);
        self.aids.push(TemporaryItem { seq, operation, item: Some(item), what, count });
    }

    /// Something goes in that the plan does not know.
    pub fn put(&mut self, plan: &Plan, seq: u64, fact: &TemporaryItemCommand) -> Option<EntryTopic> {
        let operation = plan.operation(&fact.operation)?;
        let (what, count) = (fact.what.clone(), fact.count);
        self.aids.push(TemporaryItem { seq, operation, item: None, what, count });
        Some(EntryTopic::Inside(seq))
    }

    /// It comes out.
    pub fn take(&mut self, seq: u64, fact: &TemporaryItemRemoval) -> Option<EntryTopic> {
        self.aids.iter().find(|aid| aid.seq == fact.seq)?;
        self.out.push(seq, fact.seq, ());
        Some(EntryTopic::Inside(fact.seq))
    }

    /// An entry about it was voided.
    pub fn settle(&mut self, aid: u64, ledger: &EntryLedger) {
        self.out.settle(aid, ledger);
    }

    /// Everything that went in and counts.
    pub fn counting<'a>(&'a self, ledger: &'a EntryLedger) -> impl Iterator<Item = &'a TemporaryItem> {
        self.aids.iter().filter(|aid| ledger.counts(aid.seq))
    }

    /// The entry by which something came out, where that was said of itself.
    pub fn out(&self, aid: &TemporaryItem) -> Option<u64> {
        self.out.latest(aid.seq).map(|out| out.seq)
    }
}

impl TemporaryItem {
    /// What the plan says of it, where it does.
    pub fn planned<'a>(&self, plan: &'a Plan) -> Option<&'a TemporaryItemSpec> {
        match &plan[self.operation].work {
            OperationWork::Items(items) => items.get(self.item?)?.puts_in.as_ref(),
            _ => None,
        }
    }

    /// Where the plan has it taken out.
    pub fn comes_out(&self, plan: &Plan) -> Option<(OperationIx, usize)> {
        plan.comes_out(&self.planned(plan)?.id)
    }
}
