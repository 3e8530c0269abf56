//! Every item that was confirmed.

use crate::events::ConfirmCommand;
use crate::state::entry_topic::EntryTopic;
use crate::state::series::EntrySeries;
use rigore_plan::{OperationIx, OperationWork, Plan};

/// Every confirmation, by operation and item.
pub(crate) type Confirmations = EntrySeries<(OperationIx, usize), ()>;

/// An item was confirmed.
pub(crate) fn confirm(
    confirmed: &mut Confirmations,
    plan: &Plan,
    seq: u64,
    fact: &ConfirmCommand,
) -> Option<EntryTopic> {
    let at = plan.operation(&fact.operation)?;
    let OperationWork::Items(items) = &plan[at].work else { return None };
    let item = items.iter().position(|item| item.id == fact.item)?;
    confirmed.push(seq, (at, item), ());
    Some(EntryTopic::Item(at, item))
}
