//! Run down by hand until it touches; with a low-power driver no further than snug. What stands against springs comes
//! down in turns, round after round (C-58).

use super::any_way::{Way, WayOfTightening};
use super::parts::{
    InstrumentAbility, StageProgress, WayEvidence, WayHandling, WayJudgement, WayReading, WayWalk,
};
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;

/// The most rounds that something comes down in.
const ROUNDS: u32 = 20;
/// The most turns of one round.
const TURNS: f64 = 5.0;

/// Run down by hand.
#[derive(Debug, Clone, PartialEq)]
pub struct RunDown {
    /// How it is done.
    pub text: String,
    /// The most that a driver may give, N·m.
    pub most_nm: f64,
}

impl RunDown {
    /// Reads `run-down = "how"` out of a stage of a plan, with `most` for a driver. `turns = 1` with `rounds = 4`: each
    /// fastener is turned so far in each round, and every round is a stage of its own.
    pub(super) fn read(stage: &TomlTable<'_>) -> Option<Vec<Way>> {
        let most_nm = if stage.has("most") { stage.positive("most", Dimension::Torque)? } else { 0.0 };
        let text = stage.text("run-down");
        if !stage.has("rounds") && !stage.has("turns") {
            return Some(vec![Way::new(Self { text, most_nm })]);
        }
        let (turns, rounds) = (stage.number_if("turns"), stage.whole("rounds", 2..=ROUNDS));
        if !turns.is_some_and(|turns| turns > 0.0 && turns <= TURNS) {
            stage.error("turns", message!("way-turns-of-each-round-needed", most = TURNS.to_string()));
        }
        if !stage.has("rounds") {
            stage.error("rounds", message!("way-number-of-rounds-needed", most = ROUNDS));
        }
        let (turns, rounds) = (turns?, rounds?);
        let word = if turns > 1.0 { "turns" } else { "turn" };
        let round = |number: u32| {
            let text = format!("{text}: {turns} {word} at each, round {number} of {rounds}");
            Way::new(Self { text, most_nm })
        };
        Some((1..=rounds).map(round).collect())
    }
}

impl WayOfTightening for RunDown {
    fn key(&self) -> &'static str {
        "run-down"
    }
}

impl WayReading for RunDown {}

impl WayJudgement for RunDown {}

impl WayWalk for RunDown {
    fn of_group(&self) -> bool {
        true
    }
}

impl WayEvidence for RunDown {}

impl WayHandling for RunDown {
    fn by_hand(&self) -> Option<&str> {
        Some(&self.text)
    }

    fn ability(&self, _had: StageProgress) -> Option<InstrumentAbility> {
        Some(InstrumentAbility::RunDown(self.most_nm))
    }

    fn words(&self, _had: StageProgress) -> Message {
        Message::from(&self.text)
    }
}
