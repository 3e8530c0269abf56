//! The clamp load of one bolt that is tightened by torque, by angle or by stretch, as a distribution (M-17).
//!
//! Two things are not known of a pull. Friction: from bolt to bolt it lies between its least and its most, most
//! often at the usual; its nut factor is taken as a triangle over that range. The instrument: it is right within its
//! accuracy, and anything inside that is as likely. What they come to is computed here exactly, by integrating over
//! the friction; the rig draws the same by chance.

use super::forecast::Fastening;
use super::preload::{BearingFace, TorqueRelation};
use super::stretch::NutFactor;
use crate::friction::Friction;
use crate::message;
use crate::message::Message;
use crate::quantity::mm;
use serde::Serialize;

/// Steps that the friction is integrated in.
const STEPS: usize = 400;
/// Points of a drawn curve.
const POINTS: usize = 121;

/// How one bolt is brought to a load.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LoadedBolt {
    /// The torque that depends on the friction, N·m; 0 where there is none.
    pub torque_nm: f64,
    /// How far off the wrench may be, as a share of that.
    pub accuracy: f64,
    /// What is added whatever the friction is, kN.
    pub added_kn: f64,
    /// How far off that may be, kN.
    pub error_kn: f64,
}

/// Its friction: the nut factor times the nominal diameter, mm (N·m per kN), least, usual and most.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FrictionLevers(pub [f64; 3]);

impl FrictionLevers {
    /// The lever at a place in the range: -1 is the least, 0 the usual, 1 the most.
    pub fn at(&self, place: f64) -> f64 {
        let [least, usual, most] = self.0;
        usual + if place < 0.0 { (usual - least) * place } else { (most - usual) * place }
    }
}

impl LoadedBolt {
    /// The load at a place in the range of the friction, with the wrench and the other instrument off by so much of
    /// what they may be, from -1 to 1; kN.
    pub fn kn(&self, levers: &FrictionLevers, place: f64, wrench: f64, other: f64) -> f64 {
        self.torque_nm * (1.0 + self.accuracy * wrench) / levers.at(place)
            + self.added_kn
            + self.error_kn * other
    }

    /// The least, the usual and the most load there can be, kN: everything off to one side.
    pub fn range(&self, levers: &FrictionLevers) -> [f64; 3] {
        [self.kn(levers, 1.0, -1.0, -1.0), self.kn(levers, 0.0, 0.0, 0.0), self.kn(levers, -1.0, 1.0, 1.0)]
    }

    /// The share of pulls that stay at or below a load.
    pub fn share_below(&self, levers: &FrictionLevers, load_kn: f64) -> f64 {
        #[expect(clippy::cast_precision_loss, reason = "steps are few")]
        let width = 2.0 / STEPS as f64;
        let share = |step: usize| {
            #[expect(clippy::cast_precision_loss, reason = "steps are few")]
            let place = -1.0 + (step as f64 + 0.5) * width;
            let weight = (1.0 - place.abs()) * width;
            let by_torque = self.torque_nm / levers.at(place);
            weight * below(load_kn - self.added_kn - by_torque, by_torque * self.accuracy, self.error_kn)
        };
        (0..STEPS).map(share).sum()
    }

    /// The load that a share of pulls stays at or below, kN.
    pub fn quantile(&self, levers: &FrictionLevers, share: f64) -> f64 {
        let [mut low, _, mut high] = self.range(levers);
        for _ in 0..60 {
            let middle = f64::midpoint(low, high);
            if self.share_below(levers, middle) < share {
                low = middle;
            } else {
                high = middle;
            }
        }
        f64::midpoint(low, high)
    }

    /// How often each load is reached: points from one end to the other, as kN and as share of pulls for each kN.
    pub fn curve(&self, levers: &FrictionLevers) -> Vec<CurvePoint> {
        let [low, _, high] = self.range(levers);
        #[expect(clippy::cast_precision_loss, reason = "points are few")]
        let step = (high - low).max(1e-6) / (POINTS - 1) as f64;
        let point = |at: usize| {
            #[expect(clippy::cast_precision_loss, reason = "points are few")]
            let kn = low + step * at as f64;
            let share = self.share_below(levers, kn + step / 2.0) - self.share_below(levers, kn - step / 2.0);
            CurvePoint { kn, density: (share / step).max(0.0) }
        };
        (0..POINTS).map(point).collect()
    }
}

/// A point of a drawn distribution.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CurvePoint {
    /// The load, kN.
    pub kn: f64,
    /// The share of pulls for each kN there.
    pub density: f64,
}

