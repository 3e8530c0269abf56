//! Friction: coefficients under the head and on the thread, and lubricants that give them.

mod measured;
mod own;

use crate::message::Message;
use crate::{message, text};
pub use measured::{ENOUGH, MeasuredFriction, NutFactorSpread};
pub use own::{LubricantError, LubricantForm};

use serde::{Deserialize, Serialize};

/// A pair of friction coefficients.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Friction {
    /// μ on the thread flanks.
    pub thread: f64,
    /// μ under the head or nut.
    pub bearing: f64,
}

impl Friction {
    /// The same coefficient in both places.
    ///
    /// ```
    /// use rigore_mechanics::friction::Friction;
    ///
    /// let dry = Friction::both(0.14);
    /// assert_eq!((dry.thread, dry.bearing), (0.14, 0.14));
    /// ```
    pub fn both(mu: f64) -> Self {
        Self { thread: mu, bearing: mu }
    }
}

/// What a face is left with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SurfaceFilm {
    /// Nothing.
    Dry,
    /// Something that only makes it turn more easily.
    #[default]
    Lubricant,
    /// Something that seals or locks once it has set.
    Sealant,
}

/// The words for [`SurfaceFilm`] in plans.
pub const FILMS: [(&str, SurfaceFilm); 3] =
    [("dry", SurfaceFilm::Dry), ("lubricant", SurfaceFilm::Lubricant), ("sealant", SurfaceFilm::Sealant)];

/// What comes between two faces that turn on each other, with the range its friction lies in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
    /// What it leaves on the faces.
    #[serde(default)]
    pub film: SurfaceFilm,
    /// Which edition of the shop's own figures it is, from 1; 0 where it is none of the shop's.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub version: u32,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_zero(version: &u32) -> bool {
    *version == 0
}

impl Lubricant {
    /// Its friction from the least to the most.
    pub fn range(&self) -> [Friction; 3] {
        [self.low, self.typical, self.high]
    }
}

/// What a fastener turns on: on its thread and under its head or nut (C-27).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lubrication {
    /// On the thread.
    pub thread: Lubricant,
    /// Under the head or nut.
    pub bearing: Lubricant,
}

impl Lubrication {
    /// Friction on both at the low, typical and high end.
    pub fn friction(&self) -> [Friction; 3] {
        let [thread, bearing] = [self.thread.range(), self.bearing.range()];
        std::array::from_fn(|at| Friction { thread: thread[at].thread, bearing: bearing[at].bearing })
    }

    /// Whether it is the same stuff on both faces, whatever figures are known of it.
    pub fn same_stuff(&self, other: &Self) -> bool {
        self.thread.id == other.thread.id && self.bearing.id == other.bearing.id
    }

    /// In a few words: `Moly paste`, or `Moly paste on the thread, engine oil under the head`.
    pub fn words(&self) -> String {
        if self.thread.id == self.bearing.id {
            return self.thread.name.clone();
        }
        text!("mechanics-on-thread-under-head", thread = self.thread.name, bearing = self.bearing.name)
    }

    /// The same in full: `Moly paste on thread and under the head`.
    pub fn in_full(&self) -> String {
        if self.thread.id == self.bearing.id {
            return text!("mechanics-on-both", thread = self.thread.name);
        }
        self.words()
    }

    /// Where it is not what `asked` is by its kind: dry where something was asked for, and the like.
    pub fn kind_against(&self, asked: &Self) -> Option<Message> {
        let faces = [
            (&self.thread, &asked.thread, message!("mechanics-thread"), message!("mechanics-on-thread")),
            (&self.bearing, &asked.bearing, message!("mechanics-head"), message!("mechanics-under-head")),
        ];
        faces.into_iter().find_map(|(used, asked, face, goes)| match (used.film, asked.film) {
            (used, asked) if used == asked => None,
            (SurfaceFilm::Dry, _) => Some(message!("mechanics-go-dry", asked = asked.name, goes)),
            (_, SurfaceFilm::Dry) => Some(message!("mechanics-goes-dry-on", face, used = used.name)),
            (_, SurfaceFilm::Sealant) => {
                Some(message!("mechanics-go-does-not-seal", asked = asked.name, goes, used = used.name))
            }
            (SurfaceFilm::Sealant, _) => {
                Some(message!("mechanics-go-sets", asked = asked.name, goes, used = used.name))
            }
            _ => None,
        })
    }
}

/// Generic kinds with friction classes after VDI 2230-1 table A5: (id, name, what it leaves, low, typical, high).
const SHIPPED: &[(&str, &str, SurfaceFilm, f64, f64, f64)] = &[
    ("dry", "Dry, as received", SurfaceFilm::Dry, 0.14, 0.18, 0.24),
    ("degreased", "Dry, degreased", SurfaceFilm::Dry, 0.20, 0.26, 0.35),
    ("engine-oil", "Engine oil", SurfaceFilm::Lubricant, 0.10, 0.13, 0.16),
    ("moly-paste", "Moly paste", SurfaceFilm::Lubricant, 0.08, 0.10, 0.12),
    ("assembly-paste", "Low-friction assembly paste", SurfaceFilm::Lubricant, 0.06, 0.08, 0.10),
    ("anti-seize", "Anti-seize", SurfaceFilm::Lubricant, 0.08, 0.11, 0.14),
    ("threadlocker", "Liquid threadlocker", SurfaceFilm::Sealant, 0.10, 0.14, 0.18),
    ("ptfe-sealant", "PTFE thread sealant", SurfaceFilm::Sealant, 0.08, 0.11, 0.15),
];

/// The table of lubricants that ships with Rigore: generic kinds only.
pub fn shipped() -> Vec<Lubricant> {
    SHIPPED
        .iter()
        .map(|&(id, name, film, low, typical, high)| Lubricant {
            id: id.to_owned(),
            name: name.to_owned(),
            low: Friction::both(low),
            typical: Friction::both(typical),
            high: Friction::both(high),
            source: "friction class after VDI 2230-1 table A5".to_owned(),
            film,
            version: 0,
        })
        .collect()
}
