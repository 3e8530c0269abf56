//! What a fastener has of one stage.

/// What the pulls of one fastener in one stage come to.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct StageProgress {
    /// The value that counts, in the base unit of what is read.
    pub value: f64,
    /// The most that was reached.
    pub peak: f64,
    /// How many pulls count.
    pub pulls: u32,
    /// What is to come next, where the fastener itself shows what it needs (C-24).
    pub expected: Option<ExpectedReading>,
}

/// What is to come next, in the base unit of what is read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ExpectedReading {
    /// The figure itself.
    pub next: f64,
    /// The least that is likely.
    pub low: f64,
    /// The most that is likely or allowed.
    pub high: f64,
    /// Whether the same was given already and is to be given once more before anything is read.
    pub again: bool,
}
