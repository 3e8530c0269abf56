//! The server over HTTP, on the demonstration shop.

mod answers;
mod backups;
mod checks;
mod contract;
mod day;
mod drafts;
mod dry_runs;
mod findings;
mod friction_tests;
mod harness;
mod languages;
mod limits;
mod lubricants;
mod messages;
mod papers;
mod parts;
mod people;
mod plans;
mod preparing;
mod rig;
mod running;
