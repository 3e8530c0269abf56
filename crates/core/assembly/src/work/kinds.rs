//! Which folder answers for an operation. Nothing else asks which kind of work it is.

use crate::state::State;
use crate::work::count::Counting;
use crate::work::items::Items;
use crate::work::kind::Kind;
use crate::work::measure::Measuring;
use crate::work::parts::TakingIn;
use crate::work::sign::SigningOff;
use crate::work::tighten::Tightening;
use crate::work::turn::Turning;
use rigore_plan::{OperationIx, Work};

/// What answers for an operation.
pub(crate) fn kind(state: &State, at: OperationIx) -> Box<dyn Kind + '_> {
    match &state.plan[at].work {
        Work::Items(planned) => Box::new(Items { state, at, planned }),
        Work::Tighten(work) => Box::new(Tightening { state, at, work }),
        Work::Measure(sites) => Box::new(Measuring { state, at, sites }),
        Work::Parts(slots) => Box::new(TakingIn { state, at, slots }),
        Work::Count(planned) => Box::new(Counting { state, at, planned }),
        Work::Turn(planned) => Box::new(Turning { state, at, planned }),
        Work::Sign => Box::new(SigningOff),
    }
}
