//! Taking something out of a plan with all that is there for it alone.
//!
//! A step of the work goes, and those that needed it need what it needed. A clearance goes with what is measured for it
//! alone, a joint with its drawing and the steps that tighten it, a part with its places in the steps.

use super::path::{EditTarget, PathStep, split, walk};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use std::collections::VecDeque;
use toml_edit::{Array, ArrayOfTables, DocumentMut, Item, Table, TableLike, Value};

/// Keys of an operation, or of a step of a repeat, that name others.
const LISTS: [(&str, &[&str]); 4] = [
    ("joint", &["joint", "joints"]),
    ("site", &["sites"]),
    ("slot", &["slots", "parts"]),
    ("operation", &["needs"]),
];
/// Lists whose tables make work be done again, with the key by which a cause names them.
const CAUSES: [(&str, &str); 2] = [("joint", "joint"), ("slot", "part")];
/// Keys without which a step has nothing to do, by its kind.
const DOES: [(&str, &[&str]); 4] = [
    ("tighten", &["joint", "joints"]),
    ("loosen", &["joint", "joints"]),
    ("measure", &["sites"]),
    ("take-in", &["slots"]),
];
/// Keys of a clearance that name no site.
const WORDS: [&str; 4] = ["id", "name", "source", "trust"];

/// Takes out what stands at a path, and what is there for it alone.
pub(super) fn take_out(document: &mut DocumentMut, path: &str) -> Result<(), Message> {
    let (way, last) = split(path)?;
    let (Some(PathStep::Key(list)), PathStep::At(at)) = (way.last().cloned(), last) else {
        return Err(message!("edit-one-list-needed-such-as-operation"));
    };
    let EditTarget::Tables(tables) = walk(document, &way)? else {
        return Err(message!("edit-written-inside-line-take-out-text"));
    };
    let gone = tables.get(at).ok_or(message!("edit-there-nothing-at-this-path"))?;
    let id = text(gone, "id").ok_or(message!("edit-has-no-key-by-which-others"))?;
    let list = if list == "step" { "operation".to_owned() } else { list };
    if !["operation", "joint", "site", "slot", "clearance", "manual", "size"].contains(&list.as_str()) {
        return Err(message!("edit-taken-out-text", list));
    }
    let mut all = VecDeque::from([(list, id)]);
    while let Some((list, id)) = all.pop_front() {
        let gone = remove(document, &list, &id);
        let Some(gone) = gone else { continue };
        let after = needed(&gone);
        for_each_operation(document, &mut |operation| {
            let had = does(operation);
            forget(operation, &list, &id, &after);
            if had
                && !does(operation)
                && let Some(id) = text(operation, "id")
            {
                all.push_back(("operation".to_owned(), id));
            }
        });
        match list.as_str() {
            "clearance" => {
                let sites = alone(document, &gone).into_iter();
                all.extend(sites.map(|site| ("site".to_owned(), site)));
            }
            "site" => {
                let of_it = |clearance: &&Table| sites(clearance).contains(&id);
                let clearances =
                    tables_of(document, "clearance").filter(of_it).filter_map(|of| text(of, "id"));
                all.extend(clearances.map(|id| ("clearance".to_owned(), id)));
            }
            "slot" => no_part(document, &id),
            "manual" => for_each(document, "joint", &mut |joint| no_more(joint, "manual", &id)),
            "size" => for_each(document, "slot", &mut |slot| no_more(slot, "sizes", &id)),
            "joint" => undraw(document, &gone),
            "operation" => all.extend(stays_together(document, &gone).map(|id| ("operation".to_owned(), id))),
            _ => {}
        }
        if let Some(kind) = CAUSES.iter().find_map(|(of, kind)| (*of == list).then_some(*kind)) {
            for with_causes in ["site", "operation"] {
                for_each(document, with_causes, &mut |table| no_cause(table, kind, &id));
            }
        }
        empty_repeats(document, &mut all);
    }
    Ok(())
}

pub(super) fn text(table: &Table, key: &str) -> Option<String> {
    table.get(key)?.as_str().map(str::to_owned)
}

fn texts(item: &Item) -> Vec<String> {
    let of = |value: &Value| value.as_str().map(str::to_owned);
    match item {
        Item::Value(Value::Array(array)) => array.iter().filter_map(of).collect(),
        Item::Value(value) => of(value).into_iter().collect(),
        _ => Vec::new(),
    }
}

fn tables_of<'a>(document: &'a DocumentMut, list: &str) -> impl Iterator<Item = &'a Table> {
    document.get(list).and_then(Item::as_array_of_tables).into_iter().flatten()
}

