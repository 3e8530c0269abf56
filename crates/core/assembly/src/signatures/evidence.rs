//! What a lead stands for rests on entries: which ones, as they count now.
//!
//! A lead's word holds as long as nothing counts that was not there when it was given.

use crate::events::ApprovalSubject;
use crate::work::measure::state::SizeReadings;
use crate::work::turn::state::{TurnReadings, before};
use rigore_plan::{OperationWork, Plan};
use std::collections::BTreeSet;

/// What the basis of a subject is looked up in.
pub(crate) struct EvidenceSources<'a> {
    pub plan: &'a Plan,
    pub sizes: &'a SizeReadings,
    pub turns: &'a TurnReadings,
}

impl EvidenceSources<'_> {
    /// The entries that a subject rests on now. The word that leaves an operation out is an entry of
    /// its own and is given by `left_out`.
    pub fn basis(
        &self,
        subject: &ApprovalSubject,
        left_out: impl FnOnce(&str) -> Option<u64>,
    ) -> BTreeSet<u64> {
        match subject {
            ApprovalSubject::Clearance { clearance, number } => self.clearance(clearance, *number),
            ApprovalSubject::Instrument { operation, instrument, fault } => {
                let Some(at) = self.plan.operation(operation) else { return BTreeSet::new() };
                let OperationWork::Measure(sites) = &self.plan[at].work else { return BTreeSet::new() };
                let readings = sites.iter().flat_map(|site| self.sizes.readings_on(self.plan, *site));
                let unfit = readings.filter(|reading| {
                    let unfit = reading.value.unfit.as_ref();
                    reading.value.operation == at
                        && reading.value.instrument.id == *instrument
                        && unfit.is_some_and(|unfit| unfit.fault == *fault)
                });
                unfit.map(|reading| reading.seq).collect()
            }
            ApprovalSubject::Turning { operation } => {
                let Some(at) = self.plan.operation(operation) else { return BTreeSet::new() };
                let turns = self.turns.latest(at).into_iter().chain(before(self.turns, at));
                turns.map(|turn| turn.seq).collect()
            }
            ApprovalSubject::LeftOut { operation } => left_out(operation).into_iter().collect(),
            // That is looked up in the joints, and in the entries of an instrument.
            ApprovalSubject::Otherwise { .. }
            | ApprovalSubject::OutOfOrder { .. }
            | ApprovalSubject::Doubted { .. }
            | ApprovalSubject::Written(_) => BTreeSet::new(),
        }
    }

    fn clearance(&self, clearance: &str, number: usize) -> BTreeSet<u64> {
        let Some(at) = self.plan.clearance(clearance) else { return BTreeSet::new() };
        let member = number.saturating_sub(1);
        let sites = self.plan[at].rests_on().filter_map(|family| self.plan.member(family, member));
        let readings = sites.flat_map(|site| self.sizes.readings_on(self.plan, site));
        let shells = self.sizes.shells((at, member));
        readings.map(|reading| reading.seq).chain(shells.map(|chosen| chosen.seq)).collect()
    }
}
