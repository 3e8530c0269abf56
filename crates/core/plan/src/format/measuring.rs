//! Parts, what is measured, and clearances.

use super::fields::{ASSUMED, FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

pub(super) static SLOT: FormatTable = FormatTable {
    id: "slot",
    name: text_id!("format-slot"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("count", text_id!("format-count-4"), FormatFieldKind::Whole { least: 1, most: 200 }).usual(),
        field("members", text_id!("format-members"), FormatFieldKind::Texts)
            .hint(text_id!("format-joint-members-hint")),
        field(
            "uses_allowed",
            text_id!("format-slot-uses-allowed"),
            FormatFieldKind::Whole { least: 1, most: 10_000 },
        )
        .hint(text_id!("format-slot-uses-allowed-hint")),
        field("sizes", text_id!("format-slot-sizes"), FormatFieldKind::References { list: "size" })
            .hint(text_id!("format-slot-sizes-hint")),
        field("numbered", text_id!("format-slot-numbered"), FormatFieldKind::Flag),
        field("returns", text_id!("format-slot-returns"), FormatFieldKind::Flag),
    ],
};

pub(super) static PART_SIZE: FormatTable = FormatTable {
    id: "size",
    name: text_id!("format-size"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("choices", text_id!("format-size-choices"), FormatFieldKind::Texts)
            .hint(text_id!("format-size-choices-hint"))
            .needed(),
    ],
};

pub(super) static CAUSE_WHEN: [FieldChoice; 3] = [
    FieldChoice::new("loosened", text_id!("format-again-when-loosened")),
    FieldChoice::new("replaced", text_id!("format-again-when-replaced")),
    FieldChoice::new("apart", text_id!("format-again-when-apart")),
];

pub(super) static CAUSE: FormatTable = FormatTable {
    id: "again",
    name: text_id!("format-again"),
    layout: TableLayout::Inline,
    one_of: &["joint", "part"],
    fields: &[
        field("joint", text_id!("format-again-joint"), FormatFieldKind::References { list: "joint" }),
        field("part", text_id!("format-again-part"), FormatFieldKind::References { list: "slot" }),
        field("when", text_id!("format-again-when"), FormatFieldKind::Choice { choices: &CAUSE_WHEN })
            .usual()
            .with(&["joint"]),
        field("fasteners", text_id!("format-again-fasteners"), FormatFieldKind::Texts)
            .hint(text_id!("format-again-fasteners-hint"))
            .with(&["joint"]),
    ],
};

pub(super) static FORMS: [FieldChoice; 15] = [
    FieldChoice::new("journal", text_id!("format-form-journal")),
    FieldChoice::new("bore", text_id!("format-form-bore")),
    FieldChoice::new("gap", text_id!("format-form-gap")),
    FieldChoice::new("length", text_id!("format-form-length")),
    FieldChoice::new("strip", text_id!("format-form-strip")),
    FieldChoice::new("ring", text_id!("format-form-ring")),
    FieldChoice::new("deck", text_id!("format-form-deck")),
    FieldChoice::new("chamber", text_id!("format-form-chamber")),
    FieldChoice::new("valve", text_id!("format-form-valve")),
    FieldChoice::new("angle", text_id!("format-form-angle")),
    FieldChoice::new("count", text_id!("format-form-count")),
    FieldChoice::new("torque", text_id!("format-form-torque")),
    FieldChoice::new("pressure", text_id!("format-form-pressure")),
    FieldChoice::new("temperature", text_id!("format-form-temperature")),
    FieldChoice::new("mass", text_id!("format-form-mass")),
];

pub(super) static SITE_MATERIAL: [FieldChoice; 4] = [
    FieldChoice::new("steel", text_id!("format-material-steel")),
    FieldChoice::new("cast-iron", text_id!("format-site-material-cast-iron")),
    FieldChoice::new("aluminium", text_id!("format-site-material-aluminium")),
    FieldChoice::new("none", text_id!("format-site-material-none")),
];

pub(super) static SITE: FormatTable = FormatTable {
    id: "site",
    name: text_id!("format-site"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("count", text_id!("format-count-4"), FormatFieldKind::Whole { least: 1, most: 200 }).usual(),
        field("members", text_id!("format-members"), FormatFieldKind::Texts)
            .hint(text_id!("format-joint-members-hint")),
        field("form", text_id!("format-site-form"), FormatFieldKind::Choice { choices: &FORMS }).needed(),
        field("planes", text_id!("format-site-planes"), FormatFieldKind::Texts)
            .hint(text_id!("format-site-planes-hint")),
        field("angles", text_id!("format-site-angles"), FormatFieldKind::Numbers)
            .hint(text_id!("format-site-angles-hint")),
        field("shells_in", text_id!("format-site-shells-in"), FormatFieldKind::Flag).of("form", &["bore"]),
        field("series", text_id!("format-site-series"), FormatFieldKind::Numbers)
            .hint(text_id!("format-site-series-hint"))
            .usual()
            .of("form", &["valve"]),
        field(
            "strip",
            text_id!("format-site-strip"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .usual()
        .of("form", &["strip"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Length },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["journal", "bore", "length"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Clearance },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["gap", "strip", "ring", "deck", "valve"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Volume },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["chamber"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Angle },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["angle"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Torque },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["torque"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Fluid },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["pressure"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Temperature },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["temperature"]),
        field(
            "plausible",
            text_id!("format-site-plausible"),
            FormatFieldKind::Quantities { dimension: Dimension::Mass },
        )
        .hint(text_id!("format-site-plausible-hint"))
        .of("form", &["mass"]),
        field("plausible", text_id!("format-site-plausible"), FormatFieldKind::Numbers)
            .hint(text_id!("format-site-plausible-hint"))
            .of("form", &["count"]),
        field("part", text_id!("format-group-parts"), FormatFieldKind::Reference { list: "slot" })
            .hint(text_id!("format-site-part-hint")),
        field("material", text_id!("format-material"), FormatFieldKind::Choice { choices: &SITE_MATERIAL })
            .hint(text_id!("format-site-material-hint")),
        field("again", text_id!("format-site-again"), FormatFieldKind::Tables { table: TableRef(&CAUSE) }),
        ASSUMED,
    ],
};

pub(super) static VALVE: FormatTable = FormatTable {
    id: "clearance.valve",
    name: text_id!("format-valve"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "stroke",
            text_id!("format-rod-stroke"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "rod",
            text_id!("format-valve-rod"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "offset",
            text_id!("format-valve-offset"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        ),
        field(
            "shut",
            text_id!("format-valve-shut"),
            FormatFieldKind::Size { dimension: Dimension::Clearance },
        )
        .hint(text_id!("format-valve-shut-hint"))
        .needed(),
        field(
            "angle",
            text_id!("format-valve-angle"),
            FormatFieldKind::Quantity { dimension: Dimension::Angle },
        ),
        field(
            "lift",
            text_id!("format-valve-lift"),
            FormatFieldKind::Quantities { dimension: Dimension::Clearance },
        )
        .needed(),
    ],
};

pub(super) static COMPRESSION: FormatTable = FormatTable {
    id: "clearance.compression",
    name: text_id!("format-compression"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field(
            "bore",
            text_id!("format-compression-bore"),
            FormatFieldKind::Size { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "stroke",
            text_id!("format-rod-stroke"),
            FormatFieldKind::Size { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "chamber",
            text_id!("format-compression-chamber"),
            FormatFieldKind::Size { dimension: Dimension::Volume },
        )
        .needed(),
        field(
            "piston",
            text_id!("format-compression-piston"),
            FormatFieldKind::Size { dimension: Dimension::Volume },
        )
        .needed(),
        field(
            "gasket_bore",
            text_id!("format-compression-gasket-bore"),
            FormatFieldKind::Size { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "gasket",
            text_id!("format-compression-gasket"),
            FormatFieldKind::Size { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "deck",
            text_id!("format-compression-deck"),
            FormatFieldKind::Size { dimension: Dimension::Length },
        )
        .needed(),
        field(
            "crevice",
            text_id!("format-compression-crevice"),
            FormatFieldKind::Size { dimension: Dimension::Volume },
        ),
    ],
};

pub(super) static SHELL: FormatTable = FormatTable {
    id: "clearance.shell",
    name: text_id!("format-shell"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("grade", text_id!("format-shell-grade"), FormatFieldKind::Text).needed(),
        field(
            "thickness",
            text_id!("format-layer-thickness"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .needed(),
    ],
};

pub(super) static CLEARANCE_TRUST: [FieldChoice; 2] = [
    FieldChoice::new("first", text_id!("format-clearance-trust-first")),
    FieldChoice::new("second", text_id!("format-clearance-trust-second")),
];

pub(super) static CLEARANCE: FormatTable = FormatTable {
    id: "clearance",
    name: text_id!("format-clearance"),
    layout: TableLayout::Block,
    one_of: &["plus", "least", "compression"],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("plus", text_id!("format-site"), FormatFieldKind::Reference { list: "site" }),
        field("least", text_id!("format-clearance-least"), FormatFieldKind::Reference { list: "site" }),
        field(
            "compression",
            text_id!("format-compression"),
            FormatFieldKind::Table { table: TableRef(&COMPRESSION) },
        ),
        field("minus", text_id!("format-clearance-minus"), FormatFieldKind::Reference { list: "site" })
            .usual()
            .with(&["plus"]),
        field(
            "add",
            text_id!("format-clearance-add"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .hint(text_id!("format-clearance-add-hint"))
        .with(&["plus"]),
        field("valve", text_id!("format-valve"), FormatFieldKind::Table { table: TableRef(&VALVE) })
            .with(&["least"]),
        field("window", text_id!("format-clearance-window"), FormatFieldKind::Windows)
            .hint(text_id!("format-clearance-window-hint"))
            .needed(),
        field("per_bore", text_id!("format-clearance-per-bore"), FormatFieldKind::Reference { list: "site" })
            .with(&["plus"]),
        field("filed", text_id!("format-clearance-filed"), FormatFieldKind::Flag).with(&["plus"]),
        field("second", text_id!("format-clearance-second"), FormatFieldKind::Reference { list: "site" })
            .hint(text_id!("format-clearance-second-hint"))
            .with(&["plus"]),
        field(
            "trust",
            text_id!("format-clearance-trust"),
            FormatFieldKind::Choice { choices: &CLEARANCE_TRUST },
        )
        .with(&["second"]),
        field(
            "shell",
            text_id!("format-clearance-shell"),
            FormatFieldKind::Tables { table: TableRef(&SHELL) },
        )
        .hint(text_id!("format-clearance-shell-hint"))
        .with(&["plus"]),
        field("source", text_id!("format-source"), FormatFieldKind::Text),
    ],
};
