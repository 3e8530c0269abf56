//! What a joint does while its engine runs: a working load along the bolt (VDI 2230-1, R2 to R5 and R9; M-22).

use crate::fastener::Thread;

/// Where a load enters the clamped parts, where nobody says so.
pub const USUAL_LOAD_INTRODUCTION: f64 = 0.3;

/// A joint under a load along its bolt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WorkingLoad {
    /// The clamp load after assembly, kN.
    pub preload_kn: f64,
    /// The load that pulls on one bolt, kN.
    pub axial_kn: f64,
    /// The load factor Φ: the share of it that the bolt feels.
    pub factor: f64,
}

impl WorkingLoad {
    /// A load of `axial_kn` on a joint, by the resiliences δS and δP in mm/N and the load introduction factor n.
    pub fn new(preload_kn: f64, axial_kn: f64, (bolt, parts): (f64, f64), introduction: f64) -> Self {
        Self { preload_kn, axial_kn, factor: introduction * parts / (bolt + parts) }
    }

    /// What of the load the bolt feels on top of its preload, kN.
    pub fn bolt_share_kn(&self) -> f64 {
        self.factor * self.axial_kn
    }

    /// What still clamps the parts under the load, kN; none or less where the joint opens.
    pub fn clamp_kn(&self) -> f64 {
        self.preload_kn - (1.0 - self.factor) * self.axial_kn
    }

    /// The load at which the joint opens, kN.
    pub fn opens_at_kn(&self) -> f64 {
        self.preload_kn / (1.0 - self.factor)
    }

    /// The stress that alternates in the thread where the load comes and goes, `MPa`: half the bolt's share.
    pub fn alternating_mpa(&self, thread: &Thread) -> f64 {
        self.bolt_share_kn().abs() * 1000.0 / (2.0 * thread.stress_area_mm2())
    }
}

/// The alternating stress that a thread stands that was rolled before heat treatment, `MPa`: `0.85 (150/d + 45)`.
pub fn alternating_limit_mpa(thread: &Thread) -> f64 {
    0.85 * (150.0 / thread.nominal_mm() + 45.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn published_load_of_a_rod_bolt() {
        let load = WorkingLoad::new(46.0, 15.3, (5.061e-6, 1.2e-6), 0.3);
        assert!((load.factor - 0.0575).abs() < 5e-5, "{}", load.factor);
        assert!((load.bolt_share_kn() - 0.880).abs() < 5e-4, "{}", load.bolt_share_kn());
        assert!((load.clamp_kn() - 31.58).abs() < 0.005, "{}", load.clamp_kn());
        let thread = Thread::parse("M9x1").unwrap();
        assert!((alternating_limit_mpa(&thread) - 52.4).abs() < 0.05, "{}", alternating_limit_mpa(&thread));
        assert!((load.alternating_mpa(&thread) - 880.0 / 2.0 / thread.stress_area_mm2()).abs() < 0.02);
    }

    proptest! {
        #[test]
        fn the_joint_opens_where_nothing_clamps_it_any_more(
            preload in 1.0f64..100.0, bolt in 1.0f64..10.0, parts in 0.2f64..10.0, n in 0.1f64..1.0,
        ) {
            let of = |axial| WorkingLoad::new(preload, axial, (bolt, parts), n);
            let opens = of(1.0).opens_at_kn();
            prop_assert!(of(opens).clamp_kn().abs() < 1e-9 * preload);
            // All of the load is either the bolt's or taken off the parts.
            let load = of(preload / 2.0);
            let taken_off = preload - load.clamp_kn();
            prop_assert!((taken_off + load.bolt_share_kn() - load.axial_kn).abs() < 1e-9 * preload);
            prop_assert!(load.factor > 0.0 && load.factor < 1.0);
        }
    }
}
