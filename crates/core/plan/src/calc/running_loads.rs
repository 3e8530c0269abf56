//! What happens to a joint after it was tightened: running, warm and cold, settling, pressure under the head.

#![expect(clippy::unnecessary_wraps, reason = "every calculation of the table has one signature")]

use super::calculation::{Calculation, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use super::joints::{THREAD, thread_of};
use rigore_mechanics::joint::{
    RodAssembly, USUAL_LOAD_INTRODUCTION, WarmLayer, WorkingLoad, alternating_limit_mpa, embedding_loss_kn,
    spread_by_washer_mm, surface_pressure_mpa, thermal_change_kn,
};
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::{message, text_id};
use serde_json::{Value, json};

const BOLT: InputField = InputField::needed("bolt_resilience_mm_per_n", FieldKind::Positive);
const PARTS: InputField = InputField::needed("part_resilience_mm_per_n", FieldKind::Positive);
const RISE: FieldKind = FieldKind::Number(-300.0, 1000.0);
const EXPANSION: FieldKind = FieldKind::Number(0.0, 1e-3);

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "working-load",
        about: text_id!("calc-what-load-along-bolt-leaves-clamped"),
        formula: "Φ = n δP/(δS + δP); bolt Φ FA, clamp F − (1 − Φ) FA; alternating Φ FA/(2 As) against 0.85 (150/d + 45)",
        example: r#"{"preload_kn": 46, "axial_kn": 15.3, "bolt_resilience_mm_per_n": 5.061e-6, "part_resilience_mm_per_n": 1.2e-6, "thread": "M9x1.0"}"#,
        input: &[
            InputField::needed("preload_kn", FieldKind::Positive),
            InputField::needed("axial_kn", FieldKind::Positive),
            BOLT,
            PARTS,
            InputField::optional("load_introduction", FieldKind::Number(0.01, 1.0)),
            InputField { optional: true, ..THREAD },
        ],
        output: &[
            "factor",
            "bolt_share_kn",
            "clamp_kn",
            "opens_at_kn",
            "alternating_mpa",
            "alternating_limit_mpa",
        ],
        run: working_load,
    },
    Calculation {
        name: "thermal-load",
        about: text_id!("calc-what-warming-or-cooling-changes-clamp"),
        formula: "ΔF = lK (αP ΔTP − αS ΔTS)/(δS + δP)",
        example: r#"{"clamp_length_mm": 90, "bolt_expansion_per_k": 1.15e-5, "part_expansion_per_k": 2.3e-5, "bolt_rise_k": 80, "part_rise_k": 80, "bolt_resilience_mm_per_n": 6e-6, "part_resilience_mm_per_n": 1.5e-6}"#,
        input: &[
            InputField::needed("clamp_length_mm", FieldKind::Positive),
            InputField::needed("bolt_expansion_per_k", EXPANSION),
            InputField::needed("part_expansion_per_k", EXPANSION),
            InputField::needed("bolt_rise_k", RISE),
            InputField::needed("part_rise_k", RISE),
            BOLT,
            PARTS,
        ],
        output: &["change_kn", "part_growth_mm", "bolt_growth_mm"],
        run: thermal_load,
    },
    Calculation {
        name: "rod-bolt-load",
        about: text_id!("calc-what-pulls-on-rods-bolts-at"),
        formula: "F = r ω² [m_recip (1 + r/l) + m_rot]",
        example: r#"{"reciprocating_kg": 0.55, "rotating_kg": 0.3, "stroke_mm": 86, "rod_mm": 144, "speed_rpm": 8000, "bolts": 2}"#,
        input: &[
            InputField::needed("reciprocating_kg", FieldKind::Positive),
            InputField::needed("rotating_kg", FieldKind::Number(0.0, 100.0)),
            InputField::needed("stroke_mm", FieldKind::Positive),
            InputField::needed("rod_mm", FieldKind::Positive),
            InputField::needed("speed_rpm", FieldKind::Number(1.0, 50_000.0)),
            InputField::needed("bolts", FieldKind::Whole(1, 8)),
        ],
        output: &["inertia_kn", "per_bolt_kn"],
        run: rod_bolt_load,
    },
    Calculation {
        name: "embedding",
        about: text_id!("calc-clamp-load-lost-when-rough-faces"),
        formula: "FZ = Σ fZ/(δS + δP); fZ of thread 3, each head or nut 2.5 to 4, each interface 1.5 to 3 µm by roughness",
        example: r#"{"amounts_um": [3, 2.5, 2.5, 1.5], "bolt_resilience_mm_per_n": 5.061e-6, "part_resilience_mm_per_n": 1.2e-6}"#,
        input: &[InputField::needed("amounts_um", FieldKind::Numbers), BOLT, PARTS],
        output: &["loss_kn"],
        run: embedding,
    },
    Calculation {
        name: "surface-pressure",
        about: text_id!("calc-pressure-under-head-nut-or-washer"),
        formula: "p = F / (π/4 (D² − dh²)); under a washer D + 1.6 h, at most its own diameter",
        example: r#"{"force_kn": 50, "outer_mm": 16, "hole_mm": 11, "washer_mm": 22, "washer_thickness_mm": 2.5, "limit_mpa": 600}"#,
        input: &[
            InputField::needed("force_kn", FieldKind::Positive),
            InputField::needed("outer_mm", FieldKind::Positive),
            InputField::needed("hole_mm", FieldKind::Positive),
            InputField::optional("washer_mm", FieldKind::Positive),
            InputField::optional("washer_thickness_mm", FieldKind::Positive),
            InputField::optional("limit_mpa", FieldKind::Positive),
        ],
        output: &["pressure_mpa", "share", "spread_mm", "under_washer_mpa", "under_washer_share"],
        run: surface_pressure,
    },
];

