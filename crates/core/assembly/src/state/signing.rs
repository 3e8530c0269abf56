//! Signatures: what they cover, what ends them, and how they are taken back.

use crate::events::{EntryStamp, PlanMoveEntry, SignCommand};
use crate::signatures::records::Signature;
use crate::state::BuildState;
use crate::state::entry_topic::{EntryTopic, FindingTopic};
use rigore_plan::OperationIx;

impl BuildState {
    /// Puts a signature under an operation.
    pub(super) fn sign(
        &mut self,
        at: OperationIx,
        stamp: &EntryStamp,
        left_out: Option<String>,
        with: Vec<OperationIx>,
    ) -> EntryTopic {
        let signature = Signature { stamp: stamp.clone(), left_out, with, lapsed: None };
        self.operations.sign(at, signature);
        EntryTopic::Signature(at)
    }

    /// The other operations that a signature covers.
    pub(super) fn also(&self, sign: &SignCommand) -> Vec<OperationIx> {
        sign.also.iter().filter_map(|id| self.plan.operation(id)).collect()
    }

    /// Puts a signature under the other operations that it covers.
    pub(super) fn sign_also(&mut self, sign: &SignCommand, stamp: &EntryStamp, moved: &mut Vec<OperationIx>) {
        let also = self.also(sign);
        let all: Vec<OperationIx> =
            self.plan.operation(&sign.operation).into_iter().chain(also.iter().copied()).collect();
        for at in also {
            let with = all.iter().copied().filter(|other| *other != at).collect();
            let thing = self.sign(at, stamp, None, with);
            moved.push(at);
            self.lapse_resting_on(thing, stamp.seq, None, moved);
        }
    }

    /// Something was touched: signatures that rest on it lapse. Adds the operations it may have moved.
    pub(super) fn lapse_resting_on(
        &mut self,
        thing: EntryTopic,
        seq: u64,
        recorded_in: Option<OperationIx>,
        moved: &mut Vec<OperationIx>,
    ) {
        for at in self.cover.resting_on(thing) {
            moved.push(at);
            self.lapse(at, seq, recorded_in == Some(at), moved);
        }
        if let EntryTopic::Finding(about) = thing {
            self.touch_found(about, seq, moved);
        }
        moved.extend(self.cover.seen_in(thing));
    }

    /// A finding holds the first operation on what it is about that is not signed; where all are, the signature
    /// under the last one ends.
    fn touch_found(&mut self, about: FindingTopic, seq: u64, moved: &mut Vec<OperationIx>) {
        let concerned = self.concerned(about);
        let signed = |at: &OperationIx| self.operations.signed(*at).is_some();
        if let Some(last) = concerned.last().filter(|_| concerned.iter().all(signed)) {
            self.lapse(*last, seq, true, moved);
        }
        moved.extend(concerned);
    }

    /// The operations on what a finding is about.
    pub(crate) fn concerned(&self, about: FindingTopic) -> Vec<OperationIx> {
        self.cover.concerned(about)
    }

    /// The engine goes on by another version of its plan: a signature does not cover what that asks for besides.
    pub(super) fn move_to_version(
        &mut self,
        fact: &PlanMoveEntry,
        stamp: EntryStamp,
        moved: &mut Vec<OperationIx>,
    ) {
        let seq = stamp.seq;
        self.plan_ref = fact.plan.clone();
        self.moves.push((stamp, fact.clone()));
        let incomplete = |at: &OperationIx| {
            let (done, total) = self.progress(*at);
            self.operations.signed(*at).is_some_and(|of| of.left_out.is_none()) && done < total
        };
        let lapse: Vec<OperationIx> = self.plan.line().filter(incomplete).collect();
        for at in lapse {
            self.lapse(at, seq, true, moved);
            moved.push(at);
        }
    }

    /// A signature does not cover what is recorded after it.
    fn lapse(&mut self, at: OperationIx, seq: u64, worked_on: bool, moved: &mut Vec<OperationIx>) {
        if self.operations.lapse(at, seq, worked_on) {
            self.lapse_resting_on(EntryTopic::Signature(at), seq, None, moved);
        }
    }

    /// A signature is taken back, under everything that it covers.
    pub(super) fn take_back(&mut self, at: OperationIx, (seq, by): (u64, u64), moved: &mut Vec<OperationIx>) {
        let also = self.operations.take_back(at, seq, by);
        moved.extend(also.iter().copied().chain([at]));
        for other in also {
            self.lapse_resting_on(EntryTopic::Signature(other), by, None, moved);
        }
    }
}
