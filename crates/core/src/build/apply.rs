//! Applying an event to the state. Any list of events folds without a panic: what an event
//! names and the plan does not have is passed over.

use super::event::{Event, Fact};
use super::measuring::Shells;
use super::state::{Entry, Stamp, State, Voided, shared};
use crate::plan::Plan;
use std::sync::Arc;

impl State {
    /// The state after a list of events.
    pub fn fold<'a>(plan: Arc<Plan>, events: impl IntoIterator<Item = &'a Event>) -> Self {
        let mut state = Self::new(plan);
        for event in events {
            state.apply(event);
        }
        state
    }

    /// The state after one more event.
    pub fn apply(&mut self, event: &Event) {
        let stamp = Stamp { seq: event.seq, at: event.at, by: shared(&mut self.people, &event.by) };
        self.seq = event.seq;
        self.touched = Some(event.at);
        let span = self.commands.entry(event.command).or_insert((event.seq, event.seq));
        span.1 = event.seq;
        let entry = self.enter(&event.fact, stamp).unwrap_or(Entry::Fixed);
        self.entries.resize(event.seq.saturating_sub(1).min(1 << 24) as usize, Entry::Fixed);
        self.entries.push(entry);
    }

    fn enter(&mut self, fact: &Fact, stamp: Stamp) -> Option<Entry> {
        match fact {
            Fact::Begun { name, plan, use_for, owner, identity } => {
                self.use_for.clone_from(use_for);
                self.owner.clone_from(owner);
                self.identity.clone_from(identity);
                self.name.clone_from(name);
                self.plan_ref = Some(plan.clone());
                self.begun = Some(stamp);
                None
            }
            Fact::Started { operation } => {
                let (at, _) = self.plan.operation(operation)?;
                self.operations[at].started.get_or_insert(stamp);
                None
            }
            Fact::Fitted { operation, slot, part } => self.enter_fitted(operation, slot, part, stamp),
            Fact::Counted { operation, hardware, count } => {
                self.enter_counted(operation, hardware, *count, stamp)
            }
            Fact::Measured { .. } => self.enter_measured(fact, stamp),
            Fact::ShellsChosen { operation, clearance, number, upper, lower } => {
                let shells = Shells { upper: upper.clone(), lower: lower.clone() };
                self.enter_shells(operation, clearance, *number, shells, stamp)
            }
            Fact::ShellsCounted { clearance, grade, count, .. } => {
                self.stock.insert((clearance.clone(), grade.clone()), *count);
                None
            }
            Fact::Turned { operation, free, torque_nm, .. } => {
                self.enter_turned(operation, *free, *torque_nm, stamp)
            }
            Fact::Skipped { operation, reason } => {
                let (at, _) = self.plan.operation(operation)?;
                self.operations[at].skipped = Some(Voided { stamp: stamp.clone(), reason: reason.clone() });
                self.operations[at].signed = Some(stamp);
                Some(Entry::Signature(at))
            }
            Fact::Confirmed { operation, item } => self.enter_confirmed(operation, item, stamp),
            Fact::Pulled { operation, stage, fastener, reading, method, instrument } => {
                self.enter_pulled(operation, *stage, fastener, reading, (*method, instrument), stamp)
            }
            Fact::Acted { operation, stage } => self.enter_acted(operation, *stage, stamp),
            Fact::Loosened { operation, fastener, replaced, reason } => {
                self.enter_loosened(operation, fastener, *replaced, reason, stamp)
            }
            Fact::Voided { seq, reason } => {
                self.void(*seq, Voided { stamp, reason: reason.clone() });
                None
            }
            Fact::Accepted { seq, subject, reason } => {
                self.accept(*seq, subject.as_deref(), Voided { stamp, reason: reason.clone() });
                None
            }
            Fact::Signed { operation } => {
                let (at, _) = self.plan.operation(operation)?;
                self.operations[at].signed = Some(stamp);
                Some(Entry::Signature(at))
            }
        }
    }

    pub(super) fn entry(&self, seq: u64) -> Option<Entry> {
        self.entries.get(usize::try_from(seq).ok()?.checked_sub(1)?).copied()
    }

    /// A signature does not cover what is recorded after it.
    pub(super) fn lapse(&mut self, operation: usize) {
        let state = &mut self.operations[operation];
        state.skipped = None;
        state.lapsed.extend(state.signed.take());
    }

    fn void(&mut self, seq: u64, voided: Voided) -> Option<()> {
        let entry = self.entry(seq)?;
        let voided = Some(voided);
        match entry {
            Entry::Pull(at, i) => {
                let fastener = self.operations[at].tightening.pulls[i].fastener;
                self.operations[at].tightening.pulls[i].voided = voided;
                self.recount(at, fastener);
            }
            Entry::Loosening(at, i) => {
                let fastener = self.operations[at].tightening.loosenings[i].fastener;
                self.operations[at].tightening.loosenings[i].voided = voided;
                self.recount(at, fastener);
            }
            Entry::Action(at, i) => {
                self.lapse(at);
                self.operations[at].tightening.actions[i].voided = voided;
            }
            Entry::Confirmation(at, i) => {
                self.lapse(at);
                self.operations[at].confirmed[i].voided = voided;
            }
            Entry::Measured(i) => {
                self.lapse(self.measured[i].operation);
                self.measured[i].voided = voided;
                self.count_again(self.measured[i].site, self.measured[i].place);
            }
            Entry::Turn(at, i) => {
                self.lapse(at);
                self.operations[at].turned[i].voided = voided;
            }
            Entry::Counted(at, i) => {
                self.lapse(at);
                self.operations[at].counted[i].voided = voided;
            }
            Entry::Part(i) => {
                self.lapse(self.parts[i].operation);
                self.parts[i].voided = voided;
            }
            Entry::Signature(at) => self.lapse(at),
            Entry::Fixed => {}
        }
        Some(())
    }

    /// Why an entry does not count, where it is one that can be voided; a signature has no such
    /// word of its own, it lapses.
    pub(super) fn voided(&self, entry: Entry) -> Option<&Voided> {
        match entry {
            Entry::Pull(at, i) => self.operations[at].tightening.pulls[i].voided.as_ref(),
            Entry::Loosening(at, i) => self.operations[at].tightening.loosenings[i].voided.as_ref(),
            Entry::Action(at, i) => self.operations[at].tightening.actions[i].voided.as_ref(),
            Entry::Confirmation(at, i) => self.operations[at].confirmed[i].voided.as_ref(),
            Entry::Measured(i) => self.measured[i].voided.as_ref(),
            Entry::Turn(at, i) => self.operations[at].turned[i].voided.as_ref(),
            Entry::Counted(at, i) => self.operations[at].counted[i].voided.as_ref(),
            Entry::Part(i) => self.parts[i].voided.as_ref(),
            Entry::Signature(_) | Entry::Fixed => None,
        }
    }

    fn accept(&mut self, seq: u64, subject: Option<&str>, accepted: Voided) {
        if let Some(subject) = subject {
            self.accepted.insert(subject.to_owned(), (seq, accepted));
            return;
        }
        let accepted = Some(accepted);
        match self.entry(seq) {
            Some(Entry::Pull(at, i)) => self.operations[at].tightening.pulls[i].accepted = accepted,
            Some(Entry::Measured(i)) => self.measured[i].accepted = accepted,
            Some(Entry::Counted(at, i)) => self.operations[at].counted[i].accepted = accepted,
            Some(Entry::Part(i)) => self.parts[i].accepted = accepted,
            _ => {}
        }
    }
}
