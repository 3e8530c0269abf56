//! What is to be done again since something happened (C-40).

use crate::invalidation::unsettle::Invalidation;
use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use rigore_plan::{OperationIx, OperationWork};

impl BuildState {
    /// Why something in an operation is to be done again, where it is.
    pub(crate) fn rework_reasons(&self, at: OperationIx) -> Vec<String> {
        let here = |thing: EntryTopic| match (thing, &self.plan[at].work) {
            (EntryTopic::Place(site, _), OperationWork::Measure(sites)) => sites.contains(&site),
            (EntryTopic::Item(of, _) | EntryTopic::Turn(of), _) => of == at,
            _ => false,
        };
        let open = |of: &&Invalidation| {
            let by = match of.thing {
                EntryTopic::Place(site, place) => self.sizes().unsettled((site, place), self.ledger()),
                EntryTopic::Item(at, item) => self.confirmed().unsettled((at, item), self.ledger()),
                EntryTopic::Turn(at) => self.turns().unsettled(at, self.ledger()),
                _ => None,
            };
            here(of.thing) && by == Some(of.by)
        };
        let mut why: Vec<String> =
            self.invalidations().all().filter(open).map(|of| of.why.in_base_units()).collect();
        why.dedup();
        why
    }
}
