//! Answers are in the language of whoever asks, and nothing that the core tells is outside the catalog of texts.

use crate::harness::{Server, words};
use crate::messages::demonstration_pages;
use reqwest::header::ACCEPT_LANGUAGE;
use serde_json::{Value, json};
use std::collections::BTreeSet;

/// What people of the demonstration wrote, and what ships as data: texts of plans, engines, people, lubricants.
const BY_PEOPLE: [&str; 3] = [
    include_str!("../../../../plans/tarn-5.toml"),
    include_str!("../../../../plans/ostra-11.toml"),
    include_str!("../../../../plans/pier-nine.toml"),
];

impl Server {
    async fn text(&self, path: &str) -> String {
        let answer = self.client.get(format!("{}{path}", self.base)).send().await.expect("an answer");
        answer.text().await.expect("a text")
    }

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

/// The words of a text that have a vowel to accent.
fn spoken_words(text: &str) -> impl Iterator<Item = String> {
    let words = text.split(|letter: char| !letter.is_alphabetic()).filter(|word| word.len() > 2);
    words.filter(|word| word.contains(['a', 'e', 'i', 'o', 'u'])).map(str::to_lowercase)
}

/// What stands for itself in every language: keys, kinds, hashes, texts of plans.
const KEYS: [&str; 6] = ["id", "path", "source", "procedure", "entered", "formula"];

#[tokio::test]
async fn nothing_that_the_core_tells_is_outside_the_catalog() {
    let server = Server::start().await;
    let pages = demonstration_pages(&server).await;
    let mut known: BTreeSet<String> = BY_PEOPLE.into_iter().flat_map(spoken_words).collect();
    // Recorded with a loosening between two steps to a stretch.
    known.extend(spoken_words("to be lubricated again between two steps"));
    known.extend(spoken_words(&server.get("/api/lubricants").await.to_string()));
    let mut told = Vec::new();
    for path in &pages {
        let page = server.get_in("en-XA", path).await;
        if path.starts_with("/api/plans/") {
            known.extend(spoken_words(&server.text(&format!("{path}/text")).await));
        }
        texts(&page, path.split('/').nth(2).unwrap_or_default(), &mut told);
    }
    let outside = |(path, text): &(String, String)| {
        let key = path.rsplit('.').next().unwrap_or_default();
        let of_catalog = |word: &String| word.contains(['à', 'é', 'î', 'ö', 'û']);
        !KEYS.contains(&key)
            && text.contains(' ')
            && spoken_words(text).any(|word| !of_catalog(&word) && !known.contains(&word))
    };
    let found: BTreeSet<String> =
        told.iter().filter(|of| outside(of)).map(|(path, text)| format!("{path}: {text}")).collect();
    assert!(told.len() > 10_000, "{} texts of {} pages", told.len(), pages.len());
    assert!(found.is_empty(), "{} texts: {found:#?}", found.len());
}

#[tokio::test]
async fn an_answer_is_in_the_language_that_was_chosen_or_is_accepted() {
    let server = Server::start().await;
    let about = |list: &Value| {
        let all = list.as_array().expect("calculations").iter();
        let cam = all.clone().find(|of| of["name"] == "cam-timing").expect("one");
        cam["about"].as_str().expect("a text").to_owned()
    };
    let path = "/api/calc";
    assert!(about(&server.get(path).await).contains("lobe centers"));
    assert!(about(&server.get_in("en-GB, en;q=0.5", path).await).contains("lobe centres"));
    // A list row is kept beside the record, by whoever wrote it last, and read by others.
    let now = |list: &Value| {
        let rows = list["builds"].as_array().expect("rows").iter();
        rows.map(|row| words(&row["now"])).collect::<Vec<_>>().join("; ")
    };
    let rows = [now(&server.get("/api/shop").await), now(&server.get_in("en-XA", "/api/shop").await)];
    assert!(rows[0].contains("Fit a new fastener") && rows[1].contains("Fît à néw fàsténér"), "{rows:?}");
    // What is refused, too, and what is done to its end where its browser hangs up.
    let request = server.client.post(format!("{}/api/builds", server.base)).header(ACCEPT_LANGUAGE, "en-XA");
    let refused = request.json(&json!({ "plan": "none", "name": "" })).send().await.expect("an answer");
    let problem: Value = refused.json().await.expect("JSON");
    assert_eq!(problem["title"], "A fîéld îs wröng", "{problem}");
}
