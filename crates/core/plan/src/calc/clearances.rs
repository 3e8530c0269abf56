//! Bearings, rings, chamber, and the verdict on a clearance.

#![expect(clippy::unnecessary_wraps, reason = "every calculation of the table has one signature")]

use super::calculation::{Calculation, length, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use rigore_mechanics::clearance::{
    BoreSize, Clocking, DecisionRule, GaugeAccuracy, ShellGrade, Window, choose_shells, clocking, decide,
    end_float, end_gap, expanded_uncertainty, oil_clearance, repeatability, strip_clearance, to_file,
    to_reference_temperature,
};
use rigore_mechanics::geometry::{Chamber, compression, nearest_valve_approach, quench};
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::{message, text_id};
use serde_json::{Value, json};

const NOT_NEGATIVE: FieldKind = FieldKind::Number(0.0, 1e6);
const ANY: FieldKind = FieldKind::Number(-1e6, 1e6);
const WINDOW: [InputField; 3] = [
    InputField::needed("low_mm", ANY),
    InputField::needed("high_mm", ANY),
    InputField::optional("target_mm", ANY),
];

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "oil-clearance",
        about: text_id!("calc-oil-clearance-from-readings-bore-journal"),
        formula: "clearance = bore − upper shell − lower shell − journal",
        example: r#"{"bore_mm": [58.012, 58.014], "journal_mm": [53.988, 53.986], "upper_shell_mm": 1.99, "lower_shell_mm": 1.99}"#,
        input: &[
            InputField::needed("bore_mm", FieldKind::Numbers),
            InputField::needed("journal_mm", FieldKind::Numbers),
            InputField::optional("upper_shell_mm", FieldKind::Positive),
            InputField::optional("lower_shell_mm", FieldKind::Positive),
        ],
        output: &["min_mm", "mean_mm", "max_mm", "bore_out_of_round_mm", "journal_out_of_round_mm"],
        run: oil,
    },
    Calculation {
        name: "plastic-strip",
        about: text_id!("calc-clearance-from-flattened-width-round-plastic"),
        formula: "clearance = π/4 · strip² / width",
        example: r#"{"strip_mm": 0.15, "width_mm": [0.42, 0.44]}"#,
        input: &[
            InputField::needed("strip_mm", FieldKind::Positive),
            InputField::needed("width_mm", FieldKind::Numbers),
        ],
        output: &["clearance_mm", "taper_mm"],
        run: strip,
    },
    Calculation {
        name: "shell-choice",
        about: text_id!("calc-graded-shells-for-each-bore-nearest"),
        formula: "room − two shells, nearest the target, at most one grade apart",
        example: r#"{"room_mm": [4.03, 4.034], "grades": [{"name": "blue", "thickness_mm": 1.99}, {"name": "plain", "thickness_mm": 1.993}], "low_mm": 0.03, "high_mm": 0.06}"#,
        input: &[
            InputField::needed("room_mm", FieldKind::Numbers),
            InputField::needed(
                "grades",
                FieldKind::Records(&[
                    InputField::needed("name", FieldKind::Text),
                    InputField::needed("thickness_mm", FieldKind::Positive),
                ]),
            ),
            WINDOW[0],
            WINDOW[1],
            WINDOW[2],
        ],
        output: &["choices"],
        run: shells,
    },
    Calculation {
        name: "end-float",
        about: text_id!("calc-thrust-end-play-or-rod-side"),
        formula: "clearance = gap − widths",
        example: r#"{"gap_mm": 27.15, "width_mm": [27]}"#,
        input: &[
            InputField::needed("gap_mm", FieldKind::Positive),
            InputField::needed("width_mm", FieldKind::Numbers),
        ],
        output: &["clearance_mm"],
        run: float,
    },
    Calculation {
        name: "piston-clearance",
        about: text_id!("calc-piston-bore-at-gauge-point-with"),
        formula: "clearance = bore − piston",
        example: r#"{"bore_mm": [86.005, 86.01], "piston_mm": 85.94}"#,
        input: &[
            InputField::needed("bore_mm", FieldKind::Numbers),
            InputField::needed("piston_mm", FieldKind::Positive),
        ],
        output: &["min_mm", "mean_mm", "max_mm", "bore_spread_mm"],
        run: piston,
    },
    Calculation {
        name: "ring-gap",
        about: text_id!("calc-ring-end-gap-wanted-by-factor"),
        formula: "gap = factor · bore",
        example: r#"{"bore_mm": 86, "factor_mm_per_mm": 0.0045}"#,
        input: &[
            InputField::needed("bore_mm", FieldKind::Positive),
            InputField::needed("factor_mm_per_mm", FieldKind::Positive),
        ],
        output: &["gap_mm"],
        run: gap,
    },
    Calculation {
        name: "ring-file",
        about: text_id!("calc-what-still-filed-off-ring"),
        formula: "to file = wanted − measured",
        example: r#"{"wanted_mm": 0.39, "measured_mm": 0.25}"#,
        input: &[
            InputField::needed("wanted_mm", FieldKind::Positive),
            InputField::needed("measured_mm", NOT_NEGATIVE),
        ],
        output: &["file_mm"],
        run: file,
    },
    Calculation {
        name: "ring-side-clearance",
        about: text_id!("calc-ring-side-clearance-groove-less-ring"),
        formula: "clearance = groove − ring",
        example: r#"{"groove_mm": 1.24, "ring_mm": 1.2}"#,
        input: &[
            InputField::needed("groove_mm", FieldKind::Positive),
            InputField::needed("ring_mm", FieldKind::Positive),
        ],
        output: &["clearance_mm"],
        run: ring_side,
    },
    Calculation {
        name: "ring-clocking",
        about: text_id!("calc-where-ring-gaps-go-evenly-spread"),
        formula: "gaps spread evenly, the set turned to be clear of pin and thrust axis by the most",
        example: r#"{"gaps": 3, "first_deg": 30}"#,
        input: &[
            InputField::needed("gaps", FieldKind::Whole(1, 12)),
            InputField::needed("first_deg", FieldKind::Number(0.0, 360.0)),
            InputField::optional("clear_deg", FieldKind::Number(0.0, 90.0)),
        ],
        output: &["angles_deg", "clear_deg"],
        run: ring_clocking,
    },
    Calculation {
        name: "deck-height",
        about: text_id!("calc-piston-below-deck-at-top-dead"),
        formula: "deck = deck face − piston top",
        example: r#"{"deck_mm": 220.4, "piston_top_mm": 220.1}"#,
        input: &[
            InputField::needed("deck_mm", FieldKind::Positive),
            InputField::needed("piston_top_mm", FieldKind::Positive),
        ],
        output: &["deck_mm"],
        run: deck_height,
    },
    Calculation {
        name: "quench",
        about: text_id!("calc-piston-head-at-top-dead-centre"),
        formula: "quench = deck + compressed gasket",
        example: r#"{"deck_mm": 0.3, "gasket_mm": 1}"#,
        input: &[InputField::needed("deck_mm", ANY), InputField::needed("gasket_mm", FieldKind::Positive)],
        output: &["quench_mm"],
        run: quench_height,
    },
    Calculation {
        name: "compression-ratio",
        about: text_id!("calc-compression-ratio-dish-piston-counts-up"),
        formula: "(Vs + Vc)/Vc, Vc of chamber, piston, gasket, deck and crevice",
        example: r#"{"bore_mm": 86, "stroke_mm": 86, "chamber_cc": 48, "piston_cc": 4, "gasket_bore_mm": 87, "gasket_mm": 1, "deck_mm": 0.3}"#,
        input: &[
            InputField::needed("bore_mm", FieldKind::Positive),
            InputField::needed("stroke_mm", FieldKind::Positive),
            InputField::needed("chamber_cc", NOT_NEGATIVE),
            InputField::needed("piston_cc", ANY),
            InputField::needed("gasket_bore_mm", FieldKind::Positive),
            InputField::needed("gasket_mm", NOT_NEGATIVE),
            InputField::needed("deck_mm", ANY),
            InputField::optional("crevice_cc", NOT_NEGATIVE),
        ],
        output: &["ratio", "swept_cc", "clearance_cc"],
        run: ratio,
    },
    Calculation {
        name: "piston-to-valve",
        about: text_id!("calc-where-valve-comes-nearest-piston-from"),
        formula: "the least reading of the series",
        example: r#"{"series": [{"crank_deg": -15, "clearance_mm": 2.6}, {"crank_deg": -10, "clearance_mm": 2.3}, {"crank_deg": -5, "clearance_mm": 2.4}]}"#,
        input: &[InputField::needed(
            "series",
            FieldKind::Records(&[
                InputField::needed("crank_deg", ANY),
                InputField::needed("clearance_mm", ANY),
            ]),
        )],
        output: &["min_mm", "at_deg"],
        run: piston_to_valve,
    },
    Calculation {
        name: "pickup-clearance",
        about: text_id!("calc-oil-pickup-pan-floor-both-measured"),
        formula: "clearance = pan depth + gasket − pickup depth",
        example: r#"{"pan_depth_mm": 152, "pickup_depth_mm": 144, "gasket_mm": 1}"#,
        input: &[
            InputField::needed("pan_depth_mm", FieldKind::Positive),
            InputField::needed("pickup_depth_mm", FieldKind::Positive),
            InputField::optional("gasket_mm", NOT_NEGATIVE),
        ],
        output: &["clearance_mm"],
        run: pickup,
    },
    Calculation {
        name: "pushrod-length",
        about: text_id!("calc-pushrod-length-for-wanted-lash-or"),
        formula: "length = checking length + (measured − wanted lash) / ratio, or + measured / ratio + preload at the plunger",
        example: r#"{"checking_length_mm": 180, "measured_lash_mm": 0.6, "wanted_lash_mm": 0.15, "rocker_ratio": 1.5}"#,
        input: &[
            InputField::needed("checking_length_mm", FieldKind::Positive),
            InputField::needed("measured_lash_mm", ANY),
            InputField::optional("wanted_lash_mm", NOT_NEGATIVE),
            InputField::optional("wanted_preload_mm", NOT_NEGATIVE),
            InputField::optional("rocker_ratio", FieldKind::Positive),
        ],
        output: &["length_mm"],
        run: pushrod,
    },
    Calculation {
        name: "temperature-correction",
        about: text_id!("calc-length-brought-20-c"),
        formula: "L20 = L / (1 + α (t − 20 °C))",
        example: r#"{"length_mm": 86.05, "temperature_c": 28, "expansion_per_k": 2.2e-5}"#,
        input: &[
            InputField::needed("length_mm", FieldKind::Positive),
            InputField::needed("temperature_c", FieldKind::Number(-50.0, 300.0)),
            InputField::needed("expansion_per_k", FieldKind::Number(0.0, 1e-3)),
        ],
        output: &["length_mm", "correction_mm"],
        run: temperature,
    },
    Calculation {
        name: "clearance-verdict",
        about: text_id!("calc-inside-outside-or-too-close-call"),
        formula: "u² = Σ(accuracy²/3 + resolution²/12) + s²: inside where the window holds the value ± 1.65 u (ISO 14253-1:2017) or ± 2 u (2013)",
        example: r#"{"value_mm": 0.045, "low_mm": 0.03, "high_mm": 0.06, "instruments": [{"accuracy_mm": 0.002, "resolution_mm": 0.001}]}"#,
        input: &[
            InputField::needed("value_mm", ANY),
            WINDOW[0],
            WINDOW[1],
            InputField::needed(
                "instruments",
                FieldKind::Records(&[
                    InputField::needed("accuracy_mm", NOT_NEGATIVE),
                    InputField::needed("resolution_mm", NOT_NEGATIVE),
                ]),
            ),
            InputField::optional("repeated_mm", FieldKind::Numbers),
            InputField::optional("edition", FieldKind::Choice(&["2017", "2013"])),
        ],
        output: &["verdict", "uncertainty_mm", "guard_band_mm"],
        run: verdict,
    },
];

