//! Applying an event to the state. Any list of events folds without a panic: what an event
//! names and the plan does not have is passed over.

use super::event::{Event, Fact, Instrument, Method, Reading};
use super::measuring::{Measured, Shells};
use super::state::{Confirmation, Entry, Stamp, State, Turned, Voided, shared};
use super::step::describe;
use super::tightening::{Loosening, Open, Pull, Remark, TighteningState, instrument_fault};
use crate::clearance::to_reference_temperature;
use crate::plan::{Joint, Plan, Work};
use crate::tightening::Verdict;
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
            Fact::Begun { name, plan, use_for, owner } => {
                self.use_for.clone_from(use_for);
                self.owner.clone_from(owner);
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
            Fact::Measured { .. } => self.measure(fact, stamp),
            Fact::ShellsChosen { operation, clearance, number, upper, lower } => {
                let (at, _) = self.plan.operation(operation)?;
                self.lapse(at);
                let shells = Shells { upper: upper.clone(), lower: lower.clone() };
                self.shells.insert((clearance.clone(), *number), shells);
                None
            }
            Fact::Turned { operation, free, torque_nm } => {
                let (at, _) = self.plan.operation(operation)?;
                self.lapse(at);
                let turned = &mut self.operations[at].turned;
                turned.push(Turned { stamp, free: *free, torque_nm: *torque_nm, voided: None });
                Some(Entry::Turn(at, turned.len() - 1))
            }
            Fact::Skipped { operation, reason } => {
                let (at, _) = self.plan.operation(operation)?;
                self.operations[at].skipped = Some(Voided { stamp: stamp.clone(), reason: reason.clone() });
                self.operations[at].signed = Some(stamp);
                Some(Entry::Signature(at))
            }
            Fact::Confirmed { operation, item } => self.confirm(operation, item, stamp),
            Fact::Pulled { operation, stage, fastener, reading, method, instrument } => {
                self.pull(operation, *stage, fastener, reading, (*method, instrument), stamp)
            }
            Fact::Acted { operation, stage } => {
                let plan = Arc::clone(&self.plan);
                let (at, joint) = plan.joint_of(operation)?;
                joint.stages.get(*stage)?;
                self.lapse(at);
                let actions = &mut self.operations[at].tightening.actions;
                actions.push(Confirmation { index: *stage, stamp, voided: None });
                Some(Entry::Action(at, actions.len() - 1))
            }
            Fact::Loosened { operation, fastener, replaced, reason } => {
                self.loosen(operation, fastener, *replaced, reason, stamp)
            }
            Fact::Voided { seq, reason } => {
                self.void(*seq, Voided { stamp, reason: reason.clone() });
                None
            }
            Fact::Accepted { seq, reason } => {
                let accepted = Some(Voided { stamp, reason: reason.clone() });
                match self.entry(*seq)? {
                    Entry::Pull(at, pull) => self.operations[at].tightening.pulls[pull].accepted = accepted,
                    Entry::Measured(at) => self.measured[at].accepted = accepted,
                    _ => {}
                }
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
    fn lapse(&mut self, operation: usize) {
        let state = &mut self.operations[operation];
        state.skipped = None;
        state.lapsed.extend(state.signed.take());
    }

    fn confirm(&mut self, operation: &str, item: &str, stamp: Stamp) -> Option<Entry> {
        let plan = Arc::clone(&self.plan);
        let (at, planned) = plan.operation(operation)?;
        let Work::Items { items } = &planned.work else { return None };
        let index = items.iter().position(|planned| planned.id == item)?;
        let confirmed = &mut self.operations[at].confirmed;
        confirmed.push(Confirmation { index, stamp, voided: None });
        Some(Entry::Confirmation(at, confirmed.len() - 1))
    }

    fn measure(&mut self, fact: &Fact, stamp: Stamp) -> Option<Entry> {
        let Fact::Measured {
            operation,
            site,
            place,
            read_mm,
            temperature_c,
            entered,
            unlikely,
            method,
            instrument,
        } = fact
        else {
            return None;
        };
        let (operation, _) = self.plan.operation(operation)?;
        let (site, planned) = self.plan.site(site)?;
        let latest = self.latest.get_mut(site)?.get_mut(*place)?;
        let correct = |t: &f64| to_reference_temperature(*read_mm, *t, planned.expansion_per_k);
        *latest = Some(self.measured.len());
        self.measured.push(Measured {
            stamp,
            operation,
            site,
            place: *place,
            read_mm: *read_mm,
            value_mm: temperature_c.as_ref().map_or(*read_mm, correct),
            temperature_c: *temperature_c,
            entered: entered.clone(),
            unlikely: *unlikely,
            method: *method,
            instrument: shared(&mut self.instruments, instrument),
            voided: None,
            accepted: None,
        });
        self.lapse(operation);
        Some(Entry::Measured(self.measured.len() - 1))
    }

    fn pull(
        &mut self,
        operation: &str,
        stage: usize,
        fastener: &str,
        reading: &Reading,
        (method, instrument): (Method, &Instrument),
        stamp: Stamp,
    ) -> Option<Entry> {
        let plan = Arc::clone(&self.plan);
        let (at, joint) = plan.joint_of(operation)?;
        let planned = joint.stages.get(stage)?;
        let band = planned.band()?;
        let value = TighteningState::value(planned, reading)?;
        let index = self.operations[at].tightening.fastener(fastener)?;
        let mut remarks = self.order_remarks(at, joint, stage, index);
        let fault = instrument_fault(instrument, planned, stamp.at);
        remarks.extend(fault.map(|fault| Remark::Instrument { fault }));
        self.lapse(at);
        let instrument = shared(&mut self.instruments, instrument);
        let state = &mut self.operations[at].tightening;
        let seq = stamp.seq;
        state.count(joint, stage, index, reading, seq);
        let total = if planned.is_angle() { state.standing(stage, index).value } else { value };
        let pull = state.add(Pull {
            stamp,
            stage,
            fastener: index,
            reading: reading.clone(),
            method,
            instrument,
            value: total,
            verdict: band.judge(total),
            remarks,
            voided: None,
            accepted: None,
        });
        Some(Entry::Pull(at, pull))
    }

    /// How a pull stands to what was next.
    fn order_remarks(&self, operation: usize, joint: &Joint, stage: usize, fastener: usize) -> Vec<Remark> {
        let mut remarks = Vec::new();
        if self.operations[operation].started.is_none() {
            remarks.push(Remark::NotStarted);
        }
        let state = &self.operations[operation].tightening;
        let untouched = state.standing(stage, fastener).pulls == 0;
        match state.open(joint).next() {
            Some(Open::Pull { stage: now, fastener: next, .. }) if (now, next) == (stage, fastener) => {}
            Some(Open::Pull { stage: now, fastener: next, .. }) if now == stage && untouched => {
                remarks.push(Remark::OutOfOrder { expected: state.fasteners[next].clone() });
            }
            Some(open) if untouched => {
                let first = describe(joint, state, open).map(|step| step.line()).unwrap_or_default();
                remarks.push(Remark::Early { first });
            }
            _ => remarks.push(Remark::Repeated),
        }
        remarks
    }

    fn loosen(
        &mut self,
        operation: &str,
        fastener: &str,
        replaced: bool,
        reason: &str,
        stamp: Stamp,
    ) -> Option<Entry> {
        let plan = Arc::clone(&self.plan);
        let (at, joint) = plan.joint_of(operation)?;
        let index = self.operations[at].tightening.fastener(fastener)?;
        let state = &self.operations[at].tightening;
        let of_it = |pull: &&Pull| pull.fastener == index && state.stands(pull);
        let spent = state.pulls.iter().filter(of_it).any(|pull| self.must_replace(joint, pull));
        let owed = state.loosenings.iter().rev().find(|l| l.fastener == index && l.voided.is_none());
        let must_replace = spent || owed.is_some_and(|l| l.must_replace && !l.replaced);
        self.lapse(at);
        let state = &mut self.operations[at].tightening;
        let reason = reason.to_owned();
        state.loosenings.push(Loosening {
            stamp,
            fastener: index,
            replaced,
            must_replace,
            reason,
            voided: None,
        });
        state.recount(joint, index);
        Some(Entry::Loosening(at, state.loosenings.len() - 1))
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
                let Measured { operation, site, place, .. } = self.measured[i];
                self.lapse(operation);
                self.measured[i].voided = voided;
                let counts = |m: &Measured| m.site == site && m.place == place && m.voided.is_none();
                self.latest[site][place] = self.measured.iter().rposition(counts);
            }
            Entry::Turn(at, i) => {
                self.lapse(at);
                self.operations[at].turned[i].voided = voided;
            }
            Entry::Signature(at) => self.lapse(at),
            Entry::Fixed => {}
        }
        Some(())
    }

    fn recount(&mut self, operation: usize, fastener: usize) {
        self.lapse(operation);
        let plan = Arc::clone(&self.plan);
        if let Some((_, joint)) = plan.joint_of(&plan.operations[operation].id) {
            self.operations[operation].tightening.recount(joint, fastener);
            self.rejudge(operation, fastener, joint);
        }
    }

    /// Judges the swings of a fastener again after one of them was voided: their sum changed.
    fn rejudge(&mut self, operation: usize, fastener: usize, joint: &Joint) {
        let state = &mut self.operations[operation].tightening;
        let since = state.loosened_at(fastener);
        let mut sums = vec![0.0; joint.stages.len()];
        let swings = state.pulls.iter_mut().filter(|pull| {
            pull.fastener == fastener && pull.voided.is_none() && joint.stages[pull.stage].is_angle()
        });
        for pull in swings.filter(|pull| pull.stamp.seq > since) {
            sums[pull.stage] += pull.reading.angle_deg.unwrap_or(0.0);
            pull.value = sums[pull.stage];
            pull.verdict =
                joint.stages[pull.stage].band().map_or(Verdict::Good, |band| band.judge(pull.value));
        }
        state.suspect_again();
    }
}
