//! What pulls on the bolts of a rod at speed (M-24): the piston turns round at top dead centre of the exhaust stroke,
//! and nothing but the bolts holds it.

use std::f64::consts::PI;

/// A rod with what hangs on it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RodAssembly {
    /// What goes up and down: piston, pin, rings and the small end's part of the rod, kg.
    pub reciprocating_kg: f64,
    /// The rotating part of the rod without its cap, kg.
    pub rotating_kg: f64,
    /// Stroke, mm.
    pub stroke_mm: f64,
    /// Rod length between centres, mm.
    pub rod_mm: f64,
}

impl RodAssembly {
    /// The force on the rod's joint at so many rpm, kN: `r ω² [m_recip (1 + r/l) + m_rot]`.
    pub fn inertia_kn(&self, speed_rpm: f64) -> f64 {
        let radius_m = self.stroke_mm / 2000.0;
        let omega = speed_rpm * PI / 30.0;
        let mass = self.reciprocating_kg * (1.0 + self.stroke_mm / 2.0 / self.rod_mm) + self.rotating_kg;
        radius_m * omega * omega * mass / 1000.0
    }

    /// The speed at which that force is reached, rpm.
    pub fn speed_rpm(&self, inertia_kn: f64) -> f64 {
        let at_one = self.inertia_kn(1.0);
        (inertia_kn / at_one).sqrt()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn published_force_at_eight_thousand_and_back_to_the_speed() {
        let rod = RodAssembly { reciprocating_kg: 0.55, rotating_kg: 0.30, stroke_mm: 86.0, rod_mm: 144.0 };
        let force = rod.inertia_kn(8000.0);
        assert!((force - 30.61).abs() < 0.005, "{force}");
        assert!((force / 2.0 - 15.30).abs() < 0.006);
        assert!((rod.speed_rpm(force) - 8000.0).abs() < 1e-6);
        // Twice the speed is four times the force.
        assert!((rod.inertia_kn(16_000.0) / force - 4.0).abs() < 1e-12);
    }
}
