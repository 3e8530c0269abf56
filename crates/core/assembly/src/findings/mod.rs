//! Findings (C-41): what was found at a fastener, part or place, and what became of it.

pub mod commands;
mod issues;
pub mod state;
pub mod view;