fn for_each(document: &mut DocumentMut, list: &str, change: &mut dyn FnMut(&mut Table)) {
    if list == "operation" {
        return for_each_operation(document, change);
    }
    if let Some(tables) = document.get_mut(list).and_then(Item::as_array_of_tables_mut) {
        tables.iter_mut().for_each(change);
    }
}

/// Operations and the steps of those that are repeated.
pub(super) fn for_each_operation(document: &mut DocumentMut, change: &mut dyn FnMut(&mut Table)) {
    let Some(operations) = document.get_mut("operation").and_then(Item::as_array_of_tables_mut) else {
        return;
    };
    for_each_step(operations, change);
}

/// The same of a list of operations.
pub(super) fn for_each_step(operations: &mut ArrayOfTables, change: &mut dyn FnMut(&mut Table)) {
    for operation in operations.iter_mut() {
        change(operation);
        if let Some(steps) = operation.get_mut("step").and_then(Item::as_array_of_tables_mut) {
            steps.iter_mut().for_each(&mut *change);
        }
    }
}

/// Nothing is a piece of a part any more.
fn no_part(document: &mut DocumentMut, id: &str) {
    let forget = |table: &mut Table, key: &str| {
        if text(table, key).as_deref() == Some(id) {
            table.remove(key);
        }
    };
    for_each(document, "site", &mut |site| forget(site, "part"));
    for_each(document, "joint", &mut |joint| {
        if let Some(groups) = joint.get_mut("group").and_then(Item::as_array_of_tables_mut) {
            groups.iter_mut().for_each(|group| forget(group, "parts"));
        }
    });
}

/// A table names something in a list no more.
fn no_more(table: &mut Table, key: &str, id: &str) {
    let Some(named) = table.get_mut(key).and_then(Item::as_array_mut) else { return };
    named.retain(|of| of.as_str() != Some(id));
    if named.is_empty() {
        table.remove(key);
    }
}

/// Takes one out of its list by its key.
fn remove(document: &mut DocumentMut, list: &str, id: &str) -> Option<Table> {
    let tables = document.get_mut(list)?.as_array_of_tables_mut()?;
    let mut gone = one_of(tables, id);
    if gone.is_none() && list == "operation" {
        let repeats = tables.iter_mut().filter_map(|repeat| repeat.get_mut("step")?.as_array_of_tables_mut());
        gone = repeats.into_iter().find_map(|steps| one_of(steps, id));
    }
    if tables.is_empty() {
        document.remove(list);
    }
    gone
}

fn one_of(tables: &mut ArrayOfTables, id: &str) -> Option<Table> {
    let at = tables.iter().position(|table| text(table, "id").as_deref() == Some(id))?;
    let gone = tables.get(at).cloned();
    tables.remove(at);
    gone
}

/// A repeat without a step goes as well.
fn empty_repeats(document: &DocumentMut, all: &mut VecDeque<(String, String)>) {
    let empty = |operation: &&Table| {
        text(operation, "kind").as_deref() == Some("repeat")
            && operation.get("step").and_then(Item::as_array_of_tables).is_none_or(ArrayOfTables::is_empty)
    };
    let ids = tables_of(document, "operation").filter(empty).filter_map(|operation| text(operation, "id"));
    all.extend(ids.map(|id| ("operation".to_owned(), id)));
}

pub(super) fn needed(table: &Table) -> Vec<String> {
    table.get("needs").map(texts).unwrap_or_default()
}

/// Whether a step has something to do: what its kind needs is there.
fn does(operation: &Table) -> bool {
    let kind = text(operation, "kind").unwrap_or_default();
    let needs = DOES.iter().find(|(of, _)| *of == kind);
    needs.is_none_or(|(_, keys)| {
        keys.iter().any(|key| operation.get(key).is_some_and(|item| !texts(item).is_empty()))
    })
}

/// What names the one that is gone names it no more; who needed it needs what came before it.
fn forget(operation: &mut Table, list: &str, id: &str, before: &[String]) {
    let keys = LISTS.iter().find(|(of, _)| *of == list).map_or(&[][..], |(_, keys)| keys);
    for key in keys {
        let Some(item) = operation.get_mut(key) else { continue };
        let Item::Value(Value::Array(array)) = item else {
            if texts(item).iter().any(|of| of == id) {
                operation.remove(key);
            }
            continue;
        };
        let Some(at) = array.iter().position(|of| of.as_str() == Some(id)) else { continue };
        array.remove(at);
        if list == "operation" {
            put_needs(array, at, before);
        }
        if array.is_empty() {
            operation.remove(key);
        }
    }
}

