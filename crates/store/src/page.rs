//! Lists that are read page by page: where a page ended, and how words are looked for in them.
//!
//! Lists are read page by page (`page.rs`): a page begins after a place in the order, not after a count, and is cut
//! before its rows are read. The day's lists are made of all engines in the shop and send their first rows and how
//! many there are (`day_lists.rs`).

use std::fmt;
use std::str::FromStr;
use time::OffsetDateTime;
use uuid::Uuid;

/// Words of a search that are looked for at most.
const WORDS: usize = 8;

/// The place of a row in a list, by what the list is ordered by. The next page begins after it, whatever was added or
/// changed meanwhile.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PageCursor {
    /// What comes first in the order: 0 where there is only one such.
    pub rank: i32,
    /// When the row was changed last.
    pub at: OffsetDateTime,
    /// The build it is of.
    pub build: Uuid,
    /// The slot it is of; empty for a build itself. In a list by serial, the kind and the serial of the part.
    pub slot: String,
}

impl fmt::Display for PageCursor {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let micros = self.at.unix_timestamp_nanos() / 1000;
        write!(f, "{}.{micros}.{}.{}", self.rank, self.build, self.slot)
    }
}

impl FromStr for PageCursor {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        let mut parts = text.splitn(4, '.');
        let mut part = || parts.next().ok_or(());
        let (rank, micros, build, slot) = (part()?, part()?, part()?, part()?);
        let micros: i64 = micros.parse().map_err(drop)?;
        let at = OffsetDateTime::from_unix_timestamp_nanos(i128::from(micros) * 1000).map_err(drop)?;
        Ok(Self {
            rank: rank.parse().map_err(drop)?,
            at,
            build: build.parse().map_err(drop)?,
            slot: slot.to_owned(),
        })
    }
}

/// Words that a text is to hold, as patterns for `LIKE`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct SearchPatterns {
    /// The longest of them, by which an index finds; `%` where there are no words.
    pub first: String,
    /// The others.
    pub others: Vec<String>,
}

impl SearchPatterns {
    /// The words of a search, in any order.
    pub fn of(find: &str) -> Self {
        let mut others: Vec<String> = find.split_whitespace().take(WORDS).map(pattern).collect();
        let longest = others.iter().enumerate().max_by_key(|(_, pattern)| pattern.len());
        // Asked for twice, PostgreSQL would take it for twice as rare.
        let first = longest.map(|(at, _)| at).map(|at| others.remove(at));
        Self { first: first.unwrap_or_else(|| "%".to_owned()), others }
    }

    /// Whether there are no words: everything matches.
    pub fn is_empty(&self) -> bool {
        self.first == "%"
    }
}

/// A word as it is looked for anywhere in a text.
fn pattern(word: &str) -> String {
    let plain = word.to_lowercase().replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_");
    format!("%{plain}%")
}

#[cfg(test)]
mod tests {
    use super::*;
    use time::macros::datetime;

    #[test]
    fn a_place_is_written_and_read_and_nothing_else_is() {
        let place = PageCursor {
            rank: -2,
            at: datetime!(2026-03-04 05:06:07.123456 UTC),
            build: Uuid::from_u128(7),
            slot: "rod-bolts.a".into(),
        };
        assert_eq!(place.to_string().parse(), Ok(place));
        let build = Uuid::nil();
        for wrong in
            ["", "1", "1.2", &format!("x.1.{build}."), &format!("1.{}.{build}.", i64::MAX), "1.2.3.4"]
        {
            assert_eq!(wrong.parse::<PageCursor>(), Err(()), "{wrong}");
        }
    }

    #[test]
    fn the_longest_word_is_what_an_index_finds_by() {
        let patterns = SearchPatterns::of(" no Breakwater 5% ");
        assert_eq!(
            (patterns.first.as_str(), patterns.others),
            ("%breakwater%", vec!["%no%".into(), "%5\\%%".into()])
        );
        assert_eq!(SearchPatterns::of(" "), SearchPatterns { first: "%".into(), others: vec![] });
    }
}
