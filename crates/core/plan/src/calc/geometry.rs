//! Piston, cam and lash.

use super::calculation::{Calculation, length, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use rigore_mechanics::geometry::{
    CamTiming, ValveEvents, ValveGeometry, lash_shim_mm, nearest_valve_approach, piston_below_top_mm,
};
use rigore_mechanics::{message, text_id};
use serde_json::{Value, json};

const EVENT: FieldKind = FieldKind::Number(-60.0, 140.0);

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "piston-position",
        about: text_id!("calc-how-far-piston-below-top-dead"),
        formula: "x = r (1 − cos φ) + l − √(l² − r² sin² φ)",
        example: r#"{"stroke_mm": 86, "rod_mm": 144, "angle_deg": 77}"#,
        input: &[
            InputField::needed("stroke_mm", FieldKind::Positive),
            InputField::needed("rod_mm", FieldKind::Positive),
            InputField::needed("angle_deg", FieldKind::Number(-360.0, 720.0)),
            InputField::optional("offset_mm", FieldKind::Number(-20.0, 20.0)),
        ],
        output: &["below_top_mm"],
        run: piston_position,
    },
    Calculation {
        name: "cam-timing",
        about: text_id!("calc-durations-lobe-centres-separation-overlap-from"),
        formula: "centre = duration/2 − opening before top; separation = half the sum of both centres",
        example: r#"{"intake_opens_deg": 24, "intake_closes_deg": 64, "exhaust_opens_deg": 66, "exhaust_closes_deg": 22}"#,
        input: &[
            InputField::needed("intake_opens_deg", EVENT),
            InputField::needed("intake_closes_deg", EVENT),
            InputField::needed("exhaust_opens_deg", EVENT),
            InputField::needed("exhaust_closes_deg", EVENT),
        ],
        output: &[
            "intake_duration_deg",
            "intake_centre_deg",
            "exhaust_duration_deg",
            "exhaust_centre_deg",
            "separation_deg",
            "overlap_deg",
            "advance_deg",
        ],
        run: cam_timing,
    },
    Calculation {
        name: "valve-clearance",
        about: text_id!("calc-piston-valve-from-lift-position-piston"),
        formula: "clearance = shut + x cos ψ − lift, x = r (1 − cos φ) + l − √(l² − r² sin² φ)",
        example: r#"{"stroke_mm": 86, "rod_mm": 144, "shut_mm": 4.6, "valve_angle_deg": 12, "points": [{"angle_deg": 0, "lift_mm": 1.9, "measured_mm": 2.75}, {"angle_deg": 5, "lift_mm": 2.4, "measured_mm": 2.45}, {"angle_deg": 10, "lift_mm": 3, "measured_mm": 2.4}, {"angle_deg": 15, "lift_mm": 3.6, "measured_mm": 2.85}]}"#,
        input: &[
            InputField::needed("stroke_mm", FieldKind::Positive),
            InputField::needed("rod_mm", FieldKind::Positive),
            InputField::optional("offset_mm", FieldKind::Number(-20.0, 20.0)),
            InputField::needed("shut_mm", FieldKind::Number(-5.0, 100.0)),
            InputField::optional("valve_angle_deg", FieldKind::Number(0.0, 60.0)),
            InputField::optional("advance_deg", FieldKind::Number(-40.0, 40.0)),
            InputField::needed(
                "points",
                FieldKind::Records(&[
                    InputField::needed("angle_deg", FieldKind::Number(-360.0, 720.0)),
                    InputField::needed("lift_mm", FieldKind::Number(0.0, 40.0)),
                    InputField::optional("measured_mm", FieldKind::Number(-10.0, 100.0)),
                ]),
            ),
        ],
        output: &["least_mm", "least_at_deg", "clearances", "most_off_mm"],
        run: valve_clearance,
    },
    Calculation {
        name: "lash-shim",
        about: text_id!("calc-shim-gives-wanted-lash-from-one"),
        formula: "new shim = old shim + measured lash − wanted lash",
        example: r#"{"shim_mm": 2.6, "measured_mm": 0.31, "wanted_mm": 0.24}"#,
        input: &[
            InputField::needed("shim_mm", FieldKind::Positive),
            InputField::needed("measured_mm", FieldKind::Number(0.0, 5.0)),
            InputField::needed("wanted_mm", FieldKind::Number(0.0, 5.0)),
        ],
        output: &["shim_mm"],
        run: lash_shim,
    },
];

