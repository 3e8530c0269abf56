//! What a calculation takes, and checking an object against it.

use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity;
use serde::Serialize;
use serde_json::{Map, Value};
use thiserror::Error;

/// What is wrong with an input, and in which field.
#[derive(Debug, Clone, PartialEq, Error)]
#[error("{field}: {}", message.in_base_units())]
pub struct CalcError {
    /// The field, such as `pairs[1].torque_nm`.
    pub field: String,
    /// What is wrong and what is allowed.
    pub message: Message,
}

impl CalcError {
    /// An error about a field.
    pub fn new(field: impl Into<String>, message: impl Into<Message>) -> Self {
        Self { field: field.into(), message: message.into() }
    }
}

/// One field of a calculation's input.
#[derive(Debug, Clone, Copy, Serialize)]
pub struct InputField {
    /// Its name; the end of it tells its unit.
    pub name: &'static str,
    /// What it holds.
    pub kind: FieldKind,
    /// Whether it may be left out.
    pub optional: bool,
}

/// What a field holds.
#[derive(Debug, Clone, Copy, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum FieldKind {
    /// A number, from the first to the second, both included.
    Number(f64, f64),
    /// A number above zero.
    Positive,
    /// A whole number, from the first to the second, both included.
    Whole(u32, u32),
    /// A text.
    Text,
    /// Yes or no.
    Flag,
    /// One of these words.
    Choice(&'static [&'static str]),
    /// A number above zero, or this word.
    PositiveOr(&'static str),
    /// At least one number above zero.
    Numbers,
    /// An object.
    Record(&'static [InputField]),
    /// A list of at least one object.
    Records(&'static [InputField]),
}

impl InputField {
    /// A field that has to be there.
    pub const fn needed(name: &'static str, kind: FieldKind) -> Self {
        Self { name, kind, optional: false }
    }

    /// A field that may be left out.
    pub const fn optional(name: &'static str, kind: FieldKind) -> Self {
        Self { name, kind, optional: true }
    }
}

/// An object that was checked against its fields. Reading a field cannot fail any more.
#[derive(Debug, Clone)]
pub struct CalculationInput<'a> {
    path: String,
    object: &'a Map<String, Value>,
}

impl<'a> CalculationInput<'a> {
    /// Checks an object.
    pub(super) fn checked(object: &'a Map<String, Value>, fields: &[InputField]) -> Result<Self, CalcError> {
        check_object(object, fields, "")?;
        Ok(Self { path: String::new(), object })
    }

    fn at(&self, field: &str) -> String {
        format!("{}{field}", self.path)
    }

    /// An error about one of its fields.
    pub fn error(&self, field: &str, message: impl Into<Message>) -> CalcError {
        CalcError::new(self.at(field), message)
    }

    /// A number.
    pub fn number(&self, field: &str) -> f64 {
        self.number_if(field).unwrap_or_default()
    }

    /// A number that may have been left out.
    pub fn number_if(&self, field: &str) -> Option<f64> {
        self.object.get(field).and_then(Value::as_f64)
    }

    /// A whole number; zero when it was left out.
    pub fn whole(&self, field: &str) -> u32 {
        let value = self.number(field);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "`Kind::Whole` holds a u32"
        )]
        let whole = value as u32;
        whole
    }

    /// A text; empty when it was left out.
    pub fn text(&self, field: &str) -> &'a str {
        self.object.get(field).and_then(Value::as_str).unwrap_or_default()
    }

    /// Yes or no.
    pub fn flag(&self, field: &str) -> bool {
        self.object.get(field).and_then(Value::as_bool).unwrap_or_default()
    }

    /// A list of numbers; empty when it was left out.
    pub fn numbers(&self, field: &str) -> Vec<f64> {
        let list = self.object.get(field).and_then(Value::as_array);
        list.into_iter().flatten().filter_map(Value::as_f64).collect()
    }

    /// An object.
    pub fn record(&self, field: &str) -> Option<Self> {
        let object = self.object.get(field)?.as_object()?;
        Some(Self { path: format!("{}.", self.at(field)), object })
    }

    /// A list of objects.
    pub fn records(&self, field: &str) -> Vec<Self> {
        let list = self.object.get(field).and_then(Value::as_array);
        let path = |index| format!("{}[{index}].", self.at(field));
        let objects = list.into_iter().flatten().filter_map(Value::as_object).enumerate();
        objects.map(|(index, object)| Self { path: path(index), object }).collect()
    }
}

