//! Whole tables as forms give them, written by the plan format.
//!
//! What a table says already stays as it stands, comments and order included; only what differs is written.

use super::assumed;
use super::figure::{in_one_unit, push_like, toml_value, window_value};
use super::path::{EditTarget, PathStep, split, walk};
use super::written::{TableFields, item_value, same, table_value, value_at, value_of};
use crate::format::{self, FormatFieldKind, FormatTable, TableLayout};
use crate::free_key::{free_key, key_of};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde_json::Value as Json;
use std::borrow::Cow;
use std::collections::BTreeSet;
use toml_edit::{Array, ArrayOfTables, DocumentMut, InlineTable, Item, Table, TableLike, Value};

/// The fields of an object.
pub(super) fn fields(value: Json) -> TableFields {
    match value {
        Json::Object(fields) => fields,
        _ => TableFields::new(),
    }
}

/// A table says this from now on; what is left out goes. Given what it said when somebody began to change it, only what
/// they changed is: what others changed meanwhile stays.
pub(super) fn put(
    document: &mut DocumentMut,
    path: &str,
    fields: &TableFields,
    was: Option<&TableFields>,
) -> Result<(), Message> {
    let format = format::table_at(path).ok_or(message!("edit-plan-has-no-such-table", path))?;
    let now = value_at(document, path);
    let fields = match (was, now.as_object()) {
        (Some(was), Some(now)) => Cow::Owned(changed(format, now, was, fields)?),
        _ => Cow::Borrowed(fields),
    };
    let fields = assumed::changed(&now, fields);
    let (way, last) = split(path)?;
    let target = match (walk(document, &way)?, &last) {
        (EditTarget::Tables(tables), PathStep::At(at)) => tables.get_mut(*at).map(|of| (of as _, true)),
        (EditTarget::Array(array), PathStep::At(at)) => {
            array.get_mut(*at).and_then(Value::as_inline_table_mut).map(|of| (of as _, false))
        }
        (EditTarget::Table(table), PathStep::Key(key)) => {
            let there = table.entry(key).or_insert_with(|| empty(format));
            let block = there.is_table();
            there.as_table_like_mut().map(|of| (of, block))
        }
        (EditTarget::Inline(table), PathStep::Key(key)) => {
            let there = table.entry(key).or_insert_with(|| Value::InlineTable(InlineTable::new()));
            there.as_inline_table_mut().map(|of| (of as _, false))
        }
        _ => None,
    };
    let (table, block): (&mut dyn TableLike, bool) =
        target.ok_or(message!("edit-there-nothing-at-this-path"))?;
    merge(table, format, &fields, block)
}

/// What a table says with the changes that somebody made to what it was.
fn changed(
    format: &FormatTable,
    now: &TableFields,
    was: &TableFields,
    fields: &TableFields,
) -> Result<TableFields, Message> {
    let one = |of: &TableFields, key: &str| of.get(key).cloned().unwrap_or_default();
    if !same(&one(now, "id"), &one(was, "id")) {
        return Err(message!("edit-stands-elsewhere-now", name = format.name));
    }
    let mut all = now.clone();
    let keys: BTreeSet<&String> = was.keys().chain(fields.keys()).collect();
    for key in keys {
        let (now, was, wanted) = (one(now, key), one(was, key), one(fields, key));
        if same(&was, &wanted) {
            continue;
        }
        if !same(&now, &was) && !same(&now, &wanted) {
            let label = format.field(key).map_or_else(|| Message::from(key), |field| field.label.into());
            return Err(message!("edit-changed-meanwhile", label));
        }
        all.insert(key.clone(), wanted);
    }
    Ok(all)
}

fn empty(format: &FormatTable) -> Item {
    match format.layout {
        TableLayout::Block => Item::Table(Table::new()),
        TableLayout::Inline => Item::Value(Value::InlineTable(InlineTable::new())),
    }
}

