//! The table of the ways of tightening says which way has which part.

use rigore_conventions::crates_folder;
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::Path;
use syn::{Item, Type};

const PARTS: [&str; 5] = ["WayReading", "WayJudgement", "WayWalk", "WayEvidence", "WayHandling"];

/// The name that a path or type ends in.
fn last(path: &syn::Path) -> String {
    path.segments.last().map(|segment| segment.ident.to_string()).unwrap_or_default()
}

/// The parts that each way of a file says something in.
fn parts_of(file: &Path) -> BTreeMap<String, BTreeSet<String>> {
    let source = fs::read_to_string(file).expect("text");
    let mut ways: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for item in syn::parse_file(&source).expect("Rust").items {
        let Item::Impl(of) = item else { continue };
        let (Some((part, _)), Type::Path(way)) = (&of.trait_, &*of.self_ty) else { continue };
        let part = last(part);
        if PARTS.contains(&part.as_str()) {
            let parts = ways.entry(last(&way.path)).or_default();
            if !of.items.is_empty() {
                parts.insert(part);
            }
        }
    }
    ways
}

#[test]
fn the_table_of_ways_says_which_way_has_which_part() {
    let folder = crates_folder().join("core/plan/src/way");
    let files = fs::read_dir(&folder).expect("the ways").map(|entry| entry.expect("an entry").path());
    let code: BTreeMap<String, BTreeSet<String>> =
        files.filter(|path| path.is_file()).flat_map(|path| parts_of(&path)).collect();
    assert!(code.len() >= 15, "ways of tightening: {code:?}");
    let text = fs::read_to_string(folder.join("mod.rs")).expect("text");
    let rows = text.lines().filter_map(|line| line.strip_prefix("//! | `"));
    let table: BTreeMap<String, BTreeSet<String>> = rows
        .map(|row| {
            let cells: Vec<&str> = row.split('|').map(str::trim).collect();
            let has = PARTS.iter().zip(&cells[1..]).filter(|(_, cell)| **cell == "✓");
            (cells[0].trim_matches('`').to_owned(), has.map(|(part, _)| (*part).to_owned()).collect())
        })
        .collect();
    assert_eq!(table, code);
}
