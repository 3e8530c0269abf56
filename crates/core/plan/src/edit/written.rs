//! What is written at a path.

use super::path::{DocumentNode, PathStep, look};
use serde_json::{Map, Value as Json};
use std::collections::BTreeMap;
use toml_edit::{DocumentMut, Item, Table, Value};

/// The fields of a table, as JSON.
pub type TableFields = Map<String, Json>;

/// A text whose fields are looked up by path.
#[derive(Debug)]
pub struct SourceText(Option<DocumentMut>);

impl SourceText {
    /// A text; one that is no TOML has no fields.
    pub fn of(text: &str) -> Self {
        Self(text.parse().ok())
    }

    /// What is written at a path, without its quotes; `None` where nothing is.
    pub fn at(&self, path: &str) -> Option<String> {
        self.node(path)?.written()
    }

    /// Everything that is written in a table, by its path inside of it.
    pub fn all(&self, table: &str) -> BTreeMap<String, String> {
        let mut all = BTreeMap::new();
        if let Some(node) = self.node(table) {
            node.gather("", &mut all);
        }
        all
    }

    /// What is written at a path as data: texts, numbers, yes or no, lists and tables of these.
    pub fn value(&self, path: &str) -> Option<Json> {
        self.node(path).as_ref().map(node_value)
    }

    /// The keys of a list of tables, in their order.
    pub fn ids(&self, list: &str) -> Vec<String> {
        let ids = (0..).map_while(|at| self.node(&format!("{list}[{at}]")));
        ids.map(|one| {
            one.inner(&PathStep::Key("id".to_owned())).and_then(DocumentNode::written).unwrap_or_default()
        })
        .collect()
    }

    fn node(&self, path: &str) -> Option<DocumentNode<'_>> {
        look(self.0.as_ref()?, path)
    }
}

/// What stands at a path, as data; nothing where nothing does.
pub(super) fn value_at(document: &DocumentMut, path: &str) -> Json {
    look(document, path).as_ref().map(node_value).unwrap_or_default()
}

fn node_value(node: &DocumentNode<'_>) -> Json {
    match node {
        DocumentNode::Table(table) => table_value(table),
        DocumentNode::Tables(tables) => tables.iter().map(table_value).collect(),
        DocumentNode::Value(value) => value_of(value),
    }
}

/// A table as data.
pub(super) fn table_value(table: &Table) -> Json {
    fields(table.iter().map(|(key, item)| (key, item_value(item))))
}

/// What is written, as data.
pub(super) fn item_value(item: &Item) -> Json {
    match item {
        Item::Table(table) => table_value(table),
        Item::ArrayOfTables(tables) => tables.iter().map(table_value).collect(),
        Item::Value(value) => value_of(value),
        Item::None => Json::Null,
    }
}

pub(super) fn value_of(value: &Value) -> Json {
    match value {
        Value::String(text) => text.value().as_str().into(),
        Value::Integer(whole) => (*whole.value()).into(),
        Value::Float(number) => (*number.value()).into(),
        Value::Boolean(flag) => (*flag.value()).into(),
        Value::Datetime(time) => time.value().to_string().into(),
        Value::Array(array) => array.iter().map(value_of).collect(),
        Value::InlineTable(table) => fields(table.iter().map(|(key, value)| (key, value_of(value)))),
    }
}

/// Whether two values say the same: a number is the same whether it is written with a point or without.
pub(super) fn same(a: &Json, b: &Json) -> bool {
    match (a, b) {
        (Json::Number(a), Json::Number(b)) => a.as_f64() == b.as_f64(),
        (Json::Array(a), Json::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same(a, b)),
        (Json::Object(a), Json::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(key, a)| b.get(key).is_some_and(|b| same(a, b)))
        }
        _ => a == b,
    }
}

fn fields<'a>(all: impl Iterator<Item = (&'a str, Json)>) -> Json {
    Json::Object(all.map(|(key, value)| (key.to_owned(), value)).collect::<Map<_, _>>())
}
