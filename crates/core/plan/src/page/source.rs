//! What a page of a plan is drawn from.

use crate::document::Plan;
use crate::edit::Written;
use crate::toml_reader::Report;

/// A plan with its text, and with its faults where it may have some.
pub(super) struct Page<'a> {
    pub plan: &'a Plan,
    /// Faults that it may have; none of a plan that is kept.
    pub report: Option<&'a Report>,
    pub written: Written,
}

impl Page<'_> {
    /// Whether nothing of what stands at a path is wrong.
    pub fn sound(&self, path: &str) -> bool {
        self.report.is_none_or(|report| report.is_sound(path))
    }
}
