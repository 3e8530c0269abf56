//! Figures of the plan that an engine waits for (C-47).

use crate::state::BuildState;
use rigore_mechanics::quantity::Dimension;
use rigore_plan::{MissingFigure, OperationIx};
use serde::Serialize;
use std::collections::BTreeSet;

/// A figure that nobody has looked up yet.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MissingSpec {
    /// Where in the plan it stands.
    pub path: String,
    /// What is wanted.
    pub what: String,
    /// Where it is to be found, where that is said.
    pub note: String,
    /// What it measures, where it measures something.
    pub dimension: Option<Dimension>,
    /// Keys of the operations that wait for it.
    pub operations: Vec<String>,
    /// Whether one of them, not signed yet, waits for nothing but such figures.
    pub needed_now: bool,
}

impl BuildState {
    /// Every figure of its plan that nobody has looked up yet.
    pub(crate) fn missing_specs(&self) -> Vec<MissingSpec> {
        self.plan.open.iter().map(|figure| self.wanted_view(figure)).collect()
    }

    /// Those of them that an operation waits for.
    pub(crate) fn missing_specs_of(&self, at: OperationIx) -> Vec<MissingSpec> {
        self.missing_figures_of(at).map(|figure| self.wanted_view(figure)).collect()
    }

    /// What of the plan an operation waits for on this engine.
    pub(crate) fn missing_figures_of(&self, at: OperationIx) -> impl Iterator<Item = &MissingFigure> {
        self.plan.wanted(at, self.begun.use_for.as_deref())
    }

    fn wanted_view(&self, figure: &MissingFigure) -> MissingSpec {
        MissingSpec {
            path: figure.path.clone(),
            what: figure.what.clone(),
            note: figure.note.clone(),
            dimension: figure.dimension(&self.plan),
            operations: figure.operations.iter().map(|at| self.plan[*at].id.clone()).collect(),
            needed_now: figure.operations.iter().any(|at| {
                self.waits_only_for_figures(*at)
                    && self.missing_figures_of(*at).any(|one| one.path == figure.path)
            }),
        }
    }

    /// How many figures any operation of this engine waits for.
    pub(crate) fn missing_figure_count(&self) -> usize {
        if self.plan.open.is_empty() {
            return 0;
        }
        let paths: BTreeSet<&str> = self
            .plan
            .line()
            .flat_map(|at| self.missing_figures_of(at))
            .map(|figure| figure.path.as_str())
            .collect();
        paths.len()
    }

    /// What is wanted first: of an operation that waits for nothing else.
    pub(crate) fn first_missing_figure(&self) -> Option<&MissingFigure> {
        let next = |at: &OperationIx| self.waits_only_for_figures(*at);
        self.plan.line().filter(next).find_map(|at| self.missing_figures_of(at).next())
    }

    /// Whether an operation that is not signed could be worked on but for figures that nobody has looked up.
    fn waits_only_for_figures(&self, at: OperationIx) -> bool {
        self.operations().signed(at).is_none()
            && self.open_needs(at).is_empty()
            && self.to_come_out(at).is_empty()
            && self.waits_outside(at).next().is_none()
            && self.missing_figures_of(at).next().is_some()
    }
}
