//! The source of Rigore as data, for the tests that hold its conventions.
//!
//! [`SourceTree::read`] follows the modules of one crate from its root file. [`SourceTree::imports`] says which file
//! uses names of which other one, whatever re-export they come through.

mod project;
mod scope;
mod tree;

pub use project::{CRATE_ROOTS, crates_folder, project_folder, source_files};
pub use tree::{Import, SourceTree, SourceType};
