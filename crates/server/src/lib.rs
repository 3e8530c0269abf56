//! The Rigore server: HTTP in front of the store and the core.
//!
//! Handlers are thin: they read a request, let the store record or show, and answer. What may be
//! done at the bench is decided in `rigore-core`; what is kept is in `rigore-store`.

mod answers;
pub mod app;
pub mod demo;
mod extract;
mod problem;
mod routes;
pub mod secrets;
mod session;
mod web;
mod zone;

pub use app::{App, Settings, openapi, router, serve};
pub use problem::Problem;
