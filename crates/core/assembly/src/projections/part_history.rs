//! The life of a part, or of every piece of a set, over all engines it was in: whether it may go on (C-16, C-25).

use crate::events::{EarlierUse, FreeLength, PartRemarkKind};
use crate::projections::part_life::PartLife;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use serde::Serialize;
use uuid::Uuid;

/// One engine that a part was in.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartUse {
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub engine: String,
    /// What the part, or a piece of the set, went through there.
    pub life: PartLife,
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
    /// How much longer it is for good than it was then, mm: by its free length, and by what was left of its stretch
    /// since.
    pub grown_mm: Option<f64>,
    /// Whether it may go on.
    pub verdict: PartVerdict,
    /// Why it may not, or what there is to be said.
    pub why: Vec<Message>,
    /// Engine by engine, the first one first.
    pub lived: Vec<PartUse>,
}

/// The life of everything with one serial, mark or set number, of one kind.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartHistory {
    /// Its serial, mark or set number.
    pub serial: String,
    /// Key of its kind.
    pub kind: String,
    /// Its pieces, the part itself or the whole set first.
    pub pieces: Vec<PieceHistory>,
}

impl PartHistory {
    /// What is known of one serial of one kind, from every engine it was in, the first one first.
    pub fn of(lived: &[PartUse]) -> Self {
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
    pub fn before(&self) -> EarlierUse {
        let mut engines: Vec<String> = Vec::new();
        for lived in self.pieces.iter().flat_map(|piece| &piece.lived) {
            if !engines.contains(&lived.engine) {
                engines.push(lived.engine.clone());
            }
        }
        let whole = self.pieces.iter().find(|piece| piece.piece == 0);
        let last = whole.and_then(|piece| piece.lived.last()).map(|lived| &lived.life);
        let single = self.pieces.len() == 1;
        let scrap = self.pieces.iter().filter(|piece| piece.verdict == PartVerdict::Scrap);
        // That it was used up is told by the uses: what the next plan allows may be another thing.
        let scrap = scrap.flat_map(|piece| {
            let why = piece.why.iter().take(piece.why.len() - usize::from(piece.is_used_up()));
            why.map(move |why| {
                if single || piece.piece == 0 {
                    why.clone()
                } else {
                    message!("assembly-piece-why", piece = &piece.name, why)
                }
            })
        });
        EarlierUse {
            engines,
            uses: self.pieces.iter().map(|piece| piece.uses).max().unwrap_or_default(),
            slot: last.map(|life| life.slot.clone()).unwrap_or_default(),
            place: last.map(|life| life.name.clone()).unwrap_or_default(),
            // It goes into the record of the next engine as it is told now.
            scrap: scrap.map(|why: Message| why.as_told()).collect(),
            free: self
                .pieces
                .iter()
                .filter_map(|of| Some(FreeLength { piece: of.piece, mm: of.first_free_mm? }))
                .collect(),
        }
    }
}

impl PieceHistory {
    fn of(lived: Vec<PartUse>) -> Option<Self> {
        let last = &lived.last()?.life;
        let (piece, name, allowed) = (last.piece, last.name.clone(), last.allowed);
        let mut uses = 0;
        let mut first_free_mm: Option<f64> = None;
        let mut grown_mm: Option<f64> = None;
        let mut why: Vec<Message> = Vec::new();
        for PartUse { engine, life, .. } in &lived {
            uses = uses.max(life.uses_said);
            if !life.replaced.is_empty() {
                // A new one goes on in its place.
                (uses, first_free_mm, grown_mm) = (0, None, None);
                why.clear();
            }
            if let Some(free) = life.free_mm {
                grown_mm = Some(free - *first_free_mm.get_or_insert(free));
            }
            // What was left of its stretch there comes on top, until it is measured free again.
            if let Some(left) = life.left_mm {
                grown_mm = Some(grown_mm.unwrap_or(0.0) + left);
            }
            uses += if piece > 0 { life.rounds } else { u32::from(!life.tightened) };
            why.extend(life.scrap.iter().map(|why| message!("assembly-why-engine", why, engine)));
            let scrapped = life.remarks.iter().filter(|remark| remark.kind == PartRemarkKind::Scrapped);
            why.extend(scrapped.map(|remark| message!("assembly-scrap", text = &remark.text, engine)));
        }
        let too_long = grown_mm.zip(last.set_mm).filter(|(grown, most)| *grown > most + 1e-9);
        // One that was found to stay longer at once has that said of it already.
        if let Some((grown, most)) = too_long.filter(|_| last.scrap.is_none()) {
            let [grown, most] = [grown, most].map(|mm| Quantity::new(mm, Dimension::Clearance));
            why.push(message!("assembly-permanent-stretch-since-new-max", grown, most));
        }
        let tightened = last.tightened;
        let verdict = PartVerdict::Good;
        let mut of_it = Self { piece, name, uses, allowed, first_free_mm, grown_mm, verdict, why, lived };
        if of_it.is_used_up() {
            let allowed = allowed.unwrap_or_default();
            of_it.why.push(message!("assembly-used-times-max", uses, allowed));
        }
        if !of_it.why.is_empty() {
            of_it.verdict = PartVerdict::Scrap;
        } else if allowed == Some(uses + 1) && (piece > 0 || !tightened) {
            of_it.verdict = PartVerdict::LastTime;
        }
        Some(of_it)
    }

    /// Whether it was used as often as it may be. Of a set, the pieces are what is used.
    fn is_used_up(&self) -> bool {
        let counts = self.piece > 0 || self.lived.last().is_some_and(|last| !last.life.tightened);
        counts && self.allowed.is_some_and(|allowed| self.uses >= allowed)
    }
}
