//! What stands against an operation since an instrument was found wrong.

use crate::events::{ApprovalSubject, DoubtCommand};
use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_plan::OperationIx;
use std::collections::BTreeSet;

impl BuildState {
    /// The entries of an operation that are in doubt and that something rests on still.
    pub(crate) fn doubted_in(&self, at: OperationIx, instrument: &str) -> BTreeSet<u64> {
        let counting = self.suspect_readings().counting(self.ledger()).map(|(_, doubt)| doubt);
        let of_it: Vec<&DoubtCommand> = counting.filter(|doubt| doubt.instrument == instrument).collect();
        if of_it.is_empty() {
            return BTreeSet::new();
        }
        let doubted = self.suspect_readings().read_with(instrument).filter(|seq| {
            self.ledger().line(*seq).is_some_and(|line| {
                line.operation == Some(at)
                    && of_it.iter().any(|doubt| doubt.covers(line.mark.stamp.at))
                    && self.rests_on(*seq)
            })
        });
        doubted.collect()
    }

    /// Whether an entry is what something has now: it counts, and nothing came in its place.
    fn rests_on(&self, seq: u64) -> bool {
        if !self.ledger().counts(seq) {
            return false;
        }
        match self.ledger().line(seq).and_then(|line| line.thing) {
            Some(EntryTopic::Fastener(joint, round, fastener, stage)) => {
                self.joints().round((joint, round)).fastened(fastener).last(stage) == seq
            }
            Some(EntryTopic::Place(site, place)) => {
                self.sizes().reading(site, place).is_some_and(|latest| latest.seq == seq)
            }
            Some(_) => true,
            None => false,
        }
    }

    /// What stands against an operation since an instrument was found wrong.
    pub(crate) fn issues_of_doubts(&self, at: OperationIx) -> Vec<Issue> {
        let mut issues: Vec<Issue> = Vec::new();
        for (seq, doubt) in self.suspect_readings().counting(self.ledger()) {
            let (operation, instrument) = (self.plan[at].id.clone(), doubt.instrument.clone());
            let subject = ApprovalSubject::Doubted { operation, instrument };
            let known = issues.iter().any(|issue| issue.subject.as_ref() == Some(&subject));
            let entries = self.doubted_in(at, &doubt.instrument);
            if known || entries.is_empty() || self.is_approved(&subject) {
                continue;
            }
            let count = match entries.len() {
                1 => message!("instruments-one-reading-was").to_owned(),
                many => message!("instruments-readings-were", many),
            };
            issues.push(Issue {
                seq,
                subject: Some(subject),
                operation: self.plan[at].id.clone(),
                joint: None,
                fastener: None,
                text: message!(
                    "instruments-taken-with-which-was-found-wrong",
                    count,
                    name = &doubt.name,
                    reason = &doubt.reason
                ),
                to_do: message!("instruments-read-them-again-with-another-one"),
                remedies: vec![Remedy::Accept, Remedy::Void],
            });
        }
        issues
    }

    /// The operations in which something is in doubt.
    pub(crate) fn doubted_operations(&self) -> Vec<OperationIx> {
        let used = self.suspect_readings().read_with_any();
        let operations = used.filter_map(|seq| self.ledger().line(seq)?.operation);
        let distinct: BTreeSet<OperationIx> = operations.collect();
        distinct.into_iter().collect()
    }
}
