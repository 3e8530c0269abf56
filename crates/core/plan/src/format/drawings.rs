//! Drawings of parts.

use super::fields::{FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

pub(super) static SHAPE_KIND: [FieldChoice; 6] = [
    FieldChoice::new("outline", text_id!("format-shape-kind-outline")),
    FieldChoice::new("line", text_id!("format-shape-kind-line")),
    FieldChoice::new("circle", text_id!("format-shape-kind-circle")),
    FieldChoice::new("disc", text_id!("format-shape-kind-disc")),
    FieldChoice::new("rect", text_id!("format-shape-kind-rect")),
    FieldChoice::new("gear", text_id!("format-shape-kind-gear")),
];

pub(super) static SHAPE: FormatTable = FormatTable {
    id: "drawing.shape",
    name: text_id!("format-shape-kind"),
    layout: TableLayout::Inline,
    one_of: &[],
    fields: &[
        field("kind", text_id!("format-shape-kind"), FormatFieldKind::Choice { choices: &SHAPE_KIND })
            .needed(),
        field("points", text_id!("format-shape-points"), FormatFieldKind::Places)
            .hint(text_id!("format-shape-points-hint"))
            .usual()
            .of("kind", &["outline", "line"]),
        field("at", text_id!("format-shape-at"), FormatFieldKind::Place)
            .usual()
            .of("kind", &["circle", "disc", "gear"]),
        field(
            "diameter",
            text_id!("format-segment-diameter"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .usual()
        .of("kind", &["circle", "disc", "gear"]),
        field("from", text_id!("format-shape-from"), FormatFieldKind::Place).usual().of("kind", &["rect"]),
        field("to", text_id!("format-shape-to"), FormatFieldKind::Place).usual().of("kind", &["rect"]),
        field(
            "round",
            text_id!("format-shape-round"),
            FormatFieldKind::Quantity { dimension: Dimension::Length },
        )
        .of("kind", &["rect"]),
        field("teeth", text_id!("format-shape-teeth"), FormatFieldKind::Whole { least: 6, most: 200 })
            .of("kind", &["gear"]),
        field("count", text_id!("format-count"), FormatFieldKind::Whole { least: 2, most: 100 }),
        field("every", text_id!("format-shape-every"), FormatFieldKind::Place),
    ],
};

pub(super) static DRAWING_SEEN: [FieldChoice; 5] = [
    FieldChoice::new("above", text_id!("format-drawing-seen-above")),
    FieldChoice::new("below", text_id!("format-drawing-seen-below")),
    FieldChoice::new("side", text_id!("format-drawing-seen-side")),
    FieldChoice::new("front", text_id!("format-drawing-seen-front")),
    FieldChoice::new("rear", text_id!("format-drawing-seen-rear")),
];

pub(super) static DRAWING: FormatTable = FormatTable {
    id: "drawing",
    name: text_id!("format-drawing"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("seen", text_id!("format-drawing-seen"), FormatFieldKind::Choice { choices: &DRAWING_SEEN }),
        field("shape", text_id!("format-drawing-shape"), FormatFieldKind::Tables { table: TableRef(&SHAPE) })
            .usual(),
    ],
};
