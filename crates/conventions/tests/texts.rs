//! The catalog of texts: what a page or the core asks for is there, what is there is asked for, and each language has
//! all of it.

use fluent_syntax::ast::{Entry, Expression, InlineExpression, Pattern, PatternElement};
use fluent_syntax::parser;
use rigore_conventions::{project_folder, source_files};
use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::Path;

/// A message as a file has it: where it stands, and what it needs to be given.
struct Message {
    place: String,
    /// Whether it is one of `texts/en/core`, which pages do not load.
    core: bool,
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
        let core = file.parent().is_some_and(|folder| folder.ends_with("core"));
        let text = fs::read_to_string(file).expect("a file");
        let resource = parser::parse(text.as_str()).unwrap_or_else(|(resource, errors)| {
            self.faults.push(format!("{}: {errors:?}", file.display()));
            resource
        });
        for entry in resource.body {
            match entry {
                Entry::Message(message) => {
                    let (variables, terms) = (BTreeSet::new(), BTreeSet::new());
                    let mut read = Message { place: place.clone(), core, variables, terms };
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

/// A use of a message: its id, and what stands between the brackets after it.
struct Use {
    file: String,
    id: String,
    given: String,
}

/// Every place of the web part that asks for a message: `t('id', { … })`, or an id chosen before it is asked for.
fn uses_of_pages() -> Vec<Use> {
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

/// Every place of the crates that asks for a message: `message!("id", …)`, `text!("id", …)`, `text_id!("id")`.
fn uses_of_crates() -> Vec<Use> {
    let mut uses = Vec::new();
    let files = source_files(&project_folder().join("crates"), &["rs"]);
    for file in files.into_iter().filter(|file| !file.to_string_lossy().contains("/conventions/tests/")) {
        let text = fs::read_to_string(&file).expect("a file");
        for call in ["message!(", "text!(", "text_id!("] {
            for (at, _) in text.match_indices(call) {
                let whole = !text[..at].ends_with(|letter: char| letter.is_alphanumeric() || letter == '_');
                let in_comment =
                    text[..at].rsplit('\n').next().is_some_and(|line| line.trim_start().starts_with("//"));
                let asked = text[at + call.len()..].trim_start().strip_prefix('"');
                let Some((id, rest)) = asked.and_then(|asked| asked.split_once('"')) else { continue };
                if whole && !in_comment {
                    let given = arguments(rest).to_owned();
                    uses.push(Use { file: file.display().to_string(), id: id.to_owned(), given });
                }
            }
        }
    }
    uses
}

/// Whether a name is among what is given: `name`, `name = …` or `name: …`.
fn is_given(given: &str, name: &str) -> bool {
    given.split(|letter: char| !(letter.is_alphanumeric() || letter == '_')).any(|word| word == name)
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
    let uses = uses_of_pages();
    assert!(uses.len() > 1500, "the web part asks for texts");
    let mut faults = Vec::new();
    for Use { file, id, given } in &uses {
        let Some(message) = catalog.messages.get(id).filter(|message| !message.core) else {
            faults.push(format!("{file}: {id} is not in texts/en"));
            continue;
        };
        // A file of texts comes with its place: what another place shows is not there yet.
        let place = message.place.as_str();
        if place != "common" && place != "app" && !file.contains(&format!("/src/{place}/")) {
            faults.push(format!("{file}: {id} is a text of {place}"));
        }
        for variable in message.variables.iter().filter(|variable| !is_given(given, variable)) {
            faults.push(format!("{file}: {id} is not given {variable}"));
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn every_text_that_the_crates_ask_for_is_in_the_catalog_with_what_it_is_given() {
    let catalog = Catalog::read("en");
    let uses = uses_of_crates();
    assert!(uses.len() > 1000, "the crates ask for texts");
    let mut faults = Vec::new();
    for Use { file, id, given } in &uses {
        let Some(message) = catalog.messages.get(id).filter(|message| message.core) else {
            faults.push(format!("{file}: {id} is not in texts/en/core"));
            continue;
        };
        // Whoever asks about words of a procedure adds them to the question.
        let given_later = |variable: &str| message.place == "procedure" && variable == "words";
        for variable in message.variables.iter().filter(|of| !is_given(given, of) && !given_later(of)) {
            faults.push(format!("{file}: {id} is not given {variable}"));
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

#[test]
fn no_text_of_the_catalog_is_left_unused() {
    let pages: BTreeSet<String> = uses_of_pages().into_iter().map(|of| of.id).collect();
    let crates: BTreeSet<String> = uses_of_crates().into_iter().map(|of| of.id).collect();
    let catalog = Catalog::read("en");
    let is_used = |id: &String, core: bool| if core { crates.contains(id) } else { pages.contains(id) };
    let unused: Vec<_> =
        catalog.messages.iter().filter(|(id, of)| !is_used(id, of.core)).map(|(id, _)| id).collect();
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
