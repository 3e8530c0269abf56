//! What words mean, several of them together where they belong together.

use super::token::{Token, What};
use crate::tightening::Pattern;

/// What was said with a word or several.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Means {
    /// The next stage follows.
    Then,
    /// The stage before once more, so often in all.
    Times(u32),
    Snug,
    ByHand,
    Loosen,
    Recheck,
    Stretch,
    Limit,
    Yield,
    NextSlot,
    OnePull,
    /// Equal steps up to a figure.
    EqualSteps,
    /// A percentage is of a figure.
    Of,
    /// From here up to there, where it stands between figures.
    To,
    /// Both may be read as a range or as a list.
    And,
    Within,
    /// Degrees that were said in words.
    Degrees(f64),
    /// So many flats of a hexagon.
    Flats,
    /// A part of a turn stands before it.
    Turn,
    /// A number that was said as a word.
    Number(u32),
    /// Which step it is.
    Step,
    /// A step whose number comes after.
    Numbered,
    Order(Pattern),
    Lubricant(&'static str),
    /// Says nothing of its own.
    Filler,
}

use Means::{
    And, ByHand, Degrees, EqualSteps, Filler, Flats, Limit, Loosen, Lubricant, NextSlot, Number, Numbered,
    Of, OnePull, Order, Recheck, Snug, Step, Stretch, Then, Times, To, Turn, Within, Yield,
};

/// Phrases, longest first where one begins another. Marks between words are left out.
const PHRASES: &[(&str, Means)] = &[
    ("and then", Then),
    ("then", Then),
    ("followed by", Then),
    ("after that", Then),
    ("afterwards", Then),
    ("next slot", NextSlot),
    ("forward to the next slot", NextSlot),
    ("on to the next slot", NextSlot),
    ("to the next slot", NextSlot),
    ("to next slot", NextSlot),
    ("next", Then),
    ("twice", Times(2)),
    ("two times", Times(2)),
    ("three times", Times(3)),
    ("four times", Times(4)),
    ("snug torque", Snug),
    ("snug", Snug),
    ("seating torque", Snug),
    ("seat", Snug),
    ("joining torque", Snug),
    ("pretorque", Snug),
    ("pre torque", Snug),
    ("preload torque", Snug),
    ("by hand until it touches", ByHand),
    ("by hand until they touch", ByHand),
    ("by hand", ByHand),
    ("hand tight", ByHand),
    ("finger tight", ByHand),
    ("run down", ByHand),
    ("until it touches", ByHand),
    ("until they touch", ByHand),
    ("loosen", Loosen),
    ("slacken", Loosen),
    ("release", Loosen),
    ("undo", Loosen),
    ("back off", Loosen),
    ("check again", Recheck),
    ("recheck", Recheck),
    ("re check", Recheck),
    ("check", Recheck),
    ("verify", Recheck),
    ("stretch", Stretch),
    ("elongation", Stretch),
    ("elongate", Stretch),
    ("not over", Limit),
    ("never over", Limit),
    ("not above", Limit),
    ("not more than", Limit),
    ("no more than", Limit),
    ("not to exceed", Limit),
    ("do not exceed", Limit),
    ("without exceeding", Limit),
    ("at most", Limit),
    ("maximum", Limit),
    ("max", Limit),
    ("limit", Limit),
    ("until it stops rising", Yield),
    ("until torque stops rising", Yield),
    ("until the torque stops rising", Yield),
    ("until it rises no more", Yield),
    ("until torque rises no more", Yield),
    ("until the torque rises no more", Yield),
    ("until it yields", Yield),
    ("by feel", Yield),
    ("to yield", Yield),
    ("in one pull", OnePull),
    ("in one go", OnePull),
    ("in one movement", OnePull),
    ("in a single pull", OnePull),
    ("without stopping", OnePull),
    ("equal steps", EqualSteps),
    ("equal stages", EqualSteps),
    ("equal passes", EqualSteps),
    ("even steps", EqualSteps),
    ("even stages", EqualSteps),
    ("steps", EqualSteps),
    ("stages", EqualSteps),
    ("passes", EqualSteps),
    ("percent of", Of),
    ("of", Of),
    ("up to", To),
    ("to", To),
    ("and", And),
    ("plus or minus", Within),
    ("give or take", Within),
    ("quarter of a turn", Degrees(90.0)),
    ("a quarter turn", Degrees(90.0)),
    ("quarter turn", Degrees(90.0)),
    ("half a turn", Degrees(180.0)),
    ("half turn", Degrees(180.0)),
    ("a third of a turn", Degrees(120.0)),
    ("third of a turn", Degrees(120.0)),
    ("one full turn", Degrees(360.0)),
    ("one turn", Degrees(360.0)),
    ("flats", Flats),
    ("flat", Flats),
    ("of a turn", Turn),
    ("turn", Turn),
    ("turns", Turn),
    ("one", Number(1)),
    ("two", Number(2)),
    ("three", Number(3)),
    ("four", Number(4)),
    ("five", Number(5)),
    ("six", Number(6)),
    ("step", Numbered),
    ("stage", Numbered),
    ("pass", Numbered),
    ("round", Numbered),
    ("first", Step),
    ("second", Step),
    ("third", Step),
    ("fourth", Step),
    ("finally", Step),
    ("final", Step),
    ("last", Step),
    ("initially", Step),
    ("initial", Step),
    ("start", Step),
    ("centre out", Order(Pattern::CentreOut)),
    ("center out", Order(Pattern::CentreOut)),
    ("from the centre out", Order(Pattern::CentreOut)),
    ("from the center out", Order(Pattern::CentreOut)),
    ("from the middle out", Order(Pattern::CentreOut)),
    ("from the centre outwards", Order(Pattern::CentreOut)),
    ("middle out", Order(Pattern::CentreOut)),
    ("from the middle", Order(Pattern::CentreOut)),
    ("from the middle out", Order(Pattern::CentreOut)),
    ("from the middle outward", Order(Pattern::CentreOut)),
    ("from the middle outwards", Order(Pattern::CentreOut)),
    ("working outwards from the centre", Order(Pattern::CentreOut)),
    ("working outward from the centre", Order(Pattern::CentreOut)),
    ("outside in", Order(Pattern::OutsideIn)),
    ("from the ends in", Order(Pattern::OutsideIn)),
    ("criss cross", Order(Pattern::CrissCross)),
    ("crisscross", Order(Pattern::CrissCross)),
    ("crosswise", Order(Pattern::CrissCross)),
    ("star pattern", Order(Pattern::CrissCross)),
    ("diagonally", Order(Pattern::Diagonal)),
    ("diagonal", Order(Pattern::Diagonal)),
    ("corner to corner", Order(Pattern::Diagonal)),
    ("clockwise", Order(Pattern::Clockwise)),
    ("in line", Order(Pattern::Line)),
    ("front to rear", Order(Pattern::Line)),
    ("as listed", Order(Pattern::Listed)),
    ("degreased", Lubricant("degreased")),
    ("dry", Lubricant("dry")),
    ("lightly oiled", Lubricant("engine-oil")),
    ("engine oil", Lubricant("engine-oil")),
    ("oiled", Lubricant("engine-oil")),
    ("oil", Lubricant("engine-oil")),
    ("moly paste", Lubricant("moly-paste")),
    ("moly", Lubricant("moly-paste")),
    ("low friction assembly paste", Lubricant("assembly-paste")),
    ("assembly paste", Lubricant("assembly-paste")),
    ("anti seize", Lubricant("anti-seize")),
    ("antiseize", Lubricant("anti-seize")),
    ("threadlocker", Lubricant("threadlocker")),
    ("thread sealant", Lubricant("ptfe-sealant")),
];