/// One more table of a list, behind those that are there; gives where it stands.
pub(super) fn append(
    document: &mut DocumentMut,
    list: &str,
    fields: &TableFields,
) -> Result<String, Message> {
    let format = format::table_at(list).ok_or(message!("edit-plan-has-no-such-table", path = list))?;
    let fields = with_free_key(format, fields, &taken(document, list))?;
    let at = value_at(document, list).as_array().map_or(0, Vec::len);
    let (way, last) = split(list)?;
    let PathStep::Key(name) = last else { return Err(message!("edit-there-nothing-at-this-path")) };
    match walk(document, &way)? {
        EditTarget::Table(table) => match table.get_mut(&name) {
            Some(Item::ArrayOfTables(tables)) => tables.push(block_table(format, &fields)?),
            Some(Item::Value(Value::Array(array))) => push_inline(array, inline_table(format, &fields)?),
            Some(_) => return Err(message!("edit-nothing-can-put-here")),
            None => {
                let item = list_item(format, &[Json::Object(fields)], true)?;
                table.insert(&name, item);
            }
        },
        EditTarget::Inline(table) => {
            let there = table.entry(&name).or_insert_with(|| Value::Array(Array::new()));
            let array = there.as_array_mut().ok_or(message!("edit-nothing-can-put-here"))?;
            push_inline(array, inline_table(format, &fields)?);
        }
        EditTarget::Tables(_) | EditTarget::Array(_) => {
            return Err(message!("edit-nothing-can-put-here"));
        }
    }
    Ok(format!("{list}[{at}]"))
}

/// Fields with the key that was given, where that is free, or with one made of their words.
pub(super) fn with_free_key(
    format: &FormatTable,
    fields: &TableFields,
    taken: &BTreeSet<String>,
) -> Result<TableFields, Message> {
    let mut fields = fields.clone();
    give_key(format, &mut fields, taken);
    match fields.get("id").and_then(Json::as_str) {
        Some(key) if taken.contains(key) => Err(message!("edit-stands-there-already", key)),
        _ => Ok(fields),
    }
}

/// Keys of a list that are taken; steps of a repeat share theirs with the other operations.
pub(super) fn taken(document: &DocumentMut, list: &str) -> BTreeSet<String> {
    let list = if list.ends_with("].step") { "operation" } else { list };
    let tables = value_at(document, list);
    let tables = tables.as_array().into_iter().flatten();
    let with_steps = tables.flat_map(|table| table["step"].as_array().into_iter().flatten().chain([table]));
    with_steps.filter_map(|table| table["id"].as_str().map(str::to_owned)).collect()
}

/// What has a key and was given none gets one, made of its name or its text.
fn give_key(format: &FormatTable, fields: &mut TableFields, taken: &BTreeSet<String>) {
    let has_key = format.field("id").is_some_and(|field| matches!(field.kind, FormatFieldKind::Id));
    let given = fields.get("id").and_then(Json::as_str).is_some_and(|id| !id.trim().is_empty());
    if !has_key || given {
        return;
    }
    let words = ["name", "text"].iter().find_map(|key| fields.get(*key)?.as_str()).unwrap_or_default();
    let otherwise = format.id.rsplit('.').next().unwrap_or_default();
    fields.insert("id".to_owned(), free_key(&key_of(words, otherwise), taken).into());
}

/// Fields in the order of the format, those that it does not know behind them.
fn ordered<'a>(format: &FormatTable, fields: &'a TableFields) -> Vec<(&'a String, &'a Json)> {
    let place = |key: &str| format.fields.iter().position(|field| field.key == key).unwrap_or(usize::MAX);
    let mut all: Vec<_> = fields.iter().filter(|(_, value)| !value.is_null()).collect();
    all.sort_by_key(|(key, _)| place(key));
    all
}

fn merge(
    table: &mut dyn TableLike,
    format: &FormatTable,
    fields: &TableFields,
    block: bool,
) -> Result<(), Message> {
    let gone: Vec<String> = table
        .iter()
        .map(|(key, _)| key.to_owned())
        .filter(|key| fields.get(key).is_none_or(Json::is_null))
        .collect();
    for key in gone {
        table.remove(&key);
    }
    for (key, value) in ordered(format, fields) {
        let inner = format.inner(key);
        match table.get_mut(key) {
            Some(item) if same(&item_value(item), value) => {}
            Some(item) => replace(item, inner, &as_written(format, key, value), block)?,
            None => {
                table.insert(key, item(inner, &as_written(format, key, value), block)?);
            }
        }
    }
    Ok(())
}

