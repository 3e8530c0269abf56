//! Driving the real interface in headless Chromium, for tests and for pictures.
//!
//! [`Rigore`] is a server process on a database, which can be killed and started again;
//! [`Screen`] is a window somebody sits at.

mod rigore;
mod screen;

pub use rigore::Rigore;
pub use screen::{Browser, Screen};
