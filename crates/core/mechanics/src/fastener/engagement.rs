//! How much thread has to be engaged so that the bolt breaks before a thread strips (VDI 2230-1, basic sizes; C-39,
//! M-18). Thread tolerances and thin walls cost up to a quarter more.

use super::{Material, Thread};
use crate::quantity::{Force, Pressure, in_mpa, kn};
use std::f64::consts::PI;

/// A bolt may be so many times as strong as its class says.
pub const STRONGER: f64 = 1.2;

/// A thread engaged in a hole or a nut, with the strengths of both.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Engagement {
    /// The thread.
    pub thread: Thread,
    /// Tensile strength of the bolt, the least of its class.
    pub bolt: Pressure,
    /// Tensile strength of the part with the hole.
    pub hole: Pressure,
    /// What the bolt's thread stands in shear, as a share of its tensile strength.
    pub bolt_shear: f64,
    /// The same for the hole's thread.
    pub hole_shear: f64,
}

/// Whose thread strips.
#[derive(Debug, Clone, Copy, PartialEq, Eq, serde::Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum StrippingThread {
    /// The hole's.
    Hole,
    /// The bolt's.
    Bolt,
}

impl Engagement {
    /// Of a steel bolt in a part of a material and a tensile strength.
    pub fn in_part(thread: Thread, bolt: Pressure, material: Material, hole: Pressure) -> Self {
        let bolt_shear = Material::Steel.shear_ratio();
        Self { thread, bolt, hole, bolt_shear, hole_shear: material.shear_ratio() }
    }

    /// Load that a mm of the hole's thread stands, N.
    fn hole_n_per_mm(&self) -> f64 {
        self.hole_shear * in_mpa(self.hole) * 0.875 * PI * self.thread.nominal_mm()
    }

    /// Load that a mm of the bolt's thread stands, N.
    fn bolt_n_per_mm(&self) -> f64 {
        self.bolt_shear * in_mpa(self.bolt) * 0.75 * PI * self.thread.d1_mm()
    }

    /// Engaged length so that a bolt a fifth stronger than its class breaks before the hole strips, mm.
    pub fn needed_hole_mm(&self) -> f64 {
        STRONGER * in_mpa(self.bolt) * self.thread.stress_area_mm2() / self.hole_n_per_mm()
    }

    /// Engaged length so that the bolt breaks before its own thread strips, mm.
    pub fn needed_bolt_mm(&self) -> f64 {
        in_mpa(self.bolt) * self.thread.stress_area_mm2() / self.bolt_n_per_mm()
    }

    /// The larger of both. The first turn and a half of a chamfered hole does not count towards it.
    pub fn needed_mm(&self) -> f64 {
        self.needed_hole_mm().max(self.needed_bolt_mm())
    }

    /// The load at which the weaker thread strips at an engaged length in mm, and whose thread that is.
    pub fn strips(&self, engaged_mm: f64) -> (Force, StrippingThread) {
        let (hole, bolt) = (self.hole_n_per_mm(), self.bolt_n_per_mm());
        let weaker = if hole <= bolt { StrippingThread::Hole } else { StrippingThread::Bolt };
        (kn(hole.min(bolt) * engaged_mm.max(0.0) / 1000.0), weaker)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::{in_kn, mpa};

    fn m10(bolt: f64, material: Material, hole: f64) -> Engagement {
        Engagement::in_part(Thread::parse("M10x1.25").unwrap(), mpa(bolt), material, mpa(hole))
    }

    #[test]
    fn a_strong_bolt_in_aluminium_pulls_the_holes_thread_out() {
        let of = m10(1040.0, Material::Aluminium, 240.0);
        assert!((of.needed_hole_mm() - 19.3).abs() < 0.05, "{}", of.needed_hole_mm());
        assert!((of.needed_bolt_mm() - 5.0).abs() < 0.05, "{}", of.needed_bolt_mm());
        let (strips, weaker) = of.strips(18.0);
        assert!((in_kn(strips) - 71.3).abs() < 0.05 && weaker == StrippingThread::Hole, "{}", in_kn(strips));
        // At the length that is needed the hole strips as a bolt breaks that is a fifth stronger than its class.
        let both = in_kn(of.strips(of.needed_mm()).0);
        assert!((both - 1.2 * 1.040 * of.thread.stress_area_mm2()).abs() < 1e-9);
    }

    #[test]
    fn in_a_part_as_strong_the_bolts_own_thread_goes_first() {
        let (strips, weaker) = m10(1200.0, Material::Steel, 1200.0).strips(3.3);
        assert!((in_kn(strips) - 48.4).abs() < 0.05 && weaker == StrippingThread::Bolt, "{}", in_kn(strips));
    }

    #[test]
    fn grey_iron_stands_more_in_shear_than_in_tension() {
        let (iron, steel) = (m10(1040.0, Material::GreyIron, 250.0), m10(1040.0, Material::Steel, 250.0));
        assert!((steel.needed_hole_mm() / iron.needed_hole_mm() - 1.1 / 0.6).abs() < 1e-12);
    }
}
