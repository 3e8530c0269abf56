//! What is in an engine that has to come out again (C-43): rags, guides, protectors, stops.
//!
//! What goes in comes out. `engine/inside` lists what items put in and what somebody added; operations that close
//! the engine wait for it.

pub mod commands;
pub mod state;
pub mod view;
