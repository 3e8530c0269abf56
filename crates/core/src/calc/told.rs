//! What is told beside each calculation: its formula, and an input that shows what it does.

/// Formula and example of a calculation.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Told {
    /// Its formula, as it is written on paper.
    pub formula: &'static str,
    /// An input as JSON.
    pub example: &'static str,
}

const fn told(formula: &'static str, example: &'static str) -> Told {
    Told { formula, example }
}

/// By the name of the calculation.
const TOLD: &[(&str, Told)] = &[
    (
        "thread",
        told(
            "d2 = d − 0.6495 P, d3 = d − 1.2269 P, As = π/4 · ((d2 + d3)/2)²",
            r#"{"designation": "M10x1.25"}"#,
        ),
    ),
    (
        "preload-from-torque",
        told(
            "T = F · [P/2π + μt · d2/(2 cos 30°) + μb · Db/2] + Tp",
            r#"{"thread": "M10x1.25", "torque_nm": 65, "mu_thread": 0.1, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5, "yield_mpa": 940}"#,
        ),
    ),
    (
        "torque-from-preload",
        told(
            "T = F · [P/2π + μt · d2/(2 cos 30°) + μb · Db/2]",
            r#"{"thread": "M10x1.25", "preload_kn": 42.22, "mu_thread": 0.1, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5}"#,
        ),
    ),
    (
        "assembly-preload",
        told(
            "F = ν · Rp · As / √(1 + 3κ²), κ = 1.5 · (d2/d0) · (P/(π d2) + 1.155 μt)",
            r#"{"thread": "M10x1.25", "yield_mpa": 940, "utilisation": 0.9, "mu_thread": 0.12, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5}"#,
        ),
    ),
    (
        "bolt-resilience",
        told(
            "δS = Σ li/(E Ai) + head + engaged thread + nut or hole",
            r#"{"thread": "M10x1.25", "segments": [{"length_mm": 30, "diameter_mm": 10}, {"length_mm": 22, "diameter_mm": "thread"}], "head": "hex", "end": "tapped"}"#,
        ),
    ),
    (
        "part-resilience",
        told(
            "δP of the cone that opens under the head, and of the sleeve where it meets the outside",
            r#"{"bearing_od_mm": 16, "hole_mm": 11, "clamp_length_mm": 52, "outer_mm": 40, "modulus_gpa": 70, "kind": "tapped"}"#,
        ),
    ),
    (
        "angle-preload",
        told(
            "ΔF = θ/360° · P / (δS + δP)",
            r#"{"thread": "M10x1.25", "angle_deg": 60, "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}"#,
        ),
    ),
    (
        "yield-angle",
        told(
            "θy = (Fy − Fs)(δS + δP) · 360°/P, Fy at a utilisation of 1",
            r#"{"thread": "M10x1.25", "yield_mpa": 940, "mu_thread": 0.12, "snug_kn": 18.23, "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}"#,
        ),
    ),
    (
        "engagement",
        told(
            "Le = Rm,bolt · As / (0.6 · Rm,hole · 0.875 · π · d)",
            r#"{"thread": "M10x1.25", "tensile_mpa": 1040, "hole_tensile_mpa": 240, "engaged_mm": 18}"#,
        ),
    ),
    (
        "stretch-preload",
        told(
            "F = ΔL / δS",
            r#"{"thread": "M9x1.0", "stretch_mm": 0.15, "bolt_resilience_mm_per_n": 5.061e-6, "yield_mpa": 1100, "mu_thread": 0.1}"#,
        ),
    ),
    (
        "nut-factor",
        told(
            "K = Σ Ti Fi / (d Σ Fi²), T* = K d F*",
            r#"{"thread": "M9x1.0", "bolt_resilience_mm_per_n": 5.061e-6, "pairs": [{"torque_nm": 40, "stretch_mm": 0.095}, {"torque_nm": 50, "stretch_mm": 0.121}, {"torque_nm": 55, "stretch_mm": 0.131}], "target_stretch_mm": 0.15}"#,
        ),
    ),
    (
        "lubricant-conversion",
        told(
            "T2 = T1 · k(μ2)/k(μ1), k the bracket of the torque formula",
            r#"{"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 80, "from": {"mu_thread": 0.14, "mu_bearing": 0.14}, "to": {"mu_thread": 0.08, "mu_bearing": 0.08}}"#,
        ),
    ),
    (
        "preload-range",
        told(
            "low = T(1 − a)/k(μhigh), high = T(1 + a)/k(μlow)",
            r#"{"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 65, "mu_low": 0.08, "mu_typical": 0.12, "mu_high": 0.16, "accuracy": 0.04}"#,
        ),
    ),
    (
        "angle-reading",
        told(
            "stop = start + θ, past a full turn where the gauge wraps",
            r#"{"start_deg": 310, "angle_deg": 80, "wrap": true, "direction": "up"}"#,
        ),
    ),
    (
        "castellated",
        told("advance = 360°/slots − position past the last slot", r#"{"slots": 6, "past_slot_deg": 42}"#),
    ),
    (
        "sequence",
        told(
            "from the places of the fasteners; loosening is the reverse",
            r#"{"pattern": "centre-out", "points": [{"id": "1", "x_mm": 0, "y_mm": 0}, {"id": "2", "x_mm": 90, "y_mm": 0}, {"id": "3", "x_mm": 180, "y_mm": 0}]}"#,
        ),
    ),
    (
        "adapter",
        told(
            "setting = target · L / (L + e · cos φ)",
            r#"{"target_nm": 90, "wrench_mm": 400, "adapter_mm": 50, "angle_deg": 45}"#,
        ),
    ),
    (
        "stages",
        told(
            "n equal steps, each as the wrench can be set",
            r#"{"final_nm": 88, "steps": 3, "resolution_nm": 1}"#,
        ),
    ),
    (
        "procedure",
        told(
            "clauses parted by commas, \"then\", steps or lines",
            r#"{"text": "in 3 equal steps to 90 N·m, then 60°, centre out"}"#,
        ),
    ),
    (
        "oil-clearance",
        told(
            "clearance = bore − upper shell − lower shell − journal",
            r#"{"bore_mm": [58.012, 58.014], "journal_mm": [53.988, 53.986], "upper_shell_mm": 1.99, "lower_shell_mm": 1.99}"#,
        ),
    ),
    (
        "plastic-strip",
        told("clearance = π/4 · strip² / width", r#"{"strip_mm": 0.15, "width_mm": [0.42, 0.44]}"#),
    ),
    (
        "shell-choice",
        told(
            "room − two shells, nearest the target, at most one grade apart",
            r#"{"room_mm": [4.03, 4.034], "grades": [{"name": "blue", "thickness_mm": 1.99}, {"name": "plain", "thickness_mm": 1.993}], "low_mm": 0.03, "high_mm": 0.06}"#,
        ),
    ),
    ("end-float", told("clearance = gap − widths", r#"{"gap_mm": 27.15, "width_mm": [27]}"#)),
    (
        "piston-clearance",
        told("clearance = bore − piston", r#"{"bore_mm": [86.005, 86.01], "piston_mm": 85.94}"#),
    ),
    ("ring-gap", told("gap = factor · bore", r#"{"bore_mm": 86, "factor_mm_per_mm": 0.0045}"#)),
    ("ring-file", told("to file = wanted − measured", r#"{"wanted_mm": 0.39, "measured_mm": 0.25}"#)),
    ("ring-side-clearance", told("clearance = groove − ring", r#"{"groove_mm": 1.24, "ring_mm": 1.2}"#)),
    (
        "ring-clocking",
        told("gaps spread evenly, clear of the thrust axis", r#"{"gaps": 3, "first_deg": 30}"#),
    ),
    ("deck-height", told("deck = deck face − piston top", r#"{"deck_mm": 220.4, "piston_top_mm": 220.1}"#)),
    ("quench", told("quench = deck + compressed gasket", r#"{"deck_mm": 0.3, "gasket_mm": 1}"#)),
    (
        "compression-ratio",
        told(
            "(Vs + Vc)/Vc, Vc of chamber, piston, gasket, deck and crevice",
            r#"{"bore_mm": 86, "stroke_mm": 86, "chamber_cc": 48, "piston_cc": 4, "gasket_bore_mm": 87, "gasket_mm": 1, "deck_mm": 0.3}"#,
        ),
    ),
    (
        "piston-to-valve",
        told(
            "the least reading of the series",
            r#"{"series": [{"crank_deg": -15, "clearance_mm": 2.6}, {"crank_deg": -10, "clearance_mm": 2.3}, {"crank_deg": -5, "clearance_mm": 2.4}]}"#,
        ),
    ),
    (
        "pickup-clearance",
        told(
            "clearance = pan depth + gasket − pickup depth",
            r#"{"pan_depth_mm": 152, "pickup_depth_mm": 144, "gasket_mm": 1}"#,
        ),
    ),
    (
        "pushrod-length",
        told(
            "length = checking length + (measured − wanted lash) / ratio",
            r#"{"checking_length_mm": 180, "measured_lash_mm": 0.6, "wanted_lash_mm": 0.15, "rocker_ratio": 1.5}"#,
        ),
    ),
    (
        "temperature-correction",
        told(
            "L20 = L / (1 + α (t − 20 °C))",
            r#"{"length_mm": 86.05, "temperature_c": 28, "expansion_per_k": 2.2e-5}"#,
        ),
    ),
    (
        "clearance-verdict",
        told(
            "U = 2 √Σ(accuracy²/3 + resolution²/12): inside where the window holds the value ± U",
            r#"{"value_mm": 0.045, "low_mm": 0.03, "high_mm": 0.06, "instruments": [{"accuracy_mm": 0.002, "resolution_mm": 0.001}]}"#,
        ),
    ),
];

/// What is told beside a calculation.
pub fn of(name: &str) -> Option<Told> {
    TOLD.iter().find(|(of, _)| *of == name).map(|(_, told)| *told)
}
