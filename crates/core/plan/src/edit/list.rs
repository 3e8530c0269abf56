//! Tables of a list: more of them, and in another order.

use super::path::{EditTarget, PathStep, split, steps, walk};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use toml_edit::{DocumentMut, Item, Table};

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
