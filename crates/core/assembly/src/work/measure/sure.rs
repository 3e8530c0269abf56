//! A value that is known to within so much.

/// One value with its expanded uncertainty U (k = 2).
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct UncertainValue {
    pub value: f64,
    pub u: f64,
}
