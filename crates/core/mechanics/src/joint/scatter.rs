//! How far the clamp load of a torque scatters (M-17).

use super::preload::{BearingFace, TorqueRelation};
use crate::fastener::Thread;
use crate::friction::Friction;
use crate::quantity::{Force, Torque, in_nm, nm};

/// The least, typical and most clamp load of a torque: friction between its low and high end, and a wrench
/// that is right within `accuracy`, as a share of its reading.
pub fn preload_range(
    thread: &Thread,
    bearing: BearingFace,
    torque: Torque,
    [low, typical, high]: [Friction; 3],
    accuracy: f64,
) -> [Force; 3] {
    let preload = |friction: Friction, share: f64| {
        TorqueRelation { thread: *thread, bearing, friction }.preload(nm(in_nm(torque) * share), nm(0.0))
    };
    [preload(high, 1.0 - accuracy), preload(typical, 1.0), preload(low, 1.0 + accuracy)]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::{in_kn, mm};

    #[test]
    fn published_range_of_a_torque() {
        let thread = Thread::parse("M10x1.25").unwrap();
        let friction = [0.08, 0.12, 0.16].map(Friction::both);
        let range = preload_range(&thread, BearingFace { mean_diameter: mm(13.5) }, nm(65.0), friction, 0.04);
        for (got, published) in range.into_iter().zip([29.33, 39.50, 58.11]) {
            assert!((in_kn(got) - published).abs() < 0.005, "{} for {published}", in_kn(got));
        }
    }
}
