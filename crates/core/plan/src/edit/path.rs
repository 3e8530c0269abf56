//! The way to something in a plan's text: `joint[3].stage[1].torque`.

use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use std::collections::BTreeMap;
use toml_edit::{Array, ArrayOfTables, DocumentMut, InlineTable, Item, Table, Value};

/// The longest path, in steps.
pub(super) const DEEP: usize = 16;

/// One step of a path.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum PathStep {
    Key(String),
    At(usize),
}

pub(super) fn steps(path: &str) -> Result<Vec<PathStep>, Message> {
    let mut all = Vec::new();
    for part in path.split('.') {
        let (key, rest) = part.split_once('[').map_or((part, ""), |(key, _)| (key, &part[key.len()..]));
        if key.is_empty() {
            return Err(message!("edit-path-such-as-joint-0-stage"));
        }
        all.push(PathStep::Key(key.to_owned()));
        for number in rest.split('[').skip(1) {
            let number = number.strip_suffix(']').and_then(|number| number.parse().ok());
            all.push(PathStep::At(number.ok_or(message!("edit-place-list-number-brackets-from-0"))?));
        }
    }
    if all.len() > DEEP { Err(message!("edit-at-most-steps", most = DEEP)) } else { Ok(all) }
}

/// Something of the document that is looked at.
pub(super) enum DocumentNode<'a> {
    Table(&'a Table),
    Tables(&'a ArrayOfTables),
    Value(&'a Value),
}

impl<'a> DocumentNode<'a> {
    fn of(item: &'a Item) -> Option<Self> {
        match item {
            Item::Table(table) => Some(Self::Table(table)),
            Item::ArrayOfTables(tables) => Some(Self::Tables(tables)),
            Item::Value(value) => Some(Self::Value(value)),
            Item::None => None,
        }
    }

    pub(super) fn inner(self, step: &PathStep) -> Option<Self> {
        match (self, step) {
            (Self::Table(table), PathStep::Key(key)) => Self::of(table.get(key)?),
            (Self::Tables(tables), PathStep::At(at)) => tables.get(*at).map(DocumentNode::Table),
            (Self::Value(Value::Array(array)), PathStep::At(at)) => array.get(*at).map(DocumentNode::Value),
            (Self::Value(Value::InlineTable(table)), PathStep::Key(key)) => {
                table.get(key).map(DocumentNode::Value)
            }
            _ => None,
        }
    }

    pub(super) fn gather(self, path: &str, all: &mut BTreeMap<String, String>) {
        let join = |key: &str| if path.is_empty() { key.to_owned() } else { format!("{path}.{key}") };
        match self {
            Self::Table(table) => {
                for (key, node) in table.iter().filter_map(|(key, item)| Some((key, Self::of(item)?))) {
                    node.gather(&join(key), all);
                }
            }
            Self::Value(Value::InlineTable(table)) => {
                for (key, value) in table {
                    Self::Value(value).gather(&join(key), all);
                }
            }
            Self::Tables(tables) => {
                for (at, table) in tables.iter().enumerate() {
                    Self::Table(table).gather(&format!("{path}[{at}]"), all);
                }
            }
            Self::Value(Value::Array(array)) => {
                for (at, value) in array.iter().enumerate() {
                    Self::Value(value).gather(&format!("{path}[{at}]"), all);
                }
            }
            node @ Self::Value(_) => all.extend(node.written().map(|text| (path.to_owned(), text))),
        }
    }

    pub(super) fn written(self) -> Option<String> {
        match self {
            Self::Value(Value::String(text)) => Some(text.value().clone()),
            Self::Value(value) => Some(value.to_string().trim().to_owned()),
            _ => None,
        }
    }
}

/// What stands at a path; the document itself at an empty one.
pub(super) fn look<'a>(document: &'a DocumentMut, path: &str) -> Option<DocumentNode<'a>> {
    let top = DocumentNode::Table(document.as_table());
    if path.is_empty() {
        return Some(top);
    }
    steps(path).ok()?.iter().try_fold(top, DocumentNode::inner)
}

/// Something of the document that is changed.
pub(super) enum EditTarget<'a> {
    Table(&'a mut Table),
    Inline(&'a mut InlineTable),
    Tables(&'a mut ArrayOfTables),
    Array(&'a mut Array),
}

impl<'a> EditTarget<'a> {
    fn of(item: &'a mut Item) -> Option<Self> {
        match item {
            Item::Table(table) => Some(Self::Table(table)),
            Item::ArrayOfTables(tables) => Some(Self::Tables(tables)),
            Item::Value(value) => Self::of_value(value),
            Item::None => None,
        }
    }

    fn of_value(value: &'a mut Value) -> Option<Self> {
        match value {
            Value::Array(array) => Some(Self::Array(array)),
            Value::InlineTable(table) => Some(Self::Inline(table)),
            _ => None,
        }
    }

    fn inner(self, step: &PathStep) -> Result<Self, Message> {
        let there = match (self, step) {
            (Self::Table(table), PathStep::Key(key)) => table.get_mut(key).and_then(Self::of),
            (Self::Inline(table), PathStep::Key(key)) => table.get_mut(key).and_then(Self::of_value),
            (Self::Tables(tables), PathStep::At(at)) => tables.get_mut(*at).map(EditTarget::Table),
            (Self::Array(array), PathStep::At(at)) => array.get_mut(*at).and_then(Self::of_value),
            _ => None,
        };
        there.ok_or_else(|| message!("edit-there-nothing-at-this-path"))
    }
}

pub(super) fn walk<'a>(document: &'a mut DocumentMut, steps: &[PathStep]) -> Result<EditTarget<'a>, Message> {
    steps.iter().try_fold(EditTarget::Table(document.as_table_mut()), EditTarget::inner)
}

pub(super) fn split(path: &str) -> Result<(Vec<PathStep>, PathStep), Message> {
    let mut all = steps(path)?;
    let last = all.pop().ok_or(message!("edit-path-needed"))?;
    Ok((all, last))
}
