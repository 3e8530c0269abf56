//! What a finding holds until it is settled: the first operation on what it is about that is not signed.

use super::state::{Finding, FindingState};
use crate::events::FindingDecision;
use crate::state::BuildState;
use crate::state::entry_topic::FindingTopic;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_plan::OperationIx;

impl BuildState {
    /// The operation that a finding holds.
    pub(crate) fn held_by(&self, finding: &Finding) -> Option<OperationIx> {
        let concerned = self.concerned(finding.about);
        let open = concerned.iter().find(|at| self.operations().signed(**at).is_none());
        open.or(concerned.last()).copied()
    }

    /// What findings there are against an operation.
    pub(crate) fn issues_of_findings(&self, at: OperationIx) -> Vec<Issue> {
        let open =
            self.findings().counting(self.ledger()).filter(|finding| self.held_by(finding) == Some(at));
        open.filter_map(|finding| self.issue_of_finding(at, finding)).collect()
    }

    fn issue_of_finding(&self, at: OperationIx, finding: &Finding) -> Option<Issue> {
        let (now, remedy) = match finding.standing(self.ledger()) {
            FindingState::Settled => return None,
            FindingState::Open => (message!("assembly-lead-decides-repair-replace-or-use"), Remedy::Decide),
            FindingState::ToDo(FindingDecision::Change) => {
                (message!("assembly-replace-then-record-inspection"), Remedy::LookAgain)
            }
            FindingState::ToDo(_) => (message!("assembly-repair-then-record-inspection"), Remedy::LookAgain),
        };
        let (joint, fastener) = match finding.about {
            FindingTopic::Fastener(joint, fastener) => {
                let of = &self.plan[joint];
                (Some(of.id.clone()), Some(of[fastener].id.clone()))
            }
            _ => (None, None),
        };
        Some(Issue {
            seq: finding.seq,
            subject: None,
            operation: self.plan[at].id.clone(),
            joint,
            fastener,
            text: message!(
                "assembly-problem-on",
                about = self.name_of(finding.about),
                finding = finding.text
            ),
            to_do: now,
            remedies: vec![remedy, Remedy::Void],
        })
    }
}
