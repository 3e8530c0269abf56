//! What is written once and stands for several, numbered from 1.

use crate::document::Table;

/// The most members that a `count` may stand for.
const MOST: u32 = 64;

/// Ids and names of the members that a table's `count` stands for; the table itself where it is one.
pub(super) fn members(table: &Table<'_>) -> Vec<(String, String)> {
    let (id, name) = (table.text("id"), table.text("name"));
    let count = table.whole("count", 1..=MOST).unwrap_or(1);
    if count == 1 {
        return vec![(id, name)];
    }
    (1..=count).map(|number| (format!("{id}-{number}"), format!("{name} {number}"))).collect()
}
