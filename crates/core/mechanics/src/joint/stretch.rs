//! Stretch and clamp load, and the friction that torques and stretches tell of (M-7, M-8).

use super::preload::{BearingFace, TorqueRelation};
use crate::fastener::Thread;
use crate::friction::Friction;
use crate::quantity::{Force, Length, in_kn, in_mm, kn, mm};

/// Clamp load of a bolt stretched by so much, measured end to end: by the bolt's own resilience δB, since nut and hole
/// give without making the bolt longer.
pub fn preload_from_stretch(stretch: Length, bolt_mm_per_n: f64) -> Force {
    kn(in_mm(stretch) / bolt_mm_per_n / 1000.0)
}

/// Stretch of a bolt under a clamp load.
pub fn stretch_from_preload(preload: Force, bolt_mm_per_n: f64) -> Length {
    mm(in_kn(preload) * 1000.0 * bolt_mm_per_n)
}

/// A torque, and the stretch that was read after it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TorqueStretchPair {
    /// N·m.
    pub torque_nm: f64,
    /// mm.
    pub stretch_mm: f64,
}

/// The friction that pairs of one bolt tell of, all of it in one number.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NutFactor {
    /// K, without unit.
    pub k: f64,
    /// Its standard error, from two pairs on.
    pub error: Option<f64>,
}

impl NutFactor {
    /// K of a bolt by least squares through zero, `K = Σ T F / (d Σ F²)`; `None` without a pair that has
    /// both a torque and a stretch.
    pub fn of(thread: &Thread, bolt_mm_per_n: f64, pairs: &[TorqueStretchPair]) -> Option<Self> {
        let d = thread.nominal_mm();
        let loads: Vec<(f64, f64)> = pairs
            .iter()
            .filter(|pair| pair.torque_nm > 0.0 && pair.stretch_mm > 0.0)
            .map(|pair| (pair.torque_nm, in_kn(preload_from_stretch(mm(pair.stretch_mm), bolt_mm_per_n))))
            .collect();
        if loads.is_empty() {
            return None;
        }
        let squares: f64 = loads.iter().map(|(_, load)| load * load).sum();
        let k = loads.iter().map(|(torque, load)| torque * load).sum::<f64>() / (d * squares);
        let apart: f64 = loads.iter().map(|(torque, load)| (torque - k * d * load).powi(2)).sum();
        #[expect(clippy::cast_precision_loss, reason = "pairs of one bolt are few")]
        let free = (loads.len() - 1) as f64;
        let error = (loads.len() > 1).then(|| (apart / free / squares).sqrt() / d);
        Some(Self { k, error })
    }

    /// The torque that a clamp load needs, N·m.
    pub fn torque_nm(&self, thread: &Thread, preload: Force) -> f64 {
        self.k * thread.nominal_mm() * in_kn(preload)
    }

    /// The coefficient of friction that would be behind it, equal on the thread and under the head; below
    /// zero where the torque is less than the pitch alone takes.
    pub fn friction(&self, thread: &Thread, bearing: BearingFace) -> f64 {
        let lever =
            |mu: f64| TorqueRelation { thread: *thread, bearing, friction: Friction::both(mu) }.lever_mm();
        let (smooth, of_friction) = (lever(0.0), lever(1.0) - lever(0.0));
        (self.k * thread.nominal_mm() - smooth) / of_friction
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Published check: M9×1.0 with δB 4.834e-6 mm/N.
    const BOLT: f64 = 4.834e-6;

    fn pairs(of: &[(f64, f64)]) -> Vec<TorqueStretchPair> {
        of.iter().map(|&(torque_nm, stretch_mm)| TorqueStretchPair { torque_nm, stretch_mm }).collect()
    }

    #[test]
    fn published_clamp_load_of_a_stretch_and_back() {
        let load = preload_from_stretch(mm(0.150), BOLT);
        assert!((in_kn(load) - 31.03).abs() < 0.005, "{}", in_kn(load));
        assert!((in_mm(stretch_from_preload(load, BOLT)) - 0.150).abs() < 1e-12);
    }

    #[test]
    fn published_friction_of_three_pairs_and_the_torque_it_asks_for() {
        let thread = Thread::parse("M9x1").unwrap();
        let found =
            NutFactor::of(&thread, BOLT, &pairs(&[(40.0, 0.095), (50.0, 0.121), (55.0, 0.131)])).unwrap();
        assert!((found.k - 0.2244).abs() < 0.0005, "{}", found.k);
        let wanted = found.torque_nm(&thread, preload_from_stretch(mm(0.150), BOLT));
        assert!((wanted - 62.7).abs() < 0.05, "{wanted}");
        assert!(found.error.is_some_and(|error| error > 0.0 && error < 0.005), "{found:?}");
    }

    #[test]
    fn one_pair_has_no_error_and_none_no_friction() {
        let thread = Thread::parse("M9x1").unwrap();
        assert_eq!(NutFactor::of(&thread, BOLT, &[]), None);
        assert_eq!(NutFactor::of(&thread, BOLT, &pairs(&[(40.0, 0.0)])), None);
        assert_eq!(NutFactor::of(&thread, BOLT, &pairs(&[(40.0, 0.1)])).unwrap().error, None);
        let exact = NutFactor::of(&thread, BOLT, &pairs(&[(20.0, 0.05), (40.0, 0.1)])).unwrap();
        assert!(exact.error.unwrap() < 1e-12);
    }

    #[test]
    fn the_friction_behind_a_nut_factor_gives_it_again() {
        let thread = Thread::parse("M9x1").unwrap();
        let bearing = BearingFace { mean_diameter: mm(12.0) };
        for mu in [0.06, 0.13, 0.20] {
            let k = TorqueRelation { thread, bearing, friction: Friction::both(mu) }.nut_factor();
            assert!((NutFactor { k, error: None }.friction(&thread, bearing) - mu).abs() < 1e-12);
        }
    }
}
