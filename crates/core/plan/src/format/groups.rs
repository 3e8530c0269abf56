//! Groups of fasteners, and loads while the engine runs.

use super::fasteners::MATERIALS;
use super::fields::{ASSUMED, FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
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
        ASSUMED,
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
