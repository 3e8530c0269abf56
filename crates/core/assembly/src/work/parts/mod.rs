//! The parts an engine is made of, each in its slot of the plan.

pub mod bench;
pub mod commands;
mod issues;
pub mod state;

use crate::instruments::fit::Tools;
use crate::state::State;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};
use rigore_plan::{OperationIx, SlotIx};

/// The slots of one operation.
pub(crate) struct TakingIn<'a> {
    pub state: &'a State,
    pub at: OperationIx,
    pub slots: &'a [SlotIx],
}

impl Kind for TakingIn<'_> {
    fn total(&self) -> usize {
        self.slots.len()
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        let open = self.slots.iter().filter(|slot| self.state.parts.latest(**slot).is_none());
        Box::new(open.map(|slot| Step::Fit(bench::step(&self.state.plan[*slot]))))
    }

    fn matters(&self) -> Vec<Matter> {
        issues::matters(self.state, self.at, self.slots)
    }

    fn bench(&self, _tools: Tools<'_>) -> BenchWork {
        BenchWork::Parts { slots: self.state.slots(Some(self.at)) }
    }

    fn section(&self) -> SectionWork {
        SectionWork::Parts { parts: self.state.slots(Some(self.at)) }
    }
}
