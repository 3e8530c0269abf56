//! Practice: a bolt with hidden friction is to be brought to its stretch in as few pulls as possible.
//!
//! A game is its seed and what was done: played again, it goes the same way. Nothing of it is in any record.

use crate::bolt::StretchedBolt;
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};
use rigore_mechanics::fastener::{Strength, Thread};
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{
    BoltEnd, BoltHead, BoltSegment, Fastening, SegmentSection, TorqueStretchPair, WeakestSection,
    bolt_resilience,
};
use rigore_mechanics::quantity::{Dimension, mm, mpa};
use rigore_mechanics::tightening::{Band, StretchSteps, Verdict};

/// The stretch that is wanted, mm.
pub fn window() -> Band {
    Band::between(0.150, 0.145, 0.155, Dimension::Length)
}
/// The most that may be used of the bolt's yield.
pub const UTILISATION: f64 = 0.9;
/// Pulls of one game at most.
pub const MOST_PULLS: usize = 24;
/// The bolt's free length when it is new, mm.
const FREE_MM: f64 = 46.2;
/// Scatter of the nut factor from pull to pull, and error of the gauge, mm.
const PULL_SCATTER: f64 = 0.015;
const GAUGE_MM: f64 = 0.001;
/// Points for a bolt that is stretched in as many pulls as the advice needs, and off for each one more.
const FULL: u32 = 100;
const EACH: u32 = 15;

/// What is done in a game.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum PracticeMove {
    /// It is pulled to a torque, N·m, and its stretch read.
    Pull(f64),
    /// It is loosened, and what is left is read.
    Loosen,
}

/// What came of one.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PracticeReading {
    /// What was done.
    pub done: PracticeMove,
    /// What the gauge showed then, mm.
    pub read_mm: f64,
}

/// How a game stands.
#[derive(Debug, Clone, PartialEq)]
pub struct PracticeState {
    /// The bolt's free length as it is measured before, mm.
    pub free_mm: f64,
    /// The free length of a new one, mm.
    pub new_mm: f64,
    /// What was done, and what was read.
    pub moves: Vec<PracticeReading>,
    /// Torques with their stretches since it went in.
    pub pairs: Vec<TorqueStretchPair>,
    /// The torque that is on, N·m.
    pub on_nm: Option<f64>,
    /// How many pulls there were.
    pub pulls: usize,
    /// Whether it has its stretch.
    pub inside: bool,
    /// The most that any pull used of its yield.
    pub used: f64,
    /// How many pulls the advised climb takes for the same bolt.
    pub advised: usize,
    /// What it is worth, once it has its stretch or is past its limit.
    pub points: Option<u32>,
    /// Its friction; told once the game is over.
    pub mu: Option<f64>,
    /// How much longer it is for good now, mm; told once the game is over.
    pub set_mm: Option<f64>,
}

/// The kind of bolt that is practised on.
pub fn practice_bolt() -> Option<Fastening> {
    let thread = Thread::parse("M9x1").ok()?;
    let shank =
        |length, diameter| BoltSegment { length: mm(length), section: SegmentSection::Shank(mm(diameter)) };
    let free = BoltSegment { length: mm(6.0), section: SegmentSection::FreeThread };
    let segments = [shank(8.0, 9.0), shank(26.0, 7.6), free];
    Some(Fastening {
        thread,
        strength: Strength::figures(mpa(1250.0), mpa(1350.0)).ok()?,
        neck: WeakestSection::of(&thread, [9.0, 7.6]),
        bearing_diameter_mm: 12.0,
        friction: [0.06, 0.12, 0.20].map(Friction::both),
        bolt: Some(bolt_resilience(&thread, &segments, BoltHead::Hex, BoltEnd::Tapped, [mpa(205_000.0); 2])),
        parts: None,
        known: true,
        converted: 1.0,
    })
}

/// The climb that is advised on it.
pub fn advised(fastening: &Fastening) -> StretchSteps<'_> {
    StretchSteps {
        fastening,
        band: window(),
        first_nm: None,
        step_nm: None,
        most_nm: None,
        utilisation: UTILISATION,
        qualified: None,
    }
}

