//! Reading TOML with its lines kept, so that every fault can be shown where it stands.

use crate::quantity::{self, Dimension};
use serde::Serialize;
use std::cell::RefCell;
use std::fmt;
use std::rc::Rc;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// How bad a fault is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// The plan is refused.
    Error,
    /// The plan is taken, and this is shown.
    Warning,
}

/// Something wrong with a plan, and where.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fault {
    /// How bad it is.
    pub severity: Severity,
    /// The file it is in.
    pub file: String,
    /// The line it stands on, from 1.
    pub line: usize,
    /// The field, such as `joint[0].stage[2].torque`.
    pub path: String,
    /// What is wrong and what is allowed.
    pub message: String,
}

impl fmt::Display for Fault {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let word = match self.severity {
            Severity::Error => "error",
            Severity::Warning => "warning",
        };
        write!(f, "{}:{}: {word}: {}: {}", self.file, self.line, self.path, self.message)
    }
}

/// Where faults gather while a document is read.
pub(super) struct Sheet<'a> {
    file: &'a str,
    source: &'a str,
    faults: RefCell<Vec<Fault>>,
}

impl<'a> Sheet<'a> {
    pub(super) fn new(file: &'a str, source: &'a str) -> Rc<Self> {
        Rc::new(Self { file, source, faults: RefCell::default() })
    }

    pub(super) fn fault(&self, severity: Severity, offset: usize, path: &str, message: impl Into<String>) {
        let upto = self.source.get(..offset).unwrap_or(self.source);
        let line = 1 + upto.matches('\n').count();
        let (file, path, message) = (self.file.to_owned(), path.to_owned(), message.into());
        self.faults.borrow_mut().push(Fault { severity, file, line, path, message });
    }

    /// Every fault, by line.
    pub(super) fn take(&self) -> Vec<Fault> {
        let mut faults = self.faults.take();
        faults.sort_by_key(|fault| fault.line);
        faults
    }
}

/// A table of the document being read. Fields are taken by name; what was not taken when
/// [`Table::finish`] is called is an unknown field.
///
/// A missing or wrong field leaves a fault behind and yields a stand-in value, so that reading
/// goes on and finds the rest: a document with an error never becomes a plan.
pub(super) struct Table<'a> {
    sheet: Rc<Sheet<'a>>,
    pub(super) path: String,
    offset: usize,
    map: &'a DeTable<'a>,
    taken: RefCell<Vec<&'static str>>,
}

impl<'a> Table<'a> {
    pub(super) fn new(sheet: &Rc<Sheet<'a>>, path: String, offset: usize, map: &'a DeTable<'a>) -> Self {
        Self { sheet: Rc::clone(sheet), path, offset, map, taken: RefCell::default() }
    }

    fn join(&self, key: &str) -> String {
        if self.path.is_empty() { key.to_owned() } else { format!("{}.{key}", self.path) }
    }

    fn get(&self, key: &'static str) -> Option<&'a Spanned<DeValue<'a>>> {
        self.taken.borrow_mut().push(key);
        self.map.get(key)
    }

    /// Whether the field is there.
    pub(super) fn has(&self, key: &str) -> bool {
        self.map.contains_key(key)
    }

    /// Records an error about a field, at its line.
    pub(super) fn error(&self, key: &str, message: impl Into<String>) {
        self.report(Severity::Error, key, message);
    }

    /// Records a warning about a field, at its line.
    pub(super) fn warn(&self, key: &str, message: impl Into<String>) {
        self.report(Severity::Warning, key, message);
    }

    fn report(&self, severity: Severity, key: &str, message: impl Into<String>) {
        let offset = self.map.get(key).map_or(self.offset, |value| value.span().start);
        self.sheet.fault(severity, offset, &self.join(key), message);
    }

    /// Records an error about the table itself.
    pub(super) fn error_here(&self, message: impl Into<String>) {
        self.sheet.fault(Severity::Error, self.offset, &self.path, message);
    }

    fn missing(&self, key: &'static str, kind: &str) {
        self.error(key, format!("missing: {kind} is needed"));
    }

    /// A required text; empty after a fault.
    pub(super) fn text(&self, key: &'static str) -> String {
        let text = self.text_or(key, "");
        if text.is_empty() && !self.has(key) {
            self.missing(key, "a text");
        } else if text.trim().is_empty() && self.map.get(key).is_some_and(|v| v.get_ref().is_str()) {
            self.error(key, "empty: a text is needed");
        }
        text
    }

    /// An optional text.
    pub(super) fn text_or(&self, key: &'static str, default: &str) -> String {
        let Some(value) = self.get(key) else { return default.to_owned() };
        if let Some(text) = value.get_ref().as_str() {
            text.to_owned()
        } else {
            self.error(key, format!("a text is needed, not {}", value.get_ref().type_str()));
            default.to_owned()
        }
    }

    /// An optional yes or no.
    pub(super) fn flag(&self, key: &'static str) -> bool {
        let Some(value) = self.get(key) else { return false };
        value.get_ref().as_bool().unwrap_or_else(|| {
            self.error(key, "true or false is needed");
            false
        })
    }

    /// A required quantity in its base unit: text with a unit, or a bare number in the base unit.
    pub(super) fn quantity(&self, key: &'static str, dimension: Dimension) -> Option<f64> {
        let value = self.quantity_if(key, dimension);
        if value.is_none() && !self.has(key) {
            self.missing(key, &format!("a {} such as \"1 {}\"", dimension.word(), dimension.base().symbol));
        }
        value
    }

