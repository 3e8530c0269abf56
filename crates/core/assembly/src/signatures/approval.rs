//! What a lead approved, as it was said.

use crate::events::{ApprovalSubject, EntryStamp};
use crate::state::ledger::EntryLedger;
use rigore_plan::OperationIx;
use std::collections::{BTreeSet, HashMap};

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

/// Everything that leads approved.
#[derive(Debug, Clone, Default)]
pub(crate) struct Approvals {
    /// In the order they said so.
    all: Vec<Approval>,
    /// The entries that each subject rested on when it was approved last.
    bases: HashMap<ApprovalSubject, BTreeSet<u64>>,
}

impl Approvals {
    /// One more.
    pub fn push(&mut self, approval: Approval) {
        self.all.push(approval);
    }

    /// A subject is approved as it rests on these entries.
    pub fn rest_on(&mut self, subject: ApprovalSubject, basis: BTreeSet<u64>) {
        self.bases.insert(subject, basis);
    }

    /// Those of which the entry counts still.
    pub fn standing(&self, ledger: &EntryLedger) -> impl Iterator<Item = &Approval> {
        self.all.iter().filter(|approval| approval.stands(ledger))
    }

    /// The entries that a subject rested on when it was approved, where it was.
    pub fn basis(&self, subject: &ApprovalSubject) -> Option<&BTreeSet<u64>> {
        self.bases.get(subject)
    }
}
