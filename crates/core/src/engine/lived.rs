//! The life of parts: where a part or a piece of a set was, what it went through there, and whether it may go on
//! (C-16, C-23, C-25).
//!
//! [`State::lives`] tells it for one engine; the shop keeps that beside its record, and [`History`] puts together
//! what is known of one serial, mark or set number from all of them.

use super::record::{Before, Condition, FreeLength, Remarked};
use super::state::State;
use super::thing::Thing;
use super::work::tighten::Loosening;
use crate::joint::NutFactor;
use crate::plan::{FamilyIx, FastenerIx, JointIx, OperationIx, SlotIx, Work};
use crate::quantity::{self, Dimension};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use uuid::Uuid;

/// What was said of a part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LifeRemark {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// Of which kind it is.
    pub kind: Remarked,
    /// What.
    pub text: String,
}

/// What one part, or one piece of a set, went through in one engine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Life {
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
    pub condition: Condition,
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
    pub scrap: Option<String>,
    /// What was said of it.
    pub remarks: Vec<LifeRemark>,
    /// When it was entered.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// What is known of one piece after entries: nothing where it has no serial any more.
#[derive(Debug, Clone, PartialEq)]
pub struct PieceLived {
    /// Key of the slot.
    pub slot: String,
    /// Which piece of the set; 0 for the part itself.
    pub piece: usize,
    /// What it went through.
    pub life: Option<Life>,
}

impl State {
    /// Key of the kind of parts that a slot takes.
    pub fn kind_of(&self, slot: &str) -> Option<String> {
        self.plan.slot(slot).map(|slot| self.plan[slot].family.clone())
    }

    /// What every part and piece went through that has a serial, mark or set number.
    pub fn lives(&self) -> Vec<PieceLived> {
        (0..self.plan.slots.len()).flat_map(|slot| self.lives_in(SlotIx(slot))).collect()
    }

