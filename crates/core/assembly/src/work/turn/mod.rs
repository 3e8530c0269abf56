//! Turning the crankshaft (C-33).

pub mod bench;
pub mod commands;
mod issues;
pub mod state;

use crate::instruments::fit::Tools;
use crate::state::State;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};
use rigore_plan::{self, OperationIx};

/// One turning check.
pub(crate) struct Turning<'a> {
    pub state: &'a State,
    pub at: OperationIx,
    pub planned: &'a rigore_plan::Turning,
}

impl Kind for Turning<'_> {
    fn total(&self) -> usize {
        1
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        Box::new(self.state.turns.latest(self.at).is_none().then_some(Step::Turn).into_iter())
    }

    fn matters(&self) -> Vec<Matter> {
        issues::matter(self.state, self.at, self.planned).into_iter().collect()
    }

    fn bench(&self, _tools: Tools<'_>) -> BenchWork {
        BenchWork::Turn(bench::bench(self.state, self.planned))
    }

    fn section(&self) -> SectionWork {
        let of_it = bench::turns(self.state).filter(|turn| turn.operation == self.state.plan[self.at].id);
        SectionWork::Turn { turns: of_it.collect() }
    }
}
