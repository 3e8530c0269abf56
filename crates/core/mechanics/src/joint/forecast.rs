//! What a torque or an angle means in clamp load and in percent of yield, with the range that
//! friction leaves open.

use super::preload::{BearingFace, TorqueRelation, TorqueShares};
use super::resilience::{BoltResilience, Resilience, preload_from_angle};
use super::stretch::preload_from_stretch;
use super::utilisation::{WeakestSection, assembly_preload, utilisation};
use super::yielding::yield_point;
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
    /// Where it yields first.
    pub neck: WeakestSection,
    /// Mean bearing diameter Db, mm.
    pub bearing_diameter_mm: f64,
    /// Friction at the low, typical and high end of its lubricants.
    pub friction: [Friction; 3],
    /// Elastic resilience of the bolt, where it is known.
    pub bolt: Option<BoltResilience>,
    /// Elastic resilience of the parts that it clamps, where it is known.
    pub parts: Option<Resilience>,
    /// Whether all of it is known. Where it is not, figures stand in its place and no clamp load is computed.
    pub known: bool,
    /// What a torque of the plan is multiplied by where it is converted to another lubricant, at equal preload
    /// (M-9); 1 where it is not.
    pub converted: f64,
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
    /// The most utilisation of yield within what is not known of its friction and resilience; 1 is yield.
    pub most_utilisation: f64,
    /// Degrees that it was turned on past yield, at typical friction (M-19).
    pub past_yield_deg: f64,
    /// How much longer that leaves the bolt for good, mm.
    pub longer_mm: f64,
    /// Nut factor K at typical friction.
    pub nut_factor: f64,
    /// Share of the torque that stretches the bolt.
    pub pitch_share: f64,
    /// Share lost on the thread.
    pub thread_share: f64,
    /// Share lost under the head.
    pub bearing_share: f64,
}

impl Forecast {
    /// Whether the fastener is past its yield.
    pub fn past_yield(&self) -> bool {
        self.past_yield_deg > 0.0 || self.utilisation > 1.0 + 1e-9
    }
}

impl Fastening {
    /// The strongest fastener that is sold under the same strength.
    #[must_use]
    pub fn strongest(self) -> Self {
        Self { strength: self.strength.strongest(), ..self }
    }

    /// Elastic resilience of bolt and parts, δS and δP in mm/N, where both are known.
    pub fn resilience(&self) -> Option<(f64, f64)> {
        Some((self.bolt?.total(), self.parts?.mm_per_n))
    }

    /// The bolt's own elastic resilience δB, mm/N, where it is known: what a stretch is divided by (M-7).
    pub fn own_resilience(&self) -> Option<f64> {
        Some(self.bolt?.own.mm_per_n)
    }

    /// How far off the resilience of bolt and parts together may be, as a share of it (M-17).
    pub fn resilience_uncertainty(&self) -> Option<f64> {
        let (bolt, parts) = (self.bolt?, self.parts?);
        Some((bolt.own.error() + parts.error()) / (bolt.total() + parts.mm_per_n))
    }

    fn tightening(&self, friction: Friction) -> TorqueRelation {
        TorqueRelation {
            thread: self.thread,
            bearing: BearingFace { mean_diameter: mm(self.bearing_diameter_mm) },
            friction,
        }
    }

    fn utilisation(&self, preload_kn: f64) -> f64 {
        self.utilisation_on(preload_kn, self.friction[1])
    }

    fn utilisation_on(&self, preload_kn: f64, friction: Friction) -> f64 {
        utilisation(&self.thread, self.neck, kn(preload_kn), friction.thread, self.strength.proof)
    }

    /// The clamp load after a torque in N·m.
    pub fn by_torque(&self, torque_nm: f64) -> Forecast {
        let [least, typical, most] = self.friction.map(|friction| self.tightening(friction));
        let preload = |bolt: &TorqueRelation| in_kn(bolt.preload(nm(torque_nm), nm(0.0)));
        let TorqueShares { pitch, thread, bearing } = typical.shares();
        let typical_kn = preload(&typical);
        Forecast {
            low_kn: preload(&most),
            typical_kn,
            high_kn: preload(&least),
            utilisation: self.utilisation(typical_kn),
            most_utilisation: self.utilisation_on(preload(&least), least.friction),
            past_yield_deg: 0.0,
            longer_mm: 0.0,
            nut_factor: typical.nut_factor(),
            pitch_share: pitch,
            thread_share: thread,
            bearing_share: bearing,
        }
    }

