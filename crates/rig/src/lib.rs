//! Stand-ins for what is outside Rigore: a joint that can be pulled and a wrench that pulls it, a bolt that
//! is stretched and the gauge on it.
//!
//! The joint knows friction, stiffness and scatter, drawn from a seed; the wrench turns it until
//! its target is reached and tells torque and angle on the way, as a real tool would. Nothing
//! here knows a plan, a build or a network.

mod bolt;
mod clamp_loads;
mod joint;
pub mod practice;
mod wrench;

pub use bolt::StretchedBolt;
pub use clamp_loads::{Histogram, clamp_loads};
pub use joint::{JointSpec, SimulatedBolt};
pub use wrench::{DisplaySample, SimulatedPull, SimulatedWrench, WrenchTarget};
