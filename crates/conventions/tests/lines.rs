//! Lines stay short enough to be read beside each other.

use rigore_conventions::{project_folder, source_files};
use std::fs;

/// What is generated, and nobody reads.
const GENERATED: &str = "schema.d.ts";
const LONGEST: usize = 120;

#[test]
fn no_line_of_the_web_part_is_longer_than_120_characters() {
    let all = source_files(&project_folder().join("web/src"), &["vue", "ts", "css"]);
    assert!(all.len() > 100, "the web part is there");
    let mut long = Vec::new();
    for path in all.iter().filter(|path| !path.ends_with(GENERATED)) {
        let text = fs::read_to_string(path).expect("text");
        let lines = text.lines().enumerate().filter(|(_, line)| line.chars().count() > LONGEST);
        long.extend(lines.map(|(at, _)| format!("{}:{}", path.display(), at + 1)));
    }
    assert!(long.is_empty(), "longer than {LONGEST}: {}", long.join(", "));
}
