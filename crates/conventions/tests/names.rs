//! Names of types: one name for one thing, and a noun that names it.

use rigore_conventions::{CRATE_ROOTS, SourceTree, crates_folder};
use std::collections::BTreeMap;

/// Pronouns, adverbs, participles and verbs that named types once.
const NO_NOUNS: [&str; 40] = [
    "Accept",
    "Asked",
    "Away",
    "Before",
    "Besides",
    "Between",
    "By",
    "Changed",
    "Checked",
    "Do",
    "Done",
    "Earlier",
    "Entered",
    "Expected",
    "Found",
    "Given",
    "Had",
    "Inside",
    "Kept",
    "Known",
    "Left",
    "Lived",
    "Looking",
    "Measured",
    "Moved",
    "Open",
    "Opened",
    "Otherwise",
    "Placed",
    "Pulled",
    "Said",
    "Shown",
    "Shows",
    "Since",
    "Thing",
    "To",
    "Told",
    "Took",
    "Used",
    "Why",
];

fn types() -> BTreeMap<String, Vec<String>> {
    let crates = crates_folder();
    let mut types: BTreeMap<String, Vec<String>> = BTreeMap::new();
    for root in CRATE_ROOTS {
        let tree = SourceTree::read(&crates.join(root)).expect("its source");
        for public in tree.types().iter().filter(|of| of.is_public) {
            let file = public.file.strip_prefix(&crates).unwrap_or(&public.file).display().to_string();
            types.entry(public.name.clone()).or_default().push(file);
        }
    }
    types
}

#[test]
fn no_two_public_types_share_a_name() {
    let types = types();
    assert!(types.len() > 400, "they are there: {}", types.len());
    let shared: Vec<String> = types
        .iter()
        .filter(|(_, files)| files.len() > 1)
        .map(|(name, files)| format!("{name} in {}", files.join(", ")))
        .collect();
    assert!(shared.is_empty(), "one name for several types:\n{}", shared.join("\n"));
}

#[test]
fn a_type_is_named_by_a_noun() {
    let types = types();
    let wrong: Vec<String> = NO_NOUNS
        .iter()
        .filter_map(|name| types.get(*name).map(|files| format!("{name} in {}", files.join(", "))))
        .collect();
    assert!(wrong.is_empty(), "no nouns that name a thing:\n{}", wrong.join("\n"));
}
