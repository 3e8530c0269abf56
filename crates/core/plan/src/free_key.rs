//! Keys by which tables of a plan are referred to, made of words.

use std::collections::BTreeSet;

/// As many words of a text as go into a key.
const WORDS: usize = 6;

/// Words as a key: `Main cap bolt` is `main-cap-bolt`; `otherwise` where nothing is left of them.
pub(crate) fn key_of(words: &str, otherwise: &str) -> String {
    let plain: String =
        words.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { ' ' }).collect();
    let words: Vec<&str> = plain.split_whitespace().take(WORDS).collect();
    if words.is_empty() { otherwise.to_owned() } else { words.join("-") }
}

/// The key itself, or numbered from 2 where it is taken.
pub(crate) fn free_key(key: &str, taken: &BTreeSet<String>) -> String {
    let numbered = std::iter::once(key.to_owned()).chain((2..).map(|number| format!("{key}-{number}")));
    numbered.into_iter().find(|key| !taken.contains(key)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::{free_key, key_of};
    use std::collections::BTreeSet;

    #[test]
    fn a_key_is_made_of_words_and_numbered_where_it_is_taken() {
        assert_eq!(key_of(" Main-cap bolt, M11 ", "bolt"), "main-cap-bolt-m11");
        assert_eq!(key_of("Öl 5", "part"), "l-5");
        assert_eq!(key_of("…", "part"), "part");
        let taken = BTreeSet::from(["pan".to_owned(), "pan-2".to_owned()]);
        assert_eq!((free_key("pan", &taken), free_key("head", &taken)), ("pan-3".into(), "head".into()));
    }
}