/// Reads one JSON object; says near which field it is broken.
pub(super) fn parse(text: &str) -> Result<Map<String, Value>, CalcError> {
    match serde_json::from_str::<Value>(text) {
        Ok(Value::Object(object)) => Ok(object),
        Ok(_) => Err(CalcError::new("input", message!("calc-one-json-object-needed"))),
        Err(error) => {
            let upto: String = text.split_inclusive('\n').take(error.line()).collect();
            let last = upto.split_inclusive('\n').next_back().map_or(0, str::len);
            let end = upto.len() - last + error.column().min(last);
            let before = String::from_utf8_lossy(&upto.as_bytes()[..end]);
            let field = last_key(&before).unwrap_or("input").to_owned();
            Err(CalcError::new(
                field,
                message!("calc-not-json-with-finite-numbers", error = error.to_string()),
            ))
        }
    }
}

/// The unit that the end of a field's name tells.
const UNITS: [(&str, &str); 10] = [
    ("_nm", "N·m"),
    ("_kn", "kN"),
    ("_mm", "mm"),
    ("_um", "µm"),
    ("_deg", "°"),
    ("_mpa", "MPa"),
    ("_gpa", "GPa"),
    ("_cc", "cm³"),
    ("_kg", "kg"),
    ("_c", "°C"),
];

/// The same object with every figure that is written with its unit, such as `"82.4 °F"`, as a number in the unit of
/// its field.
pub(super) fn in_own_units(
    object: Map<String, Value>,
    fields: &[InputField],
) -> Result<Map<String, Value>, CalcError> {
    in_units(object, fields, "")
}

fn in_units(
    object: Map<String, Value>,
    fields: &[InputField],
    path: &str,
) -> Result<Map<String, Value>, CalcError> {
    let converted = object.into_iter().map(|(key, value)| {
        let kind = fields.iter().find(|field| field.name == key).map(|field| field.kind);
        let at = format!("{path}{key}");
        let value = match kind {
            Some(kind) => in_unit(value, kind, &key, &at)?,
            None => value,
        };
        Ok((key, value))
    });
    converted.collect()
}

fn in_unit(value: Value, kind: FieldKind, name: &str, at: &str) -> Result<Value, CalcError> {
    match (value, kind) {
        (Value::Object(object), FieldKind::Record(fields)) => {
            Ok(Value::Object(in_units(object, fields, &format!("{at}."))?))
        }
        (Value::Array(rows), FieldKind::Records(fields)) => {
            let rows = rows.into_iter().enumerate().map(|(index, row)| match row {
                Value::Object(object) => {
                    Ok(Value::Object(in_units(object, fields, &format!("{at}[{index}]."))?))
                }
                other => Ok(other),
            });
            rows.collect::<Result<_, _>>().map(Value::Array)
        }
        (Value::Array(figures), FieldKind::Numbers) => {
            let figures = figures.into_iter().map(|figure| in_unit(figure, FieldKind::Positive, name, at));
            figures.collect::<Result<_, _>>().map(Value::Array)
        }
        (Value::String(text), FieldKind::Number(..) | FieldKind::Positive | FieldKind::PositiveOr(_)) => {
            let own =
                UNITS.iter().find(|(end, _)| name.ends_with(end)).and_then(|(_, unit)| quantity::unit(unit));
            let word = matches!(kind, FieldKind::PositiveOr(word) if word == text);
            let Some(own) = own.filter(|_| !word) else { return Ok(Value::String(text)) };
            let read = quantity::read(&text, own.dimension, own);
            let read = read.map_err(|error| CalcError::new(at, error.to_string()))?;
            Ok(Value::from((read - own.offset) / own.factor))
        }
        (value, _) => Ok(value),
    }
}

