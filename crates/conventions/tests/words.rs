//! What the glossary rules out is on no screen, sheet or message.

use rigore_conventions::{crates_folder, project_folder, source_files};
use std::fs;
use std::path::PathBuf;
use syn::visit::Visit;

/// The phrases that the glossary rules out; those of one short word are too common to be looked for.
fn ruled_out() -> Vec<String> {
    let glossary = fs::read_to_string(project_folder().join("docs/glossary.md")).expect("the glossary");
    let (_, table) = glossary.split_once("## Not on screens").expect("its table");
    let rows = table.lines().filter(|line| line.starts_with("| ") && !line.starts_with("| say"));
    let phrases = rows.filter_map(|row| row.split('|').nth(2)).flat_map(|cell| cell.split(", "));
    phrases.map(|phrase| phrase.trim().to_owned()).filter(|phrase| phrase.contains(' ')).collect()
}

/// A file without its comments, line by line.
fn without_comments(text: &str) -> String {
    let is_comment = |line: &str| {
        let line = line.trim_start();
        line.starts_with("//") || line.starts_with('*') || line.starts_with("/*") || line.starts_with("<!--")
    };
    text.lines().filter(|line| !is_comment(line)).collect::<Vec<_>>().join("\n")
}

/// The texts of a Rust file: every string that is no documentation and no attribute.
#[derive(Default)]
struct Texts(Vec<String>);

impl<'ast> Visit<'ast> for Texts {
    fn visit_attribute(&mut self, _: &'ast syn::Attribute) {}

    fn visit_item_mod(&mut self, module: &'ast syn::ItemMod) {
        if module.ident != "tests" {
            syn::visit::visit_item_mod(self, module);
        }
    }

    fn visit_lit_str(&mut self, text: &'ast syn::LitStr) {
        self.0.push(text.value());
    }

    fn visit_macro(&mut self, of: &'ast syn::Macro) {
        for tree in of.tokens.clone() {
            if let Ok(text) = syn::parse2::<syn::LitStr>(tree.into()) {
                self.0.push(text.value());
            }
        }
    }
}

#[test]
fn no_word_that_the_glossary_rules_out_is_on_a_screen_or_in_a_message() {
    let phrases = ruled_out();
    assert!(phrases.len() > 50, "the table has rows");
    let mut texts: Vec<(PathBuf, String)> = Vec::new();
    let files = source_files(&project_folder().join("web/src"), &["vue", "ts"]);
    assert!(files.len() > 100, "the web part is there");
    for file in files.into_iter().filter(|file| !file.ends_with("schema.d.ts")) {
        let text = without_comments(&fs::read_to_string(&file).expect("a file"));
        // A text may go over several lines.
        texts.push((file, text.split_whitespace().collect::<Vec<_>>().join(" ")));
    }
    let catalog = source_files(&project_folder().join("texts"), &["ftl"]);
    assert!(catalog.len() > 10, "the catalog is there");
    texts.extend(catalog.into_iter().map(|file| (file.clone(), fs::read_to_string(&file).expect("a file"))));
    for root in ["core/mechanics/src", "core/plan/src", "core/assembly/src", "server/src", "store/src"] {
        for file in source_files(&crates_folder().join(root), &["rs"]) {
            if file.components().any(|part| part.as_os_str() == "tests") {
                continue;
            }
            let parsed = syn::parse_file(&fs::read_to_string(&file).expect("a file")).expect("Rust");
            let mut of = Texts::default();
            of.visit_file(&parsed);
            texts.extend(of.0.into_iter().map(|text| (file.clone(), text)));
        }
    }
    let mut found = Vec::new();
    for phrase in &phrases {
        for (file, _) in texts.iter().filter(|(_, text)| text.contains(phrase.as_str())) {
            found.push(format!("{phrase}: {}", file.display()));
        }
    }
    found.dedup();
    assert!(found.is_empty(), "ruled out by docs/glossary.md:\n{}", found.join("\n"));
}