    /// An optional quantity in its base unit.
    pub(super) fn quantity_if(&self, key: &'static str, dimension: Dimension) -> Option<f64> {
        let value = self.get(key)?.get_ref();
        let read = match value.as_str() {
            Some(text) => quantity::read(text, dimension, dimension.base()).map_err(|e| e.to_string()),
            None => number(value).ok_or_else(|| format!("a {} is needed", dimension.word())),
        };
        read.map_err(|message| self.error(key, message)).ok()
    }

    /// A required quantity above zero.
    pub(super) fn positive(&self, key: &'static str, dimension: Dimension) -> Option<f64> {
        let value = self.quantity(key, dimension)?;
        if value > 0.0 {
            return Some(value);
        }
        self.error(key, format!("must be above zero, not {value}"));
        None
    }

    /// An optional plain number.
    pub(super) fn number_if(&self, key: &'static str) -> Option<f64> {
        let value = self.get(key)?.get_ref();
        let read = number(value);
        if read.is_none() {
            self.error(key, "a number is needed");
        }
        read
    }

    /// An optional list of texts.
    pub(super) fn texts(&self, key: &'static str) -> Vec<String> {
        self.items(key)
            .filter_map(|item| {
                let text = item.get_ref().as_str().map(str::to_owned);
                if text.is_none() {
                    self.error(key, "a list of texts is needed");
                }
                text
            })
            .collect()
    }

    /// An optional list of plain numbers.
    pub(super) fn numbers(&self, key: &'static str) -> Vec<f64> {
        self.items(key)
            .filter_map(|item| {
                let value = number(item.get_ref());
                if value.is_none() {
                    self.error(key, "a list of numbers is needed");
                }
                value
            })
            .collect()
    }

    /// A required place `[x, y]` in mm.
    pub(super) fn place(&self, key: &'static str) -> [f64; 2] {
        if let [x, y] = self.numbers(key)[..] {
            return [x, y];
        }
        self.error(key, "a place [x, y] in mm is needed");
        [0.0, 0.0]
    }

    /// An optional list of places `[[x, y], …]` in mm.
    pub(super) fn places(&self, key: &'static str) -> Vec<[f64; 2]> {
        let pair = |item: &DeValue<'_>| match item.as_array().map(|list| list.iter().collect::<Vec<_>>()) {
            Some(list) if list.len() == 2 => Some([number(list[0].get_ref())?, number(list[1].get_ref())?]),
            _ => None,
        };
        self.items(key)
            .filter_map(|item| {
                let place = pair(item.get_ref());
                if place.is_none() {
                    self.error(key, "a list of places [x, y] in mm is needed");
                }
                place
            })
            .collect()
    }

    fn items(&self, key: &'static str) -> impl Iterator<Item = &'a Spanned<DeValue<'a>>> + use<'a> {
        let value = self.get(key);
        let array = value.and_then(|value| value.get_ref().as_array());
        if value.is_some() && array.is_none() {
            self.error(key, "a list is needed");
        }
        array.into_iter().flat_map(|array| array.iter())
    }

    /// An optional list of tables.
    pub(super) fn tables(&self, key: &'static str) -> Vec<Self> {
        self.items(key)
            .enumerate()
            .filter_map(|(index, item)| {
                let path = format!("{}[{index}]", self.join(key));
                let map = item.get_ref().as_table();
                if map.is_none() {
                    self.sheet.fault(Severity::Error, item.span().start, &path, "a table is needed");
                }
                Some(Self::new(&self.sheet, path, item.span().start, map?))
            })
            .collect()
    }

    /// An optional table.
    pub(super) fn table(&self, key: &'static str) -> Option<Self> {
        let value = self.get(key)?;
        let map = value.get_ref().as_table();
        if map.is_none() {
            self.error(key, "a table is needed");
        }
        Some(Self::new(&self.sheet, self.join(key), value.span().start, map?))
    }

    /// A required word out of a list; the first one after a fault.
    pub(super) fn choice<T: Copy>(&self, key: &'static str, choices: &[(&str, T)]) -> Option<T> {
        let word = self.text(key);
        if word.is_empty() {
            return None;
        }
        let found = choices.iter().find(|(name, _)| *name == word).map(|(_, value)| *value);
        if found.is_none() {
            let names: Vec<_> = choices.iter().map(|(name, _)| *name).collect();
            self.error(key, format!("`{word}` is not one of {}", names.join(", ")));
        }
        found
    }

    /// A required reference to something of the plan; says what there is when it is not there.
    pub(super) fn reference(&self, key: &'static str, what: &str, ids: &[&str]) -> String {
        let id = self.text(key);
        self.check_reference(key, what, &id, ids);
        id
    }

    /// Records an error when an id is not among those there are.
    pub(super) fn check_reference(&self, key: &str, what: &str, id: &str, ids: &[&str]) {
        if !id.is_empty() && !ids.contains(&id) {
            let there = if ids.is_empty() {
                "there is none".to_owned()
            } else {
                format!("there is {}", ids.join(", "))
            };
            self.error(key, format!("no {what} is called `{id}`; {there}"));
        }
    }

    /// Records every field that was not taken as unknown.
    pub(super) fn finish(self) {
        let taken = self.taken.borrow();
        for (key, _) in self.map {
            let name = key.get_ref().as_ref();
            if !taken.contains(&name) {
                let known = taken.join(", ");
                let message = format!("unknown field; known here are {known}");
                self.sheet.fault(Severity::Error, key.span().start, &self.join(name), message);
            }
        }
    }
}

fn number(value: &DeValue<'_>) -> Option<f64> {
    let text = match value {
        DeValue::Integer(integer) if integer.radix() == 10 => integer.as_str(),
        DeValue::Float(float) => float.as_str(),
        _ => return None,
    };
    text.replace('_', "").parse().ok().filter(|number: &f64| number.is_finite())
}
