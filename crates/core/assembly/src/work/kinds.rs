//! Which folder answers for an operation. Nothing else asks which kind of work it is.

use crate::state::BuildState;
use crate::work::count::CountWork;
use crate::work::items::ItemsWork;
use crate::work::kind::WorkKind;
use crate::work::measure::MeasureWork;
use crate::work::parts::PartsWork;
use crate::work::sign::SignWork;
use crate::work::tighten::TightenWork;
use crate::work::turn::TurnWork;
use rigore_plan::{OperationIx, OperationWork};

/// What answers for an operation.
pub(crate) fn kind(state: &BuildState, at: OperationIx) -> Box<dyn WorkKind + '_> {
    match &state.plan[at].work {
        OperationWork::Items(planned) => Box::new(ItemsWork { state, at, planned }),
        OperationWork::Tighten(work) => Box::new(TightenWork { state, at, work }),
        OperationWork::Measure(sites) => Box::new(MeasureWork { state, at, sites }),
        OperationWork::Parts(slots) => Box::new(PartsWork { state, at, slots }),
        OperationWork::Count(planned) => Box::new(CountWork { state, at, planned }),
        OperationWork::Turn(planned) => Box::new(TurnWork { state, at, planned }),
        OperationWork::Sign => Box::new(SignWork),
    }
}