/// One hidden bolt: its friction, and how much it has grown before.
fn hidden(fastening: &Fastening, seed: u64) -> Option<(StretchedBolt, f64, f64)> {
    let mut rng = StdRng::seed_from_u64(seed);
    let mu = 0.06 + 0.14 * rng.random_range(0.0_f64..1.0);
    let strength = rng.random_range(0.97..1.05);
    // One in four was used before.
    let grown_mm = if rng.random_range(0..4) == 0 { rng.random_range(0.001..0.004) } else { 0.0 };
    let bolt = StretchedBolt::new(fastening, Friction::both(mu), PULL_SCATTER, GAUGE_MM, seed)?;
    Some((bolt.of_strength(strength).used_before(grown_mm), mu, grown_mm))
}

/// Plays what was done from the beginning; `None` where nothing can be computed.
pub fn play(seed: u64, moves: &[PracticeMove]) -> Option<PracticeState> {
    let fastening = practice_bolt()?;
    let (mut bolt, mu, grown_mm) = hidden(&fastening, seed)?;
    let mut game = PracticeState {
        free_mm: FREE_MM + grown_mm,
        new_mm: FREE_MM,
        moves: Vec::new(),
        pairs: Vec::new(),
        on_nm: None,
        pulls: 0,
        inside: false,
        used: 0.0,
        advised: by_advice(&fastening, seed)?,
        points: None,
        mu: None,
        set_mm: None,
    };
    for done in moves.iter().copied() {
        let read_mm = match done {
            PracticeMove::Pull(torque_nm) => {
                let stretch_mm = bolt.pull(torque_nm);
                game.pairs.push(TorqueStretchPair { torque_nm, stretch_mm });
                (game.on_nm, game.pulls) = (Some(torque_nm), game.pulls + 1);
                game.used = game.used.max(bolt.used());
                game.inside = window().judge(stretch_mm) == Verdict::Good;
                stretch_mm
            }
            PracticeMove::Loosen => {
                (game.on_nm, game.inside) = (None, false);
                bolt.loosen()
            }
        };
        game.moves.push(PracticeReading { done, read_mm });
    }
    let past = game.used > UTILISATION;
    if game.inside || past || game.pulls >= MOST_PULLS {
        let more = u32::try_from(game.pulls.saturating_sub(game.advised)).unwrap_or(u32::MAX);
        let points = FULL.saturating_sub(EACH.saturating_mul(more));
        game.points = Some(if past || !game.inside { 0 } else { points });
        (game.mu, game.set_mm) = (Some(mu), Some(bolt.set_mm()));
    }
    Some(game)
}

/// How many pulls the advised climb takes on the same bolt.
fn by_advice(fastening: &Fastening, seed: u64) -> Option<usize> {
    let (mut bolt, ..) = hidden(fastening, seed)?;
    let climb = advised(fastening);
    let mut pairs = Vec::new();
    while pairs.len() < MOST_PULLS {
        let torque_nm = climb.next(&pairs)?.torque_nm;
        let stretch_mm = bolt.pull(torque_nm);
        pairs.push(TorqueStretchPair { torque_nm, stretch_mm });
        match window().judge(stretch_mm) {
            Verdict::Good => break,
            Verdict::Over => drop(bolt.loosen()),
            Verdict::Low => {}
        }
    }
    Some(pairs.len())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_game_that_follows_the_advice_is_worth_all_its_points_and_goes_the_same_again() {
        let fastening = practice_bolt().expect("a bolt");
        for seed in 0..200 {
            let mut moves = Vec::new();
            let game = loop {
                let game = play(seed, &moves).expect("a game");
                if game.points.is_some() {
                    break game;
                }
                if game.moves.last().is_some_and(|last| last.read_mm > window().high) {
                    moves.push(PracticeMove::Loosen);
                }
                moves.push(PracticeMove::Pull(
                    advised(&fastening).next(&game.pairs).expect("a torque").torque_nm,
                ));
            };
            assert!(game.inside && game.used <= UTILISATION, "{seed}: {game:?}");
            assert!(game.points >= Some(55), "{seed}: {game:?}");
            assert_eq!(play(seed, &moves), Some(game));
        }
    }

    #[test]
    fn past_its_limit_it_is_worth_nothing_and_what_was_hidden_is_told() {
        let game = play(3, &[PracticeMove::Pull(20.0)]).expect("a game");
        assert_eq!((game.points, game.mu, game.set_mm, game.pulls), (None, None, None, 1));
        let game = play(3, &[PracticeMove::Pull(20.0), PracticeMove::Pull(160.0)]).expect("a game");
        assert_eq!(game.points, Some(0));
        assert!(game.mu.is_some_and(|mu| (0.06..=0.20).contains(&mu)) && game.set_mm > Some(0.0), "{game:?}");
    }
}
