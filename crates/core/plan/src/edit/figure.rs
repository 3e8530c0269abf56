//! One field: what stands there from now on.

use super::assumed::field_changed;
use super::path::{DEEP, EditTarget, PathStep, split, walk};
use super::written::{same, value_of};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use toml_edit::{Array, DocumentMut, InlineTable, Item, Value};

pub(super) fn set(document: &mut DocumentMut, path: &str, value: &serde_json::Value) -> Result<(), Message> {
    let (way, last) = split(path)?;
    let mut value = toml_value(value, 0)?;
    match (walk(document, &way)?, last) {
        (EditTarget::Table(table), PathStep::Key(key)) => match table.get_mut(&key) {
            Some(Item::Value(there)) => {
                let changes = !same(&value_of(there), &value_of(&value));
                *value.decor_mut() = there.decor().clone();
                *there = value;
                if changes {
                    field_changed(table, &key);
                }
            }
            Some(Item::Table(_) | Item::ArrayOfTables(_)) => return Err(message!("edit-table-stands-here")),
            Some(Item::None) | None => {
                table.insert(&key, Item::Value(value));
            }
        },
        (EditTarget::Inline(table), PathStep::Key(key)) => match table.get_mut(&key) {
            Some(there) => {
                *value.decor_mut() = there.decor().clone();
                *there = value;
            }
            None => {
                table.insert(&key, value);
            }
        },
        (EditTarget::Array(array), PathStep::At(at)) if at < array.len() => {
            if let Some(there) = array.get(at) {
                *value.decor_mut() = there.decor().clone();
            }
            array.replace_formatted(at, value);
        }
        (EditTarget::Array(array), PathStep::At(at)) if at == array.len() => {
            let before = array.iter().last().cloned();
            push_like(array, value, before.as_ref());
        }
        _ => return Err(message!("edit-nothing-can-put-here")),
    }
    Ok(())
}

/// One more stands on its line as another one does, without that one's comments.
pub(super) fn push_like(array: &mut Array, mut value: Value, like: Option<&Value>) {
    let Some(like) = like else { return array.push(value) };
    let before = like.decor().prefix().and_then(|before| before.as_str()).unwrap_or_default();
    let line = before.rfind('\n').map_or(" ", |line| &before[line..]);
    value.decor_mut().set_prefix(line);
    array.push_formatted(value);
}

/// A unit that is given with one of several figures is that of all that have none: the last one that is given.
pub(super) fn in_one_unit(parts: &[&str]) -> Vec<String> {
    let of = |part: &str| {
        part.trim_start_matches(|c: char| c.is_ascii_digit() || "+-.,".contains(c)).trim().to_owned()
    };
    let unit = parts.iter().rev().map(|part| of(part)).find(|unit| !unit.is_empty()).unwrap_or_default();
    let one = |part: &&str| if of(part).is_empty() { format!("{part} {unit}") } else { (*part).to_owned() };
    parts.iter().map(|part| one(part).trim().to_owned()).collect()
}

/// Limits as they are printed, as a plan has them: three figures stand as a list, from the least to the most, and
/// everything else as it was written.
pub(super) fn window_value(text: &str) -> serde_json::Value {
    let parts = text.split(['–', ';']).flat_map(|part| part.split(", ")).flat_map(|part| part.split(" to "));
    let parts: Vec<&str> = parts.map(str::trim).filter(|part| !part.is_empty()).collect();
    let plain: Result<Vec<f64>, _> = parts.iter().map(|part| part.parse()).collect();
    match plain {
        _ if parts.len() != 3 => serde_json::json!(text),
        Ok(numbers) => serde_json::json!(numbers),
        Err(_) => serde_json::json!(in_one_unit(&parts)),
    }
}

/// What was looked up, as a plan has it.
pub(super) fn look_up(
    document: &mut DocumentMut,
    path: &str,
    text: &str,
    source: &str,
) -> Result<(), Message> {
    let (table, key) = path.rsplit_once('.').ok_or(message!("edit-path-such-as-joint-0-procedure"))?;
    let text = text.trim();
    let of_clearance = table.contains("clearance[");
    let of_line = key == "procedure" || text.starts_with('?');
    if of_clearance && !of_line {
        let window = window_value(text);
        // Where no use was said, it is that of the street.
        let window = if key == "window" { serde_json::json!({ "street": window }) } else { window };
        set(document, path, &window)?;
    } else if let Some((figure, off)) =
        text.split_once('±').or_else(|| text.split_once("+-")).filter(|_| !of_line)
    {
        let parts = in_one_unit(&[figure.trim(), off.trim()]);
        set(document, path, &parts[0].as_str().into())?;
        set(document, &format!("{table}.tolerance"), &parts[1].as_str().into())?;
    } else {
        set(document, path, &text.into())?;
    }
    if source.trim().is_empty() {
        return Ok(());
    }
    let table = table.strip_suffix(".window").unwrap_or(table);
    set(document, &format!("{table}.source"), &source.trim().into())
}

pub(super) fn toml_value(value: &serde_json::Value, deep: usize) -> Result<Value, Message> {
    use serde_json::Value as Json;
    if deep > DEEP {
        return Err(message!("edit-goes-too-deep"));
    }
    Ok(match value {
        Json::Bool(flag) => Value::from(*flag),
        Json::Number(number) => match number.as_i64() {
            Some(whole) => Value::from(whole),
            None => Value::from(number.as_f64().ok_or(message!("edit-number-needed"))?),
        },
        Json::String(text) => Value::from(text.as_str()),
        Json::Array(items) => {
            let items = items.iter().map(|item| toml_value(item, deep + 1));
            Value::Array(items.collect::<Result<Array, Message>>()?)
        }
        Json::Object(fields) => {
            let mut table = InlineTable::new();
            for (key, value) in fields {
                table.insert(key, toml_value(value, deep + 1)?);
            }
            Value::InlineTable(table)
        }
        Json::Null => return Err(message!("edit-value-needed-take-out-instead")),
    })
}

pub(super) fn remove(document: &mut DocumentMut, path: &str) -> Result<(), Message> {
    let (way, last) = split(path)?;
    match (walk(document, &way)?, last) {
        (EditTarget::Table(table), PathStep::Key(key)) => {
            table.remove(&key);
            field_changed(table, &key);
        }
        (EditTarget::Inline(table), PathStep::Key(key)) => {
            table.remove(&key);
        }
        (EditTarget::Tables(tables), PathStep::At(at)) if at < tables.len() => {
            tables.remove(at);
            if tables.is_empty() {
                remove(document, path.rsplit_once('[').map_or(path, |(list, _)| list))?;
            }
        }
        (EditTarget::Array(array), PathStep::At(at)) if at < array.len() => {
            array.remove(at);
        }
        _ => return Err(message!("edit-there-nothing-at-this-path")),
    }
    Ok(())
}
