//! Hardware, counted out before the work and back after it (C-6).

pub mod bench;
pub mod commands;
mod issues;
pub mod state;

use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};
use rigore_plan::{self, OperationIx};

/// The hardware of one operation.
pub(crate) struct CountWork<'a> {
    pub state: &'a BuildState,
    pub at: OperationIx,
    pub planned: &'a rigore_plan::HardwareCounting,
}

impl WorkKind for CountWork<'_> {
    fn total(&self) -> usize {
        self.planned.hardware.len()
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        let lines = self.planned.hardware.iter().enumerate();
        let open = lines.filter(|(line, _)| self.state.counts().latest((self.at, *line)).is_none());
        let back = self.planned.back_of.is_some();
        Box::new(open.map(move |(_, line)| BenchStep::Count(bench::step(line, back))))
    }

    fn issues(&self) -> Vec<Issue> {
        issues::issues(self.state, self.at, bench::counts(self.state, self.at, self.planned))
    }

    fn bench(&self, _tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Count { counts: bench::counts(self.state, self.at, self.planned) }
    }

    fn section(&self) -> SheetWork {
        SheetWork::Count { counts: bench::counts(self.state, self.at, self.planned) }
    }
}
