//! Reading TOML documents with their lines kept, so that every fault is shown where it stands.
//!
//! A [`Table`] is read field by field; a [`Report`] gathers what is wrong, by path and line. What
//! the fields mean does not live here.

mod report;
mod table;

pub use report::{Fault, Report, Severity};
pub use table::{Table, asked, read};
