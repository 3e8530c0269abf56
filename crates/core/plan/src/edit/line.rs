//! The build sequence: steps come in, go to another place, and are split.
//!
//! What comes after what is written as the `needs` of each step. A step that comes behind another one comes between it
//! and what needed it; one that is moved leaves those behind it waiting for what it waited for.

use super::list::{add, last_position, place as put_in_place};
use super::out::{for_each_operation, for_each_step, needed, put_needs, replaced_by, text};
use super::path::{EditTarget, PathStep, split, walk};
use super::table::{block_table, taken, with_free_key};
use super::written::{TableFields, value_at};
use crate::format;
use crate::free_key::{free_key, key_of};
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

/// A step that is given as text goes behind another, with what else it brings.
pub(super) fn insert(document: &mut DocumentMut, behind: &str, text: &str) -> Result<(), Message> {
    let mut brought = text.parse::<DocumentMut>().map_err(|error| Message::from(error.message()))?;
    let step = brought.remove("operation").and_then(|item| item.into_array_of_tables().ok());
    let step = step.filter(|steps| steps.len() == 1).and_then(|steps| steps.into_iter().next());
    let step = step.ok_or(message!("edit-one-operation-needed"))?;
    add(document, "", &brought.to_string())?;
    let (way, last) = split(behind)?;
    match (walk(document, &way)?, last) {
        (EditTarget::Tables(operations), PathStep::At(at)) => after(operations, at, step),
        _ => Err(message!("edit-step-such-as-operation-3-needed")),
    }
}

/// A step more; gives where it stands.
pub(super) fn add_step(
    document: &mut DocumentMut,
    fields: &TableFields,
    at: &StepPlace,
) -> Result<String, Message> {
    let format = format::table_at("operation").ok_or(message!("edit-there-no-such-step"))?;
    let fields = with_free_key(format, fields, &taken(document, "operation"))?;
    let step = block_table(format, &fields)?;
    place_step(document, step, at)?;
    let id = fields.get("id").and_then(Json::as_str);
    let steps = document.get("operation").and_then(Item::as_array_of_tables);
    let at = steps.and_then(|steps| steps.iter().position(|step| text(step, "id").as_deref() == id));
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
    // Where it goes is told by the key of a step: places change while it is taken out.
    let to = by_key(document, to)?;
    if matches!(&to, StepPlace::After(other) | StepPlace::Before(other) | StepPlace::Beside(other) if *other == id)
    {
        return Ok(());
    }
    let before = needed(&moved);
    if let EditTarget::Tables(steps) = walk(document, &way)? {
        steps.remove(at);
    }
    for_each_operation(document, &mut |operation| replaced_by(operation, &id, &before));
    place_by_key(document, moved, &to)
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
    let id = free_key(&key_of(&name, "step"), &taken(document, "operation"));
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

fn key_at(document: &DocumentMut, path: &str) -> Result<String, Message> {
    // A step of a repeat stands where its repeat does.
    let outer = path.split(".step[").next().unwrap_or(path);
    let key = value_at(document, &format!("{outer}.id"));
    key.as_str().map(str::to_owned).ok_or_else(|| message!("edit-there-no-such-step"))
}

/// The same place told by the key of a step instead of its path.
fn by_key(document: &DocumentMut, place: &StepPlace) -> Result<StepPlace, Message> {
    let key = |path: &str| key_at(document, path);
    Ok(match place {
        StepPlace::After(path) => StepPlace::After(key(path)?),
        StepPlace::Before(path) => StepPlace::Before(key(path)?),
        StepPlace::Beside(path) => StepPlace::Beside(key(path)?),
        StepPlace::Last => StepPlace::Last,
    })
}

fn place_step(document: &mut DocumentMut, step: Table, at: &StepPlace) -> Result<(), Message> {
    let at = by_key(document, at)?;
    place_by_key(document, step, &at)
}

fn place_by_key(document: &mut DocumentMut, step: Table, at: &StepPlace) -> Result<(), Message> {
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
        StepPlace::After(key) => after(operations, place_of(key)?, step),
        StepPlace::Before(key) => before(operations, place_of(key)?, step),
        StepPlace::Beside(key) => beside(operations, place_of(key)?, step),
        StepPlace::Last => {
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
    for_each_step(operations, &mut |table| replaced_by(table, &other, std::slice::from_ref(&own)));
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
    for_each_step(operations, &mut |table| {
        let mut needs = needed(table);
        if needs.contains(&other) {
            needs.push(own.clone());
            set_needs(table, &needs);
        }
    });
    insert_at(operations, at + 1, step);
    Ok(())
}

/// Behind everything that nothing waits for yet.
fn at_end(operations: &mut ArrayOfTables, mut step: Table) -> Result<(), Message> {
    let own = key(&step)?;
    let mut waited = Vec::new();
    for_each_step(operations, &mut |table| waited.extend(needed(table)));
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
