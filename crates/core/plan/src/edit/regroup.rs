//! Fasteners of a joint that go to another of its groups, or into a new one.

use super::table::{fields, put};
use super::written::{TableFields, value_at};
use crate::fastener_row::FastenerRow;
use crate::free_key::{free_key, key_of};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde_json::{Value as Json, json};
use std::collections::BTreeSet;
use toml_edit::DocumentMut;

/// What a group says that a new one beside it says, too.
const SAME: [&str; 5] = ["fastener", "parts", "pattern", "hole", "assumed"];

/// Puts fasteners into a group, by its key; a new one with that name where there is none.
pub(super) fn regroup(
    document: &mut DocumentMut,
    joint: &str,
    fasteners: &[String],
    group: &str,
) -> Result<(), Message> {
    let mut all = fields(value_at(document, joint));
    let Some(Json::Array(groups)) = all.get_mut("group") else {
        return Err(message!("edit-there-nothing-at-this-path"));
    };
    let is_moved = |place: &Json| place["id"].as_str().is_some_and(|id| fasteners.iter().any(|of| of == id));
    let (mut moved, mut like) = (Vec::new(), None);
    for from in groups.iter_mut().filter(|of| of["id"] != group) {
        write_rows_out(from, fasteners);
        let Some(Json::Array(places)) = from.get_mut("position") else { continue };
        let (gone, left): (Vec<Json>, Vec<Json>) = places.drain(..).partition(is_moved);
        *places = left;
        if gone.is_empty() {
            continue;
        }
        if places.is_empty() && from["row"].as_array().is_none_or(Vec::is_empty) {
            return Err(message!("edit-group-keeps-a-fastener", name = text(from, "name")));
        }
        if let Some(Json::Array(order)) = from.get_mut("order") {
            order.retain(|id| !fasteners.iter().any(|of| id == of));
        }
        like = like.or_else(|| Some(from.clone()));
        moved.extend(gone);
    }
    let Some(like) = like else { return Err(message!("edit-no-fastener-to-move")) };
    match groups.iter_mut().find(|of| of["id"] == group) {
        Some(there) => receive(there, moved),
        None => groups.push(new_group(&like, moved, group, groups)?),
    }
    put(document, joint, &all, None)
}

fn text(table: &Json, key: &str) -> String {
    table[key].as_str().unwrap_or_default().to_owned()
}

/// Rows of which some fasteners are named become fasteners each in its place.
fn write_rows_out(group: &mut Json, fasteners: &[String]) {
    let Some(Json::Array(rows)) = group.get("row").cloned() else { return };
    let (broken, whole): (Vec<Json>, Vec<Json>) = rows.into_iter().partition(|row| {
        let has = |place: &Json| fasteners.iter().any(|of| place["id"] == *of);
        places(row).iter().any(has)
    });
    let Json::Object(group) = group else { return };
    let out: Vec<Json> = broken.iter().flat_map(places).collect();
    if whole.is_empty() {
        group.remove("row");
    } else {
        group.insert("row".to_owned(), whole.into());
    }
    if let Json::Array(there) = group.entry("position").or_insert_with(|| json!([])) {
        there.extend(out);
    }
}

/// The fasteners of a row, each with its key and place.
fn places(row: &Json) -> Vec<Json> {
    let place = |key: &str| [0, 1].map(|axis| row[key][axis].as_f64().unwrap_or_default());
    let whole =
        |key: &str, usual| row[key].as_u64().and_then(|count| u32::try_from(count).ok()).unwrap_or(usual);
    let id = text(row, "id");
    let row = FastenerRow {
        id: &id,
        count: whole("count", 0),
        from: place("from"),
        to: place("to"),
        first: whole("first", 1),
    };
    row.places().map(|(id, at)| json!({ "id": id, "at": at })).collect()
}

fn receive(group: &mut Json, moved: Vec<Json>) {
    let Json::Object(group) = group else { return };
    if let Some(Json::Array(order)) = group.get_mut("order") {
        order.extend(moved.iter().map(|place| place["id"].clone()));
    }
    if let Json::Array(there) = group.entry("position").or_insert_with(|| json!([])) {
        there.extend(moved);
    }
}

fn new_group(like: &Json, moved: Vec<Json>, name: &str, groups: &[Json]) -> Result<Json, Message> {
    let name = name.trim();
    if name.is_empty() {
        return Err(message!("edit-name-needed"));
    }
    let taken: BTreeSet<String> = groups.iter().map(|of| text(of, "id")).collect();
    let mut group = TableFields::new();
    group.insert("id".to_owned(), free_key(&key_of(name, "group"), &taken).into());
    group.insert("name".to_owned(), name.into());
    for key in SAME {
        let value = &like[key];
        // An order that is listed is that of the fasteners that stay.
        if !value.is_null() && *value != "listed" {
            group.insert(key.to_owned(), value.clone());
        }
    }
    group.insert("position".to_owned(), moved.into());
    // What it does not say is not assumed of it.
    let said: BTreeSet<String> = group.keys().cloned().collect();
    if let Some(Json::Array(assumed)) = group.get_mut("assumed") {
        assumed.retain(|key| key.as_str().is_some_and(|key| said.contains(key)));
    }
    Ok(Json::Object(group))
}
