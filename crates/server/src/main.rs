//! The `rigore` command.

use anyhow::Result;
use std::process::ExitCode;

/// A pull is many small pieces of memory: this allocator halves what they cost.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> Result<ExitCode> {
    rigore_server::run_command()
}
