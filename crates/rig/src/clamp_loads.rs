//! Many bolts brought to one load, drawn by chance: what the clamp load of each comes to.

use rand::rngs::StdRng;
use rand::{RngCore, SeedableRng};
use rigore_mechanics::joint::{FrictionLevers, LoadedBolt};

/// Loads drawn by chance, counted in steps of equal width from `low_kn` on.
#[derive(Debug, Clone, PartialEq)]
pub struct Histogram {
    /// Where the first step begins, kN.
    pub low_kn: f64,
    /// How wide a step is, kN.
    pub step_kn: f64,
    /// How many bolts came to each.
    pub counts: Vec<u32>,
}

impl Histogram {
    /// The share of bolts that stay below the end of each step.
    pub fn shares(&self) -> impl Iterator<Item = (f64, f64)> + '_ {
        let all: u64 = self.counts.iter().map(|count| u64::from(*count)).sum();
        let mut so_far = 0_u64;
        (1_u32..).zip(&self.counts).map(move |(at, count)| {
            so_far += u64::from(*count);
            #[expect(clippy::cast_precision_loss, reason = "bolts are fewer than 2^52")]
            let share = so_far as f64 / all as f64;
            (self.low_kn + self.step_kn * f64::from(at), share)
        })
    }
}

/// Draws so many bolts, and counts what each of the loads comes to on them: the same friction for all of the loads.
pub fn clamp_loads<const N: usize>(
    levers: &FrictionLevers,
    loads: &[LoadedBolt; N],
    bolts: u32,
    steps: u32,
    seed: u64,
) -> [Histogram; N] {
    let mut rng = StdRng::seed_from_u64(seed);
    let mut histograms = loads.map(|load| {
        let [low_kn, _, high_kn] = load.range(levers);
        let step_kn = (high_kn - low_kn).max(1e-9) / f64::from(steps);
        Histogram { low_kn, step_kn, counts: vec![0; steps as usize] }
    });
    for _ in 0..bolts {
        // Four even draws out of two words; the sum of two of them is a triangle.
        let (friction, errors) = (rng.next_u64(), rng.next_u64());
        let place = even(friction) + even(friction >> 32);
        let (wrench, other) = (2.0 * even(errors), 2.0 * even(errors >> 32));
        for (load, histogram) in loads.iter().zip(&mut histograms) {
            let above = load.kn(levers, place, wrench, other) - histogram.low_kn;
            #[expect(
                clippy::cast_possible_truncation,
                clippy::cast_sign_loss,
                reason = "within the steps, or the last"
            )]
            let at = (above / histogram.step_kn) as usize;
            let last = histogram.counts.len() - 1;
            histogram.counts[at.min(last)] += 1;
        }
    }
    histograms
}

/// An even draw from -0.5 to 0.5 out of the low half of a word.
fn even(word: u64) -> f64 {
    const HALF: f64 = 4_294_967_296.0;
    #[expect(clippy::cast_possible_truncation, reason = "the low half")]
    let low = word as u32;
    f64::from(low) / HALF - 0.5
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_drawn_agrees_with_what_is_computed() {
        let levers = FrictionLevers([1.2, 1.5, 2.1]);
        let loads = [
            LoadedBolt { torque_nm: 60.0, accuracy: 0.04, added_kn: 0.0, error_kn: 0.0 },
            LoadedBolt { torque_nm: 20.0, accuracy: 0.06, added_kn: 25.0, error_kn: 1.5 },
            LoadedBolt { torque_nm: 0.0, accuracy: 0.0, added_kn: 40.0, error_kn: 0.6 },
        ];
        let drawn = clamp_loads(&levers, &loads, 400_000, 256, 7);
        for (load, histogram) in loads.iter().zip(&drawn) {
            // The most that the two curves are apart: three times what chance makes of so many is 0.003.
            let apart = histogram.shares().map(|(kn, share)| (share - load.share_below(&levers, kn)).abs());
            let apart = apart.fold(0.0_f64, f64::max);
            assert!(apart < 0.003, "{load:?}: {apart}");
        }
        assert_ne!(clamp_loads(&levers, &loads, 1000, 64, 8), clamp_loads(&levers, &loads, 1000, 64, 9));
    }
}
