//! Measuring: readings of sites, the clearances that follow from them, and graded shells.

pub mod bench;
pub mod clearances;
pub mod commands;
mod figure;
pub mod imported;
mod issues;
pub mod sheet;
pub mod state;
mod strip;
mod sure;

use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};
use rigore_plan::{OperationIx, SiteIx};

/// The sites of one operation.
pub(crate) struct MeasureWork<'a> {
    pub state: &'a BuildState,
    pub at: OperationIx,
    pub sites: &'a [SiteIx],
}

impl WorkKind for MeasureWork<'_> {
    fn total(&self) -> usize {
        let plan = &self.state.plan;
        let places: usize = self.sites.iter().map(|site| plan[*site].places.len()).sum();
        let graded = self.state.judged_in(self.at).filter(|(of, _)| !plan[*of].shells.is_empty());
        places + graded.count()
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        let places = bench::open_places(self.state, self.at, self.sites).map(BenchStep::Measure);
        Box::new(places.chain(bench::open_shells(self.state, self.at).map(BenchStep::Shells)))
    }

    fn issues(&self) -> Vec<Issue> {
        issues::issues(self.state, self.at)
    }

    fn bench(&self, tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Measure(Box::new(bench::bench(self.state, self.at, self.sites, tools)))
    }

    fn section(&self) -> SheetWork {
        SheetWork::Measure(sheet::section(self.state, self.at))
    }
}
