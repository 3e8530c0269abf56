//! Every finding, with what was decided and seen of it since.

use crate::events::{Concern, DecideFinding, Find, FindingDecision, LookAgain, Picture};
use crate::state::ledger::Ledger;
use crate::state::thing::{About, Thing};
use rigore_plan::Plan;

/// A finding.
#[derive(Debug, Clone)]
pub(crate) struct Finding {
    /// Its entry.
    pub seq: u64,
    /// What it is about.
    pub about: About,
    /// What was found.
    pub text: String,
    /// A picture of it.
    pub picture: Option<Picture>,
    /// What was done about it, in the order it came.
    pub steps: Vec<Step>,
}

/// What was done about a finding.
#[derive(Debug, Clone)]
pub(crate) struct Step {
    /// Its entry.
    pub seq: u64,
    /// What it was.
    pub what: Done,
    /// Why, or what was seen.
    pub text: String,
    /// A picture.
    pub picture: Option<Picture>,
}

/// What was done about a finding.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Done {
    /// A lead decided.
    Decided(FindingDecision),
    /// It was looked at again, and right or not.
    Looked(bool),
}

/// Where a finding stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Standing {
    /// A lead has to decide.
    Open,
    /// It is to be mended or changed, and looked at again.
    ToDo(FindingDecision),
    /// It holds nothing any more.
    Settled,
}

impl Finding {
    /// Where it stands, by what counts of what was done about it.
    pub fn standing(&self, ledger: &Ledger) -> Standing {
        let counts = self.steps.iter().filter(|step| ledger.counts(step.seq));
        counts.fold(Standing::Open, |standing, step| match (step.what, standing) {
            (Done::Decided(FindingDecision::Accept), _) | (Done::Looked(true), Standing::ToDo(_)) => {
                Standing::Settled
            }
            (Done::Decided(decision), _) => Standing::ToDo(decision),
            (Done::Looked(false), _) => Standing::Open,
            (Done::Looked(true), standing) => standing,
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
    pub fn counting<'a>(&'a self, ledger: &'a Ledger) -> impl Iterator<Item = &'a Finding> {
        self.findings.iter().filter(|finding| ledger.counts(finding.seq))
    }

    /// The one of an entry.
    pub fn of(&self, seq: u64) -> Option<&Finding> {
        self.findings.iter().find(|finding| finding.seq == seq)
    }

    /// Something was found.
    pub fn find(&mut self, plan: &Plan, seq: u64, fact: &Find) -> Option<Thing> {
        let about = about(plan, &fact.about)?;
        let (text, picture) = (fact.text.clone(), fact.picture.clone());
        self.findings.push(Finding { seq, about, text, picture, steps: Vec::new() });
        Some(Thing::Finding(about))
    }

    /// A lead decided.
    pub fn decide(&mut self, seq: u64, fact: &DecideFinding) -> Option<Thing> {
        let (what, text) = (Done::Decided(fact.decision), fact.reason.clone());
        self.step(fact.seq, Step { seq, what, text, picture: None })
    }

    /// It was looked at again.
    pub fn look(&mut self, seq: u64, fact: &LookAgain) -> Option<Thing> {
        let (what, text, picture) = (Done::Looked(fact.right), fact.text.clone(), fact.picture.clone());
        self.step(fact.seq, Step { seq, what, text, picture })
    }

    fn step(&mut self, of: u64, step: Step) -> Option<Thing> {
        let finding = self.findings.iter_mut().find(|finding| finding.seq == of)?;
        finding.steps.push(step);
        Some(Thing::Finding(finding.about))
    }
}

/// What a finding is about, in a plan.
pub(crate) fn about(plan: &Plan, concern: &Concern) -> Option<About> {
    Some(match concern {
        Concern::Fastener { joint, fastener } => {
            let joint = plan.joint(joint)?;
            About::Fastener(joint, plan[joint].fastener(fastener)?)
        }
        Concern::Part { slot } => About::Part(plan.slot(slot)?),
        Concern::Site { site } => About::Site(plan.site(site)?),
        Concern::Operation { operation } => About::Operation(plan.operation(operation)?),
    })
}
