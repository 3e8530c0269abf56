//! Angles, sequences, settings of the wrench.

#![expect(clippy::unnecessary_wraps, reason = "every calculation of the table has one signature")]

use super::calculation::{Calculation, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::{
    AngleReading, CountDirection, FastenerPosition, SequencePattern, castellated_advance, clock_position,
    order,
};
use rigore_mechanics::tightening::{adapter, steps};
use rigore_mechanics::{message, text_id};
use serde_json::{Value, json};

const ANY: FieldKind = FieldKind::Number(-1e6, 1e6);

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "angle-reading",
        about: text_id!("calc-where-angle-turn-ends-on-gauge"),
        formula: "stop = start + θ, past a full turn where the gauge wraps",
        example: r#"{"start_deg": 310, "angle_deg": 80, "wrap": true, "direction": "up"}"#,
        input: &[
            InputField::needed("start_deg", ANY),
            InputField::needed("angle_deg", FieldKind::Number(0.0, 1e6)),
            InputField::needed("wrap", FieldKind::Flag),
            InputField::needed("direction", FieldKind::Choice(&["up", "down"])),
            InputField::optional("mark_deg", ANY),
        ],
        output: &["stop_deg", "clock", "flats", "points"],
        run: angle_reading,
    },
    Calculation {
        name: "castellated",
        about: text_id!("calc-how-far-castellated-nut-goes-forward"),
        formula: "advance = 360°/slots − position past the last slot",
        example: r#"{"slots": 6, "past_slot_deg": 42}"#,
        input: &[
            InputField::needed("slots", FieldKind::Whole(3, 24)),
            InputField::needed("past_slot_deg", FieldKind::Number(0.0, 360.0)),
        ],
        output: &["advance_deg"],
        run: castellated,
    },
    Calculation {
        name: "sequence",
        about: text_id!("calc-order-fasteners-from-their-places-loosening"),
        formula: "from the places of the fasteners; loosening is the reverse",
        example: r#"{"pattern": "centre-out", "points": [{"id": "1", "x_mm": 0, "y_mm": 0}, {"id": "2", "x_mm": 90, "y_mm": 0}, {"id": "3", "x_mm": 180, "y_mm": 0}]}"#,
        input: &[
            InputField::needed(
                "pattern",
                FieldKind::Choice(&[
                    "centre-out",
                    "outside-in",
                    "criss-cross",
                    "diagonal",
                    "clockwise",
                    "line",
                    "listed",
                ]),
            ),
            InputField::needed(
                "points",
                FieldKind::Records(&[
                    InputField::needed("id", FieldKind::Text),
                    InputField::needed("x_mm", ANY),
                    InputField::needed("y_mm", ANY),
                ]),
            ),
        ],
        output: &["order"],
        run: sequence,
    },
    Calculation {
        name: "adapter",
        about: text_id!("calc-what-wrench-set-where-crowfoot-stands"),
        formula: "setting = target · L / (L + e · cos φ)",
        example: r#"{"target_nm": 90, "wrench_mm": 400, "adapter_mm": 50, "angle_deg": 45}"#,
        input: &[
            InputField::needed("target_nm", FieldKind::Positive),
            InputField::needed("wrench_mm", FieldKind::Positive),
            InputField::needed("adapter_mm", FieldKind::Number(0.0, 1e4)),
            InputField::needed("angle_deg", FieldKind::Number(0.0, 360.0)),
        ],
        output: &["setting_nm"],
        run: adapter,
    },
    Calculation {
        name: "stages",
        about: text_id!("calc-equal-steps-final-torque-as-wrench"),
        formula: "n equal steps, each as the wrench can be set",
        example: r#"{"final_nm": 88, "steps": 3, "resolution_nm": 1}"#,
        input: &[
            InputField::needed("final_nm", FieldKind::Positive),
            InputField::needed("steps", FieldKind::Whole(1, steps::MOST)),
            InputField::needed("resolution_nm", FieldKind::Positive),
        ],
        output: &["stages_nm"],
        run: stages,
    },
];

fn adapter(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let (target, wrench) = (input.number("target_nm"), input.number("wrench_mm"));
    let set = adapter::setting(target, wrench, input.number("adapter_mm"), input.number("angle_deg"));
    let set = set.map_err(|error| input.error("adapter_mm", error.to_string()))?;
    Ok(output(&[("setting_nm", json!(set))]))
}

fn stages(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let resolution = input.number("resolution_nm");
    let last = input.number("final_nm");
    let settable = (last / resolution).round() * resolution;
    if (settable - last).abs() > 1e-6 * last {
        let [last, step] = [last, resolution].map(|nm| Quantity::fine(nm, Dimension::Torque));
        let message = message!("calc-cannot-set-on-wrench-goes-by", last, step);
        return Err(input.error("final_nm", message));
    }
    let stages = steps::equal(last, input.whole("steps"), resolution);
    let stages =
        stages.map_err(|error| input.error("resolution_nm", error.message(Dimension::Torque.base())))?;
    Ok(output(&[("stages_nm", json!(stages))]))
}

fn angle_reading(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let counting = if input.text("direction") == "up" { CountDirection::Up } else { CountDirection::Down };
    let angle_deg = input.number("angle_deg");
    let reading = AngleReading::of(input.number("start_deg"), angle_deg, input.flag("wrap"), counting);
    // One painted line goes on through all angles of a bolt (C-65).
    let clock = clock_position(input.number_if("mark_deg").unwrap_or_default() + angle_deg);
    Ok(output(&[
        ("stop_deg", json!(reading.stop_deg)),
        ("clock", json!(clock)),
        ("flats", json!(reading.flats)),
        ("points", json!(reading.points)),
    ]))
}

fn castellated(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let advance = castellated_advance(input.whole("slots"), input.number("past_slot_deg"));
    Ok(output(&[("advance_deg", json!(advance.advance_deg))]))
}

fn sequence(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let points: Vec<FastenerPosition> = input
        .records("points")
        .iter()
        .map(|point| FastenerPosition {
            id: point.text("id").to_owned(),
            x_mm: point.number("x_mm"),
            y_mm: point.number("y_mm"),
        })
        .collect();
    let pattern = SequencePattern::named(input.text("pattern"))
        .ok_or_else(|| input.error("pattern", message!("calc-no-such-pattern")))?;
    let order = order(pattern, &points).map_err(|error| input.error("points", error.to_string()))?;
    Ok(output(&[("order", json!(order.into_iter().map(|i| points[i].id.as_str()).collect::<Vec<_>>()))]))
}
