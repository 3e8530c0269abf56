//! What is told beside each calculation: its formula, and an input that shows what it does.

use serde::Serialize;

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
            "d2 = d − 0.649519 P, d3 = d − 1.226869 P, As = π/4 · ((d2 + d3)/2)²; unified As = π/4 · (d − 0.9743 P)²",
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
            "δB = Σ li/(E Ai) + 0.5 d/(E AN) for a hexagon, 0.4 for a socket head + 0.5 d/(E Ad3); δS = δB + 0.4 d/(E AN) for a nut, 0.33 d/(EH AN) for a hole",
            r#"{"thread": "M10x1.25", "segments": [{"length_mm": 30, "diameter_mm": 10}, {"length_mm": 22, "diameter_mm": "thread"}], "head": "hex", "end": "tapped"}"#,
        ),
    ),
    (
        "part-resilience",
        told(
            "δP = ∫ dz/(E A(z)), along the cone of tan φ = 0.348 + 0.013 ln(lK/dw) + 0.193 ln(DA/dw) for a hole, 0.362 + 0.032 ln(lK/2dw) + 0.153 ln(DA/dw) from both sides of a through bolt",
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
            "θy = (Fy − Fs)(δS + δP) · 360°/P, Fy at a utilisation of 1; a strong bolt yields a fifth higher",
            r#"{"thread": "M10x1.25", "yield_mpa": 940, "mu_thread": 0.12, "snug_kn": 18.23, "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}"#,
        ),
    ),
    (
        "engagement",
        told(
            "hole: 1.2 Rm,bolt As/(ratio · Rm,hole · 0.875 π d); bolt: As/(ratio · 0.75 π D1), D1 = d − 1.0825 P",
            r#"{"thread": "M10x1.25", "tensile_mpa": 1040, "hole_tensile_mpa": 240, "engaged_mm": 18}"#,
        ),
    ),
    (
        "stretch-preload",
        told(
            "F = ΔL / δB",
            r#"{"thread": "M9x1.0", "stretch_mm": 0.15, "bolt_resilience_mm_per_n": 4.834e-6, "shank_mm": 7.6, "yield_mpa": 1100, "mu_thread": 0.1}"#,
        ),
    ),
    (
        "nut-factor",
        told(
            "K = Σ Ti Fi / (d Σ Fi²), T* = K d F*",
            r#"{"thread": "M9x1.0", "bolt_resilience_mm_per_n": 4.834e-6, "pairs": [{"torque_nm": 40, "stretch_mm": 0.095}, {"torque_nm": 50, "stretch_mm": 0.121}, {"torque_nm": 55, "stretch_mm": 0.131}], "target_stretch_mm": 0.15}"#,
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
            "low = T(1 − a)/k(μhigh), high = T(1 + a)/k(μlow), a the accuracy of the wrench",
            r#"{"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 65, "mu_low": 0.08, "mu_typical": 0.12, "mu_high": 0.16, "accuracy": 0.04}"#,
        ),
    ),
    (
        "working-load",
        told(
            "Φ = n δP/(δS + δP); bolt Φ FA, clamp F − (1 − Φ) FA; alternating Φ FA/(2 As) against 0.85 (150/d + 45)",
            r#"{"preload_kn": 46, "axial_kn": 15.3, "bolt_resilience_mm_per_n": 5.061e-6, "part_resilience_mm_per_n": 1.2e-6, "thread": "M9x1.0"}"#,
        ),
    ),
    (
        "thermal-load",
        told(
            "ΔF = lK (αP ΔTP − αS ΔTS)/(δS + δP)",
            r#"{"clamp_length_mm": 90, "bolt_expansion_per_k": 1.15e-5, "part_expansion_per_k": 2.3e-5, "bolt_rise_k": 80, "part_rise_k": 80, "bolt_resilience_mm_per_n": 6e-6, "part_resilience_mm_per_n": 1.5e-6}"#,
        ),
    ),
    (
        "rod-bolt-load",
        told(
            "F = r ω² [m_recip (1 + r/l) + m_rot]",
            r#"{"reciprocating_kg": 0.55, "rotating_kg": 0.3, "stroke_mm": 86, "rod_mm": 144, "speed_rpm": 8000, "bolts": 2}"#,
        ),
    ),
    (
        "embedding",
        told(
            "FZ = Σ fZ/(δS + δP); fZ of thread 3, each head or nut 2.5 to 4, each interface 1.5 to 3 µm by roughness",
            r#"{"amounts_um": [3, 2.5, 2.5, 1.5], "bolt_resilience_mm_per_n": 5.061e-6, "part_resilience_mm_per_n": 1.2e-6}"#,
        ),
    ),
    (
        "surface-pressure",
        told(
            "p = F / (π/4 (D² − dh²)); under a washer D + 1.6 h, at most its own diameter",
            r#"{"force_kn": 50, "outer_mm": 16, "hole_mm": 11, "washer_mm": 22, "washer_thickness_mm": 2.5, "limit_mpa": 600}"#,
        ),
    ),
    (
        "piston-position",
        told(
            "x = r (1 − cos φ) + l − √(l² − r² sin² φ)",
            r#"{"stroke_mm": 86, "rod_mm": 144, "angle_deg": 77}"#,
        ),
    ),
    (
        "cam-timing",
        told(
            "centre = duration/2 − opening before top; separation = half the sum of both centres",
            r#"{"intake_opens_deg": 24, "intake_closes_deg": 64, "exhaust_opens_deg": 66, "exhaust_closes_deg": 22}"#,
        ),
    ),
    (
        "lash-shim",
        told(
            "new shim = old shim + measured lash − wanted lash",
            r#"{"shim_mm": 2.6, "measured_mm": 0.31, "wanted_mm": 0.24}"#,
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
        told(
            "gaps spread evenly, the set turned to be clear of pin and thrust axis by the most",
            r#"{"gaps": 3, "first_deg": 30}"#,
        ),
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
        "valve-clearance",
        told(
            "clearance = shut + x cos ψ − lift, x = r (1 − cos φ) + l − √(l² − r² sin² φ)",
            r#"{"stroke_mm": 86, "rod_mm": 144, "shut_mm": 4.6, "valve_angle_deg": 12, "points": [{"angle_deg": 0, "lift_mm": 1.9, "measured_mm": 2.75}, {"angle_deg": 5, "lift_mm": 2.4, "measured_mm": 2.45}, {"angle_deg": 10, "lift_mm": 3, "measured_mm": 2.4}, {"angle_deg": 15, "lift_mm": 3.6, "measured_mm": 2.85}]}"#,
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
            "length = checking length + (measured − wanted lash) / ratio, or + measured / ratio + preload at the plunger",
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
            "u² = Σ(accuracy²/3 + resolution²/12) + s²: inside where the window holds the value ± 1.65 u (ISO 14253-1:2017) or ± 2 u (2013)",
            r#"{"value_mm": 0.045, "low_mm": 0.03, "high_mm": 0.06, "instruments": [{"accuracy_mm": 0.002, "resolution_mm": 0.001}]}"#,
        ),
    ),
];

