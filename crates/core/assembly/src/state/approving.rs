//! A lead approves an entry or a subject.

use crate::events::{ApprovalSubject, ApproveCommand, EntryStamp, ReasonedStamp, ToolFault};
use crate::signatures::approval::Approval;
use crate::state::BuildState;
use rigore_plan::OperationIx;

impl BuildState {
    /// A lead approves an entry or a subject; gives the operations that may look different.
    pub(super) fn approve(&mut self, approve: &ApproveCommand, stamp: EntryStamp) -> Vec<OperationIx> {
        let seq = approve.seq;
        let subject = approve.subject.clone().and_then(|subject| self.resolve_subject(subject, seq));
        let (said, reason) = (stamp.clone(), approve.reason.clone());
        let approval = |operation| Approval { stamp: said, seq, reason, operation };
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
                self.approvals.push(approval(recorded_in));
                self.ledger.accept(seq, ReasonedStamp { stamp, reason: approve.reason.clone() });
                return recorded_in.into_iter().chain(rest.into_iter().flatten()).collect();
            }
        };
        self.approvals.push(approval(moved));
        if let Some(subject) = subject {
            let basis = self.evidence(&subject);
            self.approvals.rest_on(subject, basis);
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
                let reading = self.sizes.readings().find(|entry| entry.seq == seq)?;
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
}