fn form(input: &CalculationInput<'_>, field: &str) -> Result<BoreSize, CalcError> {
    BoreSize::of(&input.numbers(field))
        .ok_or_else(|| input.error(field, message!("calc-at-least-one-reading-needed")))
}

fn window(input: &CalculationInput<'_>) -> Result<Window, CalcError> {
    let (low_mm, high_mm) = (input.number("low_mm"), input.number("high_mm"));
    if low_mm > high_mm {
        return Err(input
            .error("high_mm", message!("calc-below-low-mm", high = length(high_mm), low = length(low_mm))));
    }
    let target = input.number_if("target_mm").unwrap_or(f64::midpoint(low_mm, high_mm));
    if !(low_mm..=high_mm).contains(&target) {
        return Err(input.error(
            "target_mm",
            message!("calc-outside", target = length(target), window = length(low_mm).up_to(high_mm)),
        ));
    }
    Ok(Window { low: low_mm, high: high_mm, target })
}

/// A clearance that parts can have: what is too large for its place is impossible geometry.
fn room(input: &CalculationInput<'_>, field: &str, most_mm: f64) -> Result<(), CalcError> {
    if most_mm > 0.0 {
        return Ok(());
    }
    Err(input.error(field, message!("calc-leaves-no-clearance-does-not-go", most = length(most_mm))))
}

