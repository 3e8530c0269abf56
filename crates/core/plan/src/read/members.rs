//! What is written once and stands for several: numbered from 1, or by names such as `left`.

use crate::toml_reader::TomlTable;
use rigore_mechanics::message;

/// The most members that a `count` may stand for.
const MOST: u32 = 64;

/// Keys of the members that a table's `count` or `members` stands for, as they are added to its own; one
/// nameless one where it stands for itself.
pub(super) fn keys(table: &TomlTable<'_>) -> Vec<String> {
    let named = table.texts("members");
    let count = table.whole("count", 1..=MOST).unwrap_or(1);
    if named.is_empty() {
        return if count == 1 { vec![String::new()] } else { (1..=count).map(|n| n.to_string()).collect() };
    }
    if table.has("count") {
        table.error("members", message!("read-either-so-many-by-count-or"));
    }
    let word = |name: &String| !name.is_empty() && name.chars().all(|c| c.is_ascii_alphanumeric());
    if !named.iter().all(word) || named.len() < 2 {
        table.error("members", message!("read-two-words-or-more-needed-such"));
    }
    named
}

/// A key or name of a member.
pub(super) fn of(whole: &str, between: &str, member: &str) -> String {
    if member.is_empty() { whole.to_owned() } else { format!("{whole}{between}{member}") }
}
