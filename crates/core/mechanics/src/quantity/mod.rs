//! Units of measure: typed quantities, and reading and writing them as people do.
//!
//! Quantities are [`uom`] types in SI. What lives here is what `uom` does not do: text such as
//! `75 ft-lb` or `9,5 Nm`, exact legal factors, and the short constructors the mechanics read
//! best with. Formulas do not live here.

mod shown;
mod text;
mod units;
mod words;

pub use shown::Quantity;
pub use text::{ReadError, read, unit_of, written};
pub use text::{is_between, spelled};
pub use units::LBF_FT;
pub use units::{Dimension, UNITS, Unit, unit};
pub use uom::si::f64::{Angle, Force, Length, Pressure, Torque};

use uom::si::{
    angle::degree, force::kilonewton, length::millimeter, pressure::megapascal, torque::newton_meter,
};

/// A torque given in newton metres.
pub fn nm(value: f64) -> Torque {
    Torque::new::<newton_meter>(value)
}

/// A length given in millimetres.
pub fn mm(value: f64) -> Length {
    Length::new::<millimeter>(value)
}

/// A force given in kilonewtons.
pub fn kn(value: f64) -> Force {
    Force::new::<kilonewton>(value)
}

/// A pressure or stress given in megapascals.
pub fn mpa(value: f64) -> Pressure {
    Pressure::new::<megapascal>(value)
}

/// An angle given in degrees.
pub fn deg(value: f64) -> Angle {
    Angle::new::<degree>(value)
}

/// The torque in newton metres.
pub fn in_nm(torque: Torque) -> f64 {
    torque.get::<newton_meter>()
}

/// The length in millimetres.
pub fn in_mm(length: Length) -> f64 {
    length.get::<millimeter>()
}

/// The force in kilonewtons.
pub fn in_kn(force: Force) -> f64 {
    force.get::<kilonewton>()
}

/// The stress in megapascals.
pub fn in_mpa(stress: Pressure) -> f64 {
    stress.get::<megapascal>()
}

/// The angle in degrees.
pub fn in_deg(angle: Angle) -> f64 {
    angle.get::<degree>()
}
