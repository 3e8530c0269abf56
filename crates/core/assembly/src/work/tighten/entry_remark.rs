//! What is to be known about a pull, an action or a loosening besides its verdict; what is left to do.

use rigore_mechanics::message::Message;
use rigore_plan::{FastenerIx, JointIx, StageIx};
use std::collections::HashMap;

/// A joint in one of its rounds.
pub type RoundKey = (JointIx, usize);

/// Something left to do on a joint.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OpenStep {
    /// A fastener to be pulled, and its place in its group.
    Pull {
        /// The joint.
        at: RoundKey,
        /// The stage.
        stage: StageIx,
        /// The fastener.
        fastener: FastenerIx,
        /// Its place in the sequence of its group, from 0.
        place: usize,
    },
    /// Something by hand.
    Act {
        /// The joint.
        at: RoundKey,
        /// The stage.
        stage: StageIx,
    },
    /// A fastener to be loosened.
    Loosen {
        /// The joint.
        at: RoundKey,
        /// The fastener.
        fastener: FastenerIx,
        /// The stage of a climb that it comes after.
        after: Option<StageIx>,
    },
}

impl OpenStep {
    /// The joint it belongs to.
    pub fn at(self) -> RoundKey {
        match self {
            Self::Pull { at, .. } | Self::Act { at, .. } | Self::Loosen { at, .. } => at,
        }
    }

    /// The stage it belongs to, where it is in one.
    pub fn stage(self) -> Option<StageIx> {
        match self {
            Self::Pull { stage, .. } | Self::Act { stage, .. } => Some(stage),
            Self::Loosen { after, .. } => after,
        }
    }

    /// The fastener it is about, where it is about one.
    pub fn fastener(self) -> Option<FastenerIx> {
        match self {
            Self::Pull { fastener, .. } | Self::Loosen { fastener, .. } => Some(fastener),
            Self::Act { .. } => None,
        }
    }
}

/// What was to be known about the entries that were made under earlier versions of the plan.
#[derive(Debug, Clone, Default)]
pub struct EarlierRemarks {
    /// The last of them.
    pub until: u64,
    /// By entry, as it was then.
    pub remarks: HashMap<u64, Vec<EntryRemark>>,
}

impl EarlierRemarks {
    /// What is to be known about an entry: as it was then, where it was made under an earlier version.
    pub fn or(&self, seq: u64, now: Vec<EntryRemark>) -> Vec<EntryRemark> {
        if seq > self.until { now } else { self.remarks.get(&seq).cloned().unwrap_or_default() }
    }
}

/// Something to be known about an entry besides its verdict.
#[derive(Debug, Clone, PartialEq)]
pub enum EntryRemark {
    /// Another fastener was next.
    OutOfOrder {
        /// The one that was next.
        expected: FastenerIx,
    },
    /// Something earlier was not finished yet.
    Early {
        /// What was to be done first.
        first: OpenStep,
    },
    /// Its operation had not been started.
    NotStarted,
    /// The fastener had this stage already.
    Repeated,
    /// The fastener has a later stage already: this one was entered after it.
    After {
        /// The last one it has.
        stage: StageIx,
    },
    /// The instrument does not fit the target (C-7).
    Instrument {
        /// Why not.
        fault: Message,
    },
    /// After the working time of the sealant (C-19).
    Late {
        /// How long it was open by then, minutes.
        after_min: f64,
        /// How long it may be, minutes.
        within_min: f64,
    },
    /// Before it was left alone for long enough.
    Soon {
        /// How much of the time was missing, minutes.
        left_min: f64,
    },
    /// What was to be known under an earlier version of the plan, as it was said then (C-48).
    Then {
        /// In words.
        words: Message,
        /// Whether it deviated from the plan.
        deviates: bool,
    },
    /// Nobody is sure that the wrench clicked.
    Unsure,
    /// The pull was stopped and went on from rest.
    Stopped,
    /// Something that was done already was done again, for a reason: a bead of sealant was laid again.
    Again {
        /// Why.
        reason: String,
    },
    /// Fasteners would not run down by hand.
    Resists {
        /// Which.
        fasteners: Vec<FastenerIx>,
    },
}

impl EntryRemark {
    /// Whether it says that the order of the plan was not kept.
    pub fn is_of_order(&self) -> bool {
        matches!(self, Self::OutOfOrder { .. } | Self::Early { .. })
    }

    /// Whether it deviates from the plan and a lead has to approve it (C-4).
    pub fn deviates(&self) -> bool {
        match self {
            Self::Then { deviates, .. } => *deviates,
            _ => !matches!(
                self,
                Self::Repeated
                    | Self::After { .. }
                    | Self::Resists { .. }
                    | Self::Unsure
                    | Self::Stopped
                    | Self::Again { .. }
            ),
        }
    }
}
