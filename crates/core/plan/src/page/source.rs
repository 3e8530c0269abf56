//! What a page of a plan is drawn from.

use crate::document::Plan;
use crate::edit::SourceText;
use crate::toml_reader::FaultReport;

/// A plan with its text, and with its faults where it may have some.
pub(super) struct PageSource<'a> {
    pub plan: &'a Plan,
    /// Faults that it may have; none of a plan that is kept.
    pub report: Option<&'a FaultReport>,
    pub written: SourceText,
}

impl PageSource<'_> {
    /// Whether nothing of what stands at a path is wrong.
    pub fn sound(&self, path: &str) -> bool {
        self.report.is_none_or(|report| report.is_sound(path))
    }
}
