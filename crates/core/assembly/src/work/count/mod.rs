//! Hardware, counted out before the work and back after it (C-6).

pub mod bench;
pub mod commands;
mod issues;
pub mod state;

use crate::instruments::fit::Tools;
use crate::state::State;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};
use rigore_plan::{self, OperationIx};

/// The hardware of one operation.
pub(crate) struct Counting<'a> {
    pub state: &'a State,
    pub at: OperationIx,
    pub planned: &'a rigore_plan::Counting,
}

impl Kind for Counting<'_> {
    fn total(&self) -> usize {
        self.planned.hardware.len()
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        let lines = self.planned.hardware.iter().enumerate();
        let open = lines.filter(|(line, _)| self.state.counts.latest((self.at, *line)).is_none());
        let back = self.planned.back_of.is_some();
        Box::new(open.map(move |(_, line)| Step::Count(bench::step(line, back))))
    }

    fn matters(&self) -> Vec<Matter> {
        issues::matters(self.state, self.at, bench::counts(self.state, self.at, self.planned))
    }

    fn bench(&self, _tools: Tools<'_>) -> BenchWork {
        BenchWork::Count { counts: bench::counts(self.state, self.at, self.planned) }
    }

    fn section(&self) -> SectionWork {
        SectionWork::Count { counts: bench::counts(self.state, self.at, self.planned) }
    }
}
