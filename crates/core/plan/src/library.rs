//! What a shop keeps of its plans to use again: a fastener, a lubricant, a whole joint, each with all that it needs.

use crate::free_key::free_key;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde_json::Value as Json;
use std::collections::{BTreeMap, BTreeSet};
use toml_edit::{ArrayOfTables, DocumentMut, InlineTable, Item, Table, Value};

/// The lists that pieces are taken from; what one refers to comes before it.
const LISTS: [&str; 5] = ["lubricant", "fastener", "drawing", "adapter", "joint"];

/// Which field of a table in which list refers to which list.
const REFERENCES: [(&str, &str, &str); 3] = [
    ("fastener", "thread_lubricant", "lubricant"),
    ("fastener", "bearing_lubricant", "lubricant"),
    ("joint", "drawing", "drawing"),
];

/// A piece of a plan with all that it needs, as text; what it is called. `None` where nothing stands at the path that
/// can be kept.
pub fn piece(source: &str, path: &str) -> Option<(String, String)> {
    let document: DocumentMut = source.parse().ok()?;
    let (list, at) = path.strip_suffix(']')?.split_once('[')?;
    let table = tables(&document, list)?.get(at.parse().ok()?)?;
    let list = *LISTS.iter().find(|known| **known == list && *known != &"drawing")?;
    let name = text(table, "name")?;
    let mut wanted: BTreeMap<&str, BTreeSet<String>> =
        BTreeMap::from([(list, BTreeSet::from([text(table, "id")?]))]);
    // From what refers to what it refers to.
    for list in LISTS.iter().rev() {
        let ids = wanted.get(list).cloned().unwrap_or_default();
        let of_it = tables(&document, list).into_iter().flatten();
        for table in of_it.filter(|table| text(table, "id").is_some_and(|id| ids.contains(&id))) {
            for (to, id) in references(list, table) {
                wanted.entry(to).or_default().insert(id);
            }
        }
    }
    let mut kept = DocumentMut::new();
    for list in LISTS {
        let Some(ids) = wanted.get(list) else { continue };
        let mut all = ArrayOfTables::new();
        for table in tables(&document, list).into_iter().flatten() {
            if text(table, "id").is_some_and(|id| ids.contains(&id)) {
                let mut table = table.clone();
                // Parts that its fasteners are pieces of belong to the plan.
                if let Some(Item::ArrayOfTables(groups)) = table.get_mut("group") {
                    groups.iter_mut().for_each(|group| drop(group.remove("parts")));
                }
                all.push(table);
            }
        }
        if !all.is_empty() {
            kept.insert(list, Item::ArrayOfTables(all));
        }
    }
    Some((name, kept.to_string().trim_start().to_owned()))
}

/// What of a piece has to be added to a plan: what is there already is used, and what is called like something else
/// there gets a key of its own.
///
/// # Errors
/// Where the piece is none.
pub fn to_add(source: &str, piece: &str) -> Result<String, Message> {
    let plan: DocumentMut =
        source.parse().map_err(|error: toml_edit::TomlError| Message::from(error.message()))?;
    let mut piece: DocumentMut =
        piece.parse().map_err(|error: toml_edit::TomlError| Message::from(error.message()))?;
    if let Some((other, _)) = piece.iter().find(|(key, _)| !LISTS.contains(key)) {
        return Err(message!("plan-no-part-piece-there", other, lists = LISTS.join(", ")));
    }
    let mut renamed: BTreeMap<(&str, String), String> = BTreeMap::new();
    for list in LISTS {
        let there: Vec<&Table> = tables(&plan, list).into_iter().flatten().collect();
        let Some(Item::ArrayOfTables(all)) = piece.get_mut(list) else { continue };
        for table in all.iter_mut() {
            refer(list, table, &renamed);
        }
        let mut taken: BTreeSet<String> = there.iter().filter_map(|table| text(table, "id")).collect();
        let mut same = Vec::new();
        for (at, table) in all.iter_mut().enumerate() {
            let id = text(table, "id").ok_or_else(|| message!("plan-without-id", list))?;
            let known = there.iter().find(|other| text(other, "id").as_ref() == Some(&id));
            match known {
                Some(known) if list != "joint" && plain(known) == plain(table) => same.push(at),
                Some(_) => {
                    let free = free_key(&id, &taken);
                    table.insert("id", toml_edit::value(free.as_str()));
                    taken.insert(free.clone());
                    renamed.insert((list, id), free);
                }
                None => {
                    taken.insert(id);
                }
            }
        }
        for at in same.into_iter().rev() {
            all.remove(at);
        }
        if all.is_empty() {
            piece.remove(list);
        }
    }
    Ok(piece.to_string())
}

fn tables<'a>(document: &'a DocumentMut, list: &str) -> Option<&'a ArrayOfTables> {
    document.get(list)?.as_array_of_tables()
}

