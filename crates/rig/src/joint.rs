//! A bolt in a joint: how torque rises with angle.

use rand::SeedableRng;
use rand::rngs::StdRng;
use rand_distr::{Distribution, Normal};
use rigore_mechanics::fastener::Thread;
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{BearingFace, TorqueRelation, preload_from_angle};
use rigore_mechanics::quantity::{deg, in_kn, in_nm, kn, mm, nm};

/// What a kind of joint is like before scatter.
#[derive(Debug, Clone, Copy)]
pub struct JointSpec {
    /// The thread.
    pub thread: Thread,
    /// Mean bearing diameter, mm.
    pub bearing_diameter_mm: f64,
    /// Friction to scatter around.
    pub friction: Friction,
    /// Elastic resilience of bolt and parts together, mm/N.
    pub resilience: f64,
    /// Relative standard deviation of friction from bolt to bolt.
    pub friction_scatter: f64,
    /// Torque to run the bolt down before the head touches, N·m.
    pub running_nm: f64,
}

/// One bolt with its own friction and its place on its torque-angle line.
#[derive(Debug, Clone)]
pub struct SimulatedBolt {
    bolt: TorqueRelation,
    resilience: f64,
    running_nm: f64,
    /// Angle still to turn before the head touches, degrees.
    free_deg: f64,
    preload_kn: f64,
}

/// A bolt never has less friction than this share of what is usual.
const LEAST_FRICTION: f64 = 0.5;

impl SimulatedBolt {
    /// The bolt that a seed makes of a joint, run down by hand.
    pub fn new(spec: &JointSpec, seed: u64) -> Self {
        let mut rng = StdRng::seed_from_u64(seed);
        let mut scatter = |mu: f64| {
            let normal = Normal::new(1.0, spec.friction_scatter.max(0.0)).ok();
            mu * normal.map_or(1.0, |n| n.sample(&mut rng)).max(LEAST_FRICTION)
        };
        let friction =
            Friction { thread: scatter(spec.friction.thread), bearing: scatter(spec.friction.bearing) };
        let free_deg = 12.0 + 18.0 * scatter(1.0);
        let bearing = BearingFace { mean_diameter: mm(spec.bearing_diameter_mm) };
        Self {
            bolt: TorqueRelation { thread: spec.thread, bearing, friction },
            resilience: spec.resilience,
            running_nm: spec.running_nm,
            free_deg,
            preload_kn: 0.0,
        }
    }

    /// The same bolt after a torque was put on it.
    #[must_use]
    pub fn at_torque(mut self, torque_nm: f64) -> Self {
        self.free_deg = 0.0;
        self.preload_kn = in_kn(self.bolt.preload(nm(torque_nm), nm(0.0)));
        self
    }

    /// Turns the bolt on and gives the torque that takes, N·m.
    pub fn turn(&mut self, angle_deg: f64) -> f64 {
        let free = self.free_deg.min(angle_deg);
        self.free_deg -= free;
        let stretching = angle_deg - free;
        if stretching > 0.0 {
            let added = preload_from_angle(&self.bolt.thread, deg(stretching), self.resilience, 0.0);
            self.preload_kn += in_kn(added);
        }
        self.torque_nm()
    }

    /// The torque it takes to move it now, N·m.
    pub fn torque_nm(&self) -> f64 {
        in_nm(self.bolt.torque(kn(self.preload_kn), nm(0.0))).max(self.running_nm)
    }

    /// Its friction. A real bolt does not tell.
    pub fn friction(&self) -> Friction {
        self.bolt.friction
    }

    /// Its clamp load, kN. A real bolt does not tell.
    pub fn preload_kn(&self) -> f64 {
        self.preload_kn
    }
}
