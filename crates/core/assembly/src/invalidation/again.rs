//! What is to be done again since something happened (C-40).

use crate::invalidation::unsettle::Invalidation;
use crate::state::BuildState;
use crate::state::thing::EntryTopic;
use rigore_plan::{OperationIx, OperationWork};

impl BuildState {
    /// What rested on something that happened does not hold any more (C-40).
    pub(crate) fn invalidate(&mut self, unsettled: Vec<Invalidation>, moved: &mut Vec<OperationIx>) {
        for of in unsettled {
            let held = match of.thing {
                EntryTopic::Place(site, place) => self.sizes.readings.unsettle(of.by, (site, place)),
                EntryTopic::Item(at, item) => self.confirmed.unsettle(of.by, (at, item)),
                EntryTopic::Turn(at) => self.turns.unsettle(of.by, at),
                _ => false,
            };
            if held {
                self.lapse_resting_on(of.thing, of.by, None, moved);
            }
            self.unsettled.push(of);
        }
    }

    /// Why something in an operation is to be done again, where it is.
    pub(crate) fn rework_reasons(&self, at: OperationIx) -> Vec<String> {
        let here = |thing: EntryTopic| match (thing, &self.plan[at].work) {
            (EntryTopic::Place(site, _), OperationWork::Measure(sites)) => sites.contains(&site),
            (EntryTopic::Item(of, _) | EntryTopic::Turn(of), _) => of == at,
            _ => false,
        };
        let open = |of: &&Invalidation| {
            let by = match of.thing {
                EntryTopic::Place(site, place) => self.sizes.readings.unsettled((site, place), &self.ledger),
                EntryTopic::Item(at, item) => self.confirmed.unsettled((at, item), &self.ledger),
                EntryTopic::Turn(at) => self.turns.unsettled(at, &self.ledger),
                _ => None,
            };
            here(of.thing) && by == Some(of.by)
        };
        let mut why: Vec<String> = self.unsettled.iter().filter(open).map(|of| of.why.clone()).collect();
        why.dedup();
        why
    }
}