fn text(table: &Table, key: &str) -> Option<String> {
    table.get(key)?.as_str().map(str::to_owned)
}

/// What a table refers to, by list and key.
fn references(list: &str, table: &Table) -> Vec<(&'static str, String)> {
    let of = |(_, field, to): &(&str, &str, &'static str)| Some((*to, text(table, field)?));
    let mut all: Vec<_> = REFERENCES.iter().filter(|(of, _, _)| *of == list).filter_map(of).collect();
    for group in table.get("group").and_then(Item::as_array_of_tables).into_iter().flatten() {
        all.extend(text(group, "fastener").map(|id| ("fastener", id)));
        let places = group.get("position").and_then(Item::as_array).into_iter().flatten();
        let adapters = places.filter_map(|place| place.as_inline_table()?.get("adapter")?.as_str());
        all.extend(adapters.map(|id| ("adapter", id.to_owned())));
    }
    all
}

/// Lets a table refer to what was given another key.
fn refer(list: &str, table: &mut Table, renamed: &BTreeMap<(&str, String), String>) {
    let put = |table: &mut Table, field: &str, to: &'static str| {
        if let Some(free) = text(table, field).and_then(|id| renamed.get(&(to, id))) {
            table.insert(field, toml_edit::value(free.as_str()));
        }
    };
    for (_, field, to) in REFERENCES.iter().filter(|(of, _, _)| *of == list) {
        put(table, field, to);
    }
    if let Some(Item::ArrayOfTables(groups)) = table.get_mut("group") {
        groups.iter_mut().for_each(|group| put(group, "fastener", "fastener"));
    }
}

/// A table without its comments and its spacing.
fn plain(table: &Table) -> Json {
    let fields = table.iter().map(|(key, item)| (key.to_owned(), plain_item(item)));
    Json::Object(fields.collect())
}

fn plain_item(item: &Item) -> Json {
    match item {
        Item::Table(table) => plain(table),
        Item::ArrayOfTables(tables) => tables.iter().map(plain).collect(),
        Item::Value(value) => plain_value(value),
        Item::None => Json::Null,
    }
}

fn plain_value(value: &Value) -> Json {
    let inline =
        |table: &InlineTable| table.iter().map(|(key, value)| (key.to_owned(), plain_value(value))).collect();
    match value {
        Value::String(text) => Json::String(text.value().clone()),
        Value::Array(items) => items.iter().map(plain_value).collect(),
        Value::InlineTable(table) => Json::Object(inline(table)),
        other => Json::String(other.to_string().trim().to_owned()),
    }
}

#[cfg(test)]
mod tests {
    use super::{piece, to_add};
    use crate::Plan;
    use crate::edit::{Edit, edit};

    const SKERRY: &str = include_str!("../../../../plans/skerry-8.toml");
    const TARN: &str = include_str!("../../../../plans/tarn-5.toml");

    #[test]
    fn a_joint_goes_from_one_plan_to_another_with_all_that_it_needs() {
        let (name, head) = piece(SKERRY, "joint[2]").expect("a joint");
        assert_eq!(name, "Head");
        assert!(
            head.contains("[[fastener]]") && head.contains("[[drawing]]") && head.contains("procedure"),
            "{head}"
        );
        let there = edit(TARN, &[Edit::Take { text: head.clone() }]).expect("taken");
        let (was, plan) = (Plan::read("was", TARN).unwrap(), Plan::read("plan", &there).unwrap());
        assert_eq!(plan.joints.len(), was.joints.len() + 2, "both heads");
        // What is called alike there and is another thing got a key of its own.
        assert!(plan.joint("head-2-left").is_some());
        // Taken twice, what it needs is there already.
        let twice = edit(&there, &[Edit::Take { text: head }]).expect("taken");
        let twice = Plan::read("twice", &twice).unwrap();
        assert_eq!(twice.joints.len(), plan.joints.len() + 2);
    }

    #[test]
    fn a_fastener_brings_the_lubricant_of_its_plan() {
        let plan = "format = 1\n[[lubricant]]\nid = \"own\"\nname = \"Own\"\nsource = \"card\"\nthread = [0.1, 0.1, 0.1]\n[[fastener]]\nid = \"b\"\nname = \"B\"\nthread_lubricant = \"own\"\nbearing_lubricant = \"dry\"\n";
        let (_, text) = piece(plan, "fastener[0]").expect("a fastener");
        assert!(text.contains("[[lubricant]]"), "{text}");
        assert_eq!(to_add(plan, &text).expect("nothing is missing"), "");
        assert_eq!(piece(plan, "drawing[0]"), None);
        assert_eq!(piece(plan, "fastener[7]"), None);
        assert!(to_add(plan, "[[operation]]\nid = \"x\"").is_err());
    }
}
