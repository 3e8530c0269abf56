//! Joints, their groups and their stages.

use super::fasteners::MATERIALS;
use super::fields::{FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

pub(super) static POSITION: FormatTable = FormatTable {
    id: "joint.group.position",
    name: text_id!("format-fastener"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("at", text_id!("format-position-at"), FormatFieldKind::Place).needed(),
        field("adapter", text_id!("format-adapter"), FormatFieldKind::Reference { list: "adapter" })
            .hint(text_id!("format-position-adapter-hint")),
    ],
};

pub(super) static ROW: FormatTable = FormatTable {
    id: "joint.group.row",
    name: text_id!("format-row"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id-2"), FormatFieldKind::Text)
            .hint(text_id!("format-row-id-hint"))
            .needed(),
        field("count", text_id!("format-count-2"), FormatFieldKind::Whole { least: 2, most: 200 }).needed(),
        field("from", text_id!("format-row-from"), FormatFieldKind::Place).needed(),
        field("to", text_id!("format-row-to"), FormatFieldKind::Place).needed(),
        field("first", text_id!("format-row-first"), FormatFieldKind::Whole { least: 0, most: 200 }),
    ],
};

pub(super) static HOLE: FormatTable = FormatTable {
    id: "joint.group.hole",
    name: text_id!("format-hole"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("material", text_id!("format-material"), FormatFieldKind::Choice { choices: &MATERIALS }),
        field(
            "engaged",
            text_id!("format-hole-engaged"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "tensile",
            text_id!("format-hole-tensile"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        )
        .hint(text_id!("format-hole-tensile-hint")),
        field("shear_ratio", text_id!("format-hole-shear-ratio"), FormatFieldKind::Number)
            .hint(text_id!("format-hole-shear-ratio-hint")),
        field("chamfered", text_id!("format-hole-chamfered"), FormatFieldKind::Flag),
        field("blind", text_id!("format-hole-blind"), FormatFieldKind::Flag)
            .hint(text_id!("format-hole-blind-hint")),
    ],
};

pub(super) static GROUP_PATTERN: [FieldChoice; 7] = [
    FieldChoice::new("centre-out", text_id!("format-group-pattern-centre-out")),
    FieldChoice::new("outside-in", text_id!("format-group-pattern-outside-in")),
    FieldChoice::new("criss-cross", text_id!("format-group-pattern-criss-cross")),
    FieldChoice::new("diagonal", text_id!("format-group-pattern-diagonal")),
    FieldChoice::new("clockwise", text_id!("format-group-pattern-clockwise")),
    FieldChoice::new("line", text_id!("format-group-pattern-line")),
    FieldChoice::new("listed", text_id!("format-group-pattern-listed")),
];

pub(super) static GROUP: FormatTable = FormatTable {
    id: "joint.group",
    name: text_id!("format-group"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("fastener", text_id!("format-fastener"), FormatFieldKind::Reference { list: "fastener" })
            .needed(),
        field("parts", text_id!("format-group-parts"), FormatFieldKind::Reference { list: "slot" })
            .hint(text_id!("format-group-parts-hint")),
        field(
            "pattern",
            text_id!("format-group-pattern"),
            FormatFieldKind::Choice { choices: &GROUP_PATTERN },
        )
        .hint(text_id!("format-group-pattern-hint"))
        .usual(),
        field("order", text_id!("format-group-order"), FormatFieldKind::Order)
            .hint(text_id!("format-group-order-hint"))
            .usual()
            .of("pattern", &["listed"]),
        field(
            "position",
            text_id!("format-group-position"),
            FormatFieldKind::Tables { table: TableRef(&POSITION) },
        )
        .usual(),
        field("row", text_id!("format-group-row"), FormatFieldKind::Tables { table: TableRef(&ROW) }),
        field("hole", text_id!("format-hole"), FormatFieldKind::Table { table: TableRef(&HOLE) }),
    ],
};

pub(super) static ROD: FormatTable = FormatTable {
    id: "joint.running.rod",
    name: text_id!("format-rod"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "reciprocating",
            text_id!("format-rod-reciprocating"),
            FormatFieldKind::Quantity { dimension: Dimension::Mass },
        )
        .needed(),
        field(
            "rotating",
            text_id!("format-rod-rotating"),
            FormatFieldKind::Quantity { dimension: Dimension::Mass },
        )
        .needed(),
        field(
            "stroke",
            text_id!("format-rod-stroke"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "length",
            text_id!("format-rod-length"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field("speed", text_id!("format-rod-speed"), FormatFieldKind::Whole { least: 100, most: 50_000 })
            .needed(),
    ],
};

pub(super) static TEMPERATURES: FormatTable = FormatTable {
    id: "joint.running.hot",
    name: text_id!("format-hot"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "parts",
            text_id!("format-hot-parts"),
            FormatFieldKind::Quantity { dimension: Dimension::Temperature },
        )
        .needed(),
        field(
            "bolt",
            text_id!("format-bolt"),
            FormatFieldKind::Quantity { dimension: Dimension::Temperature },
        )
        .needed(),
    ],
};

pub(super) static SETTLING_ROUGHNESS: [FieldChoice; 3] = [
    FieldChoice::new("smooth", text_id!("format-settling-roughness-smooth")),
    FieldChoice::new("usual", text_id!("format-settling-roughness-usual")),
    FieldChoice::new("rough", text_id!("format-settling-roughness-rough")),
];

pub(super) static SETTLING: FormatTable = FormatTable {
    id: "joint.running.settling",
    name: text_id!("format-settling"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "roughness",
            text_id!("format-settling-roughness"),
            FormatFieldKind::Choice { choices: &SETTLING_ROUGHNESS },
        )
        .needed(),
        field("heads", text_id!("format-settling-heads"), FormatFieldKind::Whole { least: 1, most: 4 }),
        field(
            "interfaces",
            text_id!("format-settling-interfaces"),
            FormatFieldKind::Whole { least: 0, most: 20 },
        ),
        field("creep", text_id!("format-settling-creep"), FormatFieldKind::Number)
            .hint(text_id!("format-settling-creep-hint")),
    ],
};

pub(super) static RUNNING: FormatTable = FormatTable {
    id: "joint.running",
    name: text_id!("format-running"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "axial",
            text_id!("format-running-axial"),
            FormatFieldKind::Quantity { dimension: Dimension::Force },
        ),
        field("rod", text_id!("format-rod"), FormatFieldKind::Table { table: TableRef(&ROD) }),
        field(
            "needed",
            text_id!("format-running-needed"),
            FormatFieldKind::Quantity { dimension: Dimension::Force },
        ),
        field("load_introduction", text_id!("format-running-load-introduction"), FormatFieldKind::Number)
            .hint(text_id!("format-running-load-introduction-hint")),
        field(
            "hot",
            text_id!("format-running-hot"),
            FormatFieldKind::Table { table: TableRef(&TEMPERATURES) },
        ),
        field(
            "cold",
            text_id!("format-running-cold"),
            FormatFieldKind::Table { table: TableRef(&TEMPERATURES) },
        ),
        field("settling", text_id!("format-settling"), FormatFieldKind::Table { table: TableRef(&SETTLING) }),
    ],
};

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

pub(super) static JOINT_SCHOOL: [FieldChoice; 2] = [
    FieldChoice::new("all-groups-together", text_id!("format-joint-school-all-groups-together")),
    FieldChoice::new("finish-each-group", text_id!("format-joint-school-finish-each-group")),
];

pub(super) static JOINT: FormatTable = FormatTable {
    id: "joint",
    name: text_id!("format-joint"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("drawing", text_id!("format-drawing"), FormatFieldKind::Reference { list: "drawing" }).needed(),
        field("count", text_id!("format-count-3"), FormatFieldKind::Whole { least: 1, most: 200 }),
        field("members", text_id!("format-members"), FormatFieldKind::Texts)
            .hint(text_id!("format-joint-members-hint")),
        field("offset", text_id!("format-shape-every"), FormatFieldKind::Place),
        field("group", text_id!("format-joint-group"), FormatFieldKind::Tables { table: TableRef(&GROUP) })
            .usual(),
        field("procedure", text_id!("format-joint-procedure"), FormatFieldKind::Text)
            .hint(text_id!("format-joint-procedure-hint"))
            .usual(),
        field("stage", text_id!("format-joint-stage"), FormatFieldKind::Tables { table: TableRef(&STAGE) }),
        field(
            "tolerance",
            text_id!("format-joint-tolerance"),
            FormatFieldKind::Tolerance { dimension: Dimension::Torque },
        ),
        field(
            "angle_tolerance",
            text_id!("format-joint-angle-tolerance"),
            FormatFieldKind::Tolerance { dimension: Dimension::Angle },
        ),
        field("slots", text_id!("format-joint-slots"), FormatFieldKind::Whole { least: 3, most: 12 }),
        field(
            "twist",
            text_id!("format-stage-twist"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        ),
        field("school", text_id!("format-joint-school"), FormatFieldKind::Choice { choices: &JOINT_SCHOOL }),
        field("running", text_id!("format-running"), FormatFieldKind::Table { table: TableRef(&RUNNING) }),
        field("source", text_id!("format-source"), FormatFieldKind::Text).usual(),
    ],
};
