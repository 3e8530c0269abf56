//! Practice on a simulated bolt: in no engine's record, any number of times.

use crate::answers::{FieldAnswer, ReadAnswers, TooLargeAnswer};
use crate::extract::JsonBody;
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_assembly::StretchStepsView;
use rigore_mechanics::{message, text};
use rigore_rig::practice::{self, PracticeMove};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The most torque that can be meant, N·m.
const MOST_NM: f64 = 300.0;
/// What is done in a game at most.
const MOST_MOVES: usize = 60;

/// A game: its number, and what was done in it so far.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PracticeRequest {
    /// Which bolt: the same number is the same bolt.
    pub game: u32,
    /// Torques it was pulled to, N·m, in order; 0 where it was loosened.
    pub moves: Vec<f64>,
}

/// How a game stands.
#[derive(Debug, Serialize, ToSchema)]
pub struct PracticeGame {
    /// The bolt's free length, mm, and that of a new one.
    pub free_mm: f64,
    /// The same of a new one.
    pub new_mm: f64,
    /// What the gauge showed after each thing that was done, mm.
    pub read_mm: Vec<f64>,
    /// How the climb stands, with the step that is advised.
    pub climb: StretchStepsView,
    /// How many pulls there were.
    pub pulls: usize,
    /// How many pulls a game has at most.
    pub most_pulls: usize,
    /// Whether the bolt has its stretch.
    pub inside: bool,
    /// Whether it was taken past its limit.
    pub past: bool,
    /// How much of its yield was used at the most; told once the game is over.
    pub used: Option<f64>,
    /// How many pulls the advised climb takes for this bolt; told once the game is over.
    pub advised: Option<usize>,
    /// What the game is worth of 100, once it is over.
    pub points: Option<u32>,
    /// The bolt's friction; told once the game is over.
    pub mu: Option<f64>,
    /// How much longer it is for good, mm; told once the game is over.
    pub set_mm: Option<f64>,
}

/// How a game stands after what was done. It goes the same way each time, and is kept nowhere.
#[utoipa::path(post, path = "/api/practice", request_body = PracticeRequest,
    responses((status = 200, body = PracticeGame), FieldAnswer, TooLargeAnswer, ReadAnswers))]
pub async fn practice(
    State(_app): State<App>,
    JsonBody(playing): JsonBody<PracticeRequest>,
) -> Result<Json<PracticeGame>, Problem> {
    if playing.moves.len() > MOST_MOVES {
        return Err(Problem::field("moves", message!("server-at-most-them", most = MOST_MOVES)));
    }
    if let Some(wrong) = playing.moves.iter().find(|torque| !(0.0..=MOST_NM).contains(*torque)) {
        let message = message!(
            "server-torque-above-0-up-n-m",
            most_nm = MOST_NM.to_string(),
            wrong = wrong.to_string()
        );
        return Err(Problem::field("moves", message));
    }
    let moves = playing
        .moves
        .iter()
        .map(|&torque| if torque > 0.0 { PracticeMove::Pull(torque) } else { PracticeMove::Loosen });
    let game =
        practice::play(playing.game.into(), &moves.collect::<Vec<_>>()).ok_or_else(Problem::internal)?;
    let fastening = practice::practice_bolt().ok_or_else(Problem::internal)?;
    let climb = practice::advised(&fastening);
    let climb = StretchStepsView::of(&climb, &game.pairs, None, &text!("server-its-lubricant"))
        .ok_or_else(Problem::internal)?;
    let over = game.points.is_some();
    Ok(Json(PracticeGame {
        free_mm: game.free_mm,
        new_mm: game.new_mm,
        read_mm: game.moves.iter().map(|shown| shown.read_mm).collect(),
        climb,
        pulls: game.pulls,
        most_pulls: practice::MOST_PULLS,
        inside: game.inside,
        past: game.used > practice::UTILISATION,
        used: over.then_some(game.used),
        advised: over.then_some(game.advised),
        points: game.points,
        mu: game.mu,
        set_mm: game.set_mm,
    }))
}
