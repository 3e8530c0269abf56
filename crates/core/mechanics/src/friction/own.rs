//! A lubricant that a shop enters itself.

use super::{Friction, Lubricant, SurfaceFilm};
use crate::message;
use crate::message::Message;
use serde::Deserialize;

/// The longest name and source.
const NAME: usize = 60;
const SOURCE: usize = 200;
/// The least and most friction that can be meant.
const LEAST: f64 = 0.01;
const MOST: f64 = 1.0;

/// A lubricant as it is entered.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LubricantForm {
    /// What the builder calls it.
    pub name: String,
    /// What it leaves on the faces.
    pub film: SurfaceFilm,
    /// μ on the thread: low, typical, high.
    pub thread: [f64; 3],
    /// μ under the head or nut: low, typical, high; as on the thread where it is left out.
    #[serde(default)]
    pub bearing: Option<[f64; 3]>,
    /// Where the figures come from.
    pub source: String,
}

/// What is wrong with a lubricant that is entered.
#[derive(Debug, Clone, PartialEq)]
pub struct LubricantError {
    /// The field.
    pub field: &'static str,
    /// What is wrong with it, and what is allowed.
    pub message: Message,
}

impl LubricantForm {
    /// The lubricant, in a version of the shop's own figures.
    ///
    /// # Errors
    /// [`LubricantError`] names the field, and says what is allowed.
    pub fn lubricant(&self, id: &str, version: u32) -> Result<Lubricant, LubricantError> {
        let wrong = |field, message: Message| Err(LubricantError { field, message });
        let text = |text: &str| text.split_whitespace().collect::<Vec<_>>().join(" ");
        let (name, source) = (text(&self.name), text(&self.source));
        if !(2..=NAME).contains(&name.chars().count()) {
            return wrong("name", message!("mechanics-name-2-characters-needed", most = NAME));
        }
        if !(3..=SOURCE).contains(&source.chars().count()) {
            return wrong("source", message!("mechanics-source-needed", most = SOURCE));
        }
        let bearing = self.bearing.unwrap_or(self.thread);
        for (field, [low, typical, high]) in [("thread", self.thread), ("bearing", bearing)] {
            if !(LEAST <= low && low <= typical && typical <= high && high <= MOST) {
                let (least, most) = (LEAST.to_string(), MOST.to_string());
                return wrong(field, message!("mechanics-coefficients-needed", least, most));
            }
        }
        let at = |i: usize| Friction { thread: self.thread[i], bearing: bearing[i] };
        let (id, film) = (id.to_owned(), self.film);
        Ok(Lubricant { id, name, low: at(0), typical: at(1), high: at(2), source, film, version })
    }

    /// The key of a new one, from its name: `Bench paste 2` is `own-bench-paste-2`.
    pub fn key(&self) -> String {
        let plain = |c: char| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' };
        let plain: String = self.name.chars().map(plain).collect();
        let words: Vec<&str> = plain.split('-').filter(|word| !word.is_empty()).collect();
        format!("own-{}", words.join("-"))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn entered() -> LubricantForm {
        LubricantForm {
            name: " Bench  paste 2 ".into(),
            film: SurfaceFilm::Lubricant,
            thread: [0.07, 0.09, 0.11],
            bearing: None,
            source: "supplier's card".into(),
        }
    }

    #[test]
    fn what_is_entered_becomes_a_lubricant_of_the_shop() {
        let own = entered().lubricant(&entered().key(), 3).unwrap();
        assert_eq!(
            (own.id.as_str(), own.name.as_str(), own.version),
            ("own-bench-paste-2", "Bench paste 2", 3)
        );
        assert_eq!(own.typical, Friction::both(0.09));
    }

    #[test]
    fn what_cannot_be_meant_names_its_field() {
        let field = |entered: LubricantForm| entered.lubricant("x", 1).unwrap_err().field;
        assert_eq!(field(LubricantForm { name: "x".into(), ..entered() }), "name");
        assert_eq!(field(LubricantForm { source: " ".into(), ..entered() }), "source");
        assert_eq!(field(LubricantForm { thread: [0.2, 0.1, 0.3], ..entered() }), "thread");
        assert_eq!(field(LubricantForm { thread: [f64::NAN, 0.1, 0.3], ..entered() }), "thread");
        assert_eq!(field(LubricantForm { bearing: Some([0.1, 0.2, 7.0]), ..entered() }), "bearing");
    }
}
