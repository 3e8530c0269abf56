//! The signature under the whole engine: nothing is done in it but signing.

use crate::instruments::fit::ShopTools;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};

/// The signature under the whole engine.
pub(crate) struct SignWork;

impl WorkKind for SignWork {
    fn total(&self) -> usize {
        0
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        Box::new(std::iter::empty())
    }

    fn issues(&self) -> Vec<Issue> {
        Vec::new()
    }

    fn bench(&self, _tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Sign
    }

    fn section(&self) -> SheetWork {
        SheetWork::Sign
    }
}
