//! Every count of hardware.

use crate::events::Count;
use crate::state::series::Series;
use crate::state::thing::Thing;
use rigore_plan::{OperationIx, Plan, Work};

/// Every count, by operation and kind of hardware.
pub(crate) type Counts = Series<(OperationIx, usize), u32>;

/// Hardware was counted.
pub(crate) fn count(counts: &mut Counts, plan: &Plan, seq: u64, fact: &Count) -> Option<Thing> {
    let at = plan.operation(&fact.operation)?;
    let Work::Count(counting) = &plan[at].work else { return None };
    let line = counting.hardware.iter().position(|line| line.id == fact.hardware)?;
    counts.push(seq, (at, line), fact.count);
    Some(Thing::Hardware(at, line))
}
