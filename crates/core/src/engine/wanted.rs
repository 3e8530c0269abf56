//! Figures of the plan that an engine waits for (C-47).

use super::state::State;
use crate::plan::OpenFigure;
use serde::Serialize;

/// A figure that nobody has looked up yet.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WantedFigure {
    /// Where in the plan it stands.
    pub path: String,
    /// What is wanted.
    pub what: String,
    /// Where it is to be found, where that is said.
    pub note: String,
    /// Keys of the operations that wait for it.
    pub operations: Vec<String>,
}

impl State {
    /// Every figure of its plan that nobody has looked up yet.
    pub(super) fn wanted_figures(&self) -> Vec<WantedFigure> {
        let figure = |figure: &OpenFigure| WantedFigure {
            path: figure.path.clone(),
            what: figure.what.clone(),
            note: figure.note.clone(),
            operations: figure.operations.iter().map(|at| self.plan[*at].id.clone()).collect(),
        };
        self.plan.open.iter().map(figure).collect()
    }
}
