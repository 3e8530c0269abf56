//! Findings (C-41): what was found at a fastener, part or place, and what became of it.
//!
//! A finding holds one operation: the first on what it is about that is not signed. Its picture lies beside the record
//! under its hash (`pictures.rs` of the store); the entry names the hash.

pub mod commands;
mod issues;
pub mod state;
pub mod view;
