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

use crate::instruments::fit::Tools;
use crate::state::State;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};
use rigore_plan::{OperationIx, SiteIx};

/// The sites of one operation.
pub(crate) struct Measuring<'a> {
    pub state: &'a State,
    pub at: OperationIx,
    pub sites: &'a [SiteIx],
}

impl Kind for Measuring<'_> {
    fn total(&self) -> usize {
        let plan = &self.state.plan;
        let places: usize = self.sites.iter().map(|site| plan[*site].places.len()).sum();
        let graded = self.state.judged_in(self.at).filter(|(of, _)| !plan[*of].shells.is_empty());
        places + graded.count()
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        let places = bench::open_places(self.state, self.at, self.sites).map(Step::Measure);
        Box::new(places.chain(bench::open_shells(self.state, self.at).map(Step::Shells)))
    }

    fn matters(&self) -> Vec<Matter> {
        issues::matters(self.state, self.at)
    }

    fn bench(&self, tools: Tools<'_>) -> BenchWork {
        BenchWork::Measure(Box::new(bench::bench(self.state, self.at, self.sites, tools)))
    }

    fn section(&self) -> SectionWork {
        SectionWork::Measure(sheet::section(self.state, self.at))
    }
}
