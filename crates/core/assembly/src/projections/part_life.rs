//! What the parts and pieces of sets went through in one engine (C-16, C-23, C-25).
//!
//! The shop keeps that beside its record, and [`crate::projections::part_history`] puts it together over all engines.
//!
//! A part's life is told from outside its engine. `BuildState::lives` says what each part and piece went through in one
//! engine; the store keeps that beside the record (`part_lives.rs`), and `PartHistory` puts the engines together. What was
//! known when a part was entered is in the entry (`EarlierUse`), so that the fold of an engine needs no other one.

use crate::events::{PartCondition, PartRemarkKind};
use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use crate::work::tighten::fastener_history::RecordedLoosening;
use rigore_mechanics::joint::NutFactor;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_plan::{FamilyIx, FastenerIx, JointIx, OperationIx, OperationWork, SlotIx};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// What was said of a part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartRemarkView {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// Of which kind it is.
    pub kind: PartRemarkKind,
    /// What.
    pub text: String,
}

/// What one part, or one piece of a set, went through in one engine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartLife {
    /// Key of the slot.
    pub slot: String,
    /// Key of the family of slots: parts of one kind.
    pub kind: String,
    /// The operation that took it in.
    pub operation: String,
    /// Its serial, mark or set number.
    pub serial: String,
    /// The maker's reference.
    pub reference: String,
    /// Its batch.
    pub batch: String,
    /// Which piece of the set, from 1; 0 for the part itself.
    pub piece: usize,
    /// What it is called.
    pub name: String,
    /// In which condition it came in.
    pub condition: PartCondition,
    /// How many engines it was said to have been in before.
    pub uses_said: u32,
    /// What the machine shop had done to it.
    pub machining: String,
    /// How many uses its plan allows.
    pub allowed: Option<u32>,
    /// Whether it is tightened: then each round is a use, else each engine is one.
    pub tightened: bool,
    /// Times it was tightened here; of a piece that was replaced, the one that is in now.
    pub rounds: u32,
    /// Its free length before it went in, mm.
    pub free_mm: Option<f64>,
    /// The last stretch that was read of it, mm.
    pub stretch_mm: Option<f64>,
    /// How much was left of a stretch when it was loosened last, mm.
    pub left_mm: Option<f64>,
    /// K, where it has shown its friction.
    pub nut_factor: Option<f64>,
    /// The most that it may stay longer for good, mm.
    pub set_mm: Option<f64>,
    /// Why the one that was here came out and a new one went in, where that was so.
    pub replaced: Vec<String>,
    /// Why it is scrap, where it is by what happened here.
    pub scrap: Option<Message>,
    /// What was said of it.
    pub remarks: Vec<PartRemarkView>,
    /// When it was entered.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// What is known of one piece after entries: nothing where it has no serial any more.
#[derive(Debug, Clone, PartialEq)]
pub struct PieceLifeUpdate {
    /// Key of the slot.
    pub slot: String,
    /// Which piece of the set; 0 for the part itself.
    pub piece: usize,
    /// What it went through.
    pub life: Option<PartLife>,
}

impl BuildState {
    /// Key of the kind of parts that a slot takes.
    pub fn kind_of(&self, slot: &str) -> Option<String> {
        self.plan.slot(slot).map(|slot| self.plan[slot].family.clone())
    }

    /// What every part and piece went through that has a serial, mark or set number.
    pub fn part_lives(&self) -> Vec<PieceLifeUpdate> {
        (0..self.plan.slots.len()).flat_map(|slot| self.lives_in(SlotIx(slot))).collect()
    }

    /// The same of what entries were about.
    pub(crate) fn changed_part_lives(&self, touched: &[EntryTopic]) -> Vec<PieceLifeUpdate> {
        let mut lives: Vec<PieceLifeUpdate> = Vec::new();
        for thing in touched {
            match *thing {
                EntryTopic::Slot(slot) | EntryTopic::PartRemark(slot) => lives.extend(self.lives_in(slot)),
                EntryTopic::Fastener(joint, _, fastener, _) | EntryTopic::Loosening(joint, _, fastener) => {
                    lives.extend(self.lived_as(joint, fastener));
                }
                // What was pulled on it is judged anew.
                EntryTopic::Film(joint, _, group, _) => {
                    let fasteners = self.plan[joint][group].fasteners.clone().map(FastenerIx);
                    lives.extend(fasteners.filter_map(|fastener| self.lived_as(joint, fastener)));
                }
                EntryTopic::Place(site, _) => {
                    let site = &self.plan[site];
                    lives.extend(self.plan[site.family].slot.map(|slot| self.lived(slot, site.number)));
                }
                _ => {}
            }
        }
        lives.sort_by(|a, b| (&a.slot, a.piece).cmp(&(&b.slot, b.piece)));
        lives.dedup_by(|a, b| (&a.slot, a.piece) == (&b.slot, b.piece));
        lives
    }

