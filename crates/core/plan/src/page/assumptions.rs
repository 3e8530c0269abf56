//! What a template assumed, as it is listed until somebody confirms it.

use super::source::PageSource;
use crate::format::{self, FormatField, FormatFieldKind, FormatTable};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::Serialize;
use serde_json::Value as Json;

/// A field that says what is usual, and that nobody has confirmed for this engine.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Assumption {
    /// The table that it is of, such as `fastener[2]`.
    pub path: String,
    /// Its key.
    pub key: String,
    /// What the table is called: `Head bolt`, `Pan, bolt`.
    pub of: Message,
    /// What the field is called.
    pub what: Message,
    /// What it says.
    pub written: Message,
}

impl PageSource<'_> {
    pub(super) fn assumptions(&self) -> Vec<Assumption> {
        let mut all = Vec::new();
        if let Some(plan) = self.written.value("") {
            self.gather(format::top(), &plan, "", &mut all);
        }
        all
    }

    fn gather(&self, format: &FormatTable, table: &Json, path: &str, all: &mut Vec<Assumption>) {
        let keys = table["assumed"].as_array().into_iter().flatten().filter_map(Json::as_str);
        let known = keys.filter_map(|key| Some((format.field(key)?, table.get(key)?)));
        all.extend(known.map(|(field, value)| Assumption {
            path: path.to_owned(),
            key: field.key.to_owned(),
            of: format::words_at(path, |inner| self.written.at(&format!("{inner}.name"))),
            what: field.label.into(),
            written: self.words(field, value),
        }));
        for field in format.fields {
            let Some(inner) = format.inner(field.key) else { continue };
            let join = if path.is_empty() { field.key.to_owned() } else { format!("{path}.{}", field.key) };
            match table.get(field.key) {
                Some(Json::Array(tables)) => {
                    for (at, table) in tables.iter().enumerate() {
                        self.gather(inner, table, &format!("{join}[{at}]"), all);
                    }
                }
                Some(table @ Json::Object(_)) => self.gather(inner, table, &join, all),
                _ => {}
            }
        }
    }

    /// What a field says, in the words of the forms.
    fn words(&self, field: &FormatField, value: &Json) -> Message {
        let text = || value.as_str().map_or_else(|| value.to_string(), str::to_owned);
        match (&field.kind, value) {
            (FormatFieldKind::Choice { choices }, Json::String(word)) => {
                let choice = choices.iter().find(|choice| choice.value == word);
                choice.map_or_else(|| text().into(), |choice| choice.label.into())
            }
            (FormatFieldKind::Reference { list: "lubricant" }, Json::String(id)) => {
                let known = self.plan.lubricants.iter().find(|lubricant| lubricant.id == *id);
                known.map_or_else(text, |lubricant| lubricant.name.clone()).into()
            }
            (FormatFieldKind::Tables { .. }, Json::Array(tables)) => {
                message!("plan-assumed-places", count = tables.len())
            }
            (_, Json::Array(items)) => {
                let items: Vec<&str> = items.iter().filter_map(Json::as_str).collect();
                items.join(", ").into()
            }
            _ => text().into(),
        }
    }
}
