//! The calculations by name: one JSON object in, one out.
//!
//! `rigore calc NAME` and `POST /api/calc/NAME` are both [`run`]. Every figure is in the unit its
//! field's name ends in. A field that is unknown, missing, not finite or impossible is an error
//! with the field's name.

mod calculation;
mod clearances;
mod fields;
mod geometry;
mod joints;
mod legend;
mod procedure;
mod running_loads;
mod sensitive;
mod stretching;
mod turning;

pub use calculation::Calculation;
pub use fields::{CalcError, CalculationInput, FieldKind, InputField};
pub use legend::FormulaSymbol;
use rigore_mechanics::message;
pub use sensitive::{Sensitivity, sensitivity};

use serde::Serialize;
use serde_json::Value;

/// Every calculation there is.
pub fn calculations() -> impl Iterator<Item = &'static Calculation> {
    [
        joints::CALCULATIONS,
        stretching::CALCULATIONS,
        running_loads::CALCULATIONS,
        turning::CALCULATIONS,
        procedure::CALCULATIONS,
        clearances::CALCULATIONS,
        geometry::CALCULATIONS,
    ]
    .into_iter()
    .flatten()
}

/// A calculation as it is listed: with its formula, and an input that shows what it does.
#[derive(Debug, Clone, Serialize)]
pub struct CalculationListing {
    /// The calculation.
    #[serde(flatten)]
    pub calculation: &'static Calculation,
    /// Its formula, as it is written on paper.
    pub formula: &'static str,
    /// What its symbols stand for.
    pub legend: Vec<FormulaSymbol>,
    /// An input.
    pub example: Value,
}

/// Every calculation as it is listed.
pub fn listings() -> Vec<CalculationListing> {
    let listing = |calculation: &'static Calculation| CalculationListing {
        calculation,
        formula: calculation.formula,
        legend: legend::legend(calculation.formula),
        // A test holds that every example is JSON.
        example: serde_json::from_str(calculation.example).unwrap_or_default(),
    };
    calculations().map(listing).collect()
}

/// Runs a calculation on a JSON text.
///
/// ```
/// use rigore_plan::calc;
///
/// let thread = calc::run("thread", r#"{"designation": "M10x1.25"}"#)?;
/// assert_eq!(thread["pitch_mm"], 1.25);
/// let error = calc::run("thread", r#"{"designation": "M10x"}"#).unwrap_err();
/// assert_eq!(error.field, "designation");
/// # Ok::<(), calc::CalcError>(())
/// ```
///
/// # Errors
/// [`CalcError`] names the field and says what is allowed.
pub fn run(name: &str, text: &str) -> Result<Value, CalcError> {
    let calculation = calculations().find(|calculation| calculation.name == name).ok_or_else(|| {
        let names: Vec<_> = calculations().map(|calculation| calculation.name).collect();
        CalcError::new("name", message!("calc-no-calculation-called-there", name, names = names.join(", ")))
    })?;
    let object = fields::in_own_units(fields::parse(text)?, calculation.input)?;
    let input = CalculationInput::checked(&object, calculation.input)?;
    let result = (calculation.run)(&input)?;
    if is_finite(&result) {
        Ok(result)
    } else {
        Err(input.error("input", message!("calc-gives-no-finite-result-with-these")))
    }
}

/// Whether every figure of a result is one; what is not finite is written as nothing.
fn is_finite(result: &Value) -> bool {
    result.as_object().is_some_and(|fields| fields.values().all(|value| !value.is_null()))
}

#[cfg(test)]
mod tests;
