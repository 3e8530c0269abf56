//! Where piston and cam stand by the crank, and lash by shim (M-27).

/// How far a piston is below top dead centre at so many degrees of crank after it, mm, with the pin set off from the
/// bore's axis by so much towards the thrust side; `None` where rod and crank cannot be.
///
/// `x = r(1 − cos φ) + l − √(l² − r² sin² φ)` without offset.
///
/// ```
/// use rigore_mechanics::geometry::piston_below_top_mm;
///
/// // Half a turn on, the piston is a stroke below.
/// assert_eq!(piston_below_top_mm(86.0, 144.0, 180.0, 0.0), Some(86.0));
/// assert_eq!(piston_below_top_mm(86.0, 20.0, 90.0, 0.0), None);
/// ```
pub fn piston_below_top_mm(stroke_mm: f64, rod_mm: f64, angle_deg: f64, offset_mm: f64) -> Option<f64> {
    let radius = stroke_mm / 2.0;
    if rod_mm <= radius + offset_mm.abs() {
        return None;
    }
    let height = |angle: f64| {
        let across = radius * angle.sin() - offset_mm;
        radius * angle.cos() + (rod_mm * rod_mm - across * across).sqrt()
    };
    // With an offset the piston is highest where crank and rod lie in one line.
    let top = ((radius + rod_mm).powi(2) - offset_mm * offset_mm).sqrt();
    let top_at = (offset_mm / (radius + rod_mm)).asin();
    Some(top - height(top_at + angle_deg.to_radians()))
}

/// Crank, rod and valve of a cylinder: what a valve's distance to the piston follows from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ValveGeometry {
    /// Stroke, mm.
    pub stroke_mm: f64,
    /// Rod between centres, mm.
    pub rod_mm: f64,
    /// How far the pin is off the bore's axis towards the thrust side, mm.
    pub offset_mm: f64,
    /// Angle between valve and bore, degrees.
    pub valve_angle_deg: f64,
}

impl ValveGeometry {
    /// How far a valve with a lift is from the piston at an angle of the crank after top, mm, with so much between them
    /// at top with the valve shut; `None` where rod and crank cannot be.
    pub fn clearance_mm(&self, shut_mm: f64, crank_deg: f64, lift_mm: f64) -> Option<f64> {
        let below = piston_below_top_mm(self.stroke_mm, self.rod_mm, crank_deg, self.offset_mm)?;
        Some(valve_clearance_mm(shut_mm, below, self.valve_angle_deg, lift_mm))
    }
}

/// How far a valve is from the piston, mm: what is between them at top with the valve shut, and what the piston went
/// away along the valve, less the lift. The pocket in the piston is taken to lie along the valve's face, and the valve
/// at so many degrees to the bore.
fn valve_clearance_mm(shut_mm: f64, below_top_mm: f64, valve_angle_deg: f64, lift_mm: f64) -> f64 {
    shut_mm + below_top_mm * valve_angle_deg.to_radians().cos() - lift_mm
}

/// Opening and closing of one valve, degrees of crank, as a cam card prints them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ValveEvents {
    /// Intake: before top. Exhaust: before bottom.
    pub opens_deg: f64,
    /// Intake: after bottom. Exhaust: after top.
    pub closes_deg: f64,
}

impl ValveEvents {
    /// How long the valve is open.
    pub fn duration_deg(&self) -> f64 {
        self.opens_deg + 180.0 + self.closes_deg
    }

    /// The centre of an intake lobe, degrees after top: `duration/2 − opening before top`.
    pub fn intake_centre_deg(&self) -> f64 {
        self.duration_deg() / 2.0 - self.opens_deg
    }

    /// The centre of an exhaust lobe, degrees before top.
    pub fn exhaust_centre_deg(&self) -> f64 {
        self.duration_deg() / 2.0 - self.closes_deg
    }
}

/// Timing of a cam or of a pair of cams.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CamTiming {
    /// The intake.
    pub intake: ValveEvents,
    /// The exhaust.
    pub exhaust: ValveEvents,
}

