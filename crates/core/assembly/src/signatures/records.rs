//! What was recorded of each operation beside its work: when it began, its last entry, the signatures under it.

use crate::events::EntryStamp;
use rigore_plan::OperationIx;

/// A signature under an operation, or the word that leaves it out.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Signature {
    /// Who and when.
    pub stamp: EntryStamp,
    /// Why the operation was left out, where this leaves it out.
    pub left_out: Option<String>,
    /// Other operations that it covers.
    pub with: Vec<OperationIx>,
    /// The entry that it does not cover any more, where there is one.
    pub lapsed: Option<u64>,
}

/// One operation.
#[derive(Debug, Clone, Default)]
struct OperationRecord {
    started: Option<EntryStamp>,
    last: Option<u64>,
    signatures: Vec<Signature>,
}

/// Every operation of an engine, by its place in the plan.
#[derive(Debug, Clone)]
pub(crate) struct OperationRecords(Vec<OperationRecord>);

impl OperationRecords {
    /// Those of an engine that nothing was done on.
    pub fn new(operations: usize) -> Self {
        Self(vec![OperationRecord::default(); operations])
    }

    /// Work begins; what began before stays.
    pub fn start(&mut self, at: OperationIx, stamp: &EntryStamp) {
        self.0[at.0].started.get_or_insert_with(|| stamp.clone());
    }

    /// An entry was made in it.
    pub fn touch(&mut self, at: OperationIx, seq: u64) {
        self.0[at.0].last = Some(seq);
    }

    /// Puts a signature under it.
    pub fn sign(&mut self, at: OperationIx, signature: Signature) {
        self.0[at.0].signatures.push(signature);
    }

    /// The signature under it does not cover what an entry records; whether one stood until now. The word that leaves
    /// an operation out stands until it is worked on after all.
    pub fn lapse(&mut self, at: OperationIx, seq: u64, worked_on: bool) -> bool {
        let standing = self.0[at.0].signatures.last_mut().filter(|signature| signature.lapsed.is_none());
        let lapsing = standing.filter(|signature| signature.left_out.is_none() || worked_on);
        lapsing.map(|signature| signature.lapsed = Some(seq)).is_some()
    }

    /// The signature that an entry put under operations is taken back by another entry, under all of them; gives
    /// the others that it covered.
    pub fn take_back(&mut self, at: OperationIx, seq: u64, by: u64) -> Vec<OperationIx> {
        let signature = self.0[at.0].signatures.iter().find(|of| of.stamp.seq == seq);
        let also = signature.map(|signature| signature.with.clone()).unwrap_or_default();
        for other in also.iter().chain([&at]) {
            let mut signatures = self.0[other.0].signatures.iter_mut();
            if let Some(signature) = signatures.find(|signature| signature.stamp.seq == seq) {
                signature.lapsed.get_or_insert(by);
            }
        }
        also
    }

    /// When work in it began.
    pub fn started(&self, at: OperationIx) -> Option<&EntryStamp> {
        self.0[at.0].started.as_ref()
    }

    /// Whether work in any of them began.
    pub fn is_any_started(&self) -> bool {
        self.0.iter().any(|operation| operation.started.is_some())
    }

    /// The last entry that was made in it.
    pub fn last(&self, at: OperationIx) -> Option<u64> {
        self.0[at.0].last
    }

    /// Every signature under it, in the order they came.
    pub fn signatures(&self, at: OperationIx) -> &[Signature] {
        &self.0[at.0].signatures
    }

    /// The signature that stands.
    pub fn signed(&self, at: OperationIx) -> Option<&Signature> {
        self.0[at.0].signatures.last().filter(|signature| signature.lapsed.is_none())
    }

    /// Whether it was left out.
    pub fn is_left_out(&self, at: OperationIx) -> bool {
        self.signed(at).is_some_and(|signature| signature.left_out.is_some())
    }
}