/// A symbol of a formula, and what it stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Symbol {
    /// As it stands in the formula.
    pub symbol: &'static str,
    /// What it is.
    pub means: &'static str,
}

const SYMBOLS: &[(&str, &str)] = &[
    ("d", "nominal diameter"),
    ("P", "pitch"),
    ("d2", "pitch diameter"),
    ("d3", "root diameter"),
    ("D1", "minor diameter of the hole's thread"),
    ("As", "stress area"),
    ("AN", "area on the nominal diameter"),
    ("Ad3", "area on the root diameter"),
    ("T", "torque"),
    ("T1", "torque before"),
    ("T2", "torque after"),
    ("Tp", "prevailing torque"),
    ("F", "clamp load"),
    ("Fs", "clamp load at snug"),
    ("Fy", "clamp load where yielding begins"),
    ("FA", "load along the bolt"),
    ("FZ", "clamp load lost by settling"),
    ("fZ", "what settles at a face"),
    ("ΔF", "change of clamp load"),
    ("ΔL", "stretch"),
    ("ΔTP", "how much warmer the parts are"),
    ("ΔTS", "how much warmer the bolt is"),
    ("K", "nut factor"),
    ("k", "bracket of the torque formula"),
    ("μ1", "friction before"),
    ("μ2", "friction after"),
    ("μt", "friction in the thread"),
    ("μb", "friction under the head"),
    ("μhigh", "most friction"),
    ("μlow", "least friction"),
    ("Db", "mean bearing diameter"),
    ("Rp", "yield strength"),
    ("Rm", "tensile strength"),
    ("ν", "utilisation of yield"),
    ("κ", "torsion against tension"),
    ("δB", "the bolt's own resilience"),
    ("δS", "resilience of bolt and nut or hole"),
    ("δP", "resilience of the parts"),
    ("E", "Young's modulus"),
    ("EH", "Young's modulus of the part with the thread"),
    ("θ", "angle of turn"),
    ("θy", "angle from snug to yield"),
    ("lK", "clamped length"),
    ("dw", "face under the head"),
    ("DA", "outside of the parts"),
    ("Φ", "load factor"),
    ("αP", "expansion of the parts"),
    ("αS", "expansion of the bolt"),
    ("α", "expansion"),
    ("ω", "angular speed"),
    ("r", "half of the stroke"),
    ("φ", "angle: of the cone, the adapter or the crank"),
    ("L", "from the drive to the hand, or a length"),
    ("e", "from the drive to the fastener"),
    ("Vs", "swept volume"),
    ("Vc", "volume left at top dead centre"),
    ("U", "expanded uncertainty"),
    ("u", "standard uncertainty"),
    ("s", "spread of repeated readings"),
    ("D", "face under the head"),
    ("dh", "hole with its chamfer"),
    ("h", "thickness of the washer"),
    ("l", "rod between centres"),
    ("x", "piston below top dead centre"),
    ("ψ", "between valve and bore"),
];

/// The words and symbols of a formula, without the figures before them and the powers behind.
pub(super) fn tokens(formula: &str) -> impl Iterator<Item = &str> {
    let bare = |token: &str| -> std::ops::Range<usize> {
        let start = token.len() - token.trim_start_matches(|c: char| c.is_ascii_digit()).len();
        start..token.trim_end_matches(['²', '³']).len().max(start)
    };
    formula.split(|c: char| !c.is_alphanumeric()).map(move |token| &token[bare(token)])
}

/// The symbols of a formula, in the order in which they stand there.
pub fn legend(formula: &str) -> Vec<Symbol> {
    let mut legend: Vec<Symbol> = Vec::new();
    for token in tokens(formula) {
        let known = SYMBOLS.iter().find(|(symbol, _)| *symbol == token);
        if let Some((symbol, means)) = known.filter(|_| legend.iter().all(|of| of.symbol != token)) {
            legend.push(Symbol { symbol, means });
        }
    }
    legend
}

/// What is told beside a calculation.
pub fn of(name: &str) -> Option<Told> {
    TOLD.iter().find(|(of, _)| *of == name).map(|(_, told)| *told)
}
