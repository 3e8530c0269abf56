//! What a torque or an angle means in clamp load and in percent of yield, with the range that
//! friction leaves open.

use super::preload::{Bearing, Shares, Tightening};
use super::resilience::preload_from_angle;
use super::utilisation::utilisation;
use crate::fastener::{Strength, Thread};
use crate::friction::Friction;
use crate::quantity::{deg, in_kn, kn, mm, nm};
use serde::Serialize;

/// A fastener with everything that its clamp load depends on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fastening {
    /// Its thread.
    pub thread: Thread,
    /// Its strength.
    pub strength: Strength,
    /// Mean bearing diameter Db, mm.
    pub bearing_diameter_mm: f64,
    /// Friction at the low, typical and high end of its lubricants.
    pub friction: [Friction; 3],
    /// Elastic resilience of bolt and parts, mm/N, where both are known.
    pub resilience: Option<(f64, f64)>,
}

/// The clamp load to expect. Estimates: friction is a range, not a number.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Forecast {
    /// Preload at the most friction of the lubricant, kN.
    pub low_kn: f64,
    /// Preload at its typical friction, kN.
    pub typical_kn: f64,
    /// Preload at its least friction, kN.
    pub high_kn: f64,
    /// Utilisation of yield at typical friction; 1 is yield.
    pub utilisation: f64,
    /// Nut factor K at typical friction.
    pub nut_factor: f64,
    /// Share of the torque that stretches the bolt.
    pub pitch_share: f64,
    /// Share lost on the thread.
    pub thread_share: f64,
    /// Share lost under the head.
    pub bearing_share: f64,
}

impl Fastening {
    fn bolt(&self, friction: Friction) -> Tightening {
        Tightening {
            thread: self.thread,
            bearing: Bearing { mean_diameter: mm(self.bearing_diameter_mm) },
            friction,
        }
    }

    fn utilisation(&self, preload_kn: f64) -> f64 {
        utilisation(&self.thread, kn(preload_kn), self.friction[1].thread, self.strength.proof)
    }

    /// The clamp load after a torque in N·m.
    pub fn by_torque(&self, torque_nm: f64) -> Forecast {
        let [least, typical, most] = self.friction.map(|friction| self.bolt(friction));
        let preload = |bolt: &Tightening| in_kn(bolt.preload(nm(torque_nm), nm(0.0)));
        let Shares { pitch, thread, bearing } = typical.shares();
        let typical_kn = preload(&typical);
        Forecast {
            low_kn: preload(&most),
            typical_kn,
            high_kn: preload(&least),
            utilisation: self.utilisation(typical_kn),
            nut_factor: typical.nut_factor(),
            pitch_share: pitch,
            thread_share: thread,
            bearing_share: bearing,
        }
    }

    /// A clamp load with the elastic share of an angle in degrees added; `None` where the plan gives
    /// no resilience.
    pub fn turned_on(&self, before: Forecast, angle_deg: f64) -> Option<Forecast> {
        let (bolt, parts) = self.resilience?;
        let added = in_kn(preload_from_angle(&self.thread, deg(angle_deg), bolt, parts));
        let typical_kn = before.typical_kn + added;
        Some(Forecast {
            low_kn: before.low_kn + added,
            typical_kn,
            high_kn: before.high_kn + added,
            utilisation: self.utilisation(typical_kn),
            ..before
        })
    }
}
