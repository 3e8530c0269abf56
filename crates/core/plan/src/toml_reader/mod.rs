//! Reading TOML documents with their lines kept, so that every fault is shown where it stands.
//!
//! A [`TomlTable`] is read field by field; a [`FaultReport`] gathers what is wrong, by path and line. What
//! the fields mean does not live here.

mod report;
mod table;

pub use report::{Fault, FaultReport, Severity};
pub use table::{TomlTable, asked, read};
