//! What a lead approved, as it was said.

use crate::events::EntryStamp;
use crate::state::ledger::EntryLedger;
use rigore_plan::OperationIx;

/// A lead's approval: of which entry, why, and in which operation.
#[derive(Debug, Clone)]
pub(crate) struct Approval {
    pub stamp: EntryStamp,
    pub seq: u64,
    pub reason: String,
    pub operation: Option<OperationIx>,
}

impl Approval {
    /// Whether what it is about counts still.
    pub fn stands(&self, ledger: &EntryLedger) -> bool {
        ledger.counts(self.seq)
    }
}
