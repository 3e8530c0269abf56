//! One operation as the bench shows it.

use crate::events::FindingSubject;
use crate::findings::view::FindingView;
use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::state::entry_topic::FindingTopic;
use crate::status::issue::Issue;
use crate::status::missing_values::MissingSpec;
use crate::status::operations::{OperationBrief, OperationView};
use crate::status::timers::{SealantCure, SealantTimer};
use crate::temporary_items::view::TemporaryItemView;
use crate::work::kind::{BenchStep, BenchWork};
use crate::work::kinds::kind;
use rigore_plan::{FastenerIx, OperationIx, OperationWork};
use serde::Serialize;

/// One operation in hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OperationBench {
    /// Sequence number of the last event.
    pub seq: u64,
    /// What the engine is called in the shop.
    pub build: String,
    /// The operation.
    pub operation: OperationView,
    /// The operation that can be done after this one.
    pub after: Option<String>,
    /// What is open in it.
    pub issues: Vec<Issue>,
    /// Working times that run on the engine.
    pub clocks: Vec<SealantTimer>,
    /// Sealant that was laid and has to cure, on all of the engine, until its time is over.
    pub cures: Vec<SealantCure>,
    /// Figures of the plan that it waits for, which nobody has looked up yet.
    pub wanted: Vec<MissingSpec>,
    /// What was found, the last one first.
    pub findings: Vec<FindingView>,
    /// What went in for the work, what is in still first.
    pub aids: Vec<TemporaryItemView>,
    /// What is next.
    pub step: BenchStep,
    /// What comes after that.
    pub then: BenchStep,
    /// What something that is found here can be about; the operation itself comes first.
    pub concerns: Vec<FindingSubjectView>,
    /// Other operations of its repeat that can be signed with it.
    pub sign_with: Vec<OperationName>,
    /// Whether its repeat is signed as one, and not all of that is done yet: it is gone on from as it is.
    pub goes_on: bool,
    /// What the operation consists of.
    pub work: BenchWork,
}

/// Something that a finding can be about.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FindingSubjectView {
    /// By its keys.
    pub about: FindingSubject,
    /// In words.
    pub name: String,
}

/// An operation by key and name.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OperationName {
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
}

impl BuildState {
    /// The bench for one operation, with the instruments of the shop.
    pub fn bench(&self, at: OperationIx, tools: ShopTools<'_>) -> OperationBench {
        let (step, then) = self.steps(at);
        let members = self.members_of_its_repeat(at);
        let signed = |other: OperationIx| self.operations().signed(other).is_some();
        let done = |other: OperationIx| other == at || signed(other) || self.is_done(other);
        let signed_once = self.plan.repeat(at).is_some_and(|repeat| repeat.signed_once);
        let goes_on = signed_once && !members.iter().all(|other| done(*other));
        // What is signed as one is not what comes next once it is done.
        let gone_by = |other: OperationIx| goes_on && members.contains(&other) && self.is_done(other);
        let waiting = |other: &OperationIx| *other != at && !signed(*other) && !gone_by(*other);
        // Only what was worked on is signed: a step that nobody began is not done because nothing is left in it.
        let sign_with = members.iter().filter(|other| {
            **other != at
                && !signed(**other)
                && self.is_done(**other)
                && self.operations().last(**other).is_some()
        });
        let startable = |other: &OperationIx| self.open_needs(*other).iter().all(|need| *need == at);
        let after = self.plan.line().find(|other| waiting(other) && startable(other));
        OperationBench {
            seq: self.seq,
            build: self.begun.name.clone(),
            operation: self.operation_view(at, &self.briefs_for(at)),
            after: after.map(|other| self.plan[other].id.clone()),
            issues: self.issues_of(at),
            clocks: self.clocks(),
            cures: self.cures_running(),
            wanted: self.missing_specs_of(at),
            findings: self.finding_views(),
            aids: self.aids(),
            step,
            then,
            concerns: self.concerns(at),
            sign_with: sign_with.map(|other| self.named(*other)).collect(),
            goes_on,
            work: kind(self, at).bench(tools),
        }
    }

    fn named(&self, at: OperationIx) -> OperationName {
        OperationName { id: self.plan[at].id.clone(), name: self.plan[at].name.clone() }
    }

    /// The operations of the repeat that one belongs to.
    fn members_of_its_repeat(&self, at: OperationIx) -> Vec<OperationIx> {
        let Some(member) = self.plan[at].member else { return Vec::new() };
        let of_it =
            |other: &OperationIx| self.plan[*other].member.is_some_and(|of| of.repeat == member.repeat);
        self.plan.line().filter(of_it).collect()
    }

    /// What something that is found at an operation can be about.
    fn concerns(&self, at: OperationIx) -> Vec<FindingSubjectView> {
        let planned = &self.plan[at];
        let mut about = vec![FindingTopic::Operation(at)];
        about.extend(planned.parts.iter().map(|slot| FindingTopic::Part(*slot)));
        match &planned.work {
            OperationWork::Tighten(work) => {
                for share in &work.shares {
                    let fasteners = 0..self.plan[share.joint].fasteners.len();
                    about.extend(fasteners.map(|at| FindingTopic::Fastener(share.joint, FastenerIx(at))));
                }
            }
            OperationWork::Measure(sites) => about.extend(sites.iter().map(|site| FindingTopic::Site(*site))),
            OperationWork::Parts(slots) => about.extend(slots.iter().map(|slot| FindingTopic::Part(*slot))),
            _ => {}
        }
        about
            .into_iter()
            .map(|of| FindingSubjectView { about: self.concern(of), name: self.name_of(of) })
            .collect()
    }

    /// How far the operations are that one of them asks about: itself, or all of them where it is the
    /// signature under the engine.
    fn briefs_for(&self, at: OperationIx) -> Vec<OperationBrief> {
        let asks = |other| other == at || matches!(self.plan[at].work, OperationWork::Sign);
        self.plan
            .line()
            .map(|other| if asks(other) { self.brief(other) } else { OperationBrief::default() })
            .collect()
    }
}
