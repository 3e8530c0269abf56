//! The parts an engine is made of, each in its slot of the plan.

pub mod bench;
pub mod commands;
mod issues;
pub mod state;

use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};
use rigore_plan::{OperationIx, SlotIx};

/// The slots of one operation.
pub(crate) struct PartsWork<'a> {
    pub state: &'a BuildState,
    pub at: OperationIx,
    pub slots: &'a [SlotIx],
}

impl WorkKind for PartsWork<'_> {
    fn total(&self) -> usize {
        self.slots.len()
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        let open = self.slots.iter().filter(|slot| self.state.parts().latest(**slot).is_none());
        Box::new(open.map(|slot| BenchStep::Fit(bench::step(&self.state.plan[*slot]))))
    }

    fn issues(&self) -> Vec<Issue> {
        issues::issues(self.state, self.at, self.slots)
    }

    fn bench(&self, _tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Parts { slots: self.state.slots(Some(self.at)) }
    }

    fn section(&self) -> SheetWork {
        SheetWork::Parts { parts: self.state.slots(Some(self.at)) }
    }
}
