//! What the symbols of a formula stand for.

use serde::Serialize;

/// A symbol of a formula, and what it stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct FormulaSymbol {
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
pub fn legend(formula: &str) -> Vec<FormulaSymbol> {
    let mut legend: Vec<FormulaSymbol> = Vec::new();
    for token in tokens(formula) {
        let known = SYMBOLS.iter().find(|(symbol, _)| *symbol == token);
        if let Some((symbol, means)) = known.filter(|_| legend.iter().all(|of| of.symbol != token)) {
            legend.push(FormulaSymbol { symbol, means });
        }
    }
    legend
}
