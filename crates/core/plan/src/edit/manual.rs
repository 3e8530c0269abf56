//! A page of a manual, put to the joint that it is about.

use super::path::{EditTarget, look, steps, walk};
use super::table::append;
use super::written::{TableFields, value_at};
use crate::format;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use toml_edit::{Array, DocumentMut, Item, Value};

/// Adds a page and puts it to a joint; a page with the same file and number that is there is used again.
pub(super) fn add_manual_page(
    document: &mut DocumentMut,
    joint: &str,
    fields: &TableFields,
) -> Result<String, Message> {
    let is_joint = format::table_at(joint).is_some_and(|table| table.id == "joint");
    if !is_joint || look(document, joint).is_none() {
        return Err(message!("edit-there-nothing-at-this-path"));
    }
    if fields.get("file").and_then(serde_json::Value::as_str).is_none_or(str::is_empty) {
        return Err(message!("edit-manual-page-needs-a-file"));
    }
    let pages = value_at(document, "manual");
    let is_it = |page: &serde_json::Value| {
        ["file", "page"].iter().all(|key| page[*key] == fields.get(*key).cloned().unwrap_or_default())
    };
    let there = pages.as_array().and_then(|pages| pages.iter().position(is_it));
    let path = match there {
        Some(at) => format!("manual[{at}]"),
        None => append(document, "manual", fields)?,
    };
    let id = value_at(document, &format!("{path}.id"));
    let id = id.as_str().ok_or(message!("edit-has-no-key-by-which-others"))?;
    if let EditTarget::Table(table) = walk(document, &steps(joint)?)? {
        let list = table.entry("manual").or_insert(Item::Value(Value::Array(Array::new())));
        let list = list.as_array_mut().ok_or(message!("edit-nothing-can-put-here"))?;
        if !list.iter().any(|page| page.as_str() == Some(id)) {
            list.push(id);
        }
    }
    Ok(path)
}
