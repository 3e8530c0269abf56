//! How far a tight fastener was stretched, told by how much shorter it got when it was loosened (C-64).

use super::fastener_history::RecordedLoosening;
use super::tighten_work::JointWork;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use serde::Serialize;

/// The stretch of a tight fastener, read while it was loosened.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TightBoltReading {
    /// The entry.
    pub seq: u64,
    /// The fastener.
    pub fastener: String,
    /// What was read, and what that says.
    pub words: Message,
    /// Whether it held another clamp load than its pulls should have left.
    pub off: bool,
}

fn kn(load: f64) -> Quantity {
    Quantity::new(load, Dimension::Force)
}

/// What a gauge on a fastener showed when it was loosened: what was left of its stretch, or how far it was stretched;
/// none where nothing was read.
pub(crate) fn readings_in_words(loosening: &RecordedLoosening) -> Option<Message> {
    let left = loosening.left_mm.map(|mm| Quantity::new(mm, Dimension::Clearance));
    left.map(|left| message!("tighten-remaining-stretch", left)).or_else(|| words(loosening))
}

/// What a reading on a fastener that was let go says; none where there is none.
pub(super) fn words(loosening: &RecordedLoosening) -> Option<Message> {
    let released = Quantity::new(loosening.released_mm?, Dimension::Clearance);
    let Some(held) = loosening.held else {
        return Some(message!("tighten-shorter-clamp-load-not-known-plan", released));
    };
    let (load, range) = (kn(held.load.typical_kn), kn(held.load.low_kn).up_to(held.load.high_kn));
    let yields = format!("{:.0} %", held.load.utilisation * 100.0);
    let held_words = message!("tighten-shorter-held-yield", released, load, range, yields);
    Some(match held.expected_kn {
        Some([least, most]) => {
            message!("tighten-expected", held = held_words, expected = kn(least).up_to(most))
        }
        None => held_words,
    })
}

/// The fasteners of a joint whose stretch was read like that, the last one first.
pub(super) fn released(hand: &JointWork<'_>) -> Vec<TightBoltReading> {
    let counting = hand.round.loosenings.iter().rev().filter(|of| hand.state.ledger().counts(of.seq));
    let view = |of: &RecordedLoosening| {
        Some(TightBoltReading {
            seq: of.seq,
            fastener: hand.name(of.fastener).to_owned(),
            words: words(of)?,
            off: of.held.is_some_and(|held| held.is_off()),
        })
    };
    counting.filter_map(view).collect()
}
