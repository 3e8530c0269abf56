//! What does not hold any more because of something that happened (C-40), by what the plan says.
//!
//! What unsettles what is the plan's word, and one mechanism. `unsettle.rs` says what happened with an entry;
//! `SignatureScope::unsettled_by` what rests on that; `Series::unsettle` puts an end to what was entered before, and voiding
//! the entry gives it back. An operation waits for everything behind it that is open again (`BuildState::open_needs`).

use crate::events::Fact;
use crate::signatures::scope::SignatureScope;
use crate::state::entry_topic::EntryTopic;
use crate::work::tighten::state::JointRounds;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{Plan, ReworkCause, ReworkTrigger, RoundPurpose, SlotIx};

/// Something that holds no more.
#[derive(Debug, Clone)]
pub(crate) struct Invalidation {
    /// The entry of what happened.
    pub by: u64,
    /// What it was.
    pub why: Message,
    /// What is to be done again.
    pub thing: EntryTopic,
}

/// Everything that holds no more, in the order it happened.
#[derive(Debug, Clone, Default)]
pub(crate) struct Invalidations(Vec<Invalidation>);

impl Invalidations {
    /// One more.
    pub fn push(&mut self, invalidation: Invalidation) {
        self.0.push(invalidation);
    }

    /// All of them.
    pub fn all(&self) -> impl Iterator<Item = &Invalidation> {
        self.0.iter()
    }

    /// What an entry is the cause of.
    pub fn caused_by(&self, seq: u64) -> Vec<EntryTopic> {
        self.0.iter().filter(|of| of.by == seq).map(|of| of.thing).collect()
    }
}

/// What rests on what happened is looked up in.
pub(crate) struct InvalidationSources<'a> {
    pub plan: &'a Plan,
    pub cover: &'a SignatureScope,
    pub joints: &'a JointRounds,
}

impl InvalidationSources<'_> {
    /// What an entry unsettles that is about a thing: what was done of it before does not hold any more. `before`
    /// is the slot that had another part in it.
    pub fn invalidations(
        &self,
        fact: &Fact,
        thing: EntryTopic,
        before: Option<SlotIx>,
        by: u64,
    ) -> Vec<Invalidation> {
        let happened = self.occurrences(fact, thing, before).into_iter();
        let all = happened.flat_map(|(why, things)| {
            things.into_iter().map(move |thing| Invalidation { by, why: why.clone(), thing })
        });
        all.collect()
    }

    /// What happened with an entry, in words, and what rests on that.
    fn occurrences(
        &self,
        fact: &Fact,
        thing: EntryTopic,
        before: Option<SlotIx>,
    ) -> Vec<(Message, Vec<EntryTopic>)> {
        let mut happened = Vec::new();
        if let Some(slot) = before {
            let things = self.cover.unsettled_by(|cause| *cause == ReworkCause::Part(slot));
            happened.push((message!("assembly-another", slot = self.plan[slot].name), things));
        }
        let Fact::Loosened(loosened) = fact else { return happened };
        let (joint, round, fastener, planned) = match thing {
            EntryTopic::Fastener(joint, round, fastener, _) => (joint, round, fastener, false),
            EntryTopic::Loosening(joint, round, fastener) => (joint, round, fastener, true),
            _ => return happened,
        };
        let of = &self.plan[joint];
        // A trial that is taken apart as it was planned leaves what was measured in it.
        let trial = planned && of.rounds[round] == RoundPurpose::Trial;
        let rests = |when: ReworkTrigger| self.cover.unsettled_by(|cause| cause.is(joint, fastener, when));
        let name = format!("{} {}", of.name, of[fastener].id);
        if loosened.replaced {
            happened.push((message!("assembly-was-replaced", name), rests(ReworkTrigger::Replaced)));
        }
        if !trial {
            happened.push((message!("assembly-was-loosened", name), rests(ReworkTrigger::Loosened)));
            if self.joints.round((joint, round)).is_loose() {
                happened
                    .push((message!("assembly-was-taken-off", of = of.name), rests(ReworkTrigger::Apart)));
            }
        }
        happened
    }
}