/// A value as a plan writes it: limits that are typed as they are printed become what they say, and a unit that is given
/// once is that of all figures of a list.
fn as_written<'a>(format: &FormatTable, key: &str, value: &'a Json) -> Cow<'a, Json> {
    let kind = format.field(key).map(|field| &field.kind);
    match (kind, value) {
        (Some(FormatFieldKind::Windows), Json::Object(windows)) => {
            let written = windows.iter().map(|(use_for, limits)| {
                let text = limits.as_str().filter(|text| !text.starts_with('?'));
                (use_for.clone(), text.map_or_else(|| limits.clone(), window_value))
            });
            Cow::Owned(Json::Object(written.collect()))
        }
        (Some(FormatFieldKind::Quantities { .. }), Json::Array(figures)) => {
            let texts: Option<Vec<&str>> = figures.iter().map(Json::as_str).collect();
            texts.map_or(Cow::Borrowed(value), |texts| Cow::Owned(in_one_unit(&texts).into()))
        }
        _ => Cow::Borrowed(value),
    }
}

fn replace(item: &mut Item, inner: Option<&FormatTable>, value: &Json, block: bool) -> Result<(), Message> {
    match (&mut *item, inner, value) {
        (Item::Table(table), Some(inner), Json::Object(fields)) => merge(table, inner, fields, true),
        (Item::Value(Value::InlineTable(table)), Some(inner), Json::Object(fields)) => {
            merge(table, inner, fields, false)
        }
        (Item::ArrayOfTables(tables), Some(inner), Json::Array(values)) if !values.is_empty() => {
            merge_blocks(tables, inner, &with_keys(inner, values))
        }
        (Item::Value(Value::Array(array)), Some(inner), Json::Array(values)) if !values.is_empty() => {
            merge_inlines(array, inner, &with_keys(inner, values))
        }
        (Item::Value(there), None, value) => {
            let mut value = toml_value(value, 0)?;
            *value.decor_mut() = there.decor().clone();
            *there = value;
            Ok(())
        }
        _ => {
            *item = self::item(inner, value, block)?;
            Ok(())
        }
    }
}

/// Tables of a list with a key each, where they have one.
fn with_keys(format: &FormatTable, values: &[Json]) -> Vec<Json> {
    let mut taken: BTreeSet<String> =
        values.iter().filter_map(|value| value["id"].as_str().map(str::to_owned)).collect();
    let mut keyed = values.to_vec();
    for value in &mut keyed {
        if let Json::Object(fields) = value {
            give_key(format, fields, &taken);
            taken.extend(fields.get("id").and_then(Json::as_str).map(str::to_owned));
        }
    }
    keyed
}

/// Which of the tables that were there each table of a list is: the one that says the same, else the one with its key
/// or name, else the one in its place.
fn matched(old: &[Json], new: &[Json]) -> Vec<Option<usize>> {
    let mut found = vec![None; new.len()];
    let mut used = vec![false; old.len()];
    let named = |a: &Json, b: &Json| {
        ["id", "name", "grade", "ring"].iter().any(|key| a[*key].is_string() && a[*key] == b[*key])
    };
    let in_place = old.len() == new.len();
    for round in 0..3 {
        for (at, value) in new.iter().enumerate().filter(|(at, _)| found[*at].is_none()).collect::<Vec<_>>() {
            let fits = |of: usize| match round {
                0 => same(&old[of], value),
                1 => named(&old[of], value),
                _ => in_place && of == at,
            };
            if let Some(of) = (0..old.len()).find(|of| !used[*of] && fits(*of)) {
                (found[at], used[of]) = (Some(of), true);
            }
        }
    }
    found
}

