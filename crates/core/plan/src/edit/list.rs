//! Tables of a list: more of them, and in another order.

use super::path::{EditTarget, PathStep, split, steps, walk};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use toml_edit::{Array, DocumentMut, Item, Table, Value};

/// Tables of the same name go behind those that are there.
pub(super) fn add(document: &mut DocumentMut, within: &str, text: &str) -> Result<(), Message> {
    let added = text.parse::<DocumentMut>().map_err(|error| Message::from(error.message()))?;
    let way = if within.is_empty() { Vec::new() } else { steps(within)? };
    let EditTarget::Table(table) = walk(document, &way)? else {
        return Err(message!("edit-tables-added-table-only"));
    };
    // Tables are written in the order of their places; those of one place in the order they are kept in.
    let last = last_position(table);
    for (key, mut item) in added.into_table() {
        match &mut item {
            Item::Table(inner) => place(inner, Some(last)),
            Item::ArrayOfTables(inner) => inner.iter_mut().for_each(|inner| place(inner, Some(last))),
            _ => {}
        }
        match (table.get_mut(&key), item) {
            (Some(Item::ArrayOfTables(there)), Item::ArrayOfTables(more)) => {
                for table in more {
                    there.push(table);
                }
            }
            (None, item) => {
                table.insert(&key, item);
            }
            _ => return Err(message!("edit-stands-there-already", key)),
        }
    }
    Ok(())
}

/// A step of the work goes behind another, and between it and what needed it.
pub(super) fn insert(document: &mut DocumentMut, after: &str, text: &str) -> Result<(), Message> {
    let mut brought = text.parse::<DocumentMut>().map_err(|error| Message::from(error.message()))?;
    let step = brought.remove("operation").and_then(|item| item.into_array_of_tables().ok());
    let step = step.filter(|steps| steps.len() == 1).and_then(|steps| steps.into_iter().next());
    let mut step = step.ok_or(message!("edit-one-operation-needed"))?;
    add(document, "", &brought.to_string())?;
    let (way, last) = split(after)?;
    let (EditTarget::Tables(operations), PathStep::At(at)) = (walk(document, &way)?, last) else {
        return Err(message!("edit-step-such-as-operation-3-needed"));
    };
    let before = operations.get(at).ok_or(message!("edit-there-no-such-step"))?;
    let key = |table: &Table| table.get("id").and_then(Item::as_str).map(str::to_owned);
    let (before_id, id) = (key(before), key(&step));
    let (before_id, id) = before_id.zip(id).ok_or(message!("edit-step-has-key"))?;
    let stood = last_position(before);
    place(&mut step, Some(stood));
    step.insert("needs", toml_edit::value(Array::from_iter([before_id.as_str()])));
    let mut all: Vec<Table> = std::mem::take(operations).into_iter().collect();
    for other in &mut all {
        let Some(Item::Value(Value::Array(needs))) = other.get_mut("needs") else { continue };
        for need in needs.iter_mut().filter(|need| need.as_str() == Some(&before_id)) {
            let mut new = Value::from(id.as_str());
            *new.decor_mut() = need.decor().clone();
            *need = new;
        }
    }
    all.insert(at + 1, step);
    for table in all {
        operations.push(table);
    }
    Ok(())
}

/// The largest position of a table, by which tables are written in their order.
pub(super) fn last_position(table: &Table) -> isize {
    let inner = table.iter().map(|(_, item)| match item {
        Item::Table(table) => last_position(table),
        Item::ArrayOfTables(tables) => tables.iter().map(last_position).max().unwrap_or_default(),
        _ => 0,
    });
    inner.max().unwrap_or_default().max(table.position().unwrap_or_default())
}

pub(super) fn shift(document: &mut DocumentMut, path: &str, up: bool) -> Result<(), Message> {
    let (way, last) = split(path)?;
    let PathStep::At(at) = last else { return Err(message!("edit-one-list-needed")) };
    let other = if up { at.checked_sub(1) } else { at.checked_add(1) };
    let other = other.ok_or(message!("edit-first-already"))?;
    match walk(document, &way)? {
        EditTarget::Array(array) if at.max(other) < array.len() => {
            let (low, high) = (at.min(other), at.max(other));
            let (first, second) = (array.remove(low), array.remove(low));
            array.insert_formatted(low, second);
            array.insert_formatted(high, first);
        }
        EditTarget::Tables(tables) if at.max(other) < tables.len() => {
            // They are written where they stand: the two change their places in the text as well.
            let mut all: Vec<Table> = std::mem::take(tables).into_iter().collect();
            let stood = [at, other].map(|of| all[of].position());
            all.swap(at, other);
            place(&mut all[at], stood[0]);
            place(&mut all[other], stood[1]);
            for table in all {
                tables.push(table);
            }
        }
        _ => return Err(message!("edit-there-no-neighbour")),
    }
    Ok(())
}

/// Puts a table, with what is inside of it, where another one stood.
pub(super) fn place(table: &mut Table, at: Option<isize>) {
    table.set_position(at);
    for (_, item) in table.iter_mut() {
        match item {
            Item::Table(inner) => place(inner, at),
            Item::ArrayOfTables(inner) => inner.iter_mut().for_each(|inner| place(inner, at)),
            _ => {}
        }
    }
}
