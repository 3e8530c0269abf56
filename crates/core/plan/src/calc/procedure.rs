//! A procedure that is said in one line.

use super::calculation::{Calculation, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use crate::procedure::{LineFigure, LineOrder, LineStage, LineTolerance, StageKind, read};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;
use rigore_mechanics::tightening::SequencePattern;
use serde_json::{Map, Value, json};

pub(super) const CALCULATIONS: &[Calculation] = &[Calculation {
    name: "procedure",
    about: text_id!("calc-stages-tightening-procedure-said-one-line"),
    formula: "clauses parted by commas, \"then\", steps or lines",
    example: r#"{"text": "in 3 equal steps to 90 N·m, then 60°, centre out"}"#,
    input: &[InputField::needed("text", FieldKind::Text)],
    output: &["stages", "canonical", "order", "fasteners", "lubricant"],
    run: procedure,
}];

fn procedure(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let read = read(input.text("text"));
    if let Some(question) = read.questions.first() {
        return Err(CalcError::new("text", question.message.clone()));
    }
    let stages: Vec<Value> = read.stages.iter().map(stage).collect();
    let mut fields = vec![("stages", json!(stages)), ("canonical", json!(read.line()))];
    match &read.order {
        Some(LineOrder::Pattern(pattern)) => fields.push(("order", json!(pattern))),
        Some(LineOrder::Listed(names)) => {
            fields.push(("order", json!(SequencePattern::Listed)));
            fields.push(("fasteners", json!(names)));
        }
        None => {}
    }
    fields.extend(read.lubricant.map(|key| ("lubricant", json!(key))));
    Ok(output(&fields))
}

fn stage(stage: &LineStage) -> Value {
    let mut fields = Map::new();
    fields.extend(stage.group.iter().map(|group| ("group".to_owned(), json!(group))));
    fields.insert("way".to_owned(), json!(way(&stage.kind)));
    for figure in stage.kind.figures() {
        put(&mut fields, &stage.kind, figure);
    }
    match &stage.kind {
        StageKind::Torque { snug: true, .. } => {
            fields.insert("snug".to_owned(), json!(true));
        }
        StageKind::Action(text) => {
            fields.insert("text".to_owned(), json!(text));
        }
        StageKind::Stretch { limit: Some(limit), .. } => {
            fields.remove("torque_nm");
            fields.insert("limit_nm".to_owned(), json!(limit.base()));
        }
        StageKind::Seal { within, cure } => {
            fields.remove("time_min");
            fields.insert("within_min".to_owned(), json!(within.base()));
            fields.extend(cure.map(|cure| ("cure_min".to_owned(), json!(cure.base()))));
        }
        _ => {}
    }
    Value::Object(fields)
}

const fn way(kind: &StageKind) -> &'static str {
    match kind {
        StageKind::RunDown => "run-down",
        StageKind::Torque { .. } => "torque",
        StageKind::Angle(_) => "angle",
        StageKind::TorqueAngle { .. } => "torque-angle",
        StageKind::Stretch { .. } => "stretch",
        StageKind::Yield(_) => "yield",
        StageKind::Castellated(_) => "castellated",
        StageKind::Recheck(_) => "recheck",
        StageKind::Loosen => "loosen",
        StageKind::Action(_) => "action",
        StageKind::Wait(_) => "wait",
        StageKind::Seal { .. } => "seal",
    }
}

/// A figure in the base unit that the field's name ends in. Ways that are asked for by a band have only that.
fn put(fields: &mut Map<String, Value>, kind: &StageKind, figure: LineFigure) {
    let (name, tolerance) = match figure.unit.dimension {
        Dimension::Torque => ("torque_nm", "tolerance_nm"),
        Dimension::Angle => ("angle_deg", "tolerance_deg"),
        Dimension::Time => ("time_min", "tolerance_min"),
        _ => ("stretch_mm", "tolerance_mm"),
    };
    let banded = matches!(kind, StageKind::Yield(_) | StageKind::Castellated(_));
    if !banded {
        fields.insert(name.to_owned(), json!(figure.base()));
    }
    match (figure.spread, figure.range()) {
        (LineTolerance::Unsaid, _) | (_, None) => {}
        (LineTolerance::Range(..), Some((low, high))) if figure.unit.dimension == Dimension::Torque => {
            fields.insert("low_nm".to_owned(), json!(low));
            fields.insert("high_nm".to_owned(), json!(high));
        }
        (_, Some((low, high))) => {
            fields.insert(tolerance.to_owned(), json!((high - low) / 2.0));
        }
    }
}
