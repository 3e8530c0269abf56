//! Measuring instruments and tools of the shop: their register and calibration, whether one fits what is to be done with
//! it, which ones an operation needs, checks, and readings of one that was found wrong.

pub mod checks;
pub mod fit;
pub mod register;
pub mod requirements;
pub mod suspect_readings;
