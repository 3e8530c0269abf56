//! What an entry is about, and what a signature or a lead's word can rest on.

use rigore_plan::{ClearanceIx, FastenerIx, GroupIx, JointIx, OperationIx, SiteIx, SlotIx, StageIx};

/// What an entry is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum EntryTopic {
    /// What a fastener has from a stage on, in one round of its joint.
    Fastener(JointIx, usize, FastenerIx, StageIx),
    /// A fastener that was loosened when its joint was taken apart.
    Loosening(JointIx, usize, FastenerIx),
    /// An action in one round of a joint.
    Action(JointIx, usize, StageIx),
    /// What the fasteners of a group turn on from a stage on, in one round of their joint.
    Film(JointIx, usize, GroupIx, StageIx),
    /// A place of a site.
    Place(SiteIx, usize),
    /// The shells of one member of a clearance, from 0.
    Shells(ClearanceIx, usize),
    /// Shells of one grade at hand.
    Stock(ClearanceIx, usize),
    /// What is in a slot.
    Slot(SlotIx),
    /// What was said of the part in a slot.
    PartRemark(SlotIx),
    /// A kind of hardware of a counting operation.
    Hardware(OperationIx, usize),
    /// An item of an operation.
    Item(OperationIx, usize),
    /// The crankshaft in one turning operation.
    Turn(OperationIx),
    /// The signature under an operation.
    Signature(OperationIx),
    /// What a finding is about.
    Finding(FindingTopic),
    /// What went in with an entry and has to come out again.
    Inside(u64),
    /// What work waits for since an entry.
    Wait(u64),
    /// An instrument that was found wrong, by an entry.
    Doubt(u64),
    /// The day the engine was promised for.
    Promise,
}

/// What a finding is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum FindingTopic {
    /// A fastener and its hole.
    Fastener(JointIx, FastenerIx),
    /// The part in a slot.
    Part(SlotIx),
    /// Something that is measured.
    Site(SiteIx),
    /// An operation.
    Operation(OperationIx),
}
