//! What unsettles what (C-40): after which changes something that was done does not hold any more and is to be
//! done again.

use super::index::{FastenerIx, JointIx, SlotIx};

/// Something that makes what rests on it be done again.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum ReworkCause {
    /// Something happened to fasteners of a joint.
    Fasteners {
        /// The joint.
        joint: JointIx,
        /// Which of its fasteners; any of them where it is empty.
        only: Vec<FastenerIx>,
        /// What.
        when: ReworkTrigger,
    },
    /// Another part was put into a slot.
    Part(SlotIx),
}

/// What happens to fasteners that others rest on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum ReworkTrigger {
    /// One is loosened, replaced or not.
    Loosened,
    /// A new one is put in.
    Replaced,
    /// All of them are loose: the part was lifted.
    Apart,
}

impl ReworkCause {
    /// Whether this is what happened to a fastener of a joint.
    pub fn is(&self, at: JointIx, fastener: FastenerIx, what: ReworkTrigger) -> bool {
        match self {
            Self::Fasteners { joint, only, when } => {
                (*joint, *when) == (at, what) && (only.is_empty() || only.contains(&fastener))
            }
            Self::Part(_) => false,
        }
    }
}
