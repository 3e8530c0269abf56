//! Reading pages of a manual.

use crate::document::ManualPage;
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;

/// Digits of a SHA-256.
const DIGITS: usize = 64;

pub(super) fn page(table: &TomlTable<'_>) -> ManualPage {
    let (id, name, file) = (table.text("id"), table.text("name"), table.text("file"));
    let is_digit = |c: char| c.is_ascii_digit() || ('a'..='f').contains(&c);
    if !file.is_empty() && (file.len() != DIGITS || !file.chars().all(is_digit)) {
        table.error("file", message!("read-manual-file-is-a-hash"));
    }
    let page = table.has("page").then(|| table.whole("page", 1..=10_000)).flatten();
    table.finish();
    ManualPage { id, name, file, page }
}
