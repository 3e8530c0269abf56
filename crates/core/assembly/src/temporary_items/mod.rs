//! What is in an engine that has to come out again (C-43): rags, guides, protectors, stops.
//!
//! What items of the plan put in and what somebody added is listed; operations that close the engine wait until it is
//! out.

pub mod commands;
pub mod state;
pub mod view;
