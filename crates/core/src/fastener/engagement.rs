//! How much thread has to be engaged so that the bolt breaks before its hole does (FED-STD-H28, basic
//! sizes; C-39, M-18).

use super::Thread;
use crate::quantity::{Force, Pressure, in_mpa, kn};
use std::f64::consts::PI;

/// Share of the hole's tensile strength that its thread stands in shear.
const SHEAR: f64 = 0.6;

/// Shear area of the internal thread for each mm that is engaged, mm².
fn shear_area_per_mm(thread: &Thread) -> f64 {
    0.875 * PI * thread.nominal_mm()
}

/// The engaged length in mm at which bolt and hole are equally strong, for the tensile strengths of
/// both. The first turn and a half of a chamfered hole does not count towards it.
pub fn engagement_needed_mm(thread: &Thread, bolt: Pressure, hole: Pressure) -> f64 {
    in_mpa(bolt) * thread.stress_area_mm2() / (SHEAR * in_mpa(hole) * shear_area_per_mm(thread))
}

/// The load at which the thread of a hole strips, for its tensile strength and the engaged length in mm.
pub fn strip_load(thread: &Thread, hole: Pressure, engaged_mm: f64) -> Force {
    kn(SHEAR * in_mpa(hole) * shear_area_per_mm(thread) * engaged_mm / 1000.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::{in_kn, mpa};

    #[test]
    fn a_strong_bolt_in_aluminium() {
        let thread = Thread::parse("M10x1.25").unwrap();
        let needed = engagement_needed_mm(&thread, mpa(1040.0), mpa(240.0));
        assert!((needed - 16.1).abs() < 0.05, "{needed}");
        let strip = in_kn(strip_load(&thread, mpa(240.0), 18.0));
        assert!((strip - 71.3).abs() < 0.05, "{strip}");
        // At the length that is needed the hole strips as the bolt breaks.
        let both = in_kn(strip_load(&thread, mpa(240.0), needed));
        assert!((both - 1.040 * thread.stress_area_mm2()).abs() < 1e-9);
    }
}