    /// The same of what entries were about.
    pub(super) fn lives_anew(&self, touched: &[Thing]) -> Vec<PieceLived> {
        let mut lives: Vec<PieceLived> = Vec::new();
        for thing in touched {
            match *thing {
                Thing::Slot(slot) | Thing::PartRemark(slot) => lives.extend(self.lives_in(slot)),
                Thing::Fastener(joint, _, fastener, _) | Thing::Loosening(joint, _, fastener) => {
                    lives.extend(self.lived_as(joint, fastener));
                }
                // What was pulled on it is judged anew.
                Thing::Film(joint, _, group, _) => {
                    let fasteners = self.plan[joint][group].fasteners.clone().map(FastenerIx);
                    lives.extend(fasteners.filter_map(|fastener| self.lived_as(joint, fastener)));
                }
                Thing::Place(site, _) => {
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

    fn lives_in(&self, slot: SlotIx) -> impl Iterator<Item = PieceLived> {
        (0..=self.plan.pieces(slot).len()).map(move |piece| self.lived(slot, piece))
    }

    fn lived(&self, slot: SlotIx, piece: usize) -> PieceLived {
        PieceLived { slot: self.plan[slot].id.clone(), piece, life: self.life(slot, piece) }
    }

    /// What the piece of a set went through that a fastener is.
    fn lived_as(&self, joint: JointIx, fastener: FastenerIx) -> Option<PieceLived> {
        let slot = self.plan[joint].group_with(fastener)?.parts?;
        self.parts.latest(slot)?;
        let piece = self.plan.pieces(slot).iter().position(|piece| *piece == (joint, fastener))?;
        Some(self.lived(slot, piece + 1))
    }

    fn life(&self, slot: SlotIx, piece: usize) -> Option<Life> {
        let planned = &self.plan[slot];
        let entry = self.parts.latest(slot).filter(|entry| !entry.value.note.serial.is_empty())?;
        let note = &entry.value.note;
        let pieces = self.plan.pieces(slot);
        let at = piece.checked_sub(1).map(|piece| pieces.get(piece).copied());
        let remarks =
            self.part_remarks.of(slot, &self.parts, &self.ledger).filter(|(_, remark)| remark.piece == piece);
        let remarks = remarks.filter_map(|(seq, remark)| {
            let stamp = &self.ledger.mark(seq)?.stamp;
            let (by, text) = (stamp.by.name.clone(), remark.text.clone());
            Some(LifeRemark { seq, at: stamp.at, by, kind: remark.kind, text })
        });
        let life = Life {
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
            allowed: planned.uses_allowed,
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
            at: self.ledger.mark(entry.seq)?.stamp.at,
        };
        Some(match at {
            Some(Some((joint, fastener))) => self.fastened_life(life, joint, fastener),
            Some(None) => return None,
            None => life,
        })
    }

    fn takes_in(&self, slot: SlotIx) -> Option<OperationIx> {
        let of_it =
            |at: &OperationIx| matches!(&self.plan[*at].work, Work::Parts(slots) if slots.contains(&slot));
        self.plan.line().find(of_it)
    }

    /// The free length of a piece before it went in, mm.
    fn free_mm(&self, slot: SlotIx, member: usize) -> Option<f64> {
        let family = self.plan.families.iter().position(|family| family.slot == Some(slot))?;
        self.mean_of(FamilyIx(family), member)
    }

    /// Whether the lengths of a fastener's set are measured, and its own free length, mm, where it was.
    pub(super) fn free_length(&self, joint: JointIx, fastener: FastenerIx) -> (bool, Option<f64>) {
        let slot = self.plan[joint].group_with(fastener).and_then(|group| group.parts);
        let slot = slot.filter(|slot| self.plan.families.iter().any(|family| family.slot == Some(*slot)));
        let Some(slot) = slot else { return (false, None) };
        let piece = self.plan.pieces(slot).iter().position(|piece| *piece == (joint, fastener));
        (true, piece.and_then(|piece| self.free_mm(slot, piece)))
    }

    /// What a fastener went through, round by round.
    fn fastened_life(&self, life: Life, joint: JointIx, fastener: FastenerIx) -> Life {
        let of = &self.plan[joint];
        let mut life = Life { name: format!("{} {}", of.name, of[fastener].id), ..life };
        for at in 0..of.rounds.len() {
            let round = self.joints.round((joint, at));
            let own = !self.plan.line().filter_map(|at| self.plan.tightens(at)).any(|work| {
                work.fasteners.is_some() && work.shares.iter().any(|share| share.at() == (joint, at))
            });
            let fastened = round.fastened(fastener);
            let counts = |of: &&Loosening| of.fastener == fastener && self.ledger.counts(of.seq);
            let loosenings: Vec<&Loosening> = round.loosenings.iter().filter(counts).collect();
            let replaced: Vec<String> =
                loosenings.iter().filter(|of| of.replaced).map(|of| of.reason.clone()).collect();
            if !own {
                continue;
            }
            if !replaced.is_empty() {
                // What is in now is another one.
                life = Life {
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
                let bolt = group.and_then(|group| self.plan[of[group].spec].fastening.bolt);
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
    fn scrap(&self, life: &Life, at: (JointIx, usize), fastener: FastenerIx) -> Option<String> {
        let (of, round) = (&self.plan[at.0], self.joints.round(at));
        if let Some((left, most)) = life.left_mm.zip(life.set_mm).filter(|(left, most)| left > most) {
            let [left, most] = [left, most].map(|mm| quantity::format(mm, Dimension::Length.base()));
            return Some(format!("stays {left} longer for good, and {most} is the most"));
        }
        if !round.fastened(fastener).is_spent() {
            return None;
        }
        let spec = of.group_with(fastener).map(|group| &self.plan[group.spec])?;
        Some(if spec.single_use || spec.to_yield {
            "is for one use only".to_owned()
        } else {
            "was taken past what it can be used for".to_owned()
        })
    }
}

/// One engine that a part was in.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lived {
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub engine: String,
    /// What the part, or a piece of the set, went through there.
    pub life: Life,
}

/// Whether a part may go on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum PartVerdict {
    /// It may be used once more.
    Good,
    /// It may be used once more, and that is the last time.
    LastTime,
    /// It may not be used.
    Scrap,
}

/// The life of one part, or of one piece of a set, over all engines.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceHistory {
    /// Which piece of the set, from 1; 0 for the part itself.
    pub piece: usize,
    /// What it is called.
    pub name: String,
    /// How often it was used: rounds of a fastener, engines of another part; since a new one went in.
    pub uses: u32,
    /// How often it may be used.
    pub allowed: Option<u32>,
    /// Its first free length, mm.
    pub first_free_mm: Option<f64>,
    /// How much longer it is than it was then, mm.
    pub grown_mm: Option<f64>,
    /// Whether it may go on.
    pub verdict: PartVerdict,
    /// Why it may not, or what there is to be said.
    pub why: Vec<String>,
    /// Engine by engine, the first one first.
    pub lived: Vec<Lived>,
}

/// The life of everything with one serial, mark or set number, of one kind.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct History {
    /// Its serial, mark or set number.
    pub serial: String,
    /// Key of its kind.
    pub kind: String,
    /// Its pieces, the part itself or the whole set first.
    pub pieces: Vec<PieceHistory>,
}

impl History {
    /// What is known of one serial of one kind, from every engine it was in, the first one first.
    pub fn of(lived: &[Lived]) -> Self {
        let mut numbers: Vec<usize> = lived.iter().map(|lived| lived.life.piece).collect();
        numbers.sort_unstable();
        numbers.dedup();
        let piece = |number| {
            PieceHistory::of(lived.iter().filter(|lived| lived.life.piece == number).cloned().collect())
        };
        let first = lived.first().map(|lived| &lived.life);
        Self {
            serial: first.map(|life| life.serial.clone()).unwrap_or_default(),
            kind: first.map(|life| life.kind.clone()).unwrap_or_default(),
            pieces: numbers.into_iter().filter_map(piece).collect(),
        }
    }

    /// What the shop knows of it, for the engine it is entered in next.
    pub fn before(&self) -> Before {
        let mut engines: Vec<String> = Vec::new();
        for lived in self.pieces.iter().flat_map(|piece| &piece.lived) {
            if !engines.contains(&lived.engine) {
                engines.push(lived.engine.clone());
            }
        }
        let single = self.pieces.len() == 1;
        let scrap = self.pieces.iter().filter(|piece| piece.verdict == PartVerdict::Scrap);
        // That it was used up is told by the uses.
        let scrap =
            scrap.flat_map(|piece| {
                let why = piece.why.iter().filter(|why| !why.starts_with(USED));
                why.map(move |why| {
                    if single || piece.piece == 0 { why.clone() } else { format!("{} {why}", piece.name) }
                })
            });
        Before {
            engines,
            uses: self.pieces.iter().map(|piece| piece.uses).max().unwrap_or_default(),
            scrap: scrap.collect(),
            free: self
                .pieces
                .iter()
                .filter_map(|of| Some(FreeLength { piece: of.piece, mm: of.first_free_mm? }))
                .collect(),
        }
    }
}

/// How it begins that a part was used up.
const USED: &str = "was used";

impl PieceHistory {
    fn of(lived: Vec<Lived>) -> Option<Self> {
        let last = &lived.last()?.life;
        let (piece, name, allowed) = (last.piece, last.name.clone(), last.allowed);
        let mut uses = 0;
        let mut first_free_mm: Option<f64> = None;
        let mut last_free_mm: Option<f64> = None;
        let mut why: Vec<String> = Vec::new();
        for Lived { engine, life, .. } in &lived {
            uses = uses.max(life.uses_said);
            if !life.replaced.is_empty() {
                // A new one goes on in its place, whose length nobody has measured yet.
                (uses, first_free_mm, last_free_mm) = (0, None, None);
                why.clear();
            } else if let Some(free) = life.free_mm {
                first_free_mm.get_or_insert(free);
                last_free_mm = Some(free);
            }
            uses += if piece > 0 { life.rounds } else { u32::from(!life.tightened) };
            why.extend(life.scrap.iter().map(|why| format!("{why} ({engine})")));
            let scrapped = life.remarks.iter().filter(|remark| remark.kind == Remarked::Scrapped);
            why.extend(scrapped.map(|remark| format!("is scrap: {} ({engine})", remark.text)));
        }
        let grown_mm = first_free_mm.zip(last_free_mm).map(|(first, last)| last - first);
        if let Some((grown, most)) = grown_mm.zip(last.set_mm).filter(|(grown, most)| *grown > most + 1e-9) {
            let [grown, most] = [grown, most].map(|mm| quantity::format(mm, Dimension::Length.base()));
            why.push(format!("has grown by {grown} since it was new, and {most} is the most"));
        }
        let used_up = allowed.filter(|allowed| uses >= *allowed && piece_counts(piece, last));
        why.extend(used_up.map(|allowed| format!("{USED} {uses} times, and {allowed} is the most")));
        let verdict = if !why.is_empty() {
            PartVerdict::Scrap
        } else if allowed.is_some_and(|allowed| uses + 1 == allowed && piece_counts(piece, last)) {
            PartVerdict::LastTime
        } else {
            PartVerdict::Good
        };
        Some(Self { piece, name, uses, allowed, first_free_mm, grown_mm, verdict, why, lived })
    }
}

/// Whether uses are counted of a piece itself: of a set, its pieces have them.
fn piece_counts(piece: usize, life: &Life) -> bool {
    piece > 0 || !life.tightened
}
