//! Stretch, the friction that it tells of, and what lubricants and scatter do to a torque.

use super::calculation::{Calculation, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use super::joints::{BEARING, MU, SHANK, THREAD, bearing_of, believable, neck_of, thread_of};
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{
    NutFactor, TorqueRelation, TorqueStretchPair, preload_from_stretch, preload_range, utilisation,
};
use rigore_mechanics::quantity::{Dimension, Quantity, in_kn, in_nm, mm, mpa, nm};
use rigore_mechanics::{message, text_id};
use serde_json::{Value, json};
use std::f64::consts::PI;

const RESILIENCE: InputField = InputField::needed("bolt_resilience_mm_per_n", FieldKind::Positive);
const COEFFICIENTS: FieldKind =
    FieldKind::Record(&[InputField::needed("mu_thread", MU), InputField::needed("mu_bearing", MU)]);

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "stretch-preload",
        about: text_id!("calc-clamp-load-stress-utilisation-stretched-bolt"),
        formula: "F = ΔL / δB",
        example: r#"{"thread": "M9x1.0", "stretch_mm": 0.15, "bolt_resilience_mm_per_n": 4.834e-6, "shank_mm": 7.6, "yield_mpa": 1100, "mu_thread": 0.1}"#,
        input: &[
            THREAD,
            InputField::needed("stretch_mm", FieldKind::Positive),
            RESILIENCE,
            SHANK,
            InputField::optional("yield_mpa", FieldKind::Positive),
            InputField::optional("mu_thread", MU),
        ],
        output: &["preload_kn", "stress_mpa", "utilisation"],
        run: stretch_preload,
    },
    Calculation {
        name: "nut-factor",
        about: text_id!("calc-friction-one-bolt-from-torques-stretches"),
        formula: "K = Σ Ti Fi / (d Σ Fi²), T* = K d F*",
        example: r#"{"thread": "M9x1.0", "bolt_resilience_mm_per_n": 4.834e-6, "pairs": [{"torque_nm": 40, "stretch_mm": 0.095}, {"torque_nm": 50, "stretch_mm": 0.121}, {"torque_nm": 55, "stretch_mm": 0.131}], "target_stretch_mm": 0.15}"#,
        input: &[
            THREAD,
            RESILIENCE,
            InputField::needed(
                "pairs",
                FieldKind::Records(&[
                    InputField::needed("torque_nm", FieldKind::Positive),
                    InputField::needed("stretch_mm", FieldKind::Positive),
                ]),
            ),
            InputField::needed("target_stretch_mm", FieldKind::Positive),
        ],
        output: &["nut_factor", "torque_nm"],
        run: nut_factor,
    },
    Calculation {
        name: "lubricant-conversion",
        about: text_id!("calc-torque-for-another-lubricant-at-equal"),
        formula: "T2 = T1 · k(μ2)/k(μ1), k the bracket of the torque formula",
        example: r#"{"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 80, "from": {"mu_thread": 0.14, "mu_bearing": 0.14}, "to": {"mu_thread": 0.08, "mu_bearing": 0.08}}"#,
        input: &[
            THREAD,
            BEARING,
            InputField::needed("torque_nm", FieldKind::Positive),
            InputField::needed("from", COEFFICIENTS),
            InputField::needed("to", COEFFICIENTS),
        ],
        output: &["torque_nm"],
        run: lubricant_conversion,
    },
    Calculation {
        name: "preload-range",
        about: text_id!("calc-least-typical-most-preload-torque-over"),
        formula: "low = T(1 − a)/k(μhigh), high = T(1 + a)/k(μlow), a the accuracy of the wrench",
        example: r#"{"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 65, "mu_low": 0.08, "mu_typical": 0.12, "mu_high": 0.16, "accuracy": 0.04}"#,
        input: &[
            THREAD,
            BEARING,
            InputField::needed("torque_nm", FieldKind::Positive),
            InputField::needed("mu_low", MU),
            InputField::needed("mu_typical", MU),
            InputField::needed("mu_high", MU),
            InputField::needed("accuracy", FieldKind::Number(0.0, 0.99)),
        ],
        output: &["low_kn", "typical_kn", "high_kn"],
        run: range_of_preload,
    },
];

fn stretch_preload(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let preload =
        preload_from_stretch(mm(input.number("stretch_mm")), input.number("bolt_resilience_mm_per_n"));
    let neck = neck_of(input, &thread)?;
    let stress = in_kn(preload) * 1000.0 / neck.area_mm2();
    believable(input, "stretch_mm", preload, neck)?;
    let mut fields = vec![("preload_kn", json!(in_kn(preload))), ("stress_mpa", json!(stress))];
    match (input.number_if("yield_mpa"), input.number_if("mu_thread")) {
        (Some(proof), Some(mu)) => {
            let used = utilisation(&thread, neck, preload, mu, mpa(proof));
            fields.push(("utilisation", json!(used)));
        }
        (Some(_), None) => return Err(input.error("mu_thread", message!("calc-needed-beside-yield-mpa"))),
        (None, Some(_)) => return Err(input.error("yield_mpa", message!("calc-needed-beside-mu-thread"))),
        (None, None) => {}
    }
    Ok(output(&fields))
}

fn nut_factor(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let bolt = input.number("bolt_resilience_mm_per_n");
    let pairs: Vec<TorqueStretchPair> = input
        .records("pairs")
        .iter()
        .map(|pair| TorqueStretchPair {
            torque_nm: pair.number("torque_nm"),
            stretch_mm: pair.number("stretch_mm"),
        })
        .collect();
    let found = NutFactor::of(&thread, bolt, &pairs)
        .ok_or_else(|| input.error("pairs", message!("calc-at-least-one-torque-with-stretch")))?;
    let frictionless = thread.pitch_mm() / (2.0 * PI * thread.nominal_mm());
    if found.k <= frictionless {
        let [k, least] = [found.k, frictionless].map(|k| Quantity::fine(k, Dimension::Ratio));
        let message = message!("calc-gives-k-without-any-friction-stretch", k, least);
        return Err(input.error("pairs", message));
    }
    let wanted = preload_from_stretch(mm(input.number("target_stretch_mm")), bolt);
    Ok(output(&[("nut_factor", json!(found.k)), ("torque_nm", json!(found.torque_nm(&thread, wanted)))]))
}

fn lubricant_conversion(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let bearing = bearing_of(input, &thread)?;
    let with = |lubricant| {
        let mu = |of| input.record(lubricant).map_or(0.0, |record| record.number(of));
        TorqueRelation {
            thread,
            bearing,
            friction: Friction { thread: mu("mu_thread"), bearing: mu("mu_bearing") },
        }
    };
    let preload = with("from").preload(nm(input.number("torque_nm")), nm(0.0));
    Ok(output(&[("torque_nm", json!(in_nm(with("to").torque(preload, nm(0.0)))))]))
}

fn range_of_preload(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let bearing = bearing_of(input, &thread)?;
    let mu = ["mu_low", "mu_typical", "mu_high"].map(|field| input.number(field));
    if mu[0] > mu[1] || mu[1] > mu[2] {
        return Err(input.error("mu_typical", message!("calc-mu-low-mu-typical-mu-high")));
    }
    let torque = nm(input.number("torque_nm"));
    let [low, typical, high] =
        preload_range(&thread, bearing, torque, mu.map(Friction::both), input.number("accuracy")).map(in_kn);
    Ok(output(&[("low_kn", json!(low)), ("typical_kn", json!(typical)), ("high_kn", json!(high))]))
}
