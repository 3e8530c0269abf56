//! Handlers, one file for each thing a client deals with.

pub mod archives;
pub mod builds;
pub mod calc;
pub mod certificates;
pub mod checks;
pub mod clamp_load;
pub mod day;
pub mod drafts;
pub mod finding;
pub mod first_run;
pub mod instruments;
pub mod live;
pub mod lubricants;
pub mod moving;
pub mod own_secrets;
pub mod parts;
pub mod people;
pub mod pictures;
pub mod pieces;
pub mod plans;
pub mod practice;
pub mod rig;
pub mod session;
pub mod sheets;
pub mod shop;
pub mod tables;
