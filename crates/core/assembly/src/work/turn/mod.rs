//! Turning the crankshaft (C-33).

pub mod bench;
pub mod commands;
mod issues;
pub mod state;

use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};
use rigore_plan::{self, OperationIx};

/// One turning check.
pub(crate) struct TurnWork<'a> {
    pub state: &'a BuildState,
    pub at: OperationIx,
    pub planned: &'a rigore_plan::TurningCheck,
}

impl WorkKind for TurnWork<'_> {
    fn total(&self) -> usize {
        1
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        Box::new(self.state.turns().latest(self.at).is_none().then_some(BenchStep::Turn).into_iter())
    }

    fn issues(&self) -> Vec<Issue> {
        issues::issue(self.state, self.at, self.planned).into_iter().collect()
    }

    fn bench(&self, _tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Turn(bench::bench(self.state, self.planned))
    }

    fn section(&self) -> SheetWork {
        let of_it = bench::turns(self.state).filter(|turn| turn.operation == self.state.plan[self.at].id);
        SheetWork::Turn { turns: of_it.collect() }
    }
}
