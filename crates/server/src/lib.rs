//! The Rigore server: HTTP in front of the store and the core.
//!
//! Handlers are thin: they read a request, let the store record or show, and answer. What may be
//! done at the bench is decided in `rigore-assembly`; what is kept is in `rigore-store`.

mod answers;
pub mod app;
pub mod backup_plan;
pub mod backups;
mod certificate;
mod client_ip;
mod command;
mod connections;
pub mod demo;
mod disk;
mod draft_editors;
mod extract;
mod guesses;
mod language;
mod live_streams;
mod metrics;
mod metrics_routes;
mod page;
mod problem;
mod router;
mod routes;
pub mod secrets;
mod serve;
mod session;
mod shop_cache;
mod simulated_tools;
mod text_rule;
pub mod trusted_proxy;
mod web;
mod zone;

pub use app::{App, Settings};
pub use command::run_command;
pub use problem::Problem;
pub use router::{openapi, router};
pub use serve::{Socket, serve, serve_metrics};
