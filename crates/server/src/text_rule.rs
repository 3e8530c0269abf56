//! One rule for all text that comes in: Unicode in its composed form (NFC), without control characters, without characters
//! that turn the writing round, and without ones that have no width. What has no width is taken out, since nobody sees it;
//! anything else is refused by its field.

use crate::Problem;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde_json::Value;
use std::borrow::Cow;
use unicode_normalization::{UnicodeNormalization, is_nfc};
use unicode_security::skeleton;

/// What no text can hold.
fn is_refused(c: char) -> bool {
    let turns =
        matches!(c, '\u{200e}' | '\u{200f}' | '\u{061c}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}');
    turns || (c.is_control() && !matches!(c, '\n' | '\r' | '\t'))
}

/// What nobody sees.
fn has_no_width(c: char) -> bool {
    matches!(c, '\u{00ad}' | '\u{200b}'..='\u{200d}' | '\u{2060}'..='\u{2064}' | '\u{feff}')
}

/// A text as it is kept.
///
/// # Errors
/// The first character that no text can hold.
pub fn normalize(given: &str) -> Result<Cow<'_, str>, char> {
    if let Some(refused) = given.chars().find(|c| is_refused(*c)) {
        return Err(refused);
    }
    if given.is_ascii() || (is_nfc(given) && !given.chars().any(has_no_width)) {
        return Ok(given.into());
    }
    Ok(given.chars().filter(|c| !has_no_width(*c)).nfc().collect::<String>().into())
}

/// Why a text with such a character in it is refused.
pub fn refusal(c: char) -> Message {
    message!("server-character-u-which-no-text-can", c = format!("{:04X}", u32::from(c)))
}

/// Every text of a JSON document as it is kept, its keys included.
///
/// # Errors
/// The field of the first text that cannot be kept, and why.
pub fn normalize_all(value: &mut Value) -> Result<(), (String, Message)> {
    fn walk(value: &mut Value, path: &str) -> Result<(), (String, Message)> {
        let within = |key: &str| if path.is_empty() { key.to_owned() } else { format!("{path}.{key}") };
        let refused = |path: &str, c: char| {
            let field = if path.is_empty() { "body" } else { path };
            (field.to_owned(), refusal(c))
        };
        match value {
            Value::String(given) => {
                if let Cow::Owned(kept) = normalize(given).map_err(|c| refused(path, c))? {
                    *given = kept;
                }
                Ok(())
            }
            Value::Array(items) => {
                items.iter_mut().enumerate().try_for_each(|(at, item)| walk(item, &within(&at.to_string())))
            }
            Value::Object(fields) => {
                if let Some((key, c)) =
                    fields.keys().find_map(|key| Some((key.clone(), normalize(key).err()?)))
                {
                    return Err(refused(&within(&key.escape_default().to_string()), c));
                }
                fields.iter_mut().try_for_each(|(key, value)| walk(value, &within(key)))
            }
            Value::Null | Value::Bool(_) | Value::Number(_) => Ok(()),
        }
    }
    walk(value, "")
}

/// Whether a JSON document may have in it what the rule is about: anything but plain ASCII without escapes.
pub fn needs_check(json: &[u8]) -> bool {
    !json.is_ascii() || json.windows(2).any(|two| two == b"\\u") || json.contains(&0x7f)
}

/// Characters of a name at most.
pub const NAME: usize = 200;

/// A name as people, benches and shops have one.
///
/// # Errors
/// Of the field, where it is empty, too long, or holds what no name does.
pub fn named(field: &str, name: &str) -> Result<String, Problem> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > NAME || name.chars().any(char::is_control) {
        return Err(Problem::field(field, message!("server-name-1-characters-needed", most = NAME)));
    }
    Ok(name.to_owned())
}

/// What a name looks like: two names that look the same come to the same.
pub fn name_skeleton(name: &str) -> String {
    let plain: String = name.split_whitespace().collect::<Vec<_>>().join(" ");
    // A capital letter may look like another small one: before case is set aside, and after.
    let plain = skeleton(&plain).collect::<String>().to_lowercase();
    skeleton(&plain).collect()
}

#[cfg(test)]
mod tests {
    use super::{name_skeleton, needs_check, normalize, normalize_all};
    use serde_json::json;

    #[test]
    fn a_text_is_kept_composed_and_without_what_nobody_sees() {
        for (given, kept) in [
            ("Åse Ødegård", "Åse Ødegård"),
            ("A\u{30a}se", "Åse"),
            ("Bench\u{200b} one\u{feff}", "Bench one"),
            ("two\nlines\tand a tab", "two\nlines\tand a tab"),
            ("مهندس", "مهندس"),
            ("café 👍🏽", "café 👍🏽"),
        ] {
            assert_eq!(normalize(given).as_deref(), Ok(kept));
        }
        for refused in ['\u{0}', '\u{7}', '\u{7f}', '\u{85}', '\u{202e}', '\u{2067}', '\u{200f}'] {
            assert_eq!(normalize(&format!("a{refused}b")), Err(refused));
        }
    }

    #[test]
    fn every_text_of_a_document_is_looked_at_and_told_by_its_field() {
        let mut body = json!({ "name": "A\u{30a}se", "rows": [{ "text": "x\u{200b}" }], "n": 1 });
        normalize_all(&mut body).expect("it is kept");
        assert_eq!(body, json!({ "name": "Åse", "rows": [{ "text": "x" }], "n": 1 }));
        let mut wrong = json!({ "rows": [{ "text": "fine" }, { "text": "\u{202e}enil" }] });
        let (field, says) = normalize_all(&mut wrong).expect_err("it turns round");
        assert_eq!(field, "rows.1.text");
        assert!(says.contains("U+202E"), "{says:?}");
        assert!(normalize_all(&mut json!({ "a\u{7}": 1 })).is_err(), "a key, too");
        assert!(
            needs_check("é".as_bytes()) && needs_check(br#""\u0007""#) && !needs_check(br#"{"action":"30"}"#)
        );
    }

    #[test]
    fn names_that_look_the_same_are_the_same_to_the_eye() {
        // Latin and Cyrillic letters, a letter l and a capital I, spaces and case.
        for (one, other) in
            [("Bench one", "bеnch оne"), ("Bill", "BilI"), ("Åse  Li", "åse li"), ("lead", "Iead")]
        {
            assert_eq!(name_skeleton(one), name_skeleton(other), "{one} {other}");
        }
        for (one, other) in [("Bench one", "Bench two"), ("Åse", "Ase"), ("Lead", "Leas")] {
            assert_ne!(name_skeleton(one), name_skeleton(other), "{one} {other}");
        }
    }
}
