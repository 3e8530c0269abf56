//! Every item that was confirmed.

use crate::events::Confirm;
use crate::state::series::Series;
use crate::state::thing::Thing;
use rigore_plan::{OperationIx, Plan, Work};

/// Every confirmation, by operation and item.
pub(crate) type Confirmations = Series<(OperationIx, usize), ()>;

/// An item was confirmed.
pub(crate) fn confirm(confirmed: &mut Confirmations, plan: &Plan, seq: u64, fact: &Confirm) -> Option<Thing> {
    let at = plan.operation(&fact.operation)?;
    let Work::Items(items) = &plan[at].work else { return None };
    let item = items.iter().position(|item| item.id == fact.item)?;
    confirmed.push(seq, (at, item), ());
    Some(Thing::Item(at, item))
}
