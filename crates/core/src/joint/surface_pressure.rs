//! Pressure under a head, a nut or a washer (M-26).

use std::f64::consts::PI;

/// Pressure of a force in kN on the ring between an outer diameter and the hole with its chamfer, mm; `MPa`.
pub fn surface_pressure_mpa(force_kn: f64, outer_mm: f64, hole_mm: f64) -> f64 {
    force_kn * 1000.0 / (PI / 4.0 * (outer_mm * outer_mm - hole_mm * hole_mm))
}

#[cfg(test)]
mod tests {
    use super::surface_pressure_mpa;

    #[test]
    fn a_washer_spreads_the_load() {
        // π/4 (16² − 11²) is 106.03 mm².
        let under_head = surface_pressure_mpa(50.0, 16.0, 11.0);
        assert!((under_head - 471.6).abs() < 0.05, "{under_head}");
        assert!(surface_pressure_mpa(50.0, 22.0, 11.0) < under_head / 2.0);
    }
}
