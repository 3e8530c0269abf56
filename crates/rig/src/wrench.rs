//! A wrench with a display that pulls a simulated bolt to a target.

use crate::joint::SimulatedBolt;
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};

/// What the wrench is set to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum WrenchTarget {
    /// Stop at a torque, N·m.
    Torque(f64),
    /// Stop after an angle, degrees.
    Angle(f64),
}

/// What the display shows at one moment.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DisplaySample {
    /// Angle since the pull began, degrees.
    pub angle_deg: f64,
    /// Torque, N·m.
    pub torque_nm: f64,
}

/// One whole pull.
#[derive(Debug, Clone, PartialEq)]
pub struct SimulatedPull {
    /// What the display showed on the way, in order.
    pub samples: Vec<DisplaySample>,
    /// Peak torque, N·m, to the wrench's resolution.
    pub torque_nm: f64,
    /// Angle turned, degrees, to the wrench's resolution.
    pub angle_deg: f64,
}

/// A wrench in the hands of somebody who stops nearly where they should.
#[derive(Debug, Clone)]
pub struct SimulatedWrench {
    rng: StdRng,
    /// Most that a torque is overshot by, as a share of the target.
    torque_overshoot: f64,
    /// Most that an angle is off by, degrees.
    angle_error: f64,
}

/// Degrees between two samples.
const STEP_DEG: f64 = 0.5;
/// A pull that has not reached its target after this much is given up.
const MOST_DEG: f64 = 720.0;

impl SimulatedWrench {
    /// A wrench whose small errors come from a seed.
    pub fn new(seed: u64) -> Self {
        Self { rng: StdRng::seed_from_u64(seed), torque_overshoot: 0.02, angle_error: 1.5 }
    }

    /// Pulls a bolt to a target.
    pub fn pull(&mut self, bolt: &mut SimulatedBolt, target: WrenchTarget) -> SimulatedPull {
        let goal = match target {
            WrenchTarget::Torque(torque) => {
                torque * (1.0 + self.rng.random_range(0.0..self.torque_overshoot))
            }
            WrenchTarget::Angle(angle) => angle + self.rng.random_range(-self.angle_error..self.angle_error),
        };
        let mut samples = Vec::new();
        let (mut angle, mut peak) = (0.0, 0.0_f64);
        let reached = |angle: f64, torque: f64| match target {
            WrenchTarget::Torque(_) => torque >= goal,
            WrenchTarget::Angle(_) => angle >= goal,
        };
        while !reached(angle, bolt.torque_nm()) && angle < MOST_DEG {
            let step = match target {
                WrenchTarget::Angle(_) => STEP_DEG.min(goal - angle),
                WrenchTarget::Torque(_) => STEP_DEG / 4.0,
            };
            let torque = bolt.turn(step);
            angle += step;
            peak = peak.max(torque);
            samples.push(DisplaySample { angle_deg: angle, torque_nm: torque });
        }
        SimulatedPull { samples, torque_nm: tenth(peak.max(bolt.torque_nm())), angle_deg: angle.round() }
    }
}

fn tenth(value: f64) -> f64 {
    (value * 10.0).round() / 10.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::joint::JointSpec;
    use rigore_mechanics::fastener::Thread;
    use rigore_mechanics::friction::Friction;

    fn spec() -> JointSpec {
        JointSpec {
            thread: Thread::parse("M10x1.25").expect("a thread"),
            bearing_diameter_mm: 13.5,
            friction: Friction::both(0.12),
            resilience: 5.943e-6,
            friction_scatter: 0.06,
            running_nm: 1.5,
        }
    }

    #[test]
    fn a_torque_pull_ends_just_above_its_target() {
        for seed in 0..50 {
            let pulled = SimulatedWrench::new(seed)
                .pull(&mut SimulatedBolt::new(&spec(), seed), WrenchTarget::Torque(30.0));
            assert!((30.0..31.2).contains(&pulled.torque_nm), "{}", pulled.torque_nm);
            assert!(pulled.samples.windows(2).all(|s| s[1].torque_nm >= s[0].torque_nm));
        }
    }

    #[test]
    fn an_angle_pull_adds_the_clamp_load_of_its_angle() {
        let mut bolt = SimulatedBolt::new(&spec(), 3).at_torque(30.0);
        let before = bolt.preload_kn();
        let pulled = SimulatedWrench::new(3).pull(&mut bolt, WrenchTarget::Angle(60.0));
        let per_degree = 1.25 / 360.0 / 5.943e-6 / 1000.0;
        let turned = pulled.samples.last().expect("samples").angle_deg;
        assert!((bolt.preload_kn() - before - turned * per_degree).abs() < 1e-6);
        assert!((pulled.angle_deg - 60.0).abs() <= 2.0);
    }

    #[test]
    fn the_same_seed_pulls_the_same_and_another_does_not() {
        let pull = |seed| {
            SimulatedWrench::new(seed)
                .pull(&mut SimulatedBolt::new(&spec(), seed), WrenchTarget::Torque(30.0))
        };
        assert_eq!(pull(7), pull(7));
        assert_ne!(pull(7).samples, pull(8).samples);
    }

    #[test]
    fn dry_bolts_clamp_less_at_the_same_torque() {
        let at =
            |mu| SimulatedBolt::new(&JointSpec { friction: Friction::both(mu), ..spec() }, 1).at_torque(30.0);
        assert!(at(0.2).preload_kn() < 0.7 * at(0.12).preload_kn());
    }
}
