//! What work waits for outside of the bench (C-50): a part on order, something at the machine shop, an engine on
//! hold; and the day that an engine was promised for.

pub mod commands;
pub mod state;
pub mod view;