/// The last `"key":` in a text.
fn last_key(text: &str) -> Option<&str> {
    let (before, _) = text.rsplit_once(':')?;
    let before = before.trim_end().strip_suffix('"')?;
    before.rsplit_once('"').map(|(_, key)| key)
}

fn check_object(object: &Map<String, Value>, fields: &[InputField], path: &str) -> Result<(), CalcError> {
    for key in object.keys() {
        if !fields.iter().any(|field| field.name == key) {
            let known: Vec<_> = fields.iter().map(|field| field.name).collect();
            return Err(CalcError::new(
                format!("{path}{key}"),
                message!("calc-unknown-field-known", known = known.join(", ")),
            ));
        }
    }
    for field in fields {
        let at = format!("{path}{}", field.name);
        match object.get(field.name) {
            None if field.optional => {}
            None => return Err(CalcError::new(at, message!("calc-missing-needed", kind = what(field.kind)))),
            Some(value) => check(value, field.kind, &at)?,
        }
    }
    Ok(())
}

fn what(kind: FieldKind) -> Message {
    match kind {
        FieldKind::Number(low, high) => {
            message!("calc-number-from", low = low.to_string(), high = high.to_string())
        }
        FieldKind::Positive => message!("calc-number-above-zero"),
        FieldKind::Whole(low, high) => message!("calc-whole-number-from", low, high),
        FieldKind::Text => message!("calc-text"),
        FieldKind::Flag => message!("calc-true-or-false"),
        FieldKind::Choice(words) => message!("calc-one", words = words.join(", ")),
        FieldKind::PositiveOr(word) => message!("calc-number-above-zero-or", word),
        FieldKind::Numbers => message!("calc-list-numbers-above-zero"),
        FieldKind::Record(_) => message!("calc-object"),
        FieldKind::Records(_) => message!("calc-list-at-least-one-object"),
    }
}

fn check(value: &Value, kind: FieldKind, at: &str) -> Result<(), CalcError> {
    let number = value.as_f64();
    let positive = |n: Option<f64>| n.is_some_and(|n| n > 0.0 && n.is_finite());
    let right = match kind {
        FieldKind::Number(low, high) => number.is_some_and(|n| n >= low && n <= high),
        FieldKind::Positive => positive(number),
        FieldKind::Whole(low, high) => {
            number.is_some_and(|n| n.fract() == 0.0 && n >= f64::from(low) && n <= f64::from(high))
        }
        FieldKind::Text => value.is_string(),
        FieldKind::Flag => value.is_boolean(),
        FieldKind::Choice(words) => value.as_str().is_some_and(|word| words.contains(&word)),
        FieldKind::PositiveOr(word) => value.as_str() == Some(word) || positive(number),
        FieldKind::Numbers => {
            value.as_array().is_some_and(|list| !list.is_empty() && list.iter().all(|n| positive(n.as_f64())))
        }
        FieldKind::Record(fields) => {
            if let Some(object) = value.as_object() {
                return check_object(object, fields, &format!("{at}."));
            }
            false
        }
        FieldKind::Records(fields) => {
            if let Some(list) = value.as_array().filter(|list| !list.is_empty()) {
                for (index, item) in list.iter().enumerate() {
                    let at = format!("{at}[{index}]");
                    let object = item
                        .as_object()
                        .ok_or_else(|| CalcError::new(&at, message!("calc-object-needed")))?;
                    check_object(object, fields, &format!("{at}."))?;
                }
                return Ok(());
            }
            false
        }
    };
    if right {
        Ok(())
    } else {
        Err(CalcError::new(at, message!("calc-needed-not", kind = what(kind), value = value.to_string())))
    }
}
