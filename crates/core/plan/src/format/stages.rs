//! Stages of a joint.

use super::fields::{FieldChoice, FormatFieldKind, FormatTable, TableLayout, field};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

pub(super) static STAGE_PRESET: [FieldChoice; 5] = [
    FieldChoice::new("halves", text_id!("format-stage-preset-halves")),
    FieldChoice::new("thirds", text_id!("format-stage-preset-thirds")),
    FieldChoice::new("quarters", text_id!("format-stage-preset-quarters")),
    FieldChoice::new("half-three-quarters", text_id!("format-stage-preset-half-three-quarters")),
    FieldChoice::new("six-eight-ten", text_id!("format-stage-preset-six-eight-ten")),
];

pub(super) static STAGE_WALK: [FieldChoice; 2] = [
    FieldChoice::new("round", text_id!("format-stage-walk-round")),
    FieldChoice::new("each", text_id!("format-stage-walk-each")),
];

pub(super) static STAGE: FormatTable = FormatTable {
    id: "joint.stage",
    name: text_id!("format-stage"),
    layout: TableLayout::Block,
    one_of: &[
        "run-down",
        "stud",
        "torque",
        "angle",
        "torque-angle",
        "yield",
        "stretch",
        "castellated",
        "recheck",
        "loosen",
        "action",
        "wait",
        "seal",
    ],
    fields: &[
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("run-down", text_id!("format-stage-run-down"), FormatFieldKind::Text)
            .hint(text_id!("format-stage-run-down-hint")),
        field("stud", text_id!("format-stage-stud"), FormatFieldKind::Text)
            .hint(text_id!("format-stage-run-down-hint")),
        field(
            "torque",
            text_id!("format-stage-torque"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        ),
        field(
            "angle",
            text_id!("format-stage-angle"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        ),
        field(
            "torque-angle",
            text_id!("format-stage-torque-angle"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        ),
        field(
            "yield",
            text_id!("format-stage-yield"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        ),
        field(
            "stretch",
            text_id!("format-stage-stretch"),
            FormatFieldKind::Quantity { dimension: Dimension::Clearance },
        ),
        field(
            "castellated",
            text_id!("format-stage-castellated"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        ),
        field(
            "recheck",
            text_id!("format-stage-recheck"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        ),
        field("loosen", text_id!("format-stage-loosen"), FormatFieldKind::Text)
            .hint(text_id!("format-stage-loosen-hint")),
        field("action", text_id!("format-stage-action"), FormatFieldKind::Text)
            .hint(text_id!("format-stage-action-hint")),
        field(
            "wait",
            text_id!("format-stage-wait"),
            FormatFieldKind::Quantity { dimension: Dimension::Time },
        ),
        field("seal", text_id!("format-stage-seal"), FormatFieldKind::Text)
            .hint(text_id!("format-stage-seal-hint")),
        field("group", text_id!("format-stage-group"), FormatFieldKind::Reference { list: "group" })
            .usual()
            .with(&[
                "run-down",
                "stud",
                "torque",
                "angle",
                "torque-angle",
                "yield",
                "stretch",
                "castellated",
                "recheck",
                "loosen",
            ]),
        field(
            "tolerance",
            text_id!("format-stage-tolerance"),
            FormatFieldKind::Tolerance { dimension: Dimension::Torque },
        )
        .hint(text_id!("format-stage-tolerance-hint"))
        .usual()
        .with(&["torque", "torque-angle", "yield", "castellated", "recheck"]),
        field(
            "tolerance",
            text_id!("format-stage-tolerance"),
            FormatFieldKind::Tolerance { dimension: Dimension::Angle },
        )
        .hint(text_id!("format-stage-tolerance-hint-2"))
        .usual()
        .with(&["angle"]),
        field(
            "tolerance",
            text_id!("format-stage-tolerance"),
            FormatFieldKind::Tolerance { dimension: Dimension::Clearance },
        )
        .hint(text_id!("format-stage-tolerance-hint-3"))
        .usual()
        .with(&["stretch"]),
        field(
            "tolerance",
            text_id!("format-stage-tolerance-2"),
            FormatFieldKind::Tolerance { dimension: Dimension::Length },
        )
        .usual()
        .with(&["stud"]),
        field(
            "range",
            text_id!("format-stage-range"),
            FormatFieldKind::Quantities { dimension: Dimension::Torque },
        )
        .hint(text_id!("format-stage-range-hint"))
        .with(&["torque", "torque-angle", "yield", "castellated", "recheck"]),
        field(
            "range",
            text_id!("format-stage-range"),
            FormatFieldKind::Quantities { dimension: Dimension::Angle },
        )
        .hint(text_id!("format-stage-range-hint"))
        .with(&["angle"]),
        field(
            "range",
            text_id!("format-stage-range"),
            FormatFieldKind::Quantities { dimension: Dimension::Clearance },
        )
        .hint(text_id!("format-stage-range-hint"))
        .with(&["stretch"]),
        field(
            "range",
            text_id!("format-stage-range-2"),
            FormatFieldKind::Quantities { dimension: Dimension::Length },
        )
        .hint(text_id!("format-stage-range-hint"))
        .with(&["stud"]),
        field(
            "then_angle",
            text_id!("format-stage-then-angle"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        )
        .usual()
        .with(&["torque-angle"]),
        field(
            "angle_tolerance",
            text_id!("format-stage-angle-tolerance"),
            FormatFieldKind::Tolerance { dimension: Dimension::Angle },
        )
        .usual()
        .with(&["torque-angle"]),
        field("steps", text_id!("format-stage-steps"), FormatFieldKind::Whole { least: 2, most: 20 })
            .with(&["torque"]),
        field("percent", text_id!("format-stage-percent"), FormatFieldKind::Numbers)
            .hint(text_id!("format-stage-percent-hint"))
            .with(&["torque"]),
        field("preset", text_id!("format-stage-preset"), FormatFieldKind::Choice { choices: &STAGE_PRESET })
            .with(&["torque"]),
        field(
            "resolution",
            text_id!("format-stage-resolution"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .with(&["torque"]),
        field("settle", text_id!("format-stage-settle"), FormatFieldKind::Flag)
            .hint(text_id!("format-stage-settle-hint"))
            .with(&["torque"]),
        field("rounds", text_id!("format-stage-rounds"), FormatFieldKind::Whole { least: 2, most: 20 })
            .hint(text_id!("format-stage-rounds-hint"))
            .with(&["run-down"]),
        field("turns", text_id!("format-stage-turns"), FormatFieldKind::Number)
            .hint(text_id!("format-stage-turns-hint"))
            .with(&["run-down"]),
        field(
            "most",
            text_id!("format-stage-most"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .with(&["run-down"]),
        field(
            "most",
            text_id!("format-stage-most-2"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        )
        .with(&["recheck"]),
        field(
            "back",
            text_id!("format-stage-back"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        )
        .with(&["stud"]),
        field(
            "height",
            text_id!("format-stage-height"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .with(&["stud"]),
        field("slots", text_id!("format-stage-slots"), FormatFieldKind::Whole { least: 3, most: 12 })
            .usual()
            .with(&["castellated", "yield"]),
        field(
            "twist",
            text_id!("format-stage-twist"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        )
        .with(&["castellated", "yield"]),
        field(
            "first",
            text_id!("format-stage-first"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .with(&["stretch"]),
        field(
            "step",
            text_id!("format-stage-step"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .with(&["stretch"]),
        field("utilisation", text_id!("format-stage-utilisation"), FormatFieldKind::Number)
            .hint(text_id!("format-stage-utilisation-hint"))
            .with(&["stretch"]),
        field(
            "limit",
            text_id!("format-stage-limit"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .with(&["stretch"]),
        field(
            "set",
            text_id!("format-fastener-elongation-allowed"),
            FormatFieldKind::Quantity { dimension: Dimension::Clearance },
        )
        .with(&["stretch"]),
        field("loosen_between", text_id!("format-stage-loosen-between"), FormatFieldKind::Flag)
            .with(&["stretch"]),
        field("zero", text_id!("format-stage-zero"), FormatFieldKind::Flag).with(&["stretch"]),
        field("pulls", text_id!("format-stage-pulls"), FormatFieldKind::Whole { least: 1, most: 3 })
            .with(&["stretch"]),
        field("qualify", text_id!("format-stage-qualify"), FormatFieldKind::Flag).with(&["stretch"]),
        field("proof", text_id!("format-stage-proof"), FormatFieldKind::Flag)
            .hint(text_id!("format-stage-proof-hint"))
            .with(&["stretch"]),
        field("text", text_id!("format-stage-text"), FormatFieldKind::Text).usual().with(&["wait"]),
        field(
            "within",
            text_id!("format-stage-within"),
            FormatFieldKind::Quantity { dimension: Dimension::Time },
        )
        .usual()
        .with(&["seal"]),
        field("ready", text_id!("format-stage-ready"), FormatFieldKind::Texts)
            .hint(text_id!("format-stage-ready-hint"))
            .with(&["seal"]),
        field(
            "cure",
            text_id!("format-stage-cure"),
            FormatFieldKind::Quantity { dimension: Dimension::Time },
        )
        .with(&["seal"]),
        field("again", text_id!("format-stage-again"), FormatFieldKind::References { list: "group" })
            .with(&["torque", "recheck"]),
        field("walk", text_id!("format-stage-walk"), FormatFieldKind::Choice { choices: &STAGE_WALK }),
        field("source", text_id!("format-source"), FormatFieldKind::Text),
    ],
};
