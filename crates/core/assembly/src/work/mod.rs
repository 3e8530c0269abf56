//! The kinds of work an operation can consist of, a folder each: its own data (`state.rs`), what may
//! be recorded (`commands.rs`), what stands against the signature (`issues.rs`), what the bench shows
//! (`bench.rs`), its section of the sheet (`sheet.rs`), and in `mod.rs` its answers to the questions
//! of [`crate::work::kind::Kind`].
//!
//! A kind of work is a folder that answers `Kind`: how many steps, what is open, what stands
//! against the signature, what the bench shows, what the sheet says.

pub(super) mod count;
pub(super) mod items;
pub mod kind;
pub(super) mod kinds;
pub(super) mod measure;
pub(super) mod parts;
pub(super) mod sign;
pub(super) mod tighten;
pub(super) mod turn;
