//! What a calculation by name is.

use super::fields::{CalcError, CalculationInput, InputField};
use rigore_mechanics::message::TextId;
use rigore_mechanics::quantity::{Dimension, Quantity};
use serde::Serialize;
use serde_json::{Map, Value};

/// A calculation that can be asked for by name.
#[derive(Debug, Clone, Copy, Serialize)]
pub struct Calculation {
    /// Its name.
    pub name: &'static str,
    /// What it computes.
    pub about: TextId,
    /// Its formula, as it is written on paper.
    #[serde(skip)]
    pub formula: &'static str,
    /// An input that shows what it does, as JSON.
    #[serde(skip)]
    pub example: &'static str,
    /// What it takes.
    pub input: &'static [InputField],
    /// The fields it gives.
    pub output: &'static [&'static str],
    #[serde(skip)]
    pub(super) run: fn(&CalculationInput<'_>) -> Result<Value, CalcError>,
}

/// A length as an error says it.
pub(super) fn length(mm: f64) -> Quantity {
    Quantity::fine(mm, Dimension::Length)
}

/// An output object; a figure that is not finite means the input was impossible.
pub(super) fn output(fields: &[(&str, Value)]) -> Value {
    Value::Object(
        fields.iter().map(|(name, value)| ((*name).to_owned(), value.clone())).collect::<Map<_, _>>(),
    )
}
