//! What work waits for outside of the bench (C-50): a part on order, something at the machine shop, an engine on
//! hold; and the day that an engine was promised for.
//!
//! Work waits by one mechanism. What is on order, away or on hold is one kind of entry that holds operations or all of
//! the engine; `BuildState::waits_besides` puts it beside open figures and what has to come out. A part that is entered
//! ends the wait for it.

pub mod commands;
pub mod state;
pub mod view;
