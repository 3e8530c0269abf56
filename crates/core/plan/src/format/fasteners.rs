//! Lubricants, fasteners and adapters.

use super::fields::{ASSUMED, FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

pub(super) static LUBRICANT_FILM: [FieldChoice; 3] = [
    FieldChoice::new("lubricant", text_id!("format-lubricant-film-lubricant")),
    FieldChoice::new("dry", text_id!("format-lubricant-film-dry")),
    FieldChoice::new("sealant", text_id!("format-lubricant-film-sealant")),
];

pub(super) static LUBRICANT: FormatTable = FormatTable {
    id: "lubricant",
    name: text_id!("format-lubricant"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("thread", text_id!("format-lubricant-thread"), FormatFieldKind::Numbers)
            .hint(text_id!("format-lubricant-thread-hint"))
            .needed(),
        field("bearing", text_id!("format-lubricant-bearing"), FormatFieldKind::Numbers)
            .hint(text_id!("format-lubricant-bearing-hint"))
            .usual(),
        field(
            "film",
            text_id!("format-lubricant-film"),
            FormatFieldKind::Choice { choices: &LUBRICANT_FILM },
        ),
        field("source", text_id!("format-source"), FormatFieldKind::Text).needed(),
    ],
};

pub(super) static SEGMENT: FormatTable = FormatTable {
    id: "fastener.bolt.segment",
    name: text_id!("format-segment"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "length",
            text_id!("format-segment-length"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field("diameter", text_id!("format-segment-diameter"), FormatFieldKind::Text)
            .hint(text_id!("format-segment-diameter-hint"))
            .needed(),
    ],
};

pub(super) static BOLT_HEAD: [FieldChoice; 2] = [
    FieldChoice::new("hex", text_id!("format-bolt-head-hex")),
    FieldChoice::new("socket", text_id!("format-bolt-head-socket")),
];

pub(super) static BOLT_END: [FieldChoice; 2] = [
    FieldChoice::new("tapped", text_id!("format-bolt-end-tapped")),
    FieldChoice::new("nut", text_id!("format-bolt-end-nut")),
];

pub(super) static MATERIALS: [FieldChoice; 7] = [
    FieldChoice::new("steel", text_id!("format-material-steel")),
    FieldChoice::new("grey-iron", text_id!("format-material-grey-iron")),
    FieldChoice::new("spheroidal-iron", text_id!("format-material-spheroidal-iron")),
    FieldChoice::new("aluminium", text_id!("format-material-aluminium")),
    FieldChoice::new("wrought-aluminium", text_id!("format-material-wrought-aluminium")),
    FieldChoice::new("magnesium", text_id!("format-material-magnesium")),
    FieldChoice::new("titanium", text_id!("format-material-titanium")),
];

pub(super) static BOLT: FormatTable = FormatTable {
    id: "fastener.bolt",
    name: text_id!("format-bolt"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("head", text_id!("format-bolt-head"), FormatFieldKind::Choice { choices: &BOLT_HEAD }),
        field("end", text_id!("format-bolt-end"), FormatFieldKind::Choice { choices: &BOLT_END }),
        field("material", text_id!("format-material"), FormatFieldKind::Choice { choices: &MATERIALS }),
        field(
            "modulus",
            text_id!("format-bolt-modulus"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        )
        .hint(text_id!("format-bolt-modulus-hint")),
        field(
            "end_material",
            text_id!("format-bolt-end-material"),
            FormatFieldKind::Choice { choices: &MATERIALS },
        )
        .hint(text_id!("format-bolt-end-material-hint")),
        field(
            "segment",
            text_id!("format-bolt-segment"),
            FormatFieldKind::Tables { table: TableRef(&SEGMENT) },
        )
        .usual(),
        field("resilience", text_id!("format-bolt-resilience"), FormatFieldKind::Text)
            .hint(text_id!("format-bolt-resilience-hint")),
    ],
};

pub(super) static LAYER: FormatTable = FormatTable {
    id: "fastener.parts.layer",
    name: text_id!("format-layer"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("name", text_id!("format-name"), FormatFieldKind::Text),
        field(
            "thickness",
            text_id!("format-layer-thickness"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field("material", text_id!("format-material"), FormatFieldKind::Choice { choices: &MATERIALS }),
        field(
            "modulus",
            text_id!("format-bolt-modulus"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        )
        .hint(text_id!("format-bolt-modulus-hint")),
    ],
};

pub(super) static WASHER: FormatTable = FormatTable {
    id: "fastener.parts.washer",
    name: text_id!("format-washer"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "outer",
            text_id!("format-washer-outer"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "thickness",
            text_id!("format-layer-thickness"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
    ],
};

pub(super) static PARTS_KIND: [FieldChoice; 2] = [
    FieldChoice::new("tapped", text_id!("format-parts-kind-tapped")),
    FieldChoice::new("through", text_id!("format-parts-kind-through")),
];

pub(super) static PARTS: FormatTable = FormatTable {
    id: "fastener.parts",
    name: text_id!("format-parts"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("kind", text_id!("format-parts-kind"), FormatFieldKind::Choice { choices: &PARTS_KIND }),
        field(
            "bearing_od",
            text_id!("format-parts-bearing-od"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        ),
        field(
            "hole",
            text_id!("format-parts-hole"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        ),
        field(
            "outer",
            text_id!("format-parts-outer"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        ),
        field(
            "clamp_length",
            text_id!("format-parts-clamp-length"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .hint(text_id!("format-parts-clamp-length-hint")),
        field("material", text_id!("format-material"), FormatFieldKind::Choice { choices: &MATERIALS }),
        field(
            "modulus",
            text_id!("format-bolt-modulus"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        )
        .hint(text_id!("format-bolt-modulus-hint")),
        field("layer", text_id!("format-parts-layer"), FormatFieldKind::Tables { table: TableRef(&LAYER) })
            .usual(),
        field("resilience", text_id!("format-bolt-resilience"), FormatFieldKind::Text)
            .hint(text_id!("format-parts-resilience-hint")),
        field(
            "pressure_limit",
            text_id!("format-parts-pressure-limit"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        ),
        field("washer", text_id!("format-washer"), FormatFieldKind::Table { table: TableRef(&WASHER) }),
    ],
};

pub(super) static STUD_END: FormatTable = FormatTable {
    id: "fastener.stud",
    name: text_id!("format-stud"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("thread", text_id!("format-fastener-thread"), FormatFieldKind::Text)
            .hint(text_id!("format-fastener-thread-hint"))
            .needed(),
        field(
            "lubricant",
            text_id!("format-stud-lubricant"),
            FormatFieldKind::Reference { list: "lubricant" },
        )
        .needed(),
    ],
};

pub(super) static FASTENER: FormatTable = FormatTable {
    id: "fastener",
    name: text_id!("format-fastener"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("thread", text_id!("format-fastener-thread"), FormatFieldKind::Text)
            .hint(text_id!("format-fastener-thread-hint"))
            .needed(),
        field("strength", text_id!("format-fastener-strength"), FormatFieldKind::Text)
            .hint(text_id!("format-fastener-strength-hint"))
            .usual(),
        field(
            "yield",
            text_id!("format-fastener-yield"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        )
        .hint(text_id!("format-fastener-yield-hint")),
        field(
            "tensile",
            text_id!("format-fastener-tensile"),
            FormatFieldKind::Quantity { dimension: Dimension::Pressure },
        )
        .hint(text_id!("format-fastener-tensile-hint")),
        field(
            "elongation_allowed",
            text_id!("format-fastener-elongation-allowed"),
            FormatFieldKind::Quantity { dimension: Dimension::Clearance },
        ),
        field(
            "bearing_diameter",
            text_id!("format-fastener-bearing-diameter"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .hint(text_id!("format-fastener-bearing-diameter-hint")),
        field(
            "thread_lubricant",
            text_id!("format-fastener-thread-lubricant"),
            FormatFieldKind::Reference { list: "lubricant" },
        )
        .needed(),
        field(
            "bearing_lubricant",
            text_id!("format-fastener-bearing-lubricant"),
            FormatFieldKind::Reference { list: "lubricant" },
        )
        .needed(),
        field("stud", text_id!("format-stud"), FormatFieldKind::Table { table: TableRef(&STUD_END) }),
        field("single_use", text_id!("format-fastener-single-use"), FormatFieldKind::Flag),
        field("to_yield", text_id!("format-fastener-to-yield"), FormatFieldKind::Flag),
        field("bolt", text_id!("format-bolt"), FormatFieldKind::Table { table: TableRef(&BOLT) }),
        field("parts", text_id!("format-parts"), FormatFieldKind::Table { table: TableRef(&PARTS) }),
        field("source", text_id!("format-source"), FormatFieldKind::Text),
        ASSUMED,
    ],
};

pub(super) static ADAPTER: FormatTable = FormatTable {
    id: "adapter",
    name: text_id!("format-adapter"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field(
            "length",
            text_id!("format-adapter-length"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "angle",
            text_id!("format-adapter-angle"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        )
        .hint(text_id!("format-adapter-angle-hint"))
        .needed(),
        field(
            "wrench",
            text_id!("format-adapter-wrench"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .hint(text_id!("format-adapter-wrench-hint"))
        .needed(),
    ],
};
