//! Answers are in the language of whoever asks, and nothing that the core tells is outside the catalog of texts.

use crate::harness::{Server, words};
use crate::messages::demonstration_pages;
use reqwest::header::{ACCEPT_LANGUAGE, COOKIE};
use rigore_server::demo;
use serde_json::{Value, json};
use std::collections::BTreeSet;

/// What people of the demonstration wrote, and what ships as data: texts of plans, engines, people, lubricants.
const BY_PEOPLE: [&str; 3] = [
    include_str!("../../../../plans/tarn-5.toml"),
    include_str!("../../../../plans/ostra-11.toml"),
    include_str!("../../../../plans/pier-nine.toml"),
];

impl Server {
    /// A page in a language.
    async fn get_in(&self, language: &str, path: &str) -> Value {
        let request = self.client.get(format!("{}{path}", self.base)).header(ACCEPT_LANGUAGE, language);
        request.send().await.expect("an answer").json().await.expect("JSON")
    }
}

/// Every text below a value, with where it stands.
fn texts(value: &Value, path: &str, found: &mut Vec<(String, String)>) {
    match value {
        Value::String(text) => found.push((path.to_owned(), text.clone())),
        Value::Array(items) => items.iter().for_each(|item| texts(item, path, found)),
        Value::Object(fields) => {
            fields.iter().for_each(|(key, field)| texts(field, &format!("{path}.{key}"), found));
        }
        _ => {}
    }
}

/// Whether it is prose without an accent: two words at least.
fn is_plain_prose(text: &str) -> bool {
    let word = |word: &str| {
        word.len() > 2 && word.chars().all(|c| c.is_alphabetic()) && word.contains(['a', 'e', 'i', 'o', 'u'])
    };
    text.split_whitespace().filter(|of| word(of.trim_matches(|c: char| c.is_ascii_punctuation()))).count() > 1
}

#[tokio::test]
async fn nothing_that_the_core_tells_is_outside_the_catalog() {
    let server = Server::start().await;
    let mut found = BTreeSet::new();
    for path in demonstration_pages(&server).await {
        let mut all = Vec::new();
        texts(&server.get_in("en-XA", &path).await, path.split('/').nth(2).unwrap_or_default(), &mut all);
        found.extend(all.into_iter().filter(|(_, text)| {
            is_plain_prose(text)
                && !BY_PEOPLE.iter().any(|by| by.contains(text.trim_matches([' ', ',', ':', ';'])))
        }));
    }
    let found: Vec<String> = found.into_iter().map(|(path, text)| format!("{path}: {text}")).collect();
    assert!(found.is_empty(), "{} texts: {found:#?}", found.len());
}
