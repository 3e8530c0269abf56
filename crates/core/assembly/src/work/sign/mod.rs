//! The signature under the whole engine: nothing is done in it but signing.

use crate::instruments::fit::Tools;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};

/// The signature under the whole engine.
pub(crate) struct SigningOff;

impl Kind for SigningOff {
    fn total(&self) -> usize {
        0
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        Box::new(std::iter::empty())
    }

    fn matters(&self) -> Vec<Matter> {
        Vec::new()
    }

    fn bench(&self, _tools: Tools<'_>) -> BenchWork {
        BenchWork::Sign
    }

    fn section(&self) -> SectionWork {
        SectionWork::Sign
    }
}
