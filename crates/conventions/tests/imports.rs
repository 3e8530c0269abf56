//! No file uses one that uses it, however long the way round is.

use rigore_conventions::{CRATE_ROOTS, SourceTree, crates_folder};
use std::path::Path;

#[test]
fn no_files_use_each_other_in_a_circle() {
    let crates = crates_folder();
    let short = |path: &Path| path.strip_prefix(&crates).unwrap_or(path).display().to_string();
    let mut found = Vec::new();
    for root in CRATE_ROOTS {
        let tree = SourceTree::read(&crates.join(root)).expect("its source");
        for (number, circle) in tree.circles().iter().enumerate() {
            found.extend(circle.iter().map(|import| {
                format!(
                    "circle {number} of {root}: {} uses {} of {}",
                    short(&import.from),
                    import.name,
                    short(&import.to)
                )
            }));
        }
    }
    assert!(found.is_empty(), "files use each other in a circle:\n{}", found.join("\n"));
}

#[test]
fn a_circle_is_found_through_what_is_exported_again() {
    let folder = tempfile::tempdir().expect("a folder");
    let write = |name: &str, text: &str| std::fs::write(folder.path().join(name), text).expect("written");
    write("lib.rs", "mod engine;\nmod joint;\npub use engine::Engine;\n");
    write("engine.rs", "use crate::joint::Joint;\npub struct Engine(Vec<Joint>);\n");
    let joint = |of: &str| write("joint.rs", &format!("pub struct Joint;\nfn {of}\n"));
    let circles = || {
        let tree = SourceTree::read(&folder.path().join("lib.rs")).expect("its source");
        tree.circles().into_iter().flatten().map(|import| import.name).collect::<Vec<_>>()
    };
    joint("alone() {}");
    assert!(circles().is_empty());
    for uses in ["of(_: &crate::Engine) {}", "told() { format!(\"{}\", super::Engine::name()) }"] {
        joint(uses);
        let found = circles();
        assert!(found.contains(&"Joint".to_owned()) && found.len() == 2, "{uses}: {found:?}");
    }
}
