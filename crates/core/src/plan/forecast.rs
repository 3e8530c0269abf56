//! What a target means in clamp load and in percent of yield.

use super::document::{Fastener, Joint, Plan, Stage};
use crate::friction::Friction;
use crate::joint::{Bearing, Shares, Tightening, preload_from_angle, utilisation};
use crate::quantity::{deg, in_kn, kn, mm, nm};
use serde::Serialize;

/// The clamp load to expect after a stage. Estimates: friction is a range, not a number.
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

impl Plan {
    /// The friction of a fastener at the low, typical and high end of its lubricants.
    pub fn friction(&self, fastener: &Fastener) -> Option<[Friction; 3]> {
        let thread = self.lubricant(&fastener.thread_lubricant)?;
        let bearing = self.lubricant(&fastener.bearing_lubricant)?;
        Some([
            Friction { thread: thread.low.thread, bearing: bearing.low.bearing },
            Friction { thread: thread.typical.thread, bearing: bearing.typical.bearing },
            Friction { thread: thread.high.thread, bearing: bearing.high.bearing },
        ])
    }

    /// The clamp load one torque gives one kind of fastener, in N·m.
    pub fn forecast_torque(&self, fastener: &Fastener, torque_nm: f64) -> Option<Forecast> {
        let [least, typical, most] = self.friction(fastener)?;
        let bolt = |friction| Tightening {
            thread: fastener.thread,
            bearing: Bearing { mean_diameter: mm(fastener.bearing_diameter_mm) },
            friction,
        };
        let preload = |friction| in_kn(bolt(friction).preload(nm(torque_nm), nm(0.0)));
        let Shares { pitch, thread, bearing } = bolt(typical).shares();
        let typical_kn = preload(typical);
        Some(Forecast {
            low_kn: preload(most),
            typical_kn,
            high_kn: preload(least),
            utilisation: utilisation(
                &fastener.thread,
                kn(typical_kn),
                typical.thread,
                fastener.strength.proof,
            ),
            nut_factor: bolt(typical).nut_factor(),
            pitch_share: pitch,
            thread_share: thread,
            bearing_share: bearing,
        })
    }

    /// The clamp load after a stage of a joint: the last torque of its group, and the elastic
    /// share of the angles since. `None` for actions, and for angles the plan gives no
    /// resilience for.
    pub fn forecast(&self, joint: &Joint, stage: usize) -> Option<Forecast> {
        let group = joint.group_of(joint.stages.get(stage)?)?;
        let fastener = self.fastener(&group.fastener)?;
        let of_group = |s: &&Stage| s.group() == Some(group.id.as_str());
        let mut forecast: Option<Forecast> = None;
        for step in joint.stages[..=stage].iter().filter(of_group) {
            forecast = match step {
                Stage::Torque { band, .. } => self.forecast_torque(fastener, band.target),
                Stage::Angle { band, .. } => Some(self.turned_on(fastener, forecast?, band.target)?),
                Stage::Action { .. } => forecast,
            };
        }
        forecast
    }

    /// The clamp load before a stage of a joint: what the earlier stages of its group gave.
    pub fn forecast_before(&self, joint: &Joint, stage: usize) -> Option<Forecast> {
        let group = joint.stages.get(stage)?.group()?;
        let before = joint.stages[..stage].iter().rposition(|s| s.group() == Some(group))?;
        self.forecast(joint, before)
    }

    /// A forecast with the elastic share of an angle added, in degrees.
    fn turned_on(&self, fastener: &Fastener, before: Forecast, angle_deg: f64) -> Option<Forecast> {
        let (bolt, parts) = (fastener.bolt_resilience?, fastener.part_resilience?);
        let added = in_kn(preload_from_angle(&fastener.thread, deg(angle_deg), bolt, parts));
        let friction = self.friction(fastener)?[1];
        let typical_kn = before.typical_kn + added;
        Some(Forecast {
            low_kn: before.low_kn + added,
            typical_kn,
            high_kn: before.high_kn + added,
            utilisation: utilisation(
                &fastener.thread,
                kn(typical_kn),
                friction.thread,
                fastener.strength.proof,
            ),
            ..before
        })
    }
}
