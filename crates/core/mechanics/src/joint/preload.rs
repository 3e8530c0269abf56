//! Torque and preload (VDI 2230-1, after Motosh).

use crate::fastener::Thread;
use crate::friction::Friction;
use crate::quantity::{Force, Length, Torque, in_kn, in_mm, in_nm, kn, mm, nm};
use std::f64::consts::PI;

/// Half the 60° thread angle, as its cosine.
const COS_30: f64 = 0.866_025_403_784_438_6;

/// The face that turns: under the head or the nut.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BearingFace {
    /// Mean bearing diameter Db, `(dw + dh) / 2` unless given.
    pub mean_diameter: Length,
}

impl BearingFace {
    /// That of an ordinary hexagon head (ISO 4014) over its clearance hole (ISO 273): 1.3 nominal diameters.
    pub fn usual(thread: &Thread) -> Self {
        Self { mean_diameter: mm(1.3 * thread.nominal_mm()) }
    }

    /// Whether it can be that of a fastener with this thread: one to four nominal diameters.
    pub fn fits(&self, thread: &Thread) -> bool {
        (thread.nominal_mm()..4.0 * thread.nominal_mm()).contains(&in_mm(self.mean_diameter))
    }
}

/// Where a tightening torque goes, as fractions that add up to one.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TorqueShares {
    /// Into stretching the bolt: the pitch.
    pub pitch: f64,
    /// Into thread friction.
    pub thread: f64,
    /// Into friction under the head or nut.
    pub bearing: f64,
}

/// A fastener being tightened: its thread, its bearing face and the friction on both.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TorqueRelation {
    /// The thread.
    pub thread: Thread,
    /// The turning face.
    pub bearing: BearingFace,
    /// Friction on both.
    pub friction: Friction,
}

impl TorqueRelation {
    /// The bracket of the torque formula in mm: `P/2π + μt d2 / (2 cos 30°) + μb Db/2`, by part.
    fn lever_parts_mm(&self) -> [f64; 3] {
        [
            self.thread.pitch_mm() / (2.0 * PI),
            self.friction.thread * self.thread.d2_mm() / (2.0 * COS_30),
            self.friction.bearing * in_mm(self.bearing.mean_diameter) / 2.0,
        ]
    }

    /// Torque per preload, in mm (N·m per kN).
    pub fn lever_mm(&self) -> f64 {
        self.lever_parts_mm().iter().sum()
    }

    /// Preload that a torque gives, after the prevailing torque is spent. Never negative.
    ///
    /// ```
    /// use rigore_mechanics::fastener::Thread;
    /// use rigore_mechanics::friction::Friction;
    /// use rigore_mechanics::joint::{BearingFace, TorqueRelation};
    /// use rigore_mechanics::quantity::{in_kn, mm, nm};
    ///
    /// let bolt = TorqueRelation {
    ///     thread: Thread::parse("M10x1.25")?,
    ///     bearing: BearingFace { mean_diameter: mm(13.5) },
    ///     friction: Friction { thread: 0.10, bearing: 0.12 },
    /// };
    /// assert!((in_kn(bolt.preload(nm(65.0), nm(0.0))) - 42.22).abs() < 0.005);
    /// # Ok::<(), rigore_mechanics::fastener::ThreadError>(())
    /// ```
    pub fn preload(&self, torque: Torque, prevailing: Torque) -> Force {
        kn((in_nm(torque) - in_nm(prevailing)).max(0.0) / self.lever_mm())
    }

    /// Torque that a preload needs, on top of the prevailing torque.
    pub fn torque(&self, preload: Force, prevailing: Torque) -> Torque {
        nm(in_kn(preload) * self.lever_mm() + in_nm(prevailing))
    }

    /// Nut factor K = T / (F d), dimensionless, without prevailing torque.
    pub fn nut_factor(&self) -> f64 {
        self.lever_mm() / self.thread.nominal_mm()
    }

    /// Where the torque goes.
    pub fn shares(&self) -> TorqueShares {
        let [pitch, thread, bearing] = self.lever_parts_mm().map(|part| part / self.lever_mm());
        TorqueShares { pitch, thread, bearing }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn tightening(mu_thread: f64, mu_bearing: f64) -> TorqueRelation {
        TorqueRelation {
            thread: Thread::parse("M10x1.25").unwrap(),
            bearing: BearingFace { mean_diameter: mm(13.5) },
            friction: Friction { thread: mu_thread, bearing: mu_bearing },
        }
    }

    #[test]
    fn published_preload_and_nut_factor() {
        let bolt = tightening(0.10, 0.12);
        assert!((in_kn(bolt.preload(nm(65.0), nm(0.0))) - 42.22).abs() < 0.005);
        assert!((bolt.nut_factor() - 0.1539).abs() < 5e-5);
    }

    #[test]
    fn the_same_preload_takes_less_torque_with_less_friction() {
        let force = tightening(0.14, 0.14).preload(nm(80.0), nm(0.0));
        let torque = in_nm(tightening(0.08, 0.08).torque(force, nm(0.0)));
        assert!((torque - 49.3).abs() < 0.05, "{torque}");
    }

    #[test]
    fn a_torque_below_the_prevailing_one_clamps_nothing() {
        assert_eq!(in_kn(tightening(0.1, 0.1).preload(nm(3.0), nm(5.0))), 0.0);
    }

    proptest! {
        #[test]
        fn torque_and_preload_come_back(t in 1.0f64..300.0, mt in 0.04f64..0.4, mb in 0.04f64..0.4, tp in 0.0f64..0.9) {
            let bolt = tightening(mt, mb);
            let back = bolt.torque(bolt.preload(nm(t), nm(tp)), nm(tp));
            prop_assert!((in_nm(back) - t).abs() < 1e-9 * t);
            let s = bolt.shares();
            prop_assert!((s.pitch + s.thread + s.bearing - 1.0).abs() < 1e-12);
        }
    }
}
