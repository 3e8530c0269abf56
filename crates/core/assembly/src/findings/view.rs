//! Findings as screens and the sheet show them.

use super::state::{Finding, FindingEntry, FindingState};
use crate::events::{FindingDecision, FindingSubject, Person, Picture};
use crate::state::BuildState;
use crate::state::entry_topic::FindingTopic;
use crate::work::tighten::{TightJoint, tight_joints};
use rigore_mechanics::text;
use serde::Serialize;
use time::OffsetDateTime;

/// One finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FindingView {
    /// Its entry.
    pub seq: u64,
    /// Key of the operation it was found at.
    pub operation: String,
    /// What that is called.
    pub operation_name: String,
    /// Key of the operation that it holds, where it holds one.
    pub holds: Option<String>,
    /// What that is called.
    pub holds_name: Option<String>,
    /// What it is about.
    pub about: FindingSubject,
    /// The same in words: `Main caps 3L`.
    pub name: String,
    /// What was found.
    pub text: String,
    /// A picture of it.
    pub picture: Option<Picture>,
    /// Who found it.
    pub by: Person,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Where it stands.
    pub standing: FindingStanding,
    /// What was done about it, in the order it came.
    pub steps: Vec<FindingStep>,
    /// Joints that are tight and may have to be taken apart to get at it, the one that was pulled last first.
    pub apart: Vec<TightJoint>,
}

/// So many joints are offered to be taken apart.
const OFFERED: usize = 6;

/// Where a finding stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FindingStanding {
    /// A lead has to decide.
    Open,
    /// It is to be mended and looked at again.
    Mend,
    /// It is to be changed and looked at again.
    Change,
    /// It holds nothing any more.
    Settled,
}

/// What was done about a finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FindingStep {
    /// Its entry.
    pub seq: u64,
    /// Who.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// What it was.
    pub what: String,
    /// Why, or what was seen.
    pub text: String,
    /// A picture.
    pub picture: Option<Picture>,
    /// Why it does not count, where it does not.
    pub voided: Option<String>,
}

impl BuildState {
    /// Every finding that counts, the last one first.
    pub fn finding_views(&self) -> Vec<FindingView> {
        let mut findings: Vec<FindingView> =
            self.findings().counting(self.ledger()).filter_map(|finding| self.finding(finding)).collect();
        findings.reverse();
        findings
    }

    fn finding(&self, finding: &Finding) -> Option<FindingView> {
        let line = self.ledger().line(finding.seq)?;
        let operation = &self.plan[line.operation?];
        let standing = match finding.standing(self.ledger()) {
            FindingState::Open => FindingStanding::Open,
            FindingState::ToDo(FindingDecision::Change) => FindingStanding::Change,
            FindingState::ToDo(_) => FindingStanding::Mend,
            FindingState::Settled => FindingStanding::Settled,
        };
        let holds = self.held_by(finding).filter(|_| standing != FindingStanding::Settled);
        let step = |step: &super::state::FindingAction| {
            let mark = self.ledger().mark(step.seq)?;
            Some(FindingStep {
                seq: step.seq,
                by: mark.stamp.by.name.clone(),
                at: mark.stamp.at,
                what: match step.what {
                    FindingEntry::Decided(FindingDecision::Mend) => text!("assembly-repaired"),
                    FindingEntry::Decided(FindingDecision::Change) => text!("assembly-replaced"),
                    FindingEntry::Decided(FindingDecision::Accept) => text!("assembly-use-as"),
                    FindingEntry::Looked(true) => text!("assembly-ok-again"),
                    FindingEntry::Looked(false) => text!("assembly-not-ok-yet"),
                },
                text: step.text.clone(),
                picture: step.picture.clone(),
                voided: mark.voided.as_ref().map(|voided| voided.reason.clone()),
            })
        };
        Some(FindingView {
            seq: finding.seq,
            operation: operation.id.clone(),
            operation_name: operation.name.clone(),
            holds: holds.map(|at| self.plan[at].id.clone()),
            holds_name: holds.map(|at| self.plan[at].name.clone()),
            about: self.concern(finding.about),
            name: self.name_of(finding.about),
            text: finding.text.clone(),
            picture: finding.picture.clone(),
            by: (*line.mark.stamp.by).clone(),
            at: line.mark.stamp.at,
            standing,
            steps: finding.steps.iter().filter_map(step).collect(),
            apart: match standing {
                FindingStanding::Settled => Vec::new(),
                _ => tight_joints(self).into_iter().take(OFFERED).collect(),
            },
        })
    }

    /// What a finding is about, by its keys.
    pub(crate) fn concern(&self, about: FindingTopic) -> FindingSubject {
        match about {
            FindingTopic::Fastener(joint, fastener) => {
                let of = &self.plan[joint];
                FindingSubject::Fastener { joint: of.id.clone(), fastener: of[fastener].id.clone() }
            }
            FindingTopic::Part(slot) => FindingSubject::Part { slot: self.plan[slot].id.clone() },
            FindingTopic::Site(site) => FindingSubject::Site { site: self.plan[site].id.clone() },
            FindingTopic::Operation(at) => FindingSubject::Operation { operation: self.plan[at].id.clone() },
        }
    }

    /// What a finding is about, in words.
    pub(crate) fn name_of(&self, about: FindingTopic) -> String {
        match about {
            FindingTopic::Fastener(joint, fastener) => {
                let of = &self.plan[joint];
                format!("{} {}", of.name, of[fastener].id)
            }
            FindingTopic::Part(slot) => self.plan[slot].name.clone(),
            FindingTopic::Site(site) => self.plan[site].name.clone(),
            FindingTopic::Operation(at) => self.plan[at].name.clone(),
        }
    }
}