fn resilience(input: &CalculationInput<'_>) -> (f64, f64) {
    (input.number("bolt_resilience_mm_per_n"), input.number("part_resilience_mm_per_n"))
}

fn working_load(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let introduction = input.number_if("load_introduction").unwrap_or(USUAL_LOAD_INTRODUCTION);
    let load = WorkingLoad::new(
        input.number("preload_kn"),
        input.number("axial_kn"),
        resilience(input),
        introduction,
    );
    let mut fields = vec![
        ("factor", json!(load.factor)),
        ("bolt_share_kn", json!(load.bolt_share_kn())),
        ("clamp_kn", json!(load.clamp_kn())),
        ("opens_at_kn", json!(load.opens_at_kn())),
    ];
    if !input.text("thread").is_empty() {
        let thread = thread_of(input, "thread")?;
        fields.push(("alternating_mpa", json!(load.alternating_mpa(&thread))));
        fields.push(("alternating_limit_mpa", json!(alternating_limit_mpa(&thread))));
    }
    Ok(output(&fields))
}

fn thermal_load(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let layer = WarmLayer {
        thickness_mm: input.number("clamp_length_mm"),
        expansion_per_k: input.number("part_expansion_per_k"),
        rise_k: input.number("part_rise_k"),
    };
    let (expansion, rise) = (input.number("bolt_expansion_per_k"), input.number("bolt_rise_k"));
    Ok(output(&[
        ("change_kn", json!(thermal_change_kn(&[layer], expansion, rise, resilience(input)))),
        ("part_growth_mm", json!(layer.growth_mm())),
        (
            "bolt_growth_mm",
            json!(WarmLayer { expansion_per_k: expansion, rise_k: rise, ..layer }.growth_mm()),
        ),
    ]))
}

fn rod_bolt_load(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let rod = RodAssembly {
        reciprocating_kg: input.number("reciprocating_kg"),
        rotating_kg: input.number("rotating_kg"),
        stroke_mm: input.number("stroke_mm"),
        rod_mm: input.number("rod_mm"),
    };
    if rod.rod_mm <= rod.stroke_mm / 2.0 {
        return Err(input.error("rod_mm", message!("calc-rod-longer-than-half-stroke")));
    }
    let inertia = rod.inertia_kn(input.number("speed_rpm"));
    let bolts = f64::from(input.whole("bolts"));
    Ok(output(&[("inertia_kn", json!(inertia)), ("per_bolt_kn", json!(inertia / bolts))]))
}

fn embedding(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let amount: f64 = input.numbers("amounts_um").iter().sum();
    Ok(output(&[("loss_kn", json!(embedding_loss_kn(amount, resilience(input))))]))
}

fn surface_pressure(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let (outer, hole) = (input.number("outer_mm"), input.number("hole_mm"));
    if hole >= outer {
        let [hole, outer] = [hole, outer].map(|mm| Quantity::fine(mm, Dimension::Length));
        return Err(
            input.error("hole_mm", message!("calc-leaves-nothing-under-face-with-hole-outer", hole, outer))
        );
    }
    let limit = input.number_if("limit_mpa");
    let pressure = surface_pressure_mpa(input.number("force_kn"), outer, hole);
    let mut fields = vec![("pressure_mpa", json!(pressure))];
    fields.extend(limit.map(|limit| ("share", json!(pressure / limit))));
    if let Some(spread) = spread_by_washer(input, outer)? {
        let pressure = surface_pressure_mpa(input.number("force_kn"), spread, hole);
        fields.extend([("spread_mm", json!(spread)), ("under_washer_mpa", json!(pressure))]);
        fields.extend(limit.map(|limit| ("under_washer_share", json!(pressure / limit))));
    }
    Ok(output(&fields))
}

/// What a washer under the head spreads the load to, mm, where one is given.
fn spread_by_washer(input: &CalculationInput<'_>, outer_mm: f64) -> Result<Option<f64>, CalcError> {
    let (washer, thickness) = (input.number_if("washer_mm"), input.number_if("washer_thickness_mm"));
    match (washer, thickness) {
        (None, None) => Ok(None),
        (Some(_), None) => {
            Err(input.error("washer_thickness_mm", message!("calc-washer-has-diameter-thickness")))
        }
        (None, Some(_)) => Err(input.error("washer_mm", message!("calc-washer-has-diameter-thickness"))),
        (Some(washer), Some(_)) if washer < outer_mm => {
            let [washer, outer] = [washer, outer_mm].map(|mm| Quantity::fine(mm, Dimension::Length));
            let message = message!("calc-washer-smaller-than-face-on", washer, outer);
            Err(input.error("washer_mm", message))
        }
        (Some(washer), Some(thickness)) => Ok(Some(spread_by_washer_mm(outer_mm, washer, thickness))),
    }
}
