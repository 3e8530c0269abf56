//! What a lead approved, as it was said.

use crate::events::Stamp;
use crate::state::ledger::Ledger;
use rigore_plan::OperationIx;

/// A lead's approval: of which entry, why, and in which operation.
#[derive(Debug, Clone)]
pub(crate) struct Approval {
    pub stamp: Stamp,
    pub seq: u64,
    pub reason: String,
    pub operation: Option<OperationIx>,
}

impl Approval {
    /// Whether what it is about counts still.
    pub fn stands(&self, ledger: &Ledger) -> bool {
        ledger.counts(self.seq)
    }
}
