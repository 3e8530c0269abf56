//! How much of its yield a fastener uses while it is tightened (VDI 2230-1, full plastic torsion).

use crate::fastener::Thread;
use crate::quantity::{Force, Pressure, in_kn, in_mpa, kn};
use std::f64::consts::PI;

/// The section of a bolt that yields first: the stress section of its thread, or a shank that is thinner.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WeakestSection {
    diameter_mm: f64,
    area_mm2: f64,
}

impl WeakestSection {
    /// Of a bolt with shanks of these diameters, mm.
    pub fn of(thread: &Thread, shanks_mm: impl IntoIterator<Item = f64>) -> Self {
        let stress = thread.stress_diameter_mm();
        let thinnest = shanks_mm.into_iter().fold(stress, f64::min);
        let area_mm2 =
            if thinnest < stress { PI / 4.0 * thinnest * thinnest } else { thread.stress_area_mm2() };
        Self { diameter_mm: thinnest, area_mm2 }
    }

    /// Its diameter, mm.
    pub fn diameter_mm(self) -> f64 {
        self.diameter_mm
    }

    /// Its area, mm².
    pub fn area_mm2(self) -> f64 {
        self.area_mm2
    }

    /// √(1 + 3κ²), the factor by which torsion raises the tensile stress.
    fn torsion_factor(self, thread: &Thread, mu_thread: f64) -> f64 {
        let kappa = 1.5
            * (thread.d2_mm() / self.diameter_mm)
            * (thread.pitch_mm() / (PI * thread.d2_mm()) + 1.155 * mu_thread);
        (1.0 + 3.0 * kappa * kappa).sqrt()
    }
}

/// Utilisation ν of the 0.2 % proof stress at a preload reached by turning: 1 is yield.
pub fn utilisation(
    thread: &Thread,
    neck: WeakestSection,
    preload: Force,
    mu_thread: f64,
    proof: Pressure,
) -> f64 {
    in_kn(preload) * 1000.0 / neck.area_mm2 * neck.torsion_factor(thread, mu_thread) / in_mpa(proof)
}

/// The assembly preload at a wanted utilisation ν.
pub fn assembly_preload(
    thread: &Thread,
    neck: WeakestSection,
    wanted: f64,
    mu_thread: f64,
    proof: Pressure,
) -> Force {
    kn(wanted * in_mpa(proof) * neck.area_mm2 / neck.torsion_factor(thread, mu_thread) / 1000.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fastener::Strength;
    use crate::friction::Friction;
    use crate::joint::{BearingFace, TorqueRelation};
    use crate::quantity::{in_nm, mm, mpa, nm};

    /// Mean bearing diameter of a hexagon head, from its washer face and clearance hole.
    fn assembly(thread: &str, class: &str, washer_face: f64, hole: f64) -> (f64, f64) {
        let thread = Thread::parse(thread).unwrap();
        let strength = Strength::class(class, thread.nominal_mm()).unwrap();
        let neck = WeakestSection::of(&thread, []);
        let preload = assembly_preload(&thread, neck, 0.9, 0.12, strength.proof);
        let bearing = BearingFace { mean_diameter: mm(f64::midpoint(washer_face, hole)) };
        let bolt = TorqueRelation { thread, bearing, friction: Friction::both(0.12) };
        (in_kn(preload), in_nm(bolt.torque(preload, nm(0.0))))
    }

    #[test]
    fn published_table_of_assembly_preloads_and_torques() {
        for (thread, class, face, hole, kilonewtons, newton_metres) in [
            ("M8", "8.8", 11.6, 9.0, 18.6, 24.6),
            ("M8", "10.9", 11.6, 9.0, 27.3, 36.1),
            ("M8", "12.9", 11.6, 9.0, 32.0, 42.2),
            ("M12", "8.8", 16.6, 13.5, 43.0, 84.0),
            ("M12", "10.9", 16.6, 13.5, 63.2, 123.0),
        ] {
            let (preload, torque) = assembly(thread, class, face, hole);
            assert!((preload / kilonewtons - 1.0).abs() < 0.01, "{thread} {class}: {preload} kN");
            assert!((torque / newton_metres - 1.0).abs() < 0.01, "{thread} {class}: {torque} N·m");
        }
    }

    #[test]
    fn computed_fine_thread_value_and_its_inversion() {
        let thread = Thread::parse("M10x1.25").unwrap();
        let neck = WeakestSection::of(&thread, [10.0]);
        let preload = assembly_preload(&thread, neck, 0.9, 0.12, mpa(940.0));
        assert!((in_kn(preload) - 46.46).abs() < 0.01, "{}", in_kn(preload));
        assert!((utilisation(&thread, neck, preload, 0.12, mpa(940.0)) - 0.9).abs() < 1e-12);
    }

    #[test]
    fn a_shank_thinner_than_the_thread_yields_first() {
        let thread = Thread::parse("M9x1").unwrap();
        let preload = |shanks: &[f64]| {
            in_kn(assembly_preload(
                &thread,
                WeakestSection::of(&thread, shanks.iter().copied()),
                1.0,
                0.0,
                mpa(1000.0),
            ))
        };
        assert!((preload(&[9.0]) - preload(&[])).abs() < 1e-12);
        // π/4 · 7.6² is 45.36 mm²; its torsion is that of the pitch alone.
        let torsion = 1.5 / (PI * 7.6);
        assert!((preload(&[9.0, 7.6]) - 45.365 / (1.0 + 3.0 * torsion * torsion).sqrt()).abs() < 0.001);
    }
}
