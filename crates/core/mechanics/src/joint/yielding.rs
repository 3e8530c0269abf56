//! To yield and past it (VDI 2230-1; M-19).

use super::utilisation::{WeakestSection, assembly_preload};
use crate::fastener::Thread;
use crate::quantity::{Force, Pressure, in_kn};

/// The preload at which yielding begins, and the angle of turn from a snug preload to there, in degrees:
/// below zero where the snug is past it. `bolt` and `parts` are their resiliences in mm/N.
pub fn yield_point(
    thread: &Thread,
    neck: WeakestSection,
    proof: Pressure,
    mu_thread: f64,
    snug: Force,
    (bolt, parts): (f64, f64),
) -> (Force, f64) {
    let preload = assembly_preload(thread, neck, 1.0, mu_thread, proof);
    let newtons = (in_kn(preload) - in_kn(snug)) * 1000.0;
    (preload, newtons * (bolt + parts) * 360.0 / thread.pitch_mm())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::joint::preload_from_angle;
    use crate::quantity::{deg, kn, mpa};

    #[test]
    fn from_snug_to_yield_and_back_by_the_angle() {
        let thread = Thread::parse("M10x1.25").unwrap();
        let resilience = (4.718e-6, 1.225e-6);
        let (preload, angle) =
            yield_point(&thread, WeakestSection::of(&thread, []), mpa(940.0), 0.12, kn(18.23), resilience);
        assert!((in_kn(preload) - 51.62).abs() < 0.01, "{}", in_kn(preload));
        assert!((angle - 57.1).abs() < 0.05, "{angle}");
        let added = preload_from_angle(&thread, deg(angle), resilience.0, resilience.1);
        assert!((18.23 + in_kn(added) - in_kn(preload)).abs() < 1e-9);
        assert!(
            yield_point(&thread, WeakestSection::of(&thread, []), mpa(940.0), 0.12, kn(60.0), resilience).1
                < 0.0
        );
    }
}
