//! What a pull, an action and a loosening do to the state.

use super::super::event::{Instrument, Method, Reading};
use super::super::instrument::Need;
use super::super::state::{Confirmation, Entry, Stamp, State, shared};
use super::super::step::describe;
use super::{Loosening, Open, Pull, Remark, TighteningState};
use crate::plan::Joint;
use crate::tightening::Verdict;
use std::sync::Arc;

impl State {
    pub(in crate::build) fn enter_pulled(
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
        let fault = instrument.fault(&Need::Pull(planned), stamp.at);
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

    pub(in crate::build) fn enter_acted(
        &mut self,
        operation: &str,
        stage: usize,
        stamp: Stamp,
    ) -> Option<Entry> {
        let plan = Arc::clone(&self.plan);
        let (at, joint) = plan.joint_of(operation)?;
        joint.stages.get(stage)?;
        self.lapse(at);
        let actions = &mut self.operations[at].tightening.actions;
        actions.push(Confirmation { index: stage, stamp, voided: None });
        Some(Entry::Action(at, actions.len() - 1))
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

    pub(in crate::build) fn enter_loosened(
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

    pub(in crate::build) fn recount(&mut self, operation: usize, fastener: usize) {
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
