//! Something happened after which other things do not hold any more (C-40).

use crate::invalidation::unsettle::Invalidation;
use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use rigore_plan::OperationIx;

impl BuildState {
    /// What rested on something that happened does not hold any more (C-40).
    pub(super) fn invalidate(&mut self, unsettled: Vec<Invalidation>, moved: &mut Vec<OperationIx>) {
        for of in unsettled {
            let held = match of.thing {
                EntryTopic::Place(site, place) => self.sizes.unsettle(of.by, (site, place)),
                EntryTopic::Item(at, item) => self.confirmed.unsettle(of.by, (at, item)),
                EntryTopic::Turn(at) => self.turns.unsettle(of.by, at),
                _ => false,
            };
            if held {
                self.lapse_resting_on(of.thing, of.by, None, moved);
            }
            self.invalidations.push(of);
        }
    }
}