/// Words that say nothing that the figures do not say.
const FILLERS: &[&str] = &[
    "tighten",
    "torque",
    "torqued",
    "angle",
    "rotate",
    "pull",
    "set",
    "bring",
    "apply",
    "a",
    "an",
    "the",
    "at",
    "all",
    "each",
    "every",
    "with",
    "in",
    "by",
    "from",
    "between",
    "bolts",
    "bolt",
    "nuts",
    "nut",
    "studs",
    "stud",
    "fasteners",
    "further",
    "additional",
    "another",
    "extra",
    "more",
    "additionally",
    "again",
    "it",
    "them",
    "on",
    "for",
    "value",
    "through",
    "sequence",
    "order",
    "using",
    "threads",
    "thread",
    "heads",
    "under",
    "until",
];

/// Fillers that name what is tightened: alone before a colon they are a group.
pub(super) const NOUNS: &[&str] = &["bolts", "bolt", "nuts", "nut", "studs", "stud", "fasteners", "heads"];

/// What the words from a place on mean, and how many tokens that takes; none where nothing is known of them.
pub(super) fn meaning(tokens: &[Token], from: usize) -> Option<(Means, usize)> {
    let What::Word(first) = &tokens.get(from)?.what else { return None };
    let begins = PHRASES.iter().filter(|(phrase, _)| phrase.starts_with(first.as_str()));
    let phrase = begins.filter_map(|(phrase, means)| {
        let taken = taken(tokens, from, phrase)?;
        Some((*means, taken))
    });
    let longest = phrase.max_by_key(|(_, taken)| *taken);
    longest.or_else(|| FILLERS.contains(&first.as_str()).then_some((Filler, 1)))
}

/// How many tokens a phrase takes here: its words one behind the other, with dashes between where they are.
fn taken(tokens: &[Token], from: usize, phrase: &str) -> Option<usize> {
    let mut at = from;
    for (number, word) in phrase.split(' ').enumerate() {
        if number > 0 && tokens.get(at)?.what == What::Dash {
            at += 1;
        }
        match &tokens.get(at)?.what {
            What::Word(written) if written == word => at += 1,
            _ => return None,
        }
    }
    Some(at - from)
}
