//! What documents name is there: files, types, rules of the job and formulas.

use rigore_conventions::{CRATE_ROOTS, SourceTree, crates_folder, project_folder, source_files};
use std::collections::BTreeSet;
use std::fs;

fn read(path: &str) -> String {
    fs::read_to_string(project_folder().join(path)).unwrap_or_else(|error| panic!("{path}: {error}"))
}

const DOCUMENTS: [&str; 12] = [
    "README.md",
    "ARCHITECTURE.md",
    "CONTRIBUTING.md",
    "CHANGELOG.md",
    "docs/archive.md",
    "docs/craft.md",
    "docs/glossary.md",
    "docs/mechanics.md",
    "docs/plan-format.md",
    "docs/running.md",
    "docs/security.md",
    "docs/tour.md",
];

/// Every `](…)` of a text that leads to a file.
fn links(text: &str) -> impl Iterator<Item = &str> {
    text.split("](").skip(1).filter_map(|rest| rest.split_once(')')).map(|(link, _)| link)
}

#[test]
fn every_file_that_a_document_links_to_is_there() {
    let mut missing = Vec::new();
    for document in DOCUMENTS {
        let folder = project_folder().join(document).parent().expect("a folder").to_owned();
        for link in links(&read(document)).filter(|link| !link.contains("://")) {
            let file = link.split('#').next().unwrap_or_default();
            if !file.is_empty() && !folder.join(file).exists() {
                missing.push(format!("{document}: {link}"));
            }
        }
    }
    assert!(missing.is_empty(), "not there:\n{}", missing.join("\n"));
}

#[test]
fn every_type_of_the_glossary_is_there() {
    let source = CRATE_ROOTS.map(|root| {
        let tree = SourceTree::read(&crates_folder().join(root)).expect("its source");
        tree.types().iter().map(|of| of.name.clone()).collect::<BTreeSet<String>>()
    });
    let types: BTreeSet<String> = source.into_iter().flatten().collect();
    let glossary = read("docs/glossary.md");
    let rows: Vec<Vec<&str>> = glossary
        .lines()
        .filter(|line| line.starts_with("| ") && !line.starts_with("| word") && !line.starts_with("| ---"))
        .map(|line| line.split('|').map(str::trim).collect())
        .collect();
    assert!(rows.len() > 60, "it has rows");
    let named = rows.iter().flat_map(|row| row[3].split(", ").map(|name| name.trim_matches('`')));
    let unknown: Vec<&str> =
        named.filter(|name| name.starts_with(char::is_uppercase) && !types.contains(*name)).collect();
    assert!(unknown.is_empty(), "no such types: {}", unknown.join(", "));
}

/// Numbers behind a letter and a dash: `C-12`, `M-3`.
fn numbers(text: &str, letter: char) -> BTreeSet<u32> {
    let mark = format!("{letter}-");
    text.match_indices(&mark)
        .filter(|(at, _)| !text[..*at].ends_with(char::is_alphanumeric))
        .filter_map(|(at, _)| {
            let digits: String = text[at + 2..].chars().take_while(char::is_ascii_digit).collect();
            digits.parse().ok()
        })
        .collect()
}

/// Names of source files between backticks.
fn source_names(text: &str) -> impl Iterator<Item = &str> {
    let quoted = text.split('`').skip(1).step_by(2);
    quoted.filter(|name| {
        let is_source = [".rs", ".ts", ".vue"].iter().any(|ending| name.ends_with(ending));
        is_source && !name.contains([' ', '<', '*'])
    })
}

/// The doc comments of a file of Rust as one text.
fn doc_comments(source: &str) -> String {
    let lines = source.lines().map(str::trim_start);
    lines.filter_map(|line| line.strip_prefix("//!").or(line.strip_prefix("///"))).collect()
}

#[test]
fn every_source_file_that_a_document_or_doc_comment_names_is_there() {
    let code = source_files(&crates_folder(), &["rs"]);
    let web = source_files(&project_folder().join("web/src"), &["ts", "vue"]);
    let documents = DOCUMENTS.map(|document| (document.to_owned(), read(document)));
    let comments = code.iter().map(|path| {
        let source = fs::read_to_string(path).expect("text");
        (path.display().to_string(), doc_comments(&source))
    });
    let mut missing = Vec::new();
    for (place, text) in documents.into_iter().chain(comments) {
        let gone =
            source_names(&text).filter(|name| !code.iter().chain(&web).any(|path| path.ends_with(name)));
        missing.extend(gone.map(|name| format!("{place}: {name}")));
    }
    assert!(missing.is_empty(), "not there:\n{}", missing.join("\n"));
}

#[test]
fn every_rule_and_formula_that_code_cites_is_in_its_document() {
    let files = source_files(&crates_folder(), &["rs"]);
    assert!(files.len() > 300, "the code is there");
    for (letter, document) in [('C', "docs/craft.md"), ('M', "docs/mechanics.md")] {
        let known = numbers(&read(document), letter);
        assert!(known.len() > 15, "{document} has numbers");
        let comments = files.iter().filter(|path| !path.ends_with("documents.rs")).flat_map(|path| {
            let text = fs::read_to_string(path).expect("text");
            let cited: String =
                text.lines().filter_map(|line| line.split_once("//")).map(|(_, of)| of).collect();
            numbers(&cited, letter).into_iter().map(move |number| (number, path.display().to_string()))
        });
        let unknown: Vec<String> = comments
            .filter(|(number, _)| !known.contains(number))
            .map(|(number, path)| format!("{letter}-{number} in {path}"))
            .collect();
        assert!(unknown.is_empty(), "not in {document}: {}", unknown.join(", "));
    }
}
