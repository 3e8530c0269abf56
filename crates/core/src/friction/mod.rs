//! Friction: coefficients under the head and on the thread, and lubricants that give them.

use serde::Serialize;

/// A pair of friction coefficients.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Friction {
    /// μ on the thread flanks.
    pub thread: f64,
    /// μ under the head or nut.
    pub bearing: f64,
}

impl Friction {
    /// The same coefficient in both places.
    pub fn both(mu: f64) -> Self {
        Self { thread: mu, bearing: mu }
    }
}

/// A lubricant as generic kind, with the range its friction lies in.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lubricant {
    /// Key in plans.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// The least friction to expect.
    pub low: Friction,
    /// What it usually gives.
    pub typical: Friction,
    /// The most friction to expect.
    pub high: Friction,
    /// Where the figures come from.
    pub source: String,
}

/// Generic kinds with friction classes after VDI 2230-1 table A5: (id, name, low, typical, high).
const SHIPPED: &[(&str, &str, f64, f64, f64)] = &[
    ("dry", "Dry, as received", 0.14, 0.18, 0.24),
    ("degreased", "Dry, degreased", 0.20, 0.26, 0.35),
    ("engine-oil", "Engine oil", 0.10, 0.13, 0.16),
    ("moly-paste", "Moly paste", 0.08, 0.10, 0.12),
    ("assembly-paste", "Low-friction assembly paste", 0.06, 0.08, 0.10),
    ("anti-seize", "Anti-seize", 0.08, 0.11, 0.14),
    ("threadlocker", "Liquid threadlocker", 0.10, 0.14, 0.18),
    ("ptfe-sealant", "PTFE thread sealant", 0.08, 0.11, 0.15),
];

/// The table of lubricants that ships with Rigore: generic kinds only.
pub fn shipped() -> Vec<Lubricant> {
    SHIPPED
        .iter()
        .map(|&(id, name, low, typical, high)| Lubricant {
            id: id.to_owned(),
            name: name.to_owned(),
            low: Friction::both(low),
            typical: Friction::both(typical),
            high: Friction::both(high),
            source: "friction class after VDI 2230-1 table A5".to_owned(),
        })
        .collect()
}
