//! A pull whose stage a later version of the plan has not any more.

use super::entry_remark::EntryRemark;
use crate::events::{Instrument, ReadingMethod};
use rigore_mechanics::tightening::ToolReading;
use rigore_plan::FastenerIx;
use std::sync::Arc;

/// A pull in a stage that is not there any more.
#[derive(Debug, Clone)]
pub(crate) struct ReplacedPull {
    /// The entry.
    pub seq: u64,
    /// Its stage among those that are gone.
    pub stage: usize,
    pub fastener: FastenerIx,
    pub reading: Box<ToolReading>,
    pub method: ReadingMethod,
    pub instrument: Arc<Instrument>,
    /// What the instrument showed, in the base unit of its stage.
    pub read: f64,
    /// The same at the fastener, beyond an adapter.
    pub figure: f64,
    /// What was to be known about it, as it was said then.
    pub remarks: Vec<EntryRemark>,
}
