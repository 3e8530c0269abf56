//! The build sequence: steps come in, go to another place, and are split.
//!
//! What comes after what is written as the `needs` of each step. A step that comes behind another one comes between it
//! and what needed it; one that is moved leaves those behind it waiting for what it waited for.

use super::list::{last_position, place as put_in_place};
use super::out::{for_each_operation, needed, put_needs, replaced_by, text};
use super::path::{EditTarget, PathStep, split, walk};
use super::table::{TableFields, block_table, free_key, taken};
use crate::format;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::Deserialize;
use serde_json::Value as Json;
use toml_edit::{Array, ArrayOfTables, DocumentMut, Item, Table};

/// Where in the build sequence a step stands.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum StepPlace {
    /// Behind a step, given by its path: what needed that one needs it from now on.
    After(String),
    /// Before a step: it needs what that one needed.
    Before(String),
    /// In parallel with a step: it needs the same, and what needs that one needs both.
    Beside(String),
    /// Before hardware is counted back, else before the signature under the engine; the last of all where there is
    /// neither.
    Last,
}

/// A step more; gives where it stands.
pub(super) fn add_step(
    document: &mut DocumentMut,
    fields: &TableFields,
    at: &StepPlace,
) -> Result<String, Message> {
    let format = format::table_at("operation").ok_or(message!("edit-there-no-such-step"))?;
    let mut fields = fields.clone();
    let given = fields.get("id").and_then(Json::as_str).filter(|id| !id.trim().is_empty());
    let known = taken(document, "operation");
    if let Some(key) = given.filter(|id| known.contains(*id)) {
        return Err(message!("edit-stands-there-already", key));
    }
    let words = fields.get("name").and_then(Json::as_str).unwrap_or_default();
    let id = given.map_or_else(|| free_key(words, &known, "step"), str::to_owned);
    fields.insert("id".to_owned(), id.as_str().into());
    let step = block_table(format, &fields)?;
    place_step(document, step, at)?;
    let steps = document.get("operation").and_then(Item::as_array_of_tables);
    let at = steps.and_then(|steps| steps.iter().position(|step| text(step, "id").as_ref() == Some(&id)));
    Ok(format!("operation[{}]", at.unwrap_or_default()))
}

/// A step goes to another place.
pub(super) fn move_step(document: &mut DocumentMut, path: &str, to: &StepPlace) -> Result<(), Message> {
    let (way, last) = split(path)?;
    if way != [PathStep::Key("operation".to_owned())] {
        return Err(message!("edit-step-of-repeat-moves-inside-it"));
    }
    let (EditTarget::Tables(steps), PathStep::At(at)) = (walk(document, &way)?, last) else {
        return Err(message!("edit-step-such-as-operation-3-needed"));
    };
    let moved = steps.get(at).cloned().ok_or(message!("edit-there-no-such-step"))?;
    let id = text(&moved, "id").ok_or(message!("edit-step-has-key"))?;
    // Where it goes is told from a step that keeps its key while places change.
    let of = |path: &String| key_at(document, path);
    let to = match to {
        StepPlace::After(path) => Named::After(of(path)?),
        StepPlace::Before(path) => Named::Before(of(path)?),
        StepPlace::Beside(path) => Named::Beside(of(path)?),
        StepPlace::Last => Named::Last,
    };
    if matches!(&to, Named::After(other) | Named::Before(other) | Named::Beside(other) if *other == id) {
        return Ok(());
    }
    let before = needed(&moved);
    if let EditTarget::Tables(steps) = walk(document, &way)? {
        steps.remove(at);
    }
    for_each_operation(document, &mut |operation| replaced_by(operation, &id, &before));
    place_named(document, moved, &to)
}

/// A step that tightens is parted: what is done in it now, and the rest of its stages in a step of its own behind it.
pub(super) fn split_step(document: &mut DocumentMut, path: &str, stages: &[String]) -> Result<(), Message> {
    let all = stage_names(document, path)?;
    let first = all.iter().take_while(|name| stages.contains(name)).count();
    let rest = &all[first..];
    if first == 0 || first != stages.len() || rest.is_empty() {
        return Err(message!("edit-first-stages-stay-rest-goes", stages = all.join(", ")));
    }
    let (way, last) = split(path)?;
    let (EditTarget::Tables(steps), PathStep::At(at)) = (walk(document, &way)?, last) else {
        return Err(message!("edit-step-such-as-operation-3-needed"));
    };
    let step = steps.get_mut(at).ok_or(message!("edit-there-no-such-step"))?;
    let mut second = step.clone();
    step.insert("stages", texts(stages));
    second.insert("stages", texts(rest));
    let name = text(&second, "name").unwrap_or_default();
    let name = format!("{name}: {}", rest[0].to_lowercase());
    second.insert("name", toml_edit::value(&name));
    let id = free_key(&name, &taken(document, "operation"), "step");
    second.insert("id", toml_edit::value(&id));
    // What is fitted in it is fitted in the first of the two.
    second.remove("parts");
    place_step(document, second, &StepPlace::After(path.to_owned()))
}

/// Names of the stages that a step runs.
fn stage_names(document: &DocumentMut, path: &str) -> Result<Vec<String>, Message> {
    let source = document.to_string();
    let (plan, _) = crate::read::plan("plan", &source);
    let of = plan.operations.iter().find(|of| of.written == path);
    let shares = match of.map(|of| &of.work) {
        Some(crate::OperationWork::Tighten(work)) => &work.shares,
        _ => return Err(message!("edit-only-tightening-parted")),
    };
    let mut names: Vec<String> = Vec::new();
    for share in shares {
        for stage in &plan[share.joint].stages[share.stages.clone()] {
            if !names.contains(&stage.heading) {
                names.push(stage.heading.clone());
            }
        }
    }
    Ok(names)
}

