//! What stands against a count.

use super::bench::CountView;
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_plan::OperationIx;

/// Differences that nobody approved.
pub(super) fn issues(state: &BuildState, at: OperationIx, counts: Vec<CountView>) -> Vec<Issue> {
    let issue = |view: CountView| {
        let what = view.difference.filter(|_| view.accepted.is_none())?;
        Some(Issue {
            seq: view.seq?,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: what.into(),
            to_do: message!("work-search-count-again-or-lead-approves"),
            remedies: vec![Remedy::Void, Remedy::Accept],
        })
    };
    counts.into_iter().filter_map(issue).collect()
}