/// The share of sums of two errors, each as likely anywhere within its bounds to either side, that is at most `sum`.
fn below(sum: f64, a: f64, b: f64) -> f64 {
    let (wide, narrow) = if a > b { (a, b) } else { (b, a) };
    if wide <= 0.0 {
        return if sum >= 0.0 { 1.0 } else { 0.0 };
    }
    if narrow <= wide * 1e-9 {
        return ((sum + wide) / (2.0 * wide)).clamp(0.0, 1.0);
    }
    // A trapezium: rising, flat, falling.
    let area = 4.0 * wide * narrow;
    if sum <= -(wide + narrow) {
        0.0
    } else if sum < -(wide - narrow) {
        (sum + wide + narrow).powi(2) / 2.0 / area
    } else if sum <= wide - narrow {
        (sum + wide) / (2.0 * wide)
    } else if sum < wide + narrow {
        1.0 - (wide + narrow - sum).powi(2) / 2.0 / area
    } else {
        1.0
    }
}

/// How well a bolt's friction is known and its instruments read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FrictionKnowledge {
    /// K, least, usual and most.
    pub nut_factors: [f64; 3],
    /// How far off the wrench may be, as a share.
    pub accuracy: f64,
    /// How far off an angle may be, degrees.
    pub angle_deg: f64,
    /// How far off a stretch may be, mm.
    pub gauge_mm: f64,
}

/// One bolt on its way to one load, by three ways.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MethodComparison {
    /// Its friction.
    pub levers: FrictionLevers,
    /// By torque alone.
    pub torque: LoadedBolt,
    /// By an angle from a snug torque, where its resilience and that of its parts are known.
    pub angle: Option<LoadedBolt>,
    /// By stretch, where its resilience is known.
    pub stretch: Option<LoadedBolt>,
    /// The angle, degrees.
    pub angle_deg: Option<f64>,
    /// The stretch, mm.
    pub stretch_mm: Option<f64>,
}

impl Fastening {
    /// Bringing it to a load by three ways; the angle starts at a snug torque.
    pub fn three_ways(&self, wanted_kn: f64, snug_nm: f64, known: &FrictionKnowledge) -> MethodComparison {
        let d = self.thread.nominal_mm();
        let levers = FrictionLevers(known.nut_factors.map(|k| k * d));
        let usual = levers.at(0.0);
        let torque = LoadedBolt {
            torque_nm: wanted_kn * usual,
            accuracy: known.accuracy,
            added_kn: 0.0,
            error_kn: 0.0,
        };
        let by_angle = self.resilience().map(|(bolt, parts)| {
            let for_each_deg = self.thread.pitch_mm() / 360.0 / (bolt + parts) / 1000.0;
            let added_kn = (wanted_kn - snug_nm / usual).max(0.0);
            // What is not known of bolt and parts is a share of all that the angle adds (M-17).
            let uncertain = self.resilience_uncertainty().unwrap_or_default();
            let error_kn = for_each_deg * known.angle_deg + uncertain * added_kn;
            let load = LoadedBolt { torque_nm: snug_nm, accuracy: known.accuracy, added_kn, error_kn };
            (load, added_kn / for_each_deg)
        });
        let by_stretch = self.bolt.map(|bolt| {
            let own = bolt.own.mm_per_n;
            let error_kn = known.gauge_mm / own / 1000.0 + wanted_kn * bolt.own.error() / own;
            let load = LoadedBolt { torque_nm: 0.0, accuracy: 0.0, added_kn: wanted_kn, error_kn };
            (load, wanted_kn * 1000.0 * own)
        });
        let ((angle, angle_deg), (stretch, stretch_mm)) = (by_angle.unzip(), by_stretch.unzip());
        MethodComparison { levers, torque, angle, stretch, angle_deg, stretch_mm }
    }

    /// The nut factor of a friction that is the same on thread and head.
    pub fn nut_factor_of(&self, mu: f64) -> f64 {
        let bearing = BearingFace { mean_diameter: mm(self.bearing_diameter_mm) };
        TorqueRelation { thread: self.thread, bearing, friction: Friction::both(mu) }.nut_factor()
    }

    /// The friction behind a nut factor, the same on thread and head.
    pub fn friction_of(&self, k: f64) -> f64 {
        let bearing = BearingFace { mean_diameter: mm(self.bearing_diameter_mm) };
        NutFactor { k, error: None }.friction(&self.thread, bearing)
    }
}

