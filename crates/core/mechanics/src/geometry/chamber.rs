//! The combustion chamber: compression, quench, valves coming near the piston.

use serde::Serialize;
use std::f64::consts::PI;

/// Everything the charge is squeezed into, lengths in mm, volumes in cm³.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Chamber {
    /// Cylinder bore.
    pub bore_mm: f64,
    /// Stroke.
    pub stroke_mm: f64,
    /// Volume in the head.
    pub chamber_cc: f64,
    /// Volume in the piston: a dish counts up, a dome down.
    pub piston_cc: f64,
    /// Bore of the gasket.
    pub gasket_bore_mm: f64,
    /// Thickness of the gasket, compressed.
    pub gasket_mm: f64,
    /// Piston below the deck at top dead centre; above it is negative.
    pub deck_mm: f64,
    /// Volume above the top ring.
    pub crevice_cc: f64,
}

/// Volumes and their ratio.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Compression {
    /// `(Vs + Vc) / Vc`.
    pub ratio: f64,
    /// Vs, cm³.
    pub swept_cc: f64,
    /// Vc, cm³.
    pub clearance_cc: f64,
}

fn cylinder_cc(diameter_mm: f64, height_mm: f64) -> f64 {
    PI / 4.0 * diameter_mm * diameter_mm * height_mm / 1000.0
}

/// The compression of a chamber; `None` when nothing is left at top dead centre.
pub fn compression(chamber: &Chamber) -> Option<Compression> {
    let swept_cc = cylinder_cc(chamber.bore_mm, chamber.stroke_mm);
    let clearance_cc = chamber.chamber_cc
        + chamber.piston_cc
        + cylinder_cc(chamber.gasket_bore_mm, chamber.gasket_mm)
        + cylinder_cc(chamber.bore_mm, chamber.deck_mm)
        + chamber.crevice_cc;
    (clearance_cc > 0.0).then(|| Compression {
        ratio: (swept_cc + clearance_cc) / clearance_cc,
        swept_cc,
        clearance_cc,
    })
}

/// Quench: piston to head at top dead centre, mm.
pub fn quench(deck_mm: f64, gasket_mm: f64) -> f64 {
    deck_mm + gasket_mm
}

/// The crank angle and distance at which a valve comes nearest to the piston, from a series of
/// (degrees, mm); `None` without any.
pub fn nearest_valve_approach(series: &[(f64, f64)]) -> Option<(f64, f64)> {
    series.iter().copied().reduce(|nearest, point| if point.1 < nearest.1 { point } else { nearest })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn computed_compression_ratio() {
        let chamber = Chamber {
            bore_mm: 86.0,
            stroke_mm: 86.0,
            chamber_cc: 48.0,
            piston_cc: 4.0,
            gasket_bore_mm: 87.0,
            gasket_mm: 1.0,
            deck_mm: 0.3,
            crevice_cc: 0.0,
        };
        let compression_now = compression(&chamber).unwrap();
        assert!((compression_now.ratio - 9.37).abs() < 0.005, "{compression_now:?}");
        assert!(compression(&Chamber { piston_cc: -60.0, ..chamber }).is_none());
    }

    #[test]
    fn the_nearest_approach_of_a_series() {
        assert_eq!(nearest_valve_approach(&[(-10.0, 2.4), (0.0, 1.9), (10.0, 2.1)]), Some((0.0, 1.9)));
        assert_eq!(nearest_valve_approach(&[]), None);
    }
}
