//! A procedure that is said in one line.

use super::fields::{CalcError, Field, Input, Kind};
use super::{Calculation, output};
use crate::plan::shorthand::{Asked, Figure, Said, Spread, read};
use serde_json::{Map, Value, json};

pub(super) const CALCULATIONS: &[Calculation] = &[Calculation {
    name: "procedure",
    about: "The stages of a tightening procedure that is said in one line, as manuals do",
    input: &[Field::needed("text", Kind::Text)],
    output: &["stages", "canonical", "order", "lubricant"],
    run: procedure,
}];

fn procedure(input: &Input<'_>) -> Result<Value, CalcError> {
    let read = read(input.text("text"));
    if let Some(fault) = read.faults.first() {
        return Err(CalcError::new("text", fault.message.clone()));
    }
    let stages: Vec<Value> = read.stages.iter().map(stage).collect();
    let mut fields = vec![("stages", json!(stages)), ("canonical", json!(read.line()))];
    fields.extend(read.order.map(|order| ("order", json!(order))));
    fields.extend(read.lubricant.map(|key| ("lubricant", json!(key))));
    Ok(output(&fields))
}

fn stage(said: &Said) -> Value {
    let mut of = Map::new();
    let mut put = |key: &str, value: Value| {
        of.insert(key.to_owned(), value);
    };
    let band = |of: &mut dyn FnMut(&str, Value), low: f64, high: f64| {
        of("low_nm", json!(low));
        of("high_nm", json!(high));
    };
    let torque = |of: &mut dyn FnMut(&str, Value), nm: Figure| {
        of("torque_nm", json!(nm.target));
        match nm.spread {
            Spread::Unsaid => {}
            Spread::Within(so) => of("tolerance_nm", json!(so)),
            Spread::Range(low, high) => {
                of("low_nm", json!(low));
                of("high_nm", json!(high));
            }
        }
    };
    let angle = |of: &mut dyn FnMut(&str, Value), deg: Figure| {
        of("angle_deg", json!(deg.target));
        match deg.spread {
            Spread::Unsaid => {}
            Spread::Within(so) => of("tolerance_deg", json!(so)),
            Spread::Range(low, high) => of("tolerance_deg", json!((high - low) / 2.0)),
        }
    };
    let way = match said.asked {
        Asked::RunDown => "run-down",
        Asked::Torque { nm, snug } => {
            torque(&mut put, nm);
            if snug {
                put("snug", json!(true));
            }
            "torque"
        }
        Asked::Angle(deg) => {
            angle(&mut put, deg);
            "angle"
        }
        Asked::TorqueAngle { nm, deg } => {
            torque(&mut put, nm);
            angle(&mut put, deg);
            "torque-angle"
        }
        Asked::Stretch { mm, limit_nm } => {
            put("stretch_mm", json!(mm.target));
            if let Some(nm) = limit_nm {
                put("limit_nm", json!(nm));
            }
            "stretch"
        }
        Asked::Yield { low_nm, high_nm } => {
            band(&mut put, low_nm, high_nm);
            "yield"
        }
        Asked::Castellated { low_nm, high_nm } => {
            band(&mut put, low_nm, high_nm);
            "castellated"
        }
        Asked::Recheck { nm } => {
            put("torque_nm", json!(nm));
            "recheck"
        }
        Asked::Loosen => "loosen",
    };
    let group = said.group.iter().map(|group| ("group".to_owned(), json!(group)));
    Value::Object(group.chain([("way".to_owned(), json!(way))]).chain(of).collect())
}
