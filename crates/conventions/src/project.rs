//! Where the source of Rigore is.

use std::fs;
use std::path::{Path, PathBuf};

/// The root file of every crate, from the folder of the crates on.
pub const CRATE_ROOTS: [&str; 10] = [
    "core/mechanics/src/lib.rs",
    "core/plan/src/lib.rs",
    "core/assembly/src/lib.rs",
    "rig/src/lib.rs",
    "store/src/lib.rs",
    "server/src/lib.rs",
    "server/src/main.rs",
    "browser/src/lib.rs",
    "browser/src/bin/measure/main.rs",
    "conventions/src/lib.rs",
];

/// The folder of the whole project.
pub fn project_folder() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

/// The folder that the crates are in.
pub fn crates_folder() -> PathBuf {
    project_folder().join("crates")
}

/// The files of a folder and of those in it whose extension is one of these.
///
/// # Panics
/// Where a folder cannot be read.
pub fn source_files(folder: &Path, extensions: &[&str]) -> Vec<PathBuf> {
    let mut found = Vec::new();
    for entry in fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            found.extend(source_files(&path, extensions));
        } else if path.extension().is_some_and(|of| extensions.iter().any(|extension| of == *extension)) {
            found.push(path);
        }
    }
    found
}
