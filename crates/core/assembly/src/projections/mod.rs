//! What is kept beside the record and can be made again from it: the row of the shop's list, lives of parts, friction that
//! bolts have shown, how long operations took, what is left to do.

pub mod durations;
pub mod friction;
pub mod list_row;
pub mod outlook;
pub mod part_history;
pub mod part_life;