/// Shells of one bore are of neighbouring grades, a few µm apart; undersizes are a tenth of a mm and more.
const MOST_APART_MM: f64 = 0.05;

fn oil(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let (bore, journal) = (form(input, "bore_mm")?, form(input, "journal_mm")?);
    let shells = match (input.number_if("upper_shell_mm"), input.number_if("lower_shell_mm")) {
        (Some(upper), Some(lower)) if (upper - lower).abs() > MOST_APART_MM => {
            let apart = length((upper - lower).abs());
            let message = message!("calc-two-shells-apart-they-two-undersizes", apart);
            return Err(input.error("lower_shell_mm", message));
        }
        (Some(upper), Some(lower)) => upper + lower,
        (None, None) => 0.0,
        (Some(_), None) => {
            return Err(input.error("lower_shell_mm", message!("calc-missing-both-shells-or-neither")));
        }
        (None, Some(_)) => {
            return Err(input.error("upper_shell_mm", message!("calc-missing-both-shells-or-neither")));
        }
    };
    let clearance = oil_clearance(&bore, &journal, shells);
    room(input, "journal_mm", clearance.min_mm)?;
    Ok(output(&[
        ("min_mm", json!(clearance.min_mm)),
        ("mean_mm", json!(clearance.mean_mm)),
        ("max_mm", json!(clearance.max_mm)),
        ("bore_out_of_round_mm", json!(bore.spread_mm())),
        ("journal_out_of_round_mm", json!(journal.spread_mm())),
    ]))
}

