//! Pressure under a head, a nut or a washer (M-26).

use std::f64::consts::PI;

/// Pressure of a force in kN on the ring between an outer diameter and the hole with its chamfer, mm; `MPa`.
pub fn surface_pressure_mpa(force_kn: f64, outer_mm: f64, hole_mm: f64) -> f64 {
    force_kn * 1000.0 / (PI / 4.0 * (outer_mm * outer_mm - hole_mm * hole_mm))
}

/// What a washer spreads the load of a head or nut to, mm: its own diameter, as far as its thickness reaches,
/// `min(D, dw + 1.6 h)` (VDI 2230-1, 5.5.4).
pub fn spread_by_washer_mm(face_mm: f64, washer_mm: f64, thickness_mm: f64) -> f64 {
    washer_mm.min(face_mm + 1.6 * thickness_mm)
}

#[cfg(test)]
mod tests {
    use super::{spread_by_washer_mm, surface_pressure_mpa};

    #[test]
    fn a_thin_washer_does_not_reach_its_rim() {
        assert!((spread_by_washer_mm(16.0, 24.0, 2.5) - 20.0).abs() < 1e-12);
        assert!((spread_by_washer_mm(16.0, 18.0, 2.5) - 18.0).abs() < 1e-12);
    }

    #[test]
    fn a_washer_spreads_the_load() {
        // π/4 (16² − 11²) is 106.03 mm².
        let under_head = surface_pressure_mpa(50.0, 16.0, 11.0);
        assert!((under_head - 471.6).abs() < 0.05, "{under_head}");
        assert!(surface_pressure_mpa(50.0, 22.0, 11.0) < under_head / 2.0);
    }
}