fn merge_blocks(tables: &mut ArrayOfTables, format: &FormatTable, values: &[Json]) -> Result<(), Message> {
    let old: Vec<Json> = tables.iter().map(table_value).collect();
    let matched = matched(&old, values);
    let was: Vec<Table> = std::mem::take(tables).into_iter().collect();
    let first = was.first().and_then(Table::position);
    let kept: Vec<usize> = matched.iter().flatten().copied().collect();
    let moved = kept.windows(2).any(|pair| pair[0] > pair[1]);
    for (found, value) in matched.into_iter().zip(values) {
        let fields = value.as_object().ok_or(message!("edit-nothing-can-put-here"))?;
        let mut table = match found {
            Some(at) => {
                let mut table = was[at].clone();
                merge(&mut table, format, fields, true)?;
                table
            }
            None => block_table(format, fields)?,
        };
        if moved {
            super::list::place(&mut table, first);
        }
        tables.push(table);
    }
    Ok(())
}

fn merge_inlines(array: &mut Array, format: &FormatTable, values: &[Json]) -> Result<(), Message> {
    let old: Vec<Json> = array.iter().map(value_of).collect();
    let matched = matched(&old, values);
    let (trailing, ends_with_comma) = (array.trailing().clone(), array.trailing_comma());
    let was: Vec<Value> = std::mem::take(array).into_iter().collect();
    for (found, value) in matched.into_iter().zip(values) {
        let fields = value.as_object().ok_or(message!("edit-nothing-can-put-here"))?;
        if let Some(Value::InlineTable(mut table)) = found.map(|at| was[at].clone()) {
            merge(&mut table, format, fields, false)?;
            array.push_formatted(Value::InlineTable(table));
        } else {
            let new = inline_table(format, fields)?;
            push_like(array, Value::InlineTable(new), was.last());
        }
    }
    array.set_trailing(trailing);
    array.set_trailing_comma(ends_with_comma);
    Ok(())
}

fn push_inline(array: &mut Array, table: InlineTable) {
    let before = array.iter().last().cloned();
    push_like(array, Value::InlineTable(table), before.as_ref());
}

fn item(inner: Option<&FormatTable>, value: &Json, block: bool) -> Result<Item, Message> {
    match (inner, value) {
        (Some(inner), Json::Object(fields)) if block && inner.layout == TableLayout::Block => {
            Ok(Item::Table(block_table(inner, fields)?))
        }
        (Some(inner), Json::Object(fields)) => {
            Ok(Item::Value(Value::InlineTable(inline_table(inner, fields)?)))
        }
        (Some(inner), Json::Array(values)) => list_item(inner, values, block),
        _ => Ok(Item::Value(toml_value(value, 0)?)),
    }
}

fn list_item(inner: &FormatTable, values: &[Json], block: bool) -> Result<Item, Message> {
    let values = with_keys(inner, values);
    let fields = values.iter().map(|value| value.as_object().ok_or(message!("edit-nothing-can-put-here")));
    if block && inner.layout == TableLayout::Block && !values.is_empty() {
        let mut tables = ArrayOfTables::new();
        for fields in fields {
            tables.push(block_table(inner, fields?)?);
        }
        return Ok(Item::ArrayOfTables(tables));
    }
    let mut array = Array::new();
    for fields in fields {
        array.push(inline_table(inner, fields?)?);
    }
    // One a line, where there are several.
    if array.len() > 1 && block {
        array.iter_mut().for_each(|value| value.decor_mut().set_prefix("\n  "));
        array.set_trailing("\n");
        array.set_trailing_comma(true);
    }
    Ok(Item::Value(Value::Array(array)))
}

pub(super) fn block_table(format: &FormatTable, fields: &TableFields) -> Result<Table, Message> {
    let mut table = Table::new();
    table.decor_mut().set_prefix("\n");
    for (key, value) in ordered(format, fields) {
        table.insert(key, item(format.inner(key), &as_written(format, key, value), true)?);
    }
    Ok(table)
}

fn inline_table(format: &FormatTable, fields: &TableFields) -> Result<InlineTable, Message> {
    let mut table = InlineTable::new();
    for (key, value) in ordered(format, fields) {
        if let Ok(value) = item(format.inner(key), &as_written(format, key, value), false)?.into_value() {
            table.insert(key, value);
        }
    }
    Ok(table)
}
