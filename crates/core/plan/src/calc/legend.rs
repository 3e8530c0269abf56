//! What the symbols of a formula stand for.

use rigore_mechanics::message::TextId;
use rigore_mechanics::text_id;
use serde::Serialize;

/// A symbol of a formula, and what it stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct FormulaSymbol {
    /// As it stands in the formula.
    pub symbol: &'static str,
    /// What it is.
    pub means: TextId,
}

const SYMBOLS: &[(&str, TextId)] = &[
    ("d", text_id!("calc-nominal-diameter")),
    ("P", text_id!("calc-pitch")),
    ("d2", text_id!("calc-pitch-diameter")),
    ("d3", text_id!("calc-root-diameter")),
    ("D1", text_id!("calc-minor-diameter-holes-thread")),
    ("As", text_id!("calc-stress-area")),
    ("AN", text_id!("calc-area-on-nominal-diameter")),
    ("Ad3", text_id!("calc-area-on-root-diameter")),
    ("T", text_id!("calc-torque")),
    ("T1", text_id!("calc-torque-before")),
    ("T2", text_id!("calc-torque-after")),
    ("Tp", text_id!("calc-prevailing-torque")),
    ("F", text_id!("calc-clamp-load")),
    ("Fs", text_id!("calc-clamp-load-at-snug")),
    ("Fy", text_id!("calc-clamp-load-where-yielding-begins")),
    ("FA", text_id!("calc-load-along-bolt")),
    ("FZ", text_id!("calc-clamp-load-lost-by-settling")),
    ("fZ", text_id!("calc-what-settles-at-face")),
    ("ΔF", text_id!("calc-change-clamp-load")),
    ("ΔL", text_id!("calc-stretch")),
    ("ΔTP", text_id!("calc-how-much-warmer-parts")),
    ("ΔTS", text_id!("calc-how-much-warmer-bolt")),
    ("K", text_id!("calc-nut-factor")),
    ("k", text_id!("calc-bracket-torque-formula")),
    ("μ1", text_id!("calc-friction-before")),
    ("μ2", text_id!("calc-friction-after")),
    ("μt", text_id!("calc-friction-thread")),
    ("μb", text_id!("calc-friction-under-head")),
    ("μhigh", text_id!("calc-most-friction")),
    ("μlow", text_id!("calc-least-friction")),
    ("Db", text_id!("calc-mean-bearing-diameter")),
    ("Rp", text_id!("calc-yield-strength")),
    ("Rm", text_id!("calc-tensile-strength")),
    ("ν", text_id!("calc-utilisation-yield")),
    ("κ", text_id!("calc-torsion-against-tension")),
    ("δB", text_id!("calc-bolts-own-resilience")),
    ("δS", text_id!("calc-resilience-bolt-nut-or-hole")),
    ("δP", text_id!("calc-resilience-parts")),
    ("E", text_id!("calc-youngs-modulus")),
    ("EH", text_id!("calc-youngs-modulus-part-with-thread")),
    ("θ", text_id!("calc-angle-turn")),
    ("θy", text_id!("calc-angle-from-snug-yield")),
    ("lK", text_id!("calc-clamped-length")),
    ("dw", text_id!("calc-face-under-head")),
    ("DA", text_id!("calc-outside-parts")),
    ("Φ", text_id!("calc-load-factor")),
    ("αP", text_id!("calc-expansion-parts")),
    ("αS", text_id!("calc-expansion-bolt")),
    ("α", text_id!("calc-expansion")),
    ("ω", text_id!("calc-angular-speed")),
    ("r", text_id!("calc-half-stroke")),
    ("φ", text_id!("calc-angle-cone-adapter-or-crank")),
    ("L", text_id!("calc-from-drive-hand-or-length")),
    ("e", text_id!("calc-from-drive-fastener")),
    ("Vs", text_id!("calc-swept-volume")),
    ("Vc", text_id!("calc-volume-left-at-top-dead-centre")),
    ("U", text_id!("calc-expanded-uncertainty")),
    ("u", text_id!("calc-standard-uncertainty")),
    ("s", text_id!("calc-spread-repeated-readings")),
    ("D", text_id!("calc-face-under-head")),
    ("dh", text_id!("calc-hole-with-chamfer")),
    ("h", text_id!("calc-thickness-washer")),
    ("l", text_id!("calc-rod-between-centres")),
    ("x", text_id!("calc-piston-below-top-dead-centre")),
    ("ψ", text_id!("calc-between-valve-bore")),
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
            legend.push(FormulaSymbol { symbol, means: *means });
        }
    }
    legend
}
