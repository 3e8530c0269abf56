//! Angles and sequences.

#![expect(clippy::unnecessary_wraps, reason = "every calculation of the table has one signature")]

use super::fields::{CalcError, Field, Input, Kind};
use super::{Calculation, output};
use crate::tightening::{AngleReading, Counting, Pattern, Position, castellated_advance, order};
use serde_json::{Value, json};

const ANY: Kind = Kind::Number(-1e6, 1e6);

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "angle-reading",
        about: "Where an angle of turn ends on the gauge, the clock, a hexagon and a twelve-point",
        input: &[
            Field::needed("start_deg", ANY),
            Field::needed("angle_deg", Kind::Number(0.0, 1e6)),
            Field::needed("wrap", Kind::Flag),
            Field::needed("direction", Kind::Choice(&["up", "down"])),
        ],
        output: &["stop_deg", "clock", "flats", "points"],
        run: angle_reading,
    },
    Calculation {
        name: "castellated",
        about: "How far a castellated nut goes forward to its next slot",
        input: &[
            Field::needed("slots", Kind::Whole(3, 24)),
            Field::needed("past_slot_deg", Kind::Number(0.0, 360.0)),
        ],
        output: &["advance_deg"],
        run: castellated,
    },
    Calculation {
        name: "sequence",
        about: "The order of fasteners from their places; loosening is the reverse",
        input: &[
            Field::needed("pattern", Kind::Choice(&["centre-out", "outside-in", "listed"])),
            Field::needed(
                "points",
                Kind::Records(&[
                    Field::needed("id", Kind::Text),
                    Field::needed("x_mm", ANY),
                    Field::needed("y_mm", ANY),
                ]),
            ),
        ],
        output: &["order"],
        run: sequence,
    },
];

fn angle_reading(input: &Input<'_>) -> Result<Value, CalcError> {
    let counting = if input.text("direction") == "up" { Counting::Up } else { Counting::Down };
    let reading =
        AngleReading::of(input.number("start_deg"), input.number("angle_deg"), input.flag("wrap"), counting);
    Ok(output(&[
        ("stop_deg", json!(reading.stop_deg)),
        ("clock", json!(reading.clock)),
        ("flats", json!(reading.flats)),
        ("points", json!(reading.points)),
    ]))
}

fn castellated(input: &Input<'_>) -> Result<Value, CalcError> {
    let advance = castellated_advance(input.whole("slots"), input.number("past_slot_deg"));
    Ok(output(&[("advance_deg", json!(advance.advance_deg))]))
}

fn sequence(input: &Input<'_>) -> Result<Value, CalcError> {
    let points: Vec<Position> = input
        .records("points")
        .iter()
        .map(|point| Position {
            id: point.text("id").to_owned(),
            x_mm: point.number("x_mm"),
            y_mm: point.number("y_mm"),
        })
        .collect();
    let pattern =
        Pattern::named(input.text("pattern")).ok_or_else(|| input.error("pattern", "no such pattern"))?;
    let order = order(pattern, &points).map_err(|error| input.error("points", error.to_string()))?;
    Ok(output(&[("order", json!(order.into_iter().map(|i| points[i].id.as_str()).collect::<Vec<_>>()))]))
}