fn strip(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let diameter = input.number("strip_mm");
    if let Some(width) = input.numbers("width_mm").into_iter().find(|width| *width < diameter) {
        let message =
            message!("calc-less-than-strip-thick-was-not", width = length(width), strip = length(diameter));
        return Err(input.error("width_mm", message));
    }
    let clearances: Vec<f64> =
        input.numbers("width_mm").into_iter().map(|width| strip_clearance(diameter, width)).collect();
    let form = BoreSize::of(&clearances)
        .ok_or_else(|| input.error("width_mm", message!("calc-at-least-one-width-needed")))?;
    Ok(output(&[("clearance_mm", json!(form.mean_mm)), ("taper_mm", json!(form.spread_mm()))]))
}

fn shells(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let mut grades: Vec<ShellGrade> = input
        .records("grades")
        .iter()
        .map(|grade| ShellGrade {
            name: grade.text("name").to_owned(),
            thickness_mm: grade.number("thickness_mm"),
        })
        .collect();
    grades.sort_by(|a, b| a.thickness_mm.total_cmp(&b.thickness_mm));
    let choices = choose_shells(&input.numbers("room_mm"), &grades, &[], &window(input)?);
    let shown: Vec<Value> = choices
        .iter()
        .map(|choice| {
            json!({"upper": grades[choice.upper].name, "lower": grades[choice.lower].name,
                "clearance_mm": choice.clearance_mm, "inside": choice.inside})
        })
        .collect();
    Ok(output(&[("choices", json!(shown))]))
}

fn float(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let clearance = end_float(input.number("gap_mm"), &input.numbers("width_mm"));
    room(input, "width_mm", clearance)?;
    Ok(output(&[("clearance_mm", json!(clearance))]))
}

fn piston(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let (bore, piston) = (form(input, "bore_mm")?, input.number("piston_mm"));
    room(input, "piston_mm", bore.min_mm - piston)?;
    Ok(output(&[
        ("min_mm", json!(bore.min_mm - piston)),
        ("mean_mm", json!(bore.mean_mm - piston)),
        ("max_mm", json!(bore.max_mm - piston)),
        ("bore_spread_mm", json!(bore.spread_mm())),
    ]))
}

fn gap(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    Ok(output(&[("gap_mm", json!(end_gap(input.number("bore_mm"), input.number("factor_mm_per_mm"))))]))
}

fn file(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    Ok(output(&[("file_mm", json!(to_file(input.number("wanted_mm"), input.number("measured_mm"))))]))
}

fn ring_side(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let clearance = input.number("groove_mm") - input.number("ring_mm");
    room(input, "ring_mm", clearance)?;
    Ok(output(&[("clearance_mm", json!(clearance))]))
}

fn ring_clocking(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let Clocking { angles_deg, clear_deg } = clocking(input.whole("gaps"), input.number("first_deg"));
    if let Some(wanted) = input.number_if("clear_deg").filter(|wanted| *wanted > clear_deg + 1e-9) {
        let [wanted, most] = [wanted, clear_deg].map(|deg| Quantity::fine(deg, Dimension::Angle));
        let message = message!("calc-cannot-had-so-many-gaps-clear", wanted, most);
        return Err(input.error("clear_deg", message));
    }
    Ok(output(&[("angles_deg", json!(angles_deg)), ("clear_deg", json!(clear_deg))]))
}