/// A step that needed one needs others instead.
pub(super) fn replaced_by(operation: &mut Table, id: &str, by: &[String]) {
    if let Some(only) = text(operation, "needs") {
        operation.insert("needs", toml_edit::value(Array::from_iter([only.as_str()])));
    }
    forget(operation, "operation", id, by);
}

pub(super) fn put_needs(array: &mut Array, at: usize, ids: &[String]) {
    let new: Vec<&String> = ids.iter().filter(|id| !array.iter().any(|of| of.as_str() == Some(id))).collect();
    for (more, id) in new.into_iter().enumerate() {
        array.insert(at + more, id.as_str());
    }
    // What stood first stands without a space before it.
    if let Some(first) = array.get_mut(0) {
        first.decor_mut().set_prefix("");
    }
}

/// What made something be done again is gone: a measurement, a turn, or an item of a checklist.
fn no_cause(table: &mut Table, kind: &str, id: &str) {
    no_cause_in(table, (kind, id));
    match table.get_mut("item") {
        Some(Item::ArrayOfTables(items)) => items.iter_mut().for_each(|item| no_cause_in(item, (kind, id))),
        Some(Item::Value(Value::Array(items))) => {
            let items = items.iter_mut().filter_map(Value::as_inline_table_mut);
            items.for_each(|item| no_cause_in(item, (kind, id)));
        }
        _ => {}
    }
}

/// The causes of one table without those that name what is gone, alone or among others.
fn no_cause_in(table: &mut dyn TableLike, (kind, id): (&str, &str)) {
    let Some(causes) = table.get_mut("again").and_then(Item::as_array_mut) else { return };
    for cause in causes.iter_mut().filter_map(Value::as_inline_table_mut) {
        if let Some(Value::Array(ids)) = cause.get_mut(kind) {
            ids.retain(|named| named.as_str() != Some(id));
        }
    }
    causes.retain(|cause| match cause.as_inline_table().and_then(|cause| cause.get(kind)) {
        Some(Value::Array(ids)) => !ids.is_empty(),
        named => named.and_then(Value::as_str) != Some(id),
    });
    if causes.is_empty() {
        table.remove("again");
    }
}

/// What takes joints apart that a step had put together goes with it, unless another one does.
fn stays_together(document: &DocumentMut, gone: &Table) -> std::vec::IntoIter<String> {
    let round = |of: &Table| -> Vec<(String, String)> {
        let purpose = text(of, "purpose").unwrap_or_else(|| "final".to_owned());
        let joints = ["joint", "joints"].into_iter().filter_map(|key| of.get(key)).flat_map(texts);
        joints.map(|joint| (joint, purpose.clone())).collect()
    };
    let is = |of: &Table, kind: &str| text(of, "kind").as_deref() == Some(kind);
    if !is(gone, "tighten") {
        return Vec::new().into_iter();
    }
    let left: Vec<_> =
        tables_of(document, "operation").filter(|of| is(of, "tighten")).flat_map(round).collect();
    let lost: Vec<_> = round(gone).into_iter().filter(|of| !left.contains(of)).collect();
    let apart = |of: &&Table| is(of, "loosen") && round(of).iter().any(|of| lost.contains(of));
    let apart = tables_of(document, "operation").filter(apart).filter_map(|of| text(of, "id"));
    apart.collect::<Vec<_>>().into_iter()
}

/// The sites that a clearance follows from.
fn sites(clearance: &Table) -> Vec<String> {
    let named = clearance.iter().filter(|(key, _)| !WORDS.contains(key));
    let of = |item: &Item| match item {
        Item::Value(Value::InlineTable(inner)) => {
            inner.iter().filter_map(|(_, value)| value.as_str().map(str::to_owned)).collect()
        }
        Item::Table(inner) => inner.iter().flat_map(|(_, item)| texts(item)).collect(),
        item => texts(item),
    };
    named.flat_map(|(_, item)| of(item)).collect()
}

/// The sites that only this clearance follows from.
fn alone(document: &DocumentMut, clearance: &Table) -> Vec<String> {
    let others: Vec<String> = tables_of(document, "clearance").flat_map(sites).collect();
    let known: Vec<String> = tables_of(document, "site").filter_map(|site| text(site, "id")).collect();
    sites(clearance).into_iter().filter(|site| known.contains(site) && !others.contains(site)).collect()
}

/// The drawing of a joint goes with the last joint on it.
fn undraw(document: &mut DocumentMut, joint: &Table) {
    let Some(drawing) = text(joint, "drawing") else { return };
    if !tables_of(document, "joint").any(|other| text(other, "drawing").as_deref() == Some(&drawing)) {
        remove(document, "drawing", &drawing);
    }
}
