//! A bolt that is stretched, as a gauge on its two ends sees it.

use rand::SeedableRng;
use rand::rngs::StdRng;
use rand_distr::{Distribution, Normal};
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{
    BearingFace, Fastening, TorqueRelation, assembly_preload, stretch_from_preload, utilisation,
};
use rigore_mechanics::quantity::{in_kn, in_mm, kn, mm, nm};

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
    /// What it can bear of what its kind is made for.
    strength: f64,
    /// How much longer it is for good than when it was new, mm.
    set_mm: f64,
    /// The same when it was measured free, mm.
    set_before_mm: f64,
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
        let (preload_kn, strength, set_mm) = (0.0, 1.0, 0.0);
        let fastening = *fastening;
        Some(Self {
            fastening,
            friction,
            scatter,
            gauge_mm,
            preload_kn,
            strength,
            set_mm,
            set_before_mm: 0.0,
            rng,
        })
    }

    /// The same bolt with another strength, as a share of what its kind is made for.
    #[must_use]
    pub fn of_strength(self, strength: f64) -> Self {
        Self { strength, ..self }
    }

    /// The same bolt, used before, and so much longer than when it was new, mm.
    #[must_use]
    pub fn used_before(self, set_mm: f64) -> Self {
        Self { set_mm, set_before_mm: set_mm, ..self }
    }

    fn around(&mut self, mean: f64, deviation: f64) -> f64 {
        Normal::new(mean, deviation.max(0.0)).map_or(mean, |normal| normal.sample(&mut self.rng))
    }

    /// Pulls it to a torque: it turns only where that is more than what holds it. Gives what the gauge shows
    /// then, mm.
    pub fn pull(&mut self, torque_nm: f64) -> f64 {
        let bearing = BearingFace { mean_diameter: mm(self.fastening.bearing_diameter_mm) };
        let tightening = TorqueRelation { thread: self.fastening.thread, bearing, friction: self.friction };
        let share = self.around(1.0, self.scatter).max(0.1);
        let reached_kn = in_kn(tightening.preload(nm(torque_nm), nm(0.0))) / share;
        // Past its yield it bears hardly more, and what it gives it keeps.
        let yields_kn = self.yields_kn();
        let given_kn = (reached_kn - yields_kn).max(0.0);
        self.set_mm += in_mm(stretch_from_preload(kn(given_kn), self.own_resilience()));
        self.preload_kn = self.preload_kn.max(reached_kn.min(yields_kn));
        self.stretch_mm()
    }

    /// Loosens it. Gives what the gauge shows then: what is left of its stretch, mm.
    pub fn loosen(&mut self) -> f64 {
        self.preload_kn = 0.0;
        self.stretch_mm()
    }

    /// How much longer it is for good than when it was new, mm. A real bolt does not tell.
    pub fn set_mm(&self) -> f64 {
        self.set_mm
    }

    /// Its own resilience, mm/N: a bolt that is stretched has one.
    fn own_resilience(&self) -> f64 {
        self.fastening.own_resilience().unwrap_or_default()
    }

    /// The clamp load where it yields, kN.
    fn yields_kn(&self) -> f64 {
        let Fastening { thread, neck, strength, .. } = &self.fastening;
        in_kn(assembly_preload(thread, *neck, 1.0, self.friction.thread, strength.proof)) * self.strength
    }

    fn stretch_mm(&mut self) -> f64 {
        let stretch = in_mm(stretch_from_preload(kn(self.preload_kn), self.own_resilience()));
        self.around(stretch + self.set_mm - self.set_before_mm, self.gauge_mm)
    }

    /// How much of its yield it uses. A real bolt does not tell.
    pub fn used(&self) -> f64 {
        let Fastening { thread, neck, strength, .. } = &self.fastening;
        utilisation(thread, *neck, kn(self.preload_kn), self.friction.thread, strength.proof) / self.strength
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rigore_mechanics::fastener::{Strength, Thread};
    use rigore_mechanics::joint::{BoltResilience, Resilience, WeakestSection};
    use rigore_mechanics::quantity::mpa;

    fn bolt() -> StretchedBolt {
        let thread = Thread::parse("M9x1").expect("a thread");
        let fastening = Fastening {
            thread,
            strength: Strength::figures(mpa(1250.0), mpa(1350.0)).expect("figures"),
            neck: WeakestSection::of(&thread, [7.6]),
            bearing_diameter_mm: 12.0,
            friction: [0.06, 0.08, 0.10].map(Friction::both),
            bolt: Some(BoltResilience { own: Resilience::computed(4.834e-6), end: 0.227e-6 }),
            parts: None,
            known: true,
            converted: 1.0,
        };
        StretchedBolt::new(&fastening, Friction::both(0.08), 0.0, 0.0, 1).expect("a bolt")
    }

    #[test]
    fn what_it_is_given_past_yield_it_keeps() {
        let mut elastic = bolt();
        assert!(elastic.pull(29.0) > 0.135 && elastic.used() < 0.7);
        assert!(elastic.loosen().abs() < 1e-12 && elastic.set_mm() == 0.0);
        let mut yielded = bolt();
        let stretch = yielded.pull(70.0);
        assert!((yielded.used() - 1.0).abs() < 1e-9 && stretch > 0.2);
        let left = yielded.loosen();
        assert!(left > 0.01 && (left - yielded.set_mm()).abs() < 1e-12, "{left}");
        // A weaker one gives way sooner; one that was used before shows its stretch from where it is.
        let mut weak = bolt().of_strength(0.8);
        weak.pull(47.0);
        assert!(weak.loosen() > 0.0);
        let mut used = bolt().used_before(0.01);
        assert!((used.pull(29.0) - bolt().pull(29.0)).abs() < 1e-12);
    }
}
