//! Every count of hardware.

use crate::events::CountCommand;
use crate::state::entry_topic::EntryTopic;
use crate::state::series::EntrySeries;
use rigore_plan::{OperationIx, OperationWork, Plan};

/// Every count, by operation and kind of hardware.
pub(crate) type HardwareCounts = EntrySeries<(OperationIx, usize), u32>;

/// Hardware was counted.
pub(crate) fn count(
    counts: &mut HardwareCounts,
    plan: &Plan,
    seq: u64,
    fact: &CountCommand,
) -> Option<EntryTopic> {
    let at = plan.operation(&fact.operation)?;
    let OperationWork::Count(counting) = &plan[at].work else { return None };
    let line = counting.hardware.iter().position(|line| line.id == fact.hardware)?;
    counts.push(seq, (at, line), fact.count);
    Some(EntryTopic::Hardware(at, line))
}