    /// The clamp load after a torque that the plan gives, in N·m, as it is converted.
    pub fn by_planned_torque(&self, torque_nm: f64) -> Forecast {
        self.by_torque(torque_nm * self.converted)
    }

    /// The same fastener on other friction; its torques are converted to it where that is said.
    #[must_use]
    pub fn on(&self, friction: [Friction; 3], converts: bool) -> Self {
        let other = Self { friction, converted: 1.0, ..*self };
        let converted = if converts { other.nut_factors()[1] / self.nut_factors()[1] } else { 1.0 };
        Self { converted, ..other }
    }

    /// The nut factor at the least, typical and most friction.
    pub fn nut_factors(&self) -> [f64; 3] {
        self.friction.map(|friction| self.tightening(friction).nut_factor())
    }

    /// The clamp load of a stretch in mm, whatever the friction was; `None` where the plan does not give the
    /// bolt's resilience (M-7).
    pub fn by_stretch(&self, stretch_mm: f64) -> Option<Forecast> {
        let own = self.bolt?.own;
        let load = |error: f64| in_kn(preload_from_stretch(mm(stretch_mm), own.mm_per_n + error));
        let [low_kn, typical_kn, high_kn] = [own.error(), 0.0, -own.error()].map(load);
        let shares = self.by_torque(1.0);
        // The load is that of the stretch: more friction only twists the bolt more.
        let most_utilisation = self.utilisation_on(high_kn, self.friction[2]);
        let utilisation = self.utilisation(typical_kn);
        Some(Forecast { low_kn, typical_kn, high_kn, utilisation, most_utilisation, ..shares })
    }

    /// The clamp load where yielding begins, however it got there (M-19).
    pub fn at_yield(&self) -> Forecast {
        let [least, typical, most] = self.friction.map(|friction| {
            in_kn(assembly_preload(&self.thread, self.neck, 1.0, friction.thread, self.strength.proof))
        });
        let shares = self.by_torque(1.0);
        Forecast {
            low_kn: most,
            typical_kn: typical,
            high_kn: least,
            utilisation: 1.0,
            most_utilisation: 1.0,
            ..shares
        }
    }

    /// The angle from a snug clamp load to where yielding begins, in degrees at typical friction; `None`
    /// where the plan gives no resilience.
    pub fn yields_after_deg(&self, snug: Forecast) -> Option<f64> {
        let mu = self.friction[1].thread;
        let (_, angle) = yield_point(
            &self.thread,
            self.neck,
            self.strength.proof,
            mu,
            kn(snug.typical_kn),
            self.resilience()?,
        );
        Some(angle)
    }

