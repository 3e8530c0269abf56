//! Figures of a plan that nobody has looked up yet (C-47): a question, not a fault. What needs one waits for it by
//! name.

use super::document::{Plan, Work};
use super::index::OperationIx;

/// A figure that nobody has looked up yet.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OpenFigure {
    /// Where in the plan it stands: `joint[0].stage[1].torque`.
    pub path: String,
    /// What is wanted: `Outer main caps, final: torque`.
    pub what: String,
    /// Where it is to be found, where that is said.
    pub note: String,
    /// The use that it is for, where it is the window of one.
    pub use_for: Option<String>,
    /// The operations that wait for it.
    pub operations: Vec<OperationIx>,
}

impl OpenFigure {
    /// A figure of a fastener. Nothing waits for it: what depends on it is left out.
    pub(super) fn of_fastener(path: &str, key: &str, name: &str, note: String) -> Self {
        let what = format!("{name}: {}", key.replace('_', " "));
        Self { path: format!("{path}.{key}"), what, note, use_for: None, operations: Vec::new() }
    }
}

impl Plan {
    /// Adds what was found to be open; what is written once and stands for several is asked for once.
    pub(super) fn ask(&mut self, opens: Vec<OpenFigure>) {
        for figure in opens {
            if self.open.iter().all(|known| known.path != figure.path) {
                self.open.push(figure);
            }
        }
    }

    /// What an operation waits for that nobody has looked up yet, on an engine for such a use.
    pub fn wanted(&self, at: OperationIx, use_for: Option<&str>) -> impl Iterator<Item = &OpenFigure> {
        let of_use = move |of: &OpenFigure| of.use_for.is_none() || of.use_for.as_deref() == use_for;
        self.open.iter().filter(move |figure| figure.operations.contains(&at) && of_use(figure))
    }

    /// Finds which operations wait for what: those that run a stage, and those that judge a clearance.
    pub(super) fn find_waiting(&mut self) {
        let mut open = std::mem::take(&mut self.open);
        for figure in &mut open {
            let waits = |at: &OperationIx| match &self[*at].work {
                Work::Tighten(work) => work.shares.iter().any(|share| {
                    let stages = &self[share.joint].stages[share.stages.clone()];
                    stages.iter().any(|stage| stage.way.rules().wanted() == Some(&figure.path))
                }),
                Work::Measure(_) => self.clearances.iter().any(|clearance| {
                    clearance.judged_in.contains(&Some(*at)) && clearance.opens.contains(&figure.path)
                }),
                _ => false,
            };
            figure.operations = self.line().filter(waits).collect();
        }
        self.open = open;
    }
}