/// A place by the key of the step that it is told from.
enum Named {
    After(String),
    Before(String),
    Beside(String),
    Last,
}

fn key_at(document: &DocumentMut, path: &str) -> Result<String, Message> {
    // A step of a repeat stands where its repeat does.
    let outer = path.split(".step[").next().unwrap_or(path);
    let read = super::SourceText::of(&document.to_string());
    read.at(&format!("{outer}.id")).ok_or_else(|| message!("edit-there-no-such-step"))
}

pub(super) fn place_step(document: &mut DocumentMut, step: Table, at: &StepPlace) -> Result<(), Message> {
    let named = match at {
        StepPlace::After(path) => Named::After(key_at(document, path)?),
        StepPlace::Before(path) => Named::Before(key_at(document, path)?),
        StepPlace::Beside(path) => Named::Beside(key_at(document, path)?),
        StepPlace::Last => Named::Last,
    };
    place_named(document, step, &named)
}

fn place_named(document: &mut DocumentMut, step: Table, at: &Named) -> Result<(), Message> {
    if !document.contains_key("operation") {
        document.insert("operation", Item::ArrayOfTables(ArrayOfTables::new()));
    }
    let Some(operations) = document.get_mut("operation").and_then(Item::as_array_of_tables_mut) else {
        return Err(message!("edit-written-inside-line-take-out-text"));
    };
    let place_of = |key: &str| {
        let found = operations.iter().position(|table| text(table, "id").as_deref() == Some(key));
        found.ok_or_else(|| message!("edit-there-no-such-step"))
    };
    match at {
        Named::After(key) => after(operations, place_of(key)?, step),
        Named::Before(key) => before(operations, place_of(key)?, step),
        Named::Beside(key) => beside(operations, place_of(key)?, step),
        Named::Last => {
            let counts_back = operations.iter().position(|step| step.contains_key("back_of"));
            let end = counts_back.or_else(|| operations.iter().position(is_signature));
            match end.filter(|_| !is_signature(&step)) {
                Some(end) => before(operations, end, step),
                None => at_end(operations, step),
            }
        }
    }
}

fn is_signature(step: &Table) -> bool {
    text(step, "kind").as_deref() == Some("sign")
}

fn key(step: &Table) -> Result<String, Message> {
    text(step, "id").ok_or_else(|| message!("edit-step-has-key"))
}

/// The step that a place is told from; nothing comes behind the signature.
fn neighbour(operations: &ArrayOfTables, at: usize) -> Result<&Table, Message> {
    let step = operations.get(at).ok_or_else(|| message!("edit-there-no-such-step"))?;
    if is_signature(step) { Err(message!("edit-nothing-after-signature")) } else { Ok(step) }
}

fn after(operations: &mut ArrayOfTables, at: usize, mut step: Table) -> Result<(), Message> {
    let (own, other) = (key(&step)?, key(neighbour(operations, at)?)?);
    set_needs(&mut step, std::slice::from_ref(&other));
    for table in operations.iter_mut() {
        replaced_by(table, &other, std::slice::from_ref(&own));
    }
    insert_at(operations, at + 1, step);
    Ok(())
}

fn before(operations: &mut ArrayOfTables, at: usize, mut step: Table) -> Result<(), Message> {
    let own = key(&step)?;
    let other = operations.get_mut(at).ok_or_else(|| message!("edit-there-no-such-step"))?;
    set_needs(&mut step, &needed(other));
    set_needs(other, std::slice::from_ref(&own));
    insert_at(operations, at, step);
    Ok(())
}

fn beside(operations: &mut ArrayOfTables, at: usize, mut step: Table) -> Result<(), Message> {
    let own = key(&step)?;
    let other = neighbour(operations, at)?;
    set_needs(&mut step, &needed(other));
    let other = key(other)?;
    for table in operations.iter_mut().filter(|table| needed(table).contains(&other)) {
        let mut needs = needed(table);
        needs.push(own.clone());
        set_needs(table, &needs);
    }
    insert_at(operations, at + 1, step);
    Ok(())
}

/// Behind everything that nothing waits for yet.
fn at_end(operations: &mut ArrayOfTables, mut step: Table) -> Result<(), Message> {
    let own = key(&step)?;
    let waited: Vec<String> = operations.iter().flat_map(needed).collect();
    let ends = operations.iter().filter_map(|table| text(table, "id"));
    let ends: Vec<String> = ends.filter(|id| !waited.contains(id) && *id != own).collect();
    set_needs(&mut step, &ends);
    insert_at(operations, operations.len(), step);
    Ok(())
}

fn set_needs(table: &mut Table, needs: &[String]) {
    if needs.is_empty() {
        table.remove("needs");
        return;
    }
    match table.get_mut("needs").and_then(Item::as_array_mut) {
        Some(array) => {
            array.clear();
            put_needs(array, 0, needs);
        }
        None => {
            table.insert("needs", texts(needs));
        }
    }
}

/// A list of texts.
fn texts(all: &[String]) -> Item {
    toml_edit::value(all.iter().map(String::as_str).collect::<Array>())
}

/// Puts a step at a place of the list and of the text.
fn insert_at(operations: &mut ArrayOfTables, at: usize, mut step: Table) {
    let mut all: Vec<Table> = std::mem::take(operations).into_iter().collect();
    let stood = match at.checked_sub(1).and_then(|before| all.get(before)) {
        Some(before) => last_position(before),
        None => all.first().and_then(Table::position).unwrap_or_default(),
    };
    put_in_place(&mut step, Some(stood));
    all.insert(at.min(all.len()), step);
    for table in all {
        operations.push(table);
    }
}
