//! What is in an engine that has to come out again (C-43): rags, guides, protectors, stops.

pub mod commands;
pub mod state;
pub mod view;
