//! Operations of the build sequence.

use super::fields::{FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use super::measuring::CAUSE;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

pub(super) static TEMPORARY: FormatTable = FormatTable {
    id: "operation.item.puts_in",
    name: text_id!("format-puts-in"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("count", text_id!("format-count-4"), FormatFieldKind::Whole { least: 1, most: 1000 }),
    ],
};

pub(super) static GAP: FormatTable = FormatTable {
    id: "operation.item.sketch.gaps",
    name: text_id!("format-gaps"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("ring", text_id!("format-gaps-ring"), FormatFieldKind::Text).needed(),
        field("at", text_id!("format-gaps-at"), FormatFieldKind::Number).needed(),
    ],
};

pub(super) static SKETCH_KIND: [FieldChoice; 5] = [
    FieldChoice::new("cap-arrows", text_id!("format-sketch-kind-cap-arrows")),
    FieldChoice::new("tang-side", text_id!("format-sketch-kind-tang-side")),
    FieldChoice::new("ring-clocking", text_id!("format-sketch-kind-ring-clocking")),
    FieldChoice::new("gasket-front", text_id!("format-sketch-kind-gasket-front")),
    FieldChoice::new("washer-chamfer", text_id!("format-sketch-kind-washer-chamfer")),
];

pub(super) static SKETCH: FormatTable = FormatTable {
    id: "operation.item.sketch",
    name: text_id!("format-sketch"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("kind", text_id!("format-sketch-kind"), FormatFieldKind::Choice { choices: &SKETCH_KIND })
            .needed(),
        field("caps", text_id!("format-sketch-caps"), FormatFieldKind::Whole { least: 1, most: 12 })
            .usual()
            .of("kind", &["cap-arrows"]),
        field("gaps", text_id!("format-sketch-gaps"), FormatFieldKind::Tables { table: TableRef(&GAP) })
            .usual()
            .of("kind", &["ring-clocking"]),
    ],
};

pub(super) static ITEM: FormatTable = FormatTable {
    id: "operation.item",
    name: text_id!("format-item"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("text", text_id!("format-item-text"), FormatFieldKind::Words).needed(),
        field("right", text_id!("format-item-right"), FormatFieldKind::Text).usual(),
        field("wrong", text_id!("format-item-wrong"), FormatFieldKind::Text).usual(),
        field("at", text_id!("format-item-at"), FormatFieldKind::Texts)
            .hint(text_id!("format-joint-members-hint")),
        field("sketch", text_id!("format-sketch"), FormatFieldKind::Table { table: TableRef(&SKETCH) }),
        field(
            "puts_in",
            text_id!("format-item-puts-in"),
            FormatFieldKind::Table { table: TableRef(&TEMPORARY) },
        ),
        field(
            "takes_out",
            text_id!("format-item-takes-out"),
            FormatFieldKind::Reference { list: "temporary-item" },
        ),
        field("again", text_id!("format-item-again"), FormatFieldKind::Tables { table: TableRef(&CAUSE) }),
    ],
};

pub(super) static HARDWARE: FormatTable = FormatTable {
    id: "operation.hardware",
    name: text_id!("format-hardware"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("count", text_id!("format-count-5"), FormatFieldKind::Whole { least: 1, most: 10_000 })
            .needed(),
    ],
};

pub(super) static KINDS: [FieldChoice; 12] = [
    FieldChoice::new("take-in", text_id!("format-kind-take-in")),
    FieldChoice::new("prepare", text_id!("format-kind-prepare")),
    FieldChoice::new("fit", text_id!("format-kind-fit")),
    FieldChoice::new("check", text_id!("format-kind-check")),
    FieldChoice::new("seal", text_id!("format-stage-seal")),
    FieldChoice::new("count", text_id!("format-kind-count")),
    FieldChoice::new("measure", text_id!("format-kind-measure")),
    FieldChoice::new("tighten", text_id!("format-kind-tighten")),
    FieldChoice::new("loosen", text_id!("format-kind-loosen")),
    FieldChoice::new("turn", text_id!("format-kind-turn")),
    FieldChoice::new("sign", text_id!("format-kind-sign")),
    FieldChoice::new("repeat", text_id!("format-kind-repeat")),
];

pub(super) static OPERATION_PURPOSE: [FieldChoice; 2] = [
    FieldChoice::new("final", text_id!("format-operation-purpose-final")),
    FieldChoice::new("trial", text_id!("format-operation-purpose-trial")),
];

pub(super) static OPERATION_ORDER: [FieldChoice; 2] = [
    FieldChoice::new("one-after-other", text_id!("format-operation-order-one-after-other")),
    FieldChoice::new("any", text_id!("format-operation-order-any")),
];

pub(super) static OPERATION_SIGNATURE: [FieldChoice; 2] = [
    FieldChoice::new("each", text_id!("format-operation-signature-each")),
    FieldChoice::new("set", text_id!("format-operation-signature-set")),
];

pub(super) static OPERATION_STAND: [FieldChoice; 4] = [
    FieldChoice::new("upright", text_id!("format-operation-stand-upright")),
    FieldChoice::new("upside-down", text_id!("format-operation-stand-upside-down")),
    FieldChoice::new("front-up", text_id!("format-operation-stand-front-up")),
    FieldChoice::new("on-its-side", text_id!("format-operation-stand-on-its-side")),
];

pub(super) static OPERATION: FormatTable = FormatTable {
    id: "operation",
    name: text_id!("format-operation"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("kind", text_id!("format-operation-kind"), FormatFieldKind::Choice { choices: &KINDS })
            .needed(),
        field("needs", text_id!("format-operation-needs"), FormatFieldKind::References { list: "operation" })
            .usual(),
        field("slots", text_id!("format-operation-slots"), FormatFieldKind::References { list: "slot" })
            .usual()
            .of("kind", &["take-in"]),
        field("item", text_id!("format-operation-item"), FormatFieldKind::Tables { table: TableRef(&ITEM) })
            .usual()
            .of("kind", &["prepare", "fit", "check", "seal"]),
        field("joint", text_id!("format-joint"), FormatFieldKind::Reference { list: "joint" })
            .of("kind", &["tighten", "loosen"]),
        field("joints", text_id!("format-operation-joints"), FormatFieldKind::References { list: "joint" })
            .usual()
            .of("kind", &["tighten", "loosen"]),
        field("stages", text_id!("format-operation-stages"), FormatFieldKind::Stages)
            .hint(text_id!("format-again-fasteners-hint"))
            .of("kind", &["tighten", "loosen"]),
        field(
            "purpose",
            text_id!("format-operation-purpose"),
            FormatFieldKind::Choice { choices: &OPERATION_PURPOSE },
        )
        .of("kind", &["tighten", "loosen"]),
        field("fasteners", text_id!("format-operation-fasteners"), FormatFieldKind::Text)
            .hint(text_id!("format-operation-fasteners-hint"))
            .of("kind", &["tighten", "loosen"]),
        field("sites", text_id!("format-operation-sites"), FormatFieldKind::References { list: "site" })
            .usual()
            .of("kind", &["measure"]),
        field("joints", text_id!("format-operation-joints-2"), FormatFieldKind::References { list: "joint" })
            .of("kind", &["count"]),
        field(
            "hardware",
            text_id!("format-operation-hardware"),
            FormatFieldKind::Tables { table: TableRef(&HARDWARE) },
        )
        .usual()
        .of("kind", &["count"]),
        field(
            "back_of",
            text_id!("format-operation-back-of"),
            FormatFieldKind::Reference { list: "operation" },
        )
        .of("kind", &["count"]),
        field("suspect", text_id!("format-operation-suspect"), FormatFieldKind::Text)
            .usual()
            .of("kind", &["turn"]),
        field(
            "most",
            text_id!("format-operation-most"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .of("kind", &["turn"]),
        field(
            "rise",
            text_id!("format-operation-rise"),
            FormatFieldKind::Quantity { dimension: Dimension::Torque },
        )
        .of("kind", &["turn"]),
        field(
            "again",
            text_id!("format-operation-again"),
            FormatFieldKind::Tables { table: TableRef(&CAUSE) },
        )
        .of("kind", &["turn"]),
        field("count", text_id!("format-count-6"), FormatFieldKind::Whole { least: 2, most: 200 })
            .usual()
            .of("kind", &["repeat"]),
        field("members", text_id!("format-members-2"), FormatFieldKind::Texts)
            .hint(text_id!("format-joint-members-hint"))
            .of("kind", &["repeat"]),
        field("by", text_id!("format-operation-by"), FormatFieldKind::Text)
            .hint(text_id!("format-operation-by-hint"))
            .usual()
            .of("kind", &["repeat"]),
        field(
            "step",
            text_id!("format-operation-step"),
            FormatFieldKind::Tables { table: TableRef(&OPERATION) },
        )
        .usual()
        .of("kind", &["repeat"]),
        field(
            "order",
            text_id!("format-operation-order"),
            FormatFieldKind::Choice { choices: &OPERATION_ORDER },
        )
        .of("kind", &["repeat"]),
        field(
            "signature",
            text_id!("format-operation-signature"),
            FormatFieldKind::Choice { choices: &OPERATION_SIGNATURE },
        )
        .of("kind", &["repeat"]),
        field("parts", text_id!("format-operation-parts"), FormatFieldKind::References { list: "slot" }),
        field("cautions", text_id!("format-operation-cautions"), FormatFieldKind::Texts)
            .hint(text_id!("format-joint-members-hint")),
        field(
            "takes",
            text_id!("format-operation-takes"),
            FormatFieldKind::Quantity { dimension: Dimension::Time },
        ),
        field(
            "stand",
            text_id!("format-operation-stand"),
            FormatFieldKind::Choice { choices: &OPERATION_STAND },
        ),
        field("closes", text_id!("format-operation-closes"), FormatFieldKind::Flag)
            .hint(text_id!("format-operation-closes-hint")),
    ],
};