fn deck_height(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    Ok(output(&[("deck_mm", json!(input.number("deck_mm") - input.number("piston_top_mm")))]))
}

fn quench_height(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let height = quench(input.number("deck_mm"), input.number("gasket_mm"));
    if height <= 0.0 {
        return Err(
            input.error("deck_mm", message!("calc-piston-would-strike-head", height = length(height)))
        );
    }
    Ok(output(&[("quench_mm", json!(height))]))
}

fn ratio(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let chamber = Chamber {
        bore_mm: input.number("bore_mm"),
        stroke_mm: input.number("stroke_mm"),
        chamber_cc: input.number("chamber_cc"),
        piston_cc: input.number("piston_cc"),
        gasket_bore_mm: input.number("gasket_bore_mm"),
        gasket_mm: input.number("gasket_mm"),
        deck_mm: input.number("deck_mm"),
        crevice_cc: input.number("crevice_cc"),
    };
    if chamber.gasket_bore_mm < chamber.bore_mm {
        let [gasket, bore] = [chamber.gasket_bore_mm, chamber.bore_mm].map(length);
        let message = message!("calc-smaller-than-bore-gasket-would-burn", gasket, bore);
        return Err(input.error("gasket_bore_mm", message));
    }
    let volumes = compression(&chamber)
        .ok_or_else(|| input.error("piston_cc", message!("calc-nothing-left-at-top-dead-centre")))?;
    Ok(output(&[
        ("ratio", json!(volumes.ratio)),
        ("swept_cc", json!(volumes.swept_cc)),
        ("clearance_cc", json!(volumes.clearance_cc)),
    ]))
}

fn piston_to_valve(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let series: Vec<(f64, f64)> = input
        .records("series")
        .iter()
        .map(|point| (point.number("crank_deg"), point.number("clearance_mm")))
        .collect();
    let (at, least) = nearest_valve_approach(&series)
        .ok_or_else(|| input.error("series", message!("calc-at-least-one-point-needed")))?;
    Ok(output(&[("min_mm", json!(least)), ("at_deg", json!(at))]))
}

fn pickup(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let depth = input.number("pan_depth_mm") + input.number("gasket_mm");
    let clearance = depth - input.number("pickup_depth_mm");
    room(input, "pickup_depth_mm", clearance)?;
    Ok(output(&[("clearance_mm", json!(clearance))]))
}

fn pushrod(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let ratio = input.number_if("rocker_ratio").unwrap_or(1.0);
    let measured = input.number("measured_lash_mm");
    // A lash is measured at the valve, a preload at the plunger of the lifter.
    let longer = match (input.number_if("wanted_lash_mm"), input.number_if("wanted_preload_mm")) {
        (Some(lash), None) => (measured - lash) / ratio,
        (None, Some(preload)) => measured / ratio + preload,
        (Some(_), Some(_)) => {
            return Err(input.error("wanted_preload_mm", message!("calc-lash-or-preload-wanted-not-both")));
        }
        (None, None) => {
            return Err(input.error("wanted_lash_mm", message!("calc-missing-wanted-lash-mm-or-wanted")));
        }
    };
    Ok(output(&[("length_mm", json!(input.number("checking_length_mm") + longer))]))
}

fn temperature(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let length = input.number("length_mm");
    let corrected =
        to_reference_temperature(length, input.number("temperature_c"), input.number("expansion_per_k"));
    Ok(output(&[("length_mm", json!(corrected)), ("correction_mm", json!(corrected - length))]))
}

fn verdict(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let gauges = input.records("instruments");
    let gauges = gauges.iter().map(|gauge| GaugeAccuracy {
        accuracy: gauge.number("accuracy_mm"),
        resolution: gauge.number("resolution_mm"),
    });
    let read = input.numbers("repeated_mm");
    let standard = gauges.map(|gauge| gauge.standard_uncertainty()).chain([repeatability(&read)]);
    let uncertainty = expanded_uncertainty(standard);
    let rule = match input.text("edition") {
        "2013" => DecisionRule::Edition2013,
        _ => DecisionRule::Edition2017,
    };
    let guard_band = rule.guard_band(uncertainty);
    let decision = decide(input.number("value_mm"), guard_band, &window(input)?);
    Ok(output(&[
        ("verdict", json!(decision)),
        ("uncertainty_mm", json!(uncertainty)),
        ("guard_band_mm", json!(guard_band)),
    ]))
}
