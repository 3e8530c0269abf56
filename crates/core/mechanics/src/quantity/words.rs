//! Dimensions in words, as errors tell them.

use super::units::Dimension;
use crate::message;
use crate::message::Message;

impl Dimension {
    /// One of it, as an error says it: `an angle`.
    pub fn one(self) -> Message {
        match self {
            Self::Torque => message!("mechanics-a-torque"),
            Self::Force => message!("mechanics-a-force"),
            Self::Length | Self::Clearance => message!("mechanics-a-length"),
            Self::Angle => message!("mechanics-an-angle"),
            Self::Pressure => message!("mechanics-a-stress"),
            Self::Temperature => message!("mechanics-a-temperature"),
            Self::Volume => message!("mechanics-a-volume"),
            Self::Ratio => message!("mechanics-a-ratio"),
            Self::Count => message!("mechanics-a-number"),
            Self::Time => message!("mechanics-a-time"),
            Self::Fluid => message!("mechanics-a-pressure"),
            Self::Mass => message!("mechanics-a-mass"),
        }
    }

    /// The word an error uses for it.
    pub fn word(self) -> Message {
        match self {
            Self::Torque => message!("mechanics-torque"),
            Self::Force => message!("mechanics-force"),
            Self::Length | Self::Clearance => message!("mechanics-length"),
            Self::Angle => message!("mechanics-angle"),
            Self::Pressure => message!("mechanics-stress"),
            Self::Temperature => message!("mechanics-temperature"),
            Self::Volume => message!("mechanics-volume"),
            Self::Ratio => message!("mechanics-ratio"),
            Self::Count => message!("mechanics-number"),
            Self::Time => message!("mechanics-time"),
            Self::Fluid => message!("mechanics-pressure"),
            Self::Mass => message!("mechanics-mass"),
        }
    }
}
