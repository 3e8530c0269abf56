//! Items to confirm one by one.

pub mod bench;
pub mod commands;
pub mod state;

use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};
use rigore_plan::{ChecklistItem, OperationIx};

/// The items of one operation.
pub(crate) struct ItemsWork<'a> {
    pub state: &'a BuildState,
    pub at: OperationIx,
    pub planned: &'a [ChecklistItem],
}

impl WorkKind for ItemsWork<'_> {
    fn total(&self) -> usize {
        self.planned.len()
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        let open =
            |(index, _): &(usize, &ChecklistItem)| self.state.confirmed().latest((self.at, *index)).is_none();
        let items = self.planned.iter().enumerate().filter(open);
        Box::new(items.map(|(_, item)| BenchStep::Confirm(bench::step(item))))
    }

    fn issues(&self) -> Vec<Issue> {
        Vec::new()
    }

    fn bench(&self, _tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Items { items: bench::items(self.state, self.at, self.planned) }
    }

    fn section(&self) -> SheetWork {
        SheetWork::Items { items: bench::items(self.state, self.at, self.planned) }
    }
}
