//! Which folder answers for an operation. Nothing else asks which kind of work it is.

use super::kind::Kind;
use super::state::State;
use super::work::count::Counting;
use super::work::items::Items;
use super::work::measure::Measuring;
use super::work::parts::TakingIn;
use super::work::sign::SigningOff;
use super::work::tighten::Tightening;
use super::work::turn::Turning;
use rigore_plan::{OperationIx, Work};

/// What answers for an operation.
pub(super) fn kind(state: &State, at: OperationIx) -> Box<dyn Kind + '_> {
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