/// How much clamp load scatters by the way it is come to, as its most over its least (VDI 2230-1, table A8).
pub fn scatter() -> [(Message, f64, f64); 6] {
    [
        (message!("mechanics-impact-wrench"), 2.5, 4.0),
        (message!("mechanics-torque-friction-estimated"), 1.6, 2.5),
        (message!("mechanics-torque-friction-measured"), 1.4, 1.6),
        (message!("mechanics-method-angle"), 1.2, 1.4),
        (message!("mechanics-method-yield"), 1.2, 1.4),
        (message!("mechanics-method-stretch"), 1.1, 1.3),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fastener::{Strength, Thread};
    use crate::joint::{BoltResilience, Resilience, WeakestSection};
    use proptest::prelude::*;

    fn bolt() -> Fastening {
        let thread = Thread::parse("M10x1.25").unwrap();
        Fastening {
            thread,
            strength: Strength::class("10.9", 10.0).unwrap(),
            neck: WeakestSection::of(&thread, []),
            bearing_diameter_mm: 13.5,
            friction: [0.08, 0.12, 0.16].map(Friction::both),
            bolt: Some(BoltResilience { own: Resilience::computed(4.513e-6), end: 0.205e-6 }),
            parts: Some(Resilience::computed(1.225e-6)),
            known: true,
            converted: 1.0,
        }
    }

    fn known() -> FrictionKnowledge {
        FrictionKnowledge {
            nut_factors: bolt().nut_factors(),
            accuracy: 0.04,
            angle_deg: 2.0,
            gauge_mm: 0.002,
        }
    }

    #[test]
    fn published_range_of_a_torque_is_where_the_curve_ends() {
        let ways = bolt().three_ways(39.50, 20.0, &known());
        assert!((ways.torque.torque_nm - 65.0).abs() < 0.05, "{}", ways.torque.torque_nm);
        for (got, published) in ways.torque.range(&ways.levers).into_iter().zip([29.33, 39.50, 58.11]) {
            assert!((got - published).abs() < 0.05, "{got} for {published}");
        }
    }

    #[test]
    fn the_same_bolt_scatters_less_by_angle_and_least_by_stretch() {
        let ways = bolt().three_ways(39.5, 20.0, &known());
        let width = |load: LoadedBolt| {
            let ends = [0.025, 0.975].map(|share| load.quantile(&ways.levers, share));
            ends[1] / ends[0]
        };
        let [torque, angle, stretch] = [ways.torque, ways.angle.unwrap(), ways.stretch.unwrap()].map(width);
        assert!(torque > 1.35 && angle < torque * 0.9 && stretch < angle, "{torque} {angle} {stretch}");
        // Angle and stretch that are asked for lead to the load: M-6 and M-7.
        let snug_kn = 20.0 / ways.levers.at(0.0);
        let turned = ways.angle_deg.unwrap() / 360.0 * 1.25 / (4.718e-6 + 1.225e-6) / 1000.0;
        assert!((snug_kn + turned - 39.5).abs() < 1e-9);
        assert!((ways.stretch_mm.unwrap() / 4.513e-6 / 1000.0 - 39.5).abs() < 1e-9);
    }

    #[test]
    fn friction_and_nut_factor_come_back() {
        for mu in [0.06, 0.12, 0.20] {
            assert!((bolt().friction_of(bolt().nut_factor_of(mu)) - mu).abs() < 1e-12);
        }
    }

    proptest! {
        #[test]
        fn a_share_rises_from_nothing_to_all(
            torque in 0.0f64..120.0, accuracy in 0.0f64..0.2, added in 0.0f64..40.0, error in 0.001f64..8.0,
            usual in 1.2f64..3.0, part in 0.0f64..0.5,
        ) {
            let levers = FrictionLevers([usual * (1.0 - part), usual, usual * (1.0 + part)]);
            let load = LoadedBolt { torque_nm: torque, accuracy, added_kn: added, error_kn: error };
            let [low, usual, high] = load.range(&levers);
            prop_assert!(low <= usual && usual <= high);
            prop_assert!(load.share_below(&levers, low - 1e-6) < 1e-9);
            prop_assert!((load.share_below(&levers, high + 1e-6) - 1.0).abs() < 1e-4);
            let quantiles = [0.1, 0.5, 0.9].map(|share| load.quantile(&levers, share));
            prop_assert!(quantiles[0] <= quantiles[1] && quantiles[1] <= quantiles[2]);
            let area: f64 = load.curve(&levers).windows(2).map(|p| (p[1].kn - p[0].kn) * (p[0].density + p[1].density) / 2.0).sum();
            prop_assert!((area - 1.0).abs() < 0.02, "{}", area);
        }
    }
}
