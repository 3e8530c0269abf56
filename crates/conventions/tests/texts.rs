//! The catalog of texts: what a page asks for is there, what is there is asked for, and each language has all of it.

use fluent_syntax::ast::{Entry, Expression, InlineExpression, Pattern, PatternElement};
use fluent_syntax::parser;
use rigore_conventions::{project_folder, source_files};
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::Path;

/// A message as a file has it: where it stands, and what it needs to be given.
struct Message {
    place: String,
    variables: BTreeSet<String>,
    terms: BTreeSet<String>,
}

#[derive(Default)]
struct Catalog {
    messages: BTreeMap<String, Message>,
    terms: BTreeSet<String>,
    faults: Vec<String>,
}

impl Catalog {
    /// Reads all files of a folder of `texts/`.
    fn read(folder: &str) -> Self {
        let mut catalog = Self::default();
        let files = source_files(&project_folder().join("texts").join(folder), &["ftl"]);
        assert!(!files.is_empty(), "texts/{folder} has files");
        for file in files {
            catalog.add(&file);
        }
        catalog
    }

    fn add(&mut self, file: &Path) {
        let place = file.file_stem().expect("a name").to_string_lossy().into_owned();
        let text = fs::read_to_string(file).expect("a file");
        let resource = parser::parse(text.as_str()).unwrap_or_else(|(resource, errors)| {
            self.faults.push(format!("{}: {errors:?}", file.display()));
            resource
        });
        for entry in resource.body {
            match entry {
                Entry::Message(message) => {
                    let mut read =
                        Message { place: place.clone(), variables: BTreeSet::new(), terms: BTreeSet::new() };
                    if let Some(pattern) = &message.value {
                        read.pattern(pattern);
                    }
                    let id = message.id.name.to_owned();
                    if !id.starts_with(&format!("{place}-")) {
                        self.faults.push(format!("{id} is in {place}.ftl"));
                    }
                    if self.messages.insert(id.clone(), read).is_some() {
                        self.faults.push(format!("{id} is there twice"));
                    }
                }
                Entry::Term(term) => {
                    self.terms.insert(term.id.name.to_owned());
                }
                Entry::Junk { content } => self.faults.push(format!("{}: {content}", file.display())),
                _ => {}
            }
        }
    }
}

impl Message {
    fn pattern(&mut self, pattern: &Pattern<&str>) {
        for element in &pattern.elements {
            if let PatternElement::Placeable { expression } = element {
                self.expression(expression);
            }
        }
    }

    fn expression(&mut self, expression: &Expression<&str>) {
        match expression {
            Expression::Inline(inline) => self.inline(inline),
            Expression::Select { selector, variants } => {
                self.inline(selector);
                for variant in variants {
                    self.pattern(&variant.value);
                }
            }
        }
    }

    fn inline(&mut self, inline: &InlineExpression<&str>) {
        match inline {
            InlineExpression::VariableReference { id } => {
                self.variables.insert(id.name.to_owned());
            }
            InlineExpression::TermReference { id, .. } => {
                self.terms.insert(id.name.to_owned());
            }
            InlineExpression::Placeable { expression } => self.expression(expression),
            _ => {}
        }
    }
}

/// A use of a message in the web part: its id, and what stands between the brackets after it.
struct Use {
    file: String,
    id: String,
    given: String,
}

/// Every place that asks for a message: `t('id', { … })`, or an id chosen before it is asked for.
fn uses() -> Vec<Use> {
    let catalog = Catalog::read("en");
    let mut uses = Vec::new();
    let files = source_files(&project_folder().join("web/src"), &["vue", "ts"]);
    for file in files.into_iter().filter(|file| !file.ends_with("schema.d.ts")) {
        let text = fs::read_to_string(&file).expect("a file");
        for (at, _) in text.match_indices('\'') {
            let Some((id, rest)) = text[at + 1..].split_once('\'') else { continue };
            let call = text[..at].strip_suffix("t(");
            let asked = call.is_some_and(|before| !before.ends_with(|letter: char| letter.is_alphanumeric()));
            if asked || catalog.messages.contains_key(id) {
                let given = arguments(rest).to_owned();
                uses.push(Use { file: file.display().to_string(), id: id.to_owned(), given });
            }
        }
    }
    uses
}

/// What stands before the bracket that closes the call.
fn arguments(text: &str) -> &str {
    let mut depth = 1;
    for (at, letter) in text.char_indices() {
        match letter {
            '(' => depth += 1,
            ')' => depth -= 1,
            _ => {}
        }
        if depth == 0 {
            return &text[..at];
        }
    }
    text
}

#[test]
fn every_text_that_a_page_asks_for_is_in_the_catalog_with_what_it_is_given() {
    let catalog = Catalog::read("en");
    assert!(catalog.faults.is_empty(), "{}", catalog.faults.join("\n"));
    let uses = uses();
    assert!(uses.len() > 1500, "the web part asks for texts");
    let mut faults = Vec::new();
    for Use { file, id, given } in &uses {
        let Some(message) = catalog.messages.get(id) else {
            faults.push(format!("{file}: {id} is not in texts/en"));
            continue;
        };
        // A file of texts comes with its place: what another place shows is not there yet.
        let place = message.place.as_str();
        if place != "common" && place != "app" && !file.contains(&format!("/src/{place}/")) {
            faults.push(format!("{file}: {id} is a text of {place}"));
        }
        for variable in message.variables.iter().filter(|variable| !given.contains(variable.as_str())) {
            faults.push(format!("{file}: {id} is not given {variable}"));
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn no_text_of_the_catalog_is_left_unused() {
    let used: BTreeSet<String> = uses().into_iter().map(|of| of.id).collect();
    let catalog = Catalog::read("en");
    let unused: Vec<_> = catalog.messages.keys().filter(|id| !used.contains(*id)).collect();
    assert!(unused.is_empty(), "{unused:?}");
}

#[test]
fn every_country_has_every_term_that_messages_use() {
    let catalog = Catalog::read("en");
    let asked: BTreeSet<_> = catalog.messages.values().flat_map(|message| message.terms.clone()).collect();
    for country in ["en-US", "en-GB"] {
        let of = Catalog::read(country);
        assert!(of.faults.is_empty(), "{}", of.faults.join("\n"));
        assert_eq!(of.terms, asked, "texts/{country}/terms.ftl");
    }
}
