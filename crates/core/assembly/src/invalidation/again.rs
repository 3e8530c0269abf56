//! What is to be done again since something happened (C-40).

use crate::invalidation::unsettle::Unsettled;
use crate::state::State;
use crate::state::thing::Thing;
use rigore_plan::{OperationIx, Work};

impl State {
    /// What rested on something that happened does not hold any more (C-40).
    pub(crate) fn unsettle(&mut self, unsettled: Vec<Unsettled>, moved: &mut Vec<OperationIx>) {
        for of in unsettled {
            let held = match of.thing {
                Thing::Place(site, place) => self.sizes.readings.unsettle(of.by, (site, place)),
                Thing::Item(at, item) => self.confirmed.unsettle(of.by, (at, item)),
                Thing::Turn(at) => self.turns.unsettle(of.by, at),
                _ => false,
            };
            if held {
                self.touch(of.thing, of.by, None, moved);
            }
            self.unsettled.push(of);
        }
    }

    /// Why something in an operation is to be done again, where it is.
    pub(crate) fn again(&self, at: OperationIx) -> Vec<String> {
        let here = |thing: Thing| match (thing, &self.plan[at].work) {
            (Thing::Place(site, _), Work::Measure(sites)) => sites.contains(&site),
            (Thing::Item(of, _) | Thing::Turn(of), _) => of == at,
            _ => false,
        };
        let open = |of: &&Unsettled| {
            let by = match of.thing {
                Thing::Place(site, place) => self.sizes.readings.unsettled((site, place), &self.ledger),
                Thing::Item(at, item) => self.confirmed.unsettled((at, item), &self.ledger),
                Thing::Turn(at) => self.turns.unsettled(at, &self.ledger),
                _ => None,
            };
            here(of.thing) && by == Some(of.by)
        };
        let mut why: Vec<String> = self.unsettled.iter().filter(open).map(|of| of.why.clone()).collect();
        why.dedup();
        why
    }
}
