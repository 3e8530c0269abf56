//! What stands against a count.

use super::bench::CountView;
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_plan::OperationIx;

/// Differences nobody stands for.
pub(super) fn matters(state: &BuildState, at: OperationIx, counts: Vec<CountView>) -> Vec<Issue> {
    let matter = |view: CountView| {
        let what = view.difference.filter(|_| view.accepted.is_none())?;
        Some(Issue {
            seq: view.seq?,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            what: what.into(),
            now: "Look again and count again, or a lead accepts it".into(),
            remedies: vec![Remedy::Void, Remedy::Accept],
        })
    };
    counts.into_iter().filter_map(matter).collect()
}
