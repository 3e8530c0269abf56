//! The plan format as data: every table with its fields, what each holds and when it is asked for.
//!
//! Forms are made from it, edits write new tables by it, and faults name their fields by it. A test reads plans and
//! holds that a reader asks for each field that is described here, and for no other.
//!
//! ```
//! use rigore_plan::format;
//!
//! let stage = format::table_at("joint[3].stage[1]").expect("a table of the format");
//! assert_eq!(stage.id, "joint.stage");
//! assert!(stage.one_of.contains(&"torque"));
//! assert_eq!(format::table_at("joint[3].cheese"), None);
//! ```

mod drawings;
mod fasteners;
mod fields;
mod groups;
mod joints;
mod measuring;
mod operations;
mod plan;
mod stages;
#[cfg(test)]
mod tests;

use rigore_mechanics::message;
use rigore_mechanics::message::Message;

pub use fields::{
    FieldChoice, FieldCondition, FormatField, FormatFieldKind, FormatTable, TableLayout, TableRef,
};

/// The whole plan: its fields are the lists that it holds.
pub fn top() -> &'static FormatTable {
    &plan::PLAN
}

/// The table that stands at a path of a plan: `joint[3].stage[1]`; the plan itself at an empty one.
pub fn table_at(path: &str) -> Option<&'static FormatTable> {
    let keys = path.split('.').filter(|part| !part.is_empty());
    keys.map(|part| part.split('[').next().unwrap_or_default()).try_fold(top(), FormatTable::inner)
}

/// Every table of the format, each once, those that others hold after these.
pub fn tables() -> Vec<&'static FormatTable> {
    let mut all = vec![top()];
    let mut at = 0;
    while at < all.len() {
        let inner = all[at].fields.iter().filter_map(|field| all[at].inner(field.key));
        let new: Vec<_> = inner.filter(|table| !all.contains(table)).collect();
        for table in new {
            if !all.contains(&table) {
                all.push(table);
            }
        }
        at += 1;
    }
    all
}

/// A path in the words of the forms, with the names of what it leads through: `Head, Snug, Torque`. What has no name
/// is told by its number: `Joint 4`. Empty where the format has no such place.
pub fn words_at(path: &str, name_at: impl Fn(&str) -> Option<String>) -> Message {
    let (mut table, mut words, mut way) = (top(), Vec::new(), String::new());
    for part in path.split('.').filter(|part| !part.is_empty()) {
        let (key, rest) = part.split_once('[').map_or((part, None), |(key, rest)| (key, Some(rest)));
        way = if way.is_empty() { part.to_owned() } else { format!("{way}.{part}") };
        let Some(field) = table.field(key) else {
            // Limits are kept by their use, which is no field of the format.
            words.push(Message::from(key));
            continue;
        };
        let number = rest.and_then(|rest| rest.split(']').next()?.parse::<usize>().ok());
        let inner = table.inner(key);
        words.push(match (inner, number) {
            (Some(inner), Some(number)) => {
                let name = name_at(&way).filter(|name| !name.trim().is_empty());
                name.map_or_else(
                    || message!("format-numbered", name = inner.name, number = number + 1),
                    Message::from,
                )
            }
            _ => field.label.into(),
        });
        table = inner.unwrap_or(table);
    }
    Message::join(words, ", ")
}