    fn lives_in(&self, slot: SlotIx) -> impl Iterator<Item = PieceLifeUpdate> {
        (0..=self.plan.pieces(slot).len()).map(move |piece| self.lived(slot, piece))
    }

    fn lived(&self, slot: SlotIx, piece: usize) -> PieceLifeUpdate {
        PieceLifeUpdate { slot: self.plan[slot].id.clone(), piece, life: self.life(slot, piece) }
    }

    /// What the piece of a set went through that a fastener is.
    fn lived_as(&self, joint: JointIx, fastener: FastenerIx) -> Option<PieceLifeUpdate> {
        let slot = self.plan[joint].group_with(fastener)?.parts?;
        self.parts().latest(slot)?;
        let piece = self.plan.pieces(slot).iter().position(|piece| *piece == (joint, fastener))?;
        Some(self.lived(slot, piece + 1))
    }

    fn life(&self, slot: SlotIx, piece: usize) -> Option<PartLife> {
        let planned = &self.plan[slot];
        let entry = self.parts().latest(slot).filter(|entry| !entry.value.note.serial.is_empty())?;
        let note = &entry.value.note;
        let pieces = self.plan.pieces(slot);
        let at = piece.checked_sub(1).map(|piece| pieces.get(piece).copied());
        let remarks = self
            .part_remarks()
            .of(slot, self.parts(), self.ledger())
            .filter(|(_, remark)| remark.piece == piece);
        let remarks = remarks.filter_map(|(seq, remark)| {
            let stamp = &self.ledger().mark(seq)?.stamp;
            let (by, text) = (stamp.by.name.clone(), remark.text.clone());
            Some(PartRemarkView { seq, at: stamp.at, by, kind: remark.kind, text })
        });
        let life = PartLife {
            slot: planned.id.clone(),
            kind: planned.family.clone(),
            operation: self.plan[self.takes_in(slot)?].id.clone(),
            serial: note.serial.clone(),
            reference: note.reference.clone(),
            batch: note.batch.clone(),
            piece,
            name: planned.name.clone(),
            condition: note.condition,
            uses_said: note.uses,
            machining: note.machining.clone(),
            allowed: self.plan.uses_allowed(slot),
            tightened: !pieces.is_empty(),
            rounds: 0,
            free_mm: piece.checked_sub(1).and_then(|member| self.free_mm(slot, member)),
            stretch_mm: None,
            left_mm: None,
            nut_factor: None,
            set_mm: self.plan.set_mm(slot),
            replaced: Vec::new(),
            scrap: None,
            remarks: remarks.collect(),
            at: self.ledger().mark(entry.seq)?.stamp.at,
        };
        Some(match at {
            Some(Some((joint, fastener))) => self.fastened_life(life, joint, fastener),
            Some(None) => return None,
            None => life,
        })
    }

    fn takes_in(&self, slot: SlotIx) -> Option<OperationIx> {
        let of_it = |at: &OperationIx| matches!(&self.plan[*at].work, OperationWork::Parts(slots) if slots.contains(&slot));
        self.plan.line().find(of_it)
    }

    /// The free length of a piece before it went in, mm; nothing where a new one went in since it was measured.
    fn free_mm(&self, slot: SlotIx, member: usize) -> Option<f64> {
        let family = self.plan.families.iter().position(|family| family.slot == Some(slot)).map(FamilyIx)?;
        let site = self.plan.member(family, member)?;
        let since =
            self.plan.pieces(slot).get(member).and_then(|(joint, fastener)| self.renewed(*joint, *fastener));
        let measured = self.sizes().readings_on(&self.plan, site).map(|reading| reading.seq).min();
        self.mean_of(family, member).filter(|_| measured > since)
    }

