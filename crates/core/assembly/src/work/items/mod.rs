//! Items to confirm one by one.

pub mod bench;
pub mod commands;
pub mod state;

use crate::instruments::fit::Tools;
use crate::state::State;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};
use rigore_plan::{Item, OperationIx};

/// The items of one operation.
pub(crate) struct Items<'a> {
    pub state: &'a State,
    pub at: OperationIx,
    pub planned: &'a [Item],
}

impl Kind for Items<'_> {
    fn total(&self) -> usize {
        self.planned.len()
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        let open = |(index, _): &(usize, &Item)| self.state.confirmed.latest((self.at, *index)).is_none();
        let items = self.planned.iter().enumerate().filter(open);
        Box::new(items.map(|(_, item)| Step::Confirm(bench::step(item))))
    }

    fn matters(&self) -> Vec<Matter> {
        Vec::new()
    }

    fn bench(&self, _tools: Tools<'_>) -> BenchWork {
        BenchWork::Items { items: bench::items(self.state, self.at, self.planned) }
    }

    fn section(&self) -> SectionWork {
        SectionWork::Items { items: bench::items(self.state, self.at, self.planned) }
    }
}
