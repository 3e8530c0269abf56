//! A bolt that is stretched, as a gauge on its two ends sees it.

use rand::SeedableRng;
use rand::rngs::StdRng;
use rand_distr::{Distribution, Normal};
use rigore_core::friction::Friction;
use rigore_core::joint::{Bearing, Fastening, Tightening, stretch_from_preload, utilisation};
use rigore_core::quantity::{in_kn, in_mm, kn, mm, nm};

/// A bolt with a friction that nobody knows, and a gauge with an error of its own.
#[derive(Debug, Clone)]
pub struct StretchedBolt {
    fastening: Fastening,
    friction: Friction,
    /// Relative standard deviation of its nut factor from pull to pull.
    scatter: f64,
    /// Standard deviation of a reading of the gauge, mm.
    gauge_mm: f64,
    preload_kn: f64,
    rng: StdRng,
}

impl StretchedBolt {
    /// A bolt of a kind; `None` where the plan does not give its resilience.
    pub fn new(
        fastening: &Fastening,
        friction: Friction,
        scatter: f64,
        gauge_mm: f64,
        seed: u64,
    ) -> Option<Self> {
        fastening.bolt?;
        let rng = StdRng::seed_from_u64(seed);
        Some(Self { fastening: *fastening, friction, scatter, gauge_mm, preload_kn: 0.0, rng })
    }

    fn around(&mut self, mean: f64, deviation: f64) -> f64 {
        Normal::new(mean, deviation.max(0.0)).map_or(mean, |normal| normal.sample(&mut self.rng))
    }

    /// Pulls it to a torque: it turns only where that is more than what holds it. Gives what the gauge shows
    /// then, mm.
    pub fn pull(&mut self, torque_nm: f64) -> f64 {
        let bearing = Bearing { mean_diameter: mm(self.fastening.bearing_diameter_mm) };
        let tightening = Tightening { thread: self.fastening.thread, bearing, friction: self.friction };
        let share = self.around(1.0, self.scatter).max(0.1);
        let reached_kn = in_kn(tightening.preload(nm(torque_nm), nm(0.0))) / share;
        self.preload_kn = self.preload_kn.max(reached_kn);
        self.stretch_mm()
    }

    /// Loosens it.
    pub fn loosen(&mut self) {
        self.preload_kn = 0.0;
    }

    fn stretch_mm(&mut self) -> f64 {
        let bolt = self.fastening.bolt.unwrap_or_default();
        let stretch = in_mm(stretch_from_preload(kn(self.preload_kn), bolt));
        self.around(stretch, self.gauge_mm)
    }

    /// How much of its yield it uses. A real bolt does not tell.
    pub fn used(&self) -> f64 {
        let Fastening { thread, neck, strength, .. } = &self.fastening;
        utilisation(thread, *neck, kn(self.preload_kn), self.friction.thread, strength.proof)
    }
}