/// That a rod is too short for its crank.
fn short_rod(input: &CalculationInput<'_>) -> CalcError {
    let [rod, stroke] = ["rod_mm", "stroke_mm"].map(|field| length(input.number(field)));
    input.error("rod_mm", message!("calc-rod-does-not-reach-round-stroke", rod, stroke))
}

fn piston_position(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let (stroke, rod) = (input.number("stroke_mm"), input.number("rod_mm"));
    let below = piston_below_top_mm(stroke, rod, input.number("angle_deg"), input.number("offset_mm"));
    Ok(output(&[("below_top_mm", json!(below.ok_or_else(|| short_rod(input))?))]))
}

fn valve_clearance(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let geometry = ValveGeometry {
        stroke_mm: input.number("stroke_mm"),
        rod_mm: input.number("rod_mm"),
        offset_mm: input.number("offset_mm"),
        valve_angle_deg: input.number("valve_angle_deg"),
    };
    let mut clearances: Vec<(f64, f64)> = Vec::new();
    let (mut rows, mut apart) = (Vec::new(), None);
    for point in input.records("points") {
        // A cam that is advanced opens so many degrees of the crank earlier.
        let angle = point.number("angle_deg") - input.number("advance_deg");
        let clearance = geometry.clearance_mm(input.number("shut_mm"), angle, point.number("lift_mm"));
        let clearance = clearance.ok_or_else(|| short_rod(input))?;
        let mut row = vec![("angle_deg", json!(angle)), ("clearance_mm", json!(clearance))];
        if let Some(measured) = point.number_if("measured_mm") {
            let off = measured - clearance;
            row.extend([("measured_mm", json!(measured)), ("off_mm", json!(off))]);
            apart = Some(apart.map_or(off.abs(), |most: f64| most.max(off.abs())));
        }
        rows.push(output(&row));
        clearances.push((angle, clearance));
    }
    let (at, least) = nearest_valve_approach(&clearances).unwrap_or_default();
    let mut fields =
        vec![("least_mm", json!(least)), ("least_at_deg", json!(at)), ("clearances", json!(rows))];
    fields.extend(apart.map(|apart| ("most_off_mm", json!(apart))));
    Ok(output(&fields))
}

fn cam_timing(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let events = |opens: &str, closes: &str| {
        let events = ValveEvents { opens_deg: input.number(opens), closes_deg: input.number(closes) };
        if events.duration_deg() > 0.0 {
            Ok(events)
        } else {
            Err(input.error(closes, message!("calc-closes-before-opens")))
        }
    };
    let timing = CamTiming {
        intake: events("intake_opens_deg", "intake_closes_deg")?,
        exhaust: events("exhaust_opens_deg", "exhaust_closes_deg")?,
    };
    Ok(output(&[
        ("intake_duration_deg", json!(timing.intake.duration_deg())),
        ("intake_centre_deg", json!(timing.intake.intake_centre_deg())),
        ("exhaust_duration_deg", json!(timing.exhaust.duration_deg())),
        ("exhaust_centre_deg", json!(timing.exhaust.exhaust_centre_deg())),
        ("separation_deg", json!(timing.separation_deg())),
        ("overlap_deg", json!(timing.overlap_deg())),
        ("advance_deg", json!(timing.advance_deg())),
    ]))
}

fn lash_shim(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let shim = lash_shim_mm(input.number("shim_mm"), input.number("measured_mm"), input.number("wanted_mm"));
    if shim <= 0.0 {
        return Err(input.error("wanted_mm", message!("calc-no-shim-thin-enough-for")));
    }
    Ok(output(&[("shim_mm", json!(shim))]))
}
