//! The climb to a stretch (C-24, M-8): after each torque with its stretch, what torque comes next.
//!
//! The first one is safe whatever the friction of the lubricant is; every further one comes from the
//! friction that this very bolt has shown. No step goes past the utilisation that the plan allows.
//!
//! Of a bolt whose shape is not known (C-67), a stretch and a torque that is never passed are enough: it begins at half of
//! that torque, and what it has shown is gone on from in proportion.

use super::band::Band;
use crate::joint::{
    BearingFace, Fastening, NutFactor, TorqueRelation, TorqueStretchPair, assembly_preload,
    preload_from_stretch, stretch_from_preload,
};
use crate::quantity::{in_mm, in_nm, kn, mm, nm};
use serde::Serialize;

/// What one fastener has shown for all of its group.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct QualifiedTorque {
    /// The torque that gave it its stretch, N·m.
    pub torque_nm: f64,
    /// Its friction.
    pub friction: NutFactor,
}

/// The way to a stretch.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StretchSteps<'a> {
    /// The bolt.
    pub fastening: &'a Fastening,
    /// The stretch that is wanted, mm.
    pub band: Band,
    /// The torque to begin with, N·m; where it is not given, the one that the least friction of the lubricant
    /// brings into the window.
    pub first_nm: Option<f64>,
    /// The most that a torque may be above the one before, N·m.
    pub step_nm: Option<f64>,
    /// The most utilisation of yield.
    pub utilisation: f64,
    /// A torque that is never passed, N·m, where the plan gives one.
    pub most_nm: Option<f64>,
    /// What another bolt has shown for this one, too.
    pub qualified: Option<QualifiedTorque>,
}

/// Why a next torque is what it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum TorqueBound {
    /// Nothing is known of the bolt yet.
    First,
    /// It gave the first bolt of the group its stretch.
    Qualified,
    /// It should give the stretch that is wanted.
    Wanted,
    /// The step before it may not be larger.
    Step,
    /// The bolt may not be used or pulled further.
    Utilisation,
}

/// What to pull to next.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct NextTorque {
    /// The torque at the fastener, N·m.
    pub torque_nm: f64,
    /// What it comes from.
    pub bound: TorqueBound,
    /// The friction that the bolt has shown.
    pub friction: Option<NutFactor>,
    /// The torque that should give the stretch, N·m, once a friction is known.
    pub wanted_nm: Option<f64>,
    /// The torque at the utilisation limit, N·m.
    pub limit_nm: f64,
}

/// Where a bolt of unknown shape begins, as a share of the torque that is never passed.
const FIRST_OF_LIMIT: f64 = 0.5;

/// Steps that a torque is shown in, for each N·m.
const SHOWN: f64 = 10.0;

impl NextTorque {
    /// The same as it can be shown: the limit rounded down, so that whoever pulls to the figure on the screen is
    /// not past it.
    #[must_use]
    pub fn shown(self) -> Self {
        let limit_nm = (self.limit_nm * SHOWN).floor() / SHOWN;
        Self { limit_nm, torque_nm: self.torque_nm.min(limit_nm), ..self }
    }
}