impl CamTiming {
    /// Angle between the lobe centres, degrees of cam.
    pub fn separation_deg(&self) -> f64 {
        f64::midpoint(self.intake.intake_centre_deg(), self.exhaust.exhaust_centre_deg())
    }

    /// Degrees of crank in which both valves are open.
    pub fn overlap_deg(&self) -> f64 {
        self.intake.opens_deg + self.exhaust.closes_deg
    }

    /// How much of the overlap lies before top more than after it, halved: 0 where it is split.
    pub fn advance_deg(&self) -> f64 {
        (self.intake.opens_deg - self.exhaust.closes_deg) / 2.0
    }
}

/// The shim for a wanted lash: `new = old + measured − wanted`, mm.
pub fn lash_shim_mm(shim_mm: f64, measured_mm: f64, wanted_mm: f64) -> f64 {
    shim_mm + measured_mm - wanted_mm
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn published_position_of_a_piston() {
        let below = piston_below_top_mm(86.0, 144.0, 77.0, 0.0).unwrap();
        assert!((below - 39.557).abs() < 0.0005, "{below}");
        assert!((piston_below_top_mm(86.0, 144.0, 180.0, 0.0).unwrap() - 86.0).abs() < 1e-9);
        assert_eq!(piston_below_top_mm(86.0, 40.0, 77.0, 0.0), None);
    }

    #[test]
    fn published_duration_and_centre_of_a_cam() {
        let intake = ValveEvents { opens_deg: 24.0, closes_deg: 64.0 };
        assert!((intake.duration_deg() - 268.0).abs() < 1e-12);
        assert!((intake.intake_centre_deg() - 110.0).abs() < 1e-12);
        let exhaust = ValveEvents { opens_deg: 66.0, closes_deg: 22.0 };
        let timing = CamTiming { intake, exhaust };
        assert!((exhaust.exhaust_centre_deg() - 112.0).abs() < 1e-12);
        assert!((timing.separation_deg() - 111.0).abs() < 1e-12);
        assert!((timing.overlap_deg() - 46.0).abs() < 1e-12);
        assert!((timing.advance_deg() - 1.0).abs() < 1e-12);
    }

    #[test]
    fn a_valve_meets_the_piston_by_its_lift_less_what_the_piston_went_away() {
        // Stroke 86, rod 144, 10°: r(1 − cos φ) + l − √(l² − r² sin² φ) is 0.846 988 mm.
        let below = piston_below_top_mm(86.0, 144.0, 10.0, 0.0).unwrap();
        assert!((below - 0.846_988).abs() < 5e-7, "{below}");
        assert!((valve_clearance_mm(4.0, below, 0.0, 2.5) - (1.5 + below)).abs() < 1e-12);
        // At 20° to the bore it comes along the valve by the cosine.
        let leaning = valve_clearance_mm(4.0, below, 20.0, 2.5);
        assert!((leaning - (1.5 + below * 0.939_692_6)).abs() < 1e-7, "{leaning}");
    }

    #[test]
    fn published_shim() {
        assert!((lash_shim_mm(2.60, 0.31, 0.24) - 2.67).abs() < 1e-12);
    }

    proptest! {
        #[test]
        fn a_piston_is_between_top_and_bottom(stroke in 40.0f64..120.0, ratio in 1.4f64..2.5, angle in 0.0f64..360.0, offset in -2.0f64..2.0) {
            let rod = stroke * ratio;
            let below = piston_below_top_mm(stroke, rod, angle, offset).unwrap();
            prop_assert!(below > -1e-9 && below < stroke + 1.0, "{below}");
            // Top dead centre is where it is counted from.
            prop_assert!(piston_below_top_mm(stroke, rod, 0.0, offset).unwrap().abs() < 1e-9);
            if angle < 180.0 - 10.0 {
                prop_assert!(piston_below_top_mm(stroke, rod, angle + 5.0, offset).unwrap() > below - 1e-9);
            }
        }
    }
}
