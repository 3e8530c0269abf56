//! Folding the events of a build, under the versions of the plan that they go by.

use super::BuildState;
use super::plan_versions::{FoldError, PlanVersions};
use crate::events::{Event, Fact, PlanRef};
use crate::work::tighten::entry_remark::EarlierRemarks;
use crate::work::tighten::rejudged_stage;
use rigore_plan::Plan;
use std::sync::Arc;

impl BuildState {
    /// The state after a list of events, with the plans that they name.
    ///
    /// # Errors
    /// [`FoldError`] where the first event begins no build, or a plan is missing.
    pub fn fold<'a>(
        plans: impl Fn(&PlanRef) -> Option<Arc<Plan>>,
        events: impl IntoIterator<Item = &'a Event>,
    ) -> Result<Self, FoldError> {
        let events: Vec<&Event> = events.into_iter().collect();
        let (first, rest) = events.split_first().ok_or(FoldError::NotBegun)?;
        let Fact::Begun(begun) = &first.fact else { return Err(FoldError::NotBegun) };
        let versions = PlanVersions::of(&plans, begun, rest)?;
        let mut state = Self::begun(versions.plan(), begun, first);
        // What was to be known under the version before stays as it was said then.
        let moved = events.iter().rposition(|event| matches!(event.fact, Fact::Moved(_)));
        let earlier = match moved {
            Some(last) => {
                let plans: &dyn Fn(&PlanRef) -> Option<Arc<Plan>> = &plans;
                rejudged_stage::remarks(&Self::fold(plans, events[..last].iter().copied())?)
            }
            None => EarlierRemarks::default(),
        };
        state.expect(rest.len(), earlier);
        for event in rest {
            match versions.translated(event) {
                Some(translated) => state.apply(&translated),
                None => state.apply(event),
            };
        }
        Ok(state)
    }
}