impl StretchSteps<'_> {
    /// The same with another limit, where one is allowed.
    #[must_use]
    pub fn within(self, allowed: Option<f64>) -> Self {
        // More of its yield can only be used of a bolt whose shape is known.
        let keeps = allowed.is_none() || self.fastening.own_resilience().is_none();
        let most_nm = self.most_nm.filter(|_| keeps);
        Self { utilisation: allowed.unwrap_or(self.utilisation), most_nm, ..self }
    }

    fn bearing(&self) -> BearingFace {
        BearingFace { mean_diameter: mm(self.fastening.bearing_diameter_mm) }
    }

    /// The most that a bolt with this friction is pulled to, N·m: by its yield, or by what the plan never passes.
    fn limit_nm(&self, friction: NutFactor) -> f64 {
        self.torque_at(self.utilisation, friction).min(self.most_nm.unwrap_or(f64::INFINITY))
    }

    /// The torque, N·m, that uses so much of the yield of a bolt with this friction.
    pub fn torque_at(&self, utilisation: f64, friction: NutFactor) -> f64 {
        let Fastening { thread, neck, strength, .. } = self.fastening;
        let mu = friction.friction(thread, self.bearing()).max(0.0);
        friction.torque_nm(thread, assembly_preload(thread, *neck, utilisation, mu, strength.proof))
    }

    /// How much longer a bolt gets for each N·m by what it has shown, mm; `None` before it has shown anything.
    pub fn shown_slope(pairs: &[TorqueStretchPair]) -> Option<f64> {
        let both: f64 = pairs.iter().map(|pair| pair.torque_nm * pair.stretch_mm).sum();
        let torques: f64 = pairs.iter().map(|pair| pair.torque_nm * pair.torque_nm).sum();
        (both > 0.0).then(|| both / torques)
    }

    /// What comes next for a bolt whose shape is not known; `None` where no torque is never passed.
    fn next_in_proportion(&self, pairs: &[TorqueStretchPair]) -> Option<NextTorque> {
        let limit_nm = self.most_nm?;
        let slope = Self::shown_slope(pairs);
        let wanted_nm = slope.map(|slope| self.band.target / slope);
        let first_nm = self.first_nm.unwrap_or(FIRST_OF_LIMIT * limit_nm);
        let last_nm = pairs.last().map_or(0.0, |pair| pair.torque_nm);
        let bounds = [
            wanted_nm.map_or((first_nm, TorqueBound::First), |wanted| (wanted, TorqueBound::Wanted)),
            (self.step_nm.map_or(f64::INFINITY, |step| last_nm + step), TorqueBound::Step),
            (limit_nm, TorqueBound::Utilisation),
        ];
        let within = bounds.into_iter().filter(|(_, bound)| slope.is_some() || *bound != TorqueBound::Step);
        let (torque_nm, bound) = within.min_by(|(a, _), (b, _)| a.total_cmp(b))?;
        Some(NextTorque { torque_nm, bound, friction: None, wanted_nm, limit_nm })
    }

    /// What to pull to after what the bolt has shown, oldest first; `None` where the plan gives neither the bolt's
    /// resilience nor a torque that is never passed.
    pub fn next(&self, pairs: &[TorqueStretchPair]) -> Option<NextTorque> {
        let Some(bolt) = self.fastening.own_resilience() else { return self.next_in_proportion(pairs) };
        let thread = &self.fastening.thread;
        let preload = |stretch_mm| preload_from_stretch(mm(stretch_mm), bolt);
        let Some(friction) = NutFactor::of(thread, bolt, pairs) else {
            if let Some(QualifiedTorque { torque_nm, friction }) = self.qualified {
                let limit_nm = self.limit_nm(friction);
                let (torque_nm, bound) = (torque_nm.min(limit_nm), TorqueBound::Qualified);
                return Some(NextTorque { torque_nm, bound, friction: None, wanted_nm: None, limit_nm });
            }
            let least = TorqueRelation {
                thread: *thread,
                bearing: self.bearing(),
                friction: self.fastening.friction[0],
            };
            let limit_nm = self.limit_nm(NutFactor { k: least.nut_factor(), error: None });
            let safe_nm = in_nm(least.torque(preload(self.band.low), nm(0.0)));
            let torque_nm = self.first_nm.unwrap_or(safe_nm).min(limit_nm);
            return Some(NextTorque {
                torque_nm,
                bound: TorqueBound::First,
                friction: None,
                wanted_nm: None,
                limit_nm,
            });
        };
        let limit_nm = self.limit_nm(friction);
        let wanted_nm = friction.torque_nm(thread, preload(self.band.target));
        let last_nm = pairs.last().map_or(0.0, |pair| pair.torque_nm);
        let step_nm = self.step_nm.map_or(f64::INFINITY, |step| last_nm + step);
        let bounds = [
            (wanted_nm, TorqueBound::Wanted),
            (step_nm, TorqueBound::Step),
            (limit_nm, TorqueBound::Utilisation),
        ];
        let (torque_nm, bound) = bounds.into_iter().min_by(|(a, _), (b, _)| a.total_cmp(b))?;
        Some(NextTorque { torque_nm, bound, friction: Some(friction), wanted_nm: Some(wanted_nm), limit_nm })
    }

    /// How many times the lubricant's usual friction a bolt has: 1 is as usual.
    pub fn against_usual(&self, friction: NutFactor) -> f64 {
        let usual = TorqueRelation {
            thread: self.fastening.thread,
            bearing: self.bearing(),
            friction: self.fastening.friction[1],
        };
        friction.k / usual.nut_factor()
    }

    /// The stretch that a torque gives with a friction, mm.
    pub fn stretch_mm(&self, torque_nm: f64, friction: NutFactor) -> Option<f64> {
        let load_kn = torque_nm / (friction.k * self.fastening.thread.nominal_mm());
        Some(in_mm(stretch_from_preload(kn(load_kn), self.fastening.own_resilience()?)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fastener::{Strength, Thread};
    use crate::friction::Friction;
    use crate::joint::{BoltResilience, Resilience, WeakestSection};
    use crate::quantity::Dimension;
    use crate::quantity::in_kn;
    use crate::quantity::mpa;

    fn bolt() -> Fastening {
        let thread = Thread::parse("M9x1").unwrap();
        Fastening {
            thread,
            strength: Strength::figures(mpa(1250.0), mpa(1350.0)).unwrap(),
            neck: WeakestSection::of(&thread, [7.6]),
            bearing_diameter_mm: 12.0,
            friction: [0.06, 0.08, 0.10].map(Friction::both),
            bolt: Some(BoltResilience { own: Resilience::computed(5.061e-6), end: 0.2e-6 }),
            parts: None,
            known: true,
            converted: 1.0,
        }
    }

    fn climb(fastening: &Fastening) -> StretchSteps<'_> {
        let band = Band::between(0.150, 0.145, 0.155, Dimension::Length);
        StretchSteps {
            fastening,
            band,
            first_nm: None,
            step_nm: None,
            utilisation: 0.9,
            most_nm: None,
            qualified: None,
        }
    }

    fn pairs(of: &[(f64, f64)]) -> Vec<TorqueStretchPair> {
        of.iter().map(|&(torque_nm, stretch_mm)| TorqueStretchPair { torque_nm, stretch_mm }).collect()
    }

    #[test]
    fn the_first_torque_is_safe_at_the_least_friction_of_the_lubricant() {
        let bolt = bolt();
        let first = climb(&bolt).next(&[]).unwrap();
        assert_eq!((first.bound, first.friction), (TorqueBound::First, None));
        let least = TorqueRelation {
            thread: bolt.thread,
            bearing: BearingFace { mean_diameter: mm(12.0) },
            friction: Friction::both(0.06),
        };
        let load = in_kn(least.preload(nm(first.torque_nm), nm(0.0)));
        assert!((load * 1000.0 * 5.061e-6 - 0.145).abs() < 1e-9);
        // A first torque of the plan's is taken, but never past the limit.
        let own = StretchSteps { first_nm: Some(20.0), ..climb(&bolt) };
        assert_eq!(own.next(&[]).unwrap().torque_nm, 20.0);
        let own = StretchSteps { first_nm: Some(200.0), ..climb(&bolt) };
        assert_eq!(own.next(&[]).unwrap().torque_nm, own.next(&[]).unwrap().limit_nm);
    }

    #[test]
    fn the_next_torque_is_the_least_of_the_three() {
        let bolt = bolt();
        let shown = pairs(&[(40.0, 0.095), (50.0, 0.121), (55.0, 0.131)]);
        let wanted = climb(&bolt).next(&shown).unwrap();
        assert_eq!(wanted.bound, TorqueBound::Wanted);
        assert!((wanted.torque_nm - 62.7).abs() < 0.05, "{}", wanted.torque_nm);
        assert!(climb(&bolt).against_usual(wanted.friction.unwrap()) > 1.25);
        let stretch = climb(&bolt).stretch_mm(wanted.torque_nm, wanted.friction.unwrap()).unwrap();
        assert!((stretch - 0.150).abs() < 1e-12);
        let stepped = StretchSteps { step_nm: Some(4.0), ..climb(&bolt) }.next(&shown).unwrap();
        assert_eq!((stepped.torque_nm, stepped.bound), (59.0, TorqueBound::Step));
        let near_yield = StretchSteps { utilisation: 0.5, ..climb(&bolt) };
        let limited = near_yield.next(&shown).unwrap();
        assert_eq!((limited.torque_nm, limited.bound), (limited.limit_nm, TorqueBound::Utilisation));
        let at_yield = near_yield.torque_at(1.0, limited.friction.unwrap());
        assert!((limited.torque_nm / at_yield - 0.5).abs() < 1e-9);
    }

    #[test]
    fn a_bolt_of_unknown_shape_goes_on_in_proportion_and_never_past_its_torque() {
        let unknown = Fastening { bolt: None, ..bolt() };
        assert_eq!(climb(&unknown).next(&[]), None, "nothing limits it");
        let steps = StretchSteps { most_nm: Some(62.0), ..climb(&unknown) };
        let first = steps.next(&[]).unwrap();
        assert_eq!((first.torque_nm, first.bound, first.limit_nm), (31.0, TorqueBound::First, 62.0));
        let own = StretchSteps { first_nm: Some(40.0), ..steps };
        assert_eq!(own.next(&[]).unwrap().torque_nm, 40.0);
        // Half of the stretch at 31 N·m: twice the torque for all of it, a step at most, never past the limit.
        let half = pairs(&[(31.0, 0.079)]);
        let wanted = steps.next(&half).unwrap();
        assert_eq!(wanted.bound, TorqueBound::Wanted);
        assert!((wanted.torque_nm - 31.0 * 0.150 / 0.079).abs() < 1e-9);
        let stepped = StretchSteps { step_nm: Some(10.0), ..steps }.next(&half).unwrap();
        assert_eq!((stepped.torque_nm, stepped.bound), (41.0, TorqueBound::Step));
        let stiff = steps.next(&pairs(&[(31.0, 0.060)])).unwrap();
        assert_eq!((stiff.torque_nm, stiff.bound), (62.0, TorqueBound::Utilisation));
        // Nobody can allow more of a yield that is not known.
        assert_eq!(steps.within(Some(1.0)).next(&[]).unwrap().limit_nm, 62.0);
    }
}
