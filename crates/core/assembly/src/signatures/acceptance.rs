//! What leads stand for, and what that rested on when they said so.

use crate::events::{ApprovalSubject, ApproveCommand, EntryStamp, ReasonedStamp, ToolFault};
use crate::signatures::approval::Approval;
use crate::signatures::evidence::EvidenceSources;
use crate::state::BuildState;
use crate::work::tighten::out_of_order;
use rigore_plan::OperationIx;
use serde::Serialize;
use std::collections::BTreeSet;
use time::OffsetDateTime;

/// Something that is not as the plan has it, and who stands for it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ApprovalView {
    /// What the operation is called.
    pub operation: String,
    /// The entry that a lead stands for.
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
    /// Everything that leads stand for, in the order they said so.
    pub fn approvals(&self) -> Vec<ApprovalView> {
        let standing = self.words.iter().filter(|word| word.stands(&self.ledger));
        let view = |word: &Approval| ApprovalView {
            operation: word.operation.map(|at| self.plan[at].name.clone()).unwrap_or_default(),
            seq: word.seq,
            reason: word.reason.clone(),
            by: word.stamp.by.name.clone(),
            at: word.stamp.at,
        };
        standing.map(view).collect()
    }

    /// A lead stands for an entry or a subject; gives the operations that may look different.
    pub(crate) fn accept(&mut self, accept: &ApproveCommand, stamp: EntryStamp) -> Vec<OperationIx> {
        let seq = accept.seq;
        let subject = accept.subject.clone().and_then(|subject| self.resolve_subject(subject, seq));
        let (said, reason) = (stamp.clone(), accept.reason.clone());
        let word = |operation| Approval { stamp: said, seq, reason, operation };
        let moved = match &subject {
            Some(ApprovalSubject::Clearance { clearance, number }) => {
                let clearance = self.plan.clearance(clearance).map(|clearance| &self.plan[clearance]);
                clearance.and_then(|clearance| clearance.judged(number.checked_sub(1)?))
            }
            Some(
                ApprovalSubject::Instrument { operation, .. }
                | ApprovalSubject::Turning { operation }
                | ApprovalSubject::LeftOut { operation }
                | ApprovalSubject::Otherwise { operation, .. }
                | ApprovalSubject::OutOfOrder { operation, .. }
                | ApprovalSubject::Doubted { operation, .. },
            ) => self.plan.operation(operation),
            Some(ApprovalSubject::Written(_)) => None,
            None => {
                let line = self.ledger.line(seq);
                let rest = line
                    .and_then(|line| line.thing)
                    .map(|thing| [self.cover.resting_on(thing), self.cover.seen_in(thing).to_vec()].concat());
                let recorded_in = line.and_then(|line| line.operation);
                self.words.push(word(recorded_in));
                self.ledger.accept(seq, ReasonedStamp { stamp, reason: accept.reason.clone() });
                return recorded_in.into_iter().chain(rest.into_iter().flatten()).collect();
            }
        };
        self.words.push(word(moved));
        if let Some(subject) = subject {
            let basis = self.evidence(&subject);
            self.accepted.insert(subject, basis);
        }
        moved.into_iter().collect()
    }

    /// A subject as it is known now, where the first edition wrote it as text: `turning/`, `left-out/`
    /// and `instrument/` with a key, or a clearance and its number.
    fn resolve_subject(&self, subject: ApprovalSubject, seq: u64) -> Option<ApprovalSubject> {
        let ApprovalSubject::Written(text) = subject else { return Some(subject) };
        let (head, tail) = text.rsplit_once('/')?;
        Some(match head {
            "turning" => ApprovalSubject::Turning { operation: tail.to_owned() },
            "left-out" => ApprovalSubject::LeftOut { operation: tail.to_owned() },
            "instrument" => {
                let reading = self.sizes.readings.entries().find(|entry| entry.seq == seq)?;
                ApprovalSubject::Instrument {
                    operation: self.plan[reading.value.operation].id.clone(),
                    instrument: tail.to_owned(),
                    fault: reading.value.unfit.as_ref().map_or(ToolFault::Kind, |unfit| unfit.fault),
                }
            }
            clearance => {
                ApprovalSubject::Clearance { clearance: clearance.to_owned(), number: tail.parse().ok()? }
            }
        })
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
        let grounds = EvidenceSources { plan: &self.plan, sizes: &self.sizes, turns: &self.turns };
        grounds.basis(subject, |operation| {
            let signature = self.operations[self.plan.operation(operation)?.0].signed()?;
            signature.left_out.as_ref().map(|_| signature.stamp.seq)
        })
    }

    /// Whether a lead stands for a subject as it is: nothing counts that was not there then.
    pub(crate) fn is_approved(&self, subject: &ApprovalSubject) -> bool {
        self.accepted.get(subject).is_some_and(|then| self.evidence(subject).is_subset(then))
    }
}
