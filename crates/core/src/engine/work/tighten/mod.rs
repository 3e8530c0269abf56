//! Tightening a joint.

pub mod bench;
pub mod decide;
mod hand;
mod matter;
pub mod pulls;
pub mod section;
pub mod state;

pub(in crate::engine) use hand::Tightening;

use crate::engine::kind::{BenchWork, Kind, SectionWork, Step};
use crate::engine::matter::Matter;
use crate::engine::tools::Tools;
use state::Open;

impl Kind for Tightening<'_> {
    fn total(&self) -> usize {
        let pulls =
            |stage: &crate::plan::Stage| stage.group.map_or(1, |group| self.joint[group].fasteners.len());
        self.joint.stages.iter().map(pulls).sum()
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        Box::new(self.round.open(self.joint).filter_map(|open| match open {
            Open::Act { stage } => Some(Step::Act(bench::act_step(self, stage))),
            Open::Pull { stage, fastener, place } => {
                bench::pull_step(self, stage, fastener, place).map(Step::Pull)
            }
        }))
    }

    fn left(&self) -> usize {
        self.round.open(self.joint).count()
    }

    fn matters(&self) -> Vec<Matter> {
        matter::matters(self)
    }

    fn bench(&self, tools: Tools<'_>) -> BenchWork {
        BenchWork::Tighten(Box::new(bench::bench(self, tools)))
    }

    fn section(&self) -> SectionWork {
        SectionWork::Tighten { joint: section::section(self) }
    }
}