    /// A clamp load with an angle in degrees added: elastic up to yield; past it the bolt grows for good
    /// and the load stays where yielding begins (M-6, M-19). `None` where the plan gives no resilience.
    pub fn turned_on(&self, before: Forecast, angle_deg: f64) -> Option<Forecast> {
        let (bolt, parts) = self.resilience()?;
        let added = in_kn(preload_from_angle(&self.thread, deg(angle_deg), bolt, parts));
        let uncertain = self.resilience_uncertainty()?;
        let [added_least, added_most] = [added / (1.0 + uncertain), added / (1.0 - uncertain)];
        // What was there by torque stays, even where it was past yield already.
        let turned = |from: f64, added: f64, friction: Friction| {
            let limit = assembly_preload(&self.thread, self.neck, 1.0, friction.thread, self.strength.proof);
            (from + added).min(in_kn(limit)).max(from)
        };
        let [least, typical, most] = self.friction;
        let typical_kn = turned(before.typical_kn, added, typical);
        let beyond_kn = before.typical_kn + added - typical_kn;
        let beyond_deg = if added > 0.0 { angle_deg * beyond_kn / added } else { 0.0 };
        let past_yield_deg = before.past_yield_deg + if beyond_deg > 1e-9 { beyond_deg } else { 0.0 };
        let ends = [(before.high_kn + added_most, least), (before.low_kn + added_least, most)];
        let used = ends.map(|(load_kn, friction)| self.utilisation_on(load_kn, friction));
        Some(Forecast {
            low_kn: turned(before.low_kn, added_least, most),
            typical_kn,
            high_kn: turned(before.high_kn, added_most, least),
            utilisation: self.utilisation(typical_kn),
            most_utilisation: used[0].max(used[1]),
            past_yield_deg,
            longer_mm: past_yield_deg * self.thread.pitch_mm() / 360.0,
            ..before
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A bolt of class 10.9 with the friction range 0.10 to 0.14.
    fn bolt() -> Fastening {
        Fastening {
            thread: Thread::parse("M10x1.25").unwrap(),
            strength: Strength::class("10.9", 10.0).unwrap(),
            bearing_diameter_mm: 13.5,
            friction: [0.10, 0.12, 0.14].map(Friction::both),
            neck: WeakestSection::of(&Thread::parse("M10x1.25").unwrap(), []),
            bolt: Some(BoltResilience { own: Resilience::measured(4.513e-6), end: 0.205e-6 }),
            parts: Some(Resilience::measured(1.225e-6)),
            known: true,
            converted: 1.0,
        }
    }

    #[test]
    fn published_conversion_at_equal_preload() {
        let bolt = Fastening { friction: [0.14; 3].map(Friction::both), ..bolt() };
        let slick = bolt.on([0.06, 0.08, 0.10].map(Friction::both), true);
        assert!((80.0 * slick.converted - 49.3).abs() < 0.05, "{}", 80.0 * slick.converted);
        let (before, after) = (bolt.by_torque(80.0), slick.by_planned_torque(80.0));
        assert!((before.typical_kn - after.typical_kn).abs() < 1e-9);
        assert!(after.low_kn < after.typical_kn && after.typical_kn < after.high_kn);
        // Not converted, the same torque clamps far more.
        assert!(bolt.on(slick.friction, false).by_planned_torque(80.0).typical_kn > 1.5 * before.typical_kn);
    }

    #[test]
    fn where_yielding_begins_the_torque_does_not_issue() {
        let load = bolt().at_yield();
        assert!((load.typical_kn - 51.62).abs() < 0.01, "{}", load.typical_kn);
        assert!(load.low_kn < load.typical_kn && load.typical_kn < load.high_kn);
        assert!(!load.past_yield() && (load.utilisation - 1.0).abs() < 1e-12);
        assert!((bolt().utilisation(load.typical_kn) - 1.0).abs() < 1e-9);
    }

    #[test]
    fn an_angle_past_yield_leaves_the_load_where_yielding_begins_and_the_bolt_longer() {
        let snug = bolt().by_torque(30.0);
        assert!((snug.typical_kn - 18.23).abs() < 0.01, "{}", snug.typical_kn);
        let yields = bolt().yields_after_deg(snug).unwrap();
        assert!((yields - 57.1).abs() < 0.05, "{yields}");
        let elastic = bolt().turned_on(snug, 50.0).unwrap();
        assert!(!elastic.past_yield() && elastic.utilisation < 1.0);
        let turned = bolt().turned_on(elastic, 40.0).unwrap();
        assert!((turned.typical_kn - 51.62).abs() < 0.01, "{}", turned.typical_kn);
        assert!(turned.past_yield() && (turned.past_yield_deg - (90.0 - yields)).abs() < 1e-6);
        assert!((turned.longer_mm - (90.0 - yields) * 1.25 / 360.0).abs() < 1e-9);
        assert!(turned.low_kn < turned.typical_kn && turned.typical_kn < turned.high_kn);
        // In one turn or in two, it comes to the same.
        let at_once = bolt().turned_on(snug, 90.0).unwrap();
        assert!((at_once.past_yield_deg - turned.past_yield_deg).abs() < 1e-9);
    }
}
