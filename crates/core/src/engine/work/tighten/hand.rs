//! The joint that an operation tightens, in its round.

use super::state::{Open, Remark, Round};
use crate::engine::state::State;
use crate::plan::{FastenerIx, Joint, JointIx, OperationIx, Purpose};
use crate::tightening::Had;

/// The joint in hand.
pub(in crate::engine) struct Tightening<'a> {
    pub state: &'a State,
    pub at: OperationIx,
    pub joint: &'a Joint,
    pub round: &'a Round,
    pub purpose: Purpose,
}

impl<'a> Tightening<'a> {
    /// One operation's joint.
    pub fn new(state: &'a State, at: OperationIx, (joint, round): (JointIx, usize)) -> Self {
        let planned = &state.plan[joint];
        let purpose = planned.rounds[round];
        Self { state, at, joint: planned, round: state.joints.round((joint, round)), purpose }
    }

    /// The name of a fastener.
    pub fn name(&self, fastener: FastenerIx) -> &'a str {
        &self.joint[fastener].id
    }

    /// What is left to do.
    pub fn open(&self) -> impl Iterator<Item = Open> + use<'a> {
        self.round.open(self.joint)
    }

    /// Something left to do, in one line: `Pull 3, inner 3R, by 50°`.
    pub fn words(&self, open: Open, had: Had) -> String {
        let stage = &self.joint[open.stage()];
        match open {
            Open::Act { .. } => stage.name.clone(),
            Open::Pull { fastener, place, .. } => {
                let group = stage.group.map(|group| self.joint[group].name.as_str()).unwrap_or_default();
                let words = stage.way.rules().words(had);
                format!("Pull {}, {group} {}, {words}", place + 1, self.name(fastener))
            }
        }
    }

    /// A remark in words.
    pub fn remark(&self, remark: &Remark) -> String {
        match remark {
            Remark::OutOfOrder { expected } => format!("out of order: {} was next", self.name(*expected)),
            Remark::Early { first } => {
                format!("too early: {} comes first", self.words(*first, Had::default()))
            }
            Remark::NotStarted => "before the operation was started".to_owned(),
            Remark::Repeated => "done again".to_owned(),
            Remark::Instrument { fault } => fault.clone(),
        }
    }
}
