//! Every finding, with what was decided and seen of it since.

use crate::events::{
    FindingCommand, FindingDecision, FindingDecisionCommand, FindingReviewCommand, FindingSubject, Picture,
};
use crate::state::entry_topic::{EntryTopic, FindingTopic};
use crate::state::ledger::EntryLedger;
use rigore_plan::Plan;

/// A finding.
#[derive(Debug, Clone)]
pub(crate) struct Finding {
    /// Its entry.
    pub seq: u64,
    /// What it is about.
    pub about: FindingTopic,
    /// What was found.
    pub text: String,
    /// A picture of it.
    pub picture: Option<Picture>,
    /// What was done about it, in the order it came.
    pub steps: Vec<FindingAction>,
}

/// What was done about a finding.
#[derive(Debug, Clone)]
pub(crate) struct FindingAction {
    /// Its entry.
    pub seq: u64,
    /// What it was.
    pub what: FindingEntry,
    /// Why, or what was seen.
    pub text: String,
    /// A picture.
    pub picture: Option<Picture>,
}

/// What was done about a finding.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum FindingEntry {
    /// A lead decided.
    Decided(FindingDecision),
    /// It was looked at again, and right or not.
    Looked(bool),
}

/// Where a finding stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum FindingState {
    /// A lead has to decide.
    Open,
    /// It is to be mended or changed, and looked at again.
    ToDo(FindingDecision),
    /// It holds nothing any more.
    Settled,
}

impl Finding {
    /// Where it stands, by what counts of what was done about it.
    pub fn standing(&self, ledger: &EntryLedger) -> FindingState {
        let counts = self.steps.iter().filter(|step| ledger.counts(step.seq));
        counts.fold(FindingState::Open, |standing, step| match (step.what, standing) {
            (FindingEntry::Decided(FindingDecision::Accept), _)
            | (FindingEntry::Looked(true), FindingState::ToDo(_)) => FindingState::Settled,
            (FindingEntry::Decided(decision), _) => FindingState::ToDo(decision),
            (FindingEntry::Looked(false), _) => FindingState::Open,
            (FindingEntry::Looked(true), standing) => standing,
        })
    }
}

/// Every finding of an engine, in the order they came.
#[derive(Debug, Clone, Default)]
pub(crate) struct Findings {
    findings: Vec<Finding>,
}

impl Findings {
    /// Every one that counts.
    pub fn counting<'a>(&'a self, ledger: &'a EntryLedger) -> impl Iterator<Item = &'a Finding> {
        self.findings.iter().filter(|finding| ledger.counts(finding.seq))
    }

    /// The one of an entry.
    pub fn of(&self, seq: u64) -> Option<&Finding> {
        self.findings.iter().find(|finding| finding.seq == seq)
    }

    /// A finding was reported.
    pub fn find(&mut self, plan: &Plan, seq: u64, fact: &FindingCommand) -> Option<EntryTopic> {
        let about = about(plan, &fact.about)?;
        let (text, picture) = (fact.text.clone(), fact.picture.clone());
        self.findings.push(Finding { seq, about, text, picture, steps: Vec::new() });
        Some(EntryTopic::Finding(about))
    }

    /// A lead decided.
    pub fn decide(&mut self, seq: u64, fact: &FindingDecisionCommand) -> Option<EntryTopic> {
        let (what, text) = (FindingEntry::Decided(fact.decision), fact.reason.clone());
        self.step(fact.seq, FindingAction { seq, what, text, picture: None })
    }

    /// It was looked at again.
    pub fn look(&mut self, seq: u64, fact: &FindingReviewCommand) -> Option<EntryTopic> {
        let (what, text, picture) =
            (FindingEntry::Looked(fact.right), fact.text.clone(), fact.picture.clone());
        self.step(fact.seq, FindingAction { seq, what, text, picture })
    }

    fn step(&mut self, of: u64, step: FindingAction) -> Option<EntryTopic> {
        let finding = self.findings.iter_mut().find(|finding| finding.seq == of)?;
        finding.steps.push(step);
        Some(EntryTopic::Finding(finding.about))
    }
}

/// What a finding is about, in a plan.
pub(crate) fn about(plan: &Plan, concern: &FindingSubject) -> Option<FindingTopic> {
    Some(match concern {
        FindingSubject::Fastener { joint, fastener } => {
            let joint = plan.joint(joint)?;
            FindingTopic::Fastener(joint, plan[joint].fastener(fastener)?)
        }
        FindingSubject::Part { slot } => FindingTopic::Part(plan.slot(slot)?),
        FindingSubject::Site { site } => FindingTopic::Site(plan.site(site)?),
        FindingSubject::Operation { operation } => FindingTopic::Operation(plan.operation(operation)?),
    })
}
