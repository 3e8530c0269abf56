//! Lines stay short enough to be read beside each other.

use std::fs;
use std::path::{Path, PathBuf};

/// What is generated, and nobody reads.
const GENERATED: &str = "schema.d.ts";
const LONGEST: usize = 120;

fn files(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        if path.is_dir() {
            files(&path, found);
        } else {
            found.push(path);
        }
    }
}

#[test]
fn no_line_of_the_web_part_is_longer_than_120_characters() {
    let web = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/src");
    let mut all = Vec::new();
    files(&web, &mut all);
    all.retain(|path| path.extension().is_some_and(|kind| ["vue", "ts", "css"].iter().any(|of| kind == *of)));
    assert!(all.len() > 100, "the web part is there");
    let mut long = Vec::new();
    for path in all.iter().filter(|path| !path.ends_with(GENERATED)) {
        let text = fs::read_to_string(path).expect("text");
        let lines = text.lines().enumerate().filter(|(_, line)| line.chars().count() > LONGEST);
        long.extend(lines.map(|(at, _)| format!("{}:{}", path.display(), at + 1)));
    }
    assert!(long.is_empty(), "longer than {LONGEST}: {}", long.join(", "));
}