    /// The last entry by which a new fastener went in at a place.
    fn renewed(&self, joint: JointIx, fastener: FastenerIx) -> Option<u64> {
        let rounds = (0..self.plan[joint].rounds.len()).map(|round| self.joints().round((joint, round)));
        let loosenings = rounds.flat_map(|round| &round.loosenings);
        let renewed =
            loosenings.filter(|of| of.fastener == fastener && of.replaced && self.ledger().counts(of.seq));
        renewed.map(|of| of.seq).max()
    }

    /// Whether the lengths of a fastener's set are measured, and its own free length, mm, where it was.
    pub(crate) fn free_length(&self, joint: JointIx, fastener: FastenerIx) -> (bool, Option<f64>) {
        let slot = self.plan[joint].group_with(fastener).and_then(|group| group.parts);
        let slot = slot.filter(|slot| self.plan.families.iter().any(|family| family.slot == Some(*slot)));
        let Some(slot) = slot else { return (false, None) };
        let piece = self.plan.pieces(slot).iter().position(|piece| *piece == (joint, fastener));
        (true, piece.and_then(|piece| self.free_mm(slot, piece)))
    }

    /// What a fastener went through, round by round.
    fn fastened_life(&self, life: PartLife, joint: JointIx, fastener: FastenerIx) -> PartLife {
        let of = &self.plan[joint];
        let mut life = PartLife { name: format!("{} {}", of.name, of[fastener].id), ..life };
        for at in 0..of.rounds.len() {
            let round = self.joints().round((joint, at));
            let own = !self.plan.line().filter_map(|at| self.plan.tightens(at)).any(|work| {
                work.fasteners.is_some() && work.shares.iter().any(|share| share.at() == (joint, at))
            });
            let fastened = round.fastened(fastener);
            let counts = |of: &&RecordedLoosening| of.fastener == fastener && self.ledger().counts(of.seq);
            let loosenings: Vec<&RecordedLoosening> = round.loosenings.iter().filter(counts).collect();
            let replaced: Vec<String> =
                loosenings.iter().filter(|of| of.replaced).map(|of| of.reason.clone()).collect();
            if !own {
                continue;
            }
            if !replaced.is_empty() {
                // What is in now is another one.
                life = PartLife {
                    rounds: 0,
                    stretch_mm: None,
                    left_mm: None,
                    nut_factor: None,
                    scrap: None,
                    ..life
                };
                life.replaced.extend(replaced);
            }
            life.rounds += u32::from(fastened.holds() || fastened.is_apart());
            // What was left of the one that came out is not left of the one that is in.
            let since = loosenings.iter().rposition(|of| of.replaced).map_or(0, |at| at + 1);
            life.left_mm = loosenings[since..].iter().rev().find_map(|of| of.left_mm).or(life.left_mm);
            if let Some(pair) = fastened.pairs().last() {
                life.stretch_mm = Some(pair.stretch_mm);
                let group = of.group_ix(fastener);
                let bolt = group.and_then(|group| self.plan[of[group].spec].fastening.own_resilience());
                let thread = group.map(|group| self.plan[of[group].spec].fastening.thread);
                life.nut_factor = bolt
                    .zip(thread)
                    .and_then(|(bolt, thread)| Some(NutFactor::of(&thread, bolt, fastened.pairs())?.k));
            }
            life.scrap = self.scrap(&life, (joint, at), fastener).or(life.scrap);
        }
        life
    }

    /// Why a fastener is scrap, where it is by what happened in a round.
    fn scrap(&self, life: &PartLife, at: (JointIx, usize), fastener: FastenerIx) -> Option<Message> {
        let (of, round) = (&self.plan[at.0], self.joints().round(at));
        if let Some((left, most)) = life.left_mm.zip(life.set_mm).filter(|(left, most)| left > most) {
            let [left, most] = [left, most].map(|mm| Quantity::new(mm, Dimension::Clearance));
            return Some(message!("assembly-permanent-stretch-max", left, most));
        }
        if !round.fastened(fastener).is_spent() {
            return None;
        }
        let spec = of.group_with(fastener).map(|group| &self.plan[group.spec])?;
        Some(if spec.single_use || spec.to_yield {
            message!("assembly-single-use")
        } else {
            message!("assembly-was-tightened-past-limit")
        })
    }
}
