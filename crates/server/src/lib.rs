//! The Rigore server: HTTP in front of the store and the core.
//!
//! Handlers are thin: they read a request, let the store record or show, and answer. What may be
//! done at the bench is decided in `rigore-assembly`; what is kept is in `rigore-store`.

mod answers;
pub mod app;
pub mod backups;
mod certificate;
mod connections;
pub mod demo;
mod disk;
mod extract;
mod guesses;
mod measures;
mod page;
mod problem;
mod routes;
pub mod secrets;
mod session;
mod text_rule;
mod web;
pub mod whence;
mod zone;

pub use app::{App, Settings, Socket, openapi, router, serve, watched};
pub use problem::Problem;
