//! What a template assumed, until somebody confirms it or says something else.

use super::path::{EditTarget, steps, walk};
use super::written::{TableFields, same, value_at};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde_json::Value as Json;
use std::borrow::Cow;
use toml_edit::{DocumentMut, TableLike, Value};

/// The field that names the others.
const ASSUMED: &str = "assumed";

/// Fields of a table are assumed no more: those that are named, all of them where none is. An empty path is every table.
pub(super) fn confirm(document: &mut DocumentMut, path: &str, fields: &[String]) -> Result<(), Message> {
    if path.is_empty() {
        let mut tables = Vec::new();
        gather(&value_at(document, ""), "", &mut tables);
        return tables.iter().try_for_each(|table| confirm(document, table, fields));
    }
    let no_more = |key: &str| fields.is_empty() || fields.iter().any(|field| field == key);
    match walk(document, &steps(path)?)? {
        EditTarget::Table(table) => forget(table, no_more),
        EditTarget::Inline(table) => forget(table, no_more),
        EditTarget::Tables(_) | EditTarget::Array(_) => {
            return Err(message!("edit-there-nothing-at-this-path"));
        }
    }
    Ok(())
}

/// A field that says something else now, or nothing, is assumed no more.
pub(super) fn field_changed(table: &mut dyn TableLike, field: &str) {
    forget(table, |key| key == field);
}

/// Paths of all tables inside of one in which something is assumed.
fn gather(value: &Json, path: &str, all: &mut Vec<String>) {
    match value {
        Json::Object(table) => {
            if !path.is_empty() && table.contains_key(ASSUMED) {
                all.push(path.to_owned());
            }
            for (key, value) in table {
                let inner = if path.is_empty() { key.clone() } else { format!("{path}.{key}") };
                gather(value, &inner, all);
            }
        }
        Json::Array(items) => {
            for (at, item) in items.iter().enumerate() {
                gather(item, &format!("{path}[{at}]"), all);
            }
        }
        _ => {}
    }
}

fn forget(table: &mut dyn TableLike, no_more: impl Fn(&str) -> bool) {
    let Some(assumed) = table.get_mut(ASSUMED).and_then(|item| item.as_array_mut()) else { return };
    assumed.retain(|key| key.as_str().is_some_and(|key| !no_more(key)));
    if let Some(first) = assumed.get_mut(0).map(Value::decor_mut) {
        first.set_prefix("");
    }
    if assumed.is_empty() {
        table.remove(ASSUMED);
    }
}

/// What a form says of a table, without what it was assumed to say and says no more.
pub(super) fn changed<'a>(now: &Json, fields: Cow<'a, TableFields>) -> Cow<'a, TableFields> {
    let Some(assumed) = fields.get(ASSUMED).and_then(Json::as_array) else { return fields };
    let stays = |key: &&Json| {
        let of =
            |fields: &TableFields| key.as_str().and_then(|key| fields.get(key).cloned()).unwrap_or_default();
        now.as_object().is_none_or(|now| same(&of(now), &of(&fields)))
    };
    let left: Vec<Json> = assumed.iter().filter(stays).cloned().collect();
    if left.len() == assumed.len() {
        return fields;
    }
    let mut fields = fields.into_owned();
    if left.is_empty() {
        fields.remove(ASSUMED);
    } else {
        fields.insert(ASSUMED.to_owned(), left.into());
    }
    Cow::Owned(fields)
}
