//! A figure of a plan that nobody has looked up yet (C-47): a question, not a fault.

use super::index::OperationIx;

/// A figure that nobody has looked up yet.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct MissingFigure {
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

impl MissingFigure {
    /// A figure of a fastener. Nothing waits for it: what depends on it is left out.
    pub(super) fn of_fastener(path: &str, key: &str, name: &str, note: String) -> Self {
        let what = format!("{name}: {}", key.replace('_', " "));
        Self { path: format!("{path}.{key}"), what, note, use_for: None, operations: Vec::new() }
    }
}
