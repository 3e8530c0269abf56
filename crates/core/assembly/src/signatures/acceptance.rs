//! What leads approved, and what that rested on when they said so.

use crate::events::ApprovalSubject;
use crate::signatures::approval::Approval;
use crate::signatures::evidence::EvidenceSources;
use crate::state::BuildState;
use crate::work::tighten::out_of_order;
use serde::Serialize;
use std::collections::BTreeSet;
use time::OffsetDateTime;

/// Something that is not as the plan has it, and who approved it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ApprovalView {
    /// What the operation is called.
    pub operation: String,
    /// The entry that a lead approved.
    pub seq: u64,
    /// Why it may stand.
    pub reason: String,
    /// Who said so.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

impl BuildState {
    /// Everything that leads approved, in the order they said so.
    pub fn approval_views(&self) -> Vec<ApprovalView> {
        let standing = self.approvals().standing(self.ledger());
        let view = |word: &Approval| ApprovalView {
            operation: word.operation.map(|at| self.plan[at].name.clone()).unwrap_or_default(),
            seq: word.seq,
            reason: word.reason.clone(),
            by: word.stamp.by.name.clone(),
            at: word.stamp.at,
        };
        standing.map(view).collect()
    }

    /// The entries that a subject rests on now.
    pub(crate) fn evidence(&self, subject: &ApprovalSubject) -> BTreeSet<u64> {
        if let ApprovalSubject::Otherwise { operation, joint, stage } = subject {
            return self.judged_otherwise(operation, joint, stage);
        }
        if let ApprovalSubject::OutOfOrder { operation, joint } = subject {
            let at = self.plan.operation(operation);
            return at.map(|at| out_of_order(self, at, joint)).unwrap_or_default();
        }
        if let ApprovalSubject::Doubted { operation, instrument } = subject {
            let at = self.plan.operation(operation);
            return at.map(|at| self.doubted_in(at, instrument)).unwrap_or_default();
        }
        let grounds = EvidenceSources { plan: &self.plan, sizes: self.sizes(), turns: self.turns() };
        grounds.basis(subject, |operation| {
            let signature = self.operations().signed(self.plan.operation(operation)?)?;
            signature.left_out.as_ref().map(|_| signature.stamp.seq)
        })
    }

    /// Whether a lead stands for a subject as it is: nothing counts that was not there then.
    pub(crate) fn is_approved(&self, subject: &ApprovalSubject) -> bool {
        self.approvals().basis(subject).is_some_and(|then| self.evidence(subject).is_subset(then))
    }
}
