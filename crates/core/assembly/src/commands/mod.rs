//! From a request to the facts it records: what a decision may know, which code decides, and the commands that belong to
//! the whole engine. Commands of one kind of work are in its folder.

pub mod context;
pub mod dispatch;
pub mod lifecycle;
pub mod plan_migration;
