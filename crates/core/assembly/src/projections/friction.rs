//! The friction that bolts of an engine have shown, as the shop collects it (C-28).

use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use rigore_mechanics::joint::{NutFactor, TorqueStretchPair};
use rigore_plan::{FastenerIx, GroupIx, Joint, JointIx};
use time::OffsetDateTime;

/// What the bolts of one place have shown in one round of its joint.
#[derive(Debug, Clone, PartialEq)]
pub struct PlaceFriction {
    /// Key of the joint.
    pub joint: String,
    /// Which round of it, from 0.
    pub round: usize,
    /// The place: the fastener.
    pub fastener: String,
    /// What each bolt has shown that was there, the first one first.
    pub bolts: Vec<BoltFriction>,
}

/// What one bolt has shown of its friction.
#[derive(Debug, Clone, PartialEq)]
pub struct BoltFriction {
    /// How many bolts were in its place before it.
    pub bolt: usize,
    /// Its name and thread.
    pub kind: String,
    /// Key of what was on its thread.
    pub thread: String,
    /// Key of what was under its head.
    pub bearing: String,
    /// The batch of its set, where that is known.
    pub batch: String,
    /// K of all its torques and stretches.
    pub k: f64,
    /// How many they are.
    pub pulls: usize,
    /// The last torque, N·m.
    pub torque_nm: f64,
    /// The stretch under it, mm.
    pub stretch_mm: f64,
    /// When it was last read.
    pub at: OffsetDateTime,
}

impl BuildState {
    /// What the bolts of every place have shown that is stretched.
    pub fn shown(&self) -> Vec<PlaceFriction> {
        let joints = (0..self.plan.joints.len()).map(JointIx);
        let rounds = joints.flat_map(|at| (0..self.plan[at].rounds.len()).map(move |round| (at, round)));
        rounds.flat_map(|at| self.places(at)).collect()
    }

    /// The same of what entries were about.
    pub(crate) fn shown_anew(&self, touched: &[EntryTopic]) -> Vec<PlaceFriction> {
        let mut places: Vec<PlaceFriction> = Vec::new();
        for thing in touched {
            match *thing {
                EntryTopic::Fastener(joint, round, fastener, _) => {
                    places.extend(self.place((joint, round), fastener));
                }
                EntryTopic::Film(joint, round, group, _) => {
                    let fasteners = self.plan[joint][group].fasteners.clone().map(FastenerIx);
                    places.extend(fasteners.filter_map(|fastener| self.place((joint, round), fastener)));
                }
                // Its batch may be another one.
                EntryTopic::Slot(slot) => {
                    let of_it = |joint: &Joint| joint.groups.iter().any(|group| group.parts == Some(slot));
                    places.extend(self.shown().into_iter().filter(|place| {
                        self.plan.joint(&place.joint).is_some_and(|joint| of_it(&self.plan[joint]))
                    }));
                }
                _ => {}
            }
        }
        // What was looked at twice is the same both times.
        places.sort_by(|a, b| (&a.joint, a.round, &a.fastener).cmp(&(&b.joint, b.round, &b.fastener)));
        places.dedup_by(|a, b| (&a.joint, a.round, &a.fastener) == (&b.joint, b.round, &b.fastener));
        places
    }

    fn places(&self, at: (JointIx, usize)) -> impl Iterator<Item = PlaceFriction> {
        (0..self.plan[at.0].fasteners.len()).filter_map(move |fastener| self.place(at, FastenerIx(fastener)))
    }

    /// What the bolts of a place have shown; `None` where its stretch is never read.
    fn place(&self, (joint, round): (JointIx, usize), fastener: FastenerIx) -> Option<PlaceFriction> {
        let of = &self.plan[joint];
        let group = of.group_ix(fastener)?;
        let read = |stage: &rigore_plan::Stage| stage.group == Some(group) && stage.way.shows().is_some();
        of.stages.iter().any(read).then(|| PlaceFriction {
            joint: of.id.clone(),
            round,
            fastener: of[fastener].id.clone(),
            bolts: self.bolts((joint, round), group, fastener),
        })
    }

    fn bolts(&self, at: (JointIx, usize), group: GroupIx, fastener: FastenerIx) -> Vec<BoltFriction> {
        let (of, rounds) = (&self.plan[at.0], self.joints().round(at));
        let batch = of[group].parts.and_then(|slot| self.parts().latest(slot));
        let batch = batch.map(|entry| entry.value.note.batch.clone()).unwrap_or_default();
        let shown = |(bolt, (pairs, seq)): (usize, (&[TorqueStretchPair], u64))| {
            let last = pairs.last()?;
            // What was said later for the others of its group is not what this one was read on.
            let used = rounds.used_fastener(&self.plan, of, group, seq, |seq| self.ledger().counts(seq));
            let fastening = &used.spec.fastening;
            Some(BoltFriction {
                bolt,
                kind: used.spec.title(),
                thread: used.spec.lubrication.thread.id.clone(),
                bearing: used.spec.lubrication.bearing.id.clone(),
                batch: batch.clone(),
                k: NutFactor::of(&fastening.thread, fastening.own_resilience()?, pairs)?.k,
                pulls: pairs.len(),
                torque_nm: last.torque_nm,
                stretch_mm: last.stretch_mm,
                at: self.ledger().mark(seq)?.stamp.at,
            })
        };
        rounds.fastened(fastener).pairs_by_bolt().enumerate().filter_map(shown).collect()
    }
}
