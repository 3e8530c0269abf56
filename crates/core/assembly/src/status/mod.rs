//! Where each operation stands: done, open, waiting and for what, its open issues, running timers, figures of the plan
//! that nobody has looked up yet.

pub mod issue;
pub mod missing_values;
pub mod operations;
pub mod plan_move;
pub mod timers;
