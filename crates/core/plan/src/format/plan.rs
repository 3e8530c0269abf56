//! The plan itself.

use super::drawings::DRAWING;
use super::fasteners::{ADAPTER, FASTENER, LUBRICANT};
use super::fields::{FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use super::joints::JOINT;
use super::measuring::{CLEARANCE, PART_SIZE, SITE, SLOT};
use super::operations::OPERATION;
use rigore_mechanics::text_id;

pub(super) static MANUAL: FormatTable = FormatTable {
    id: "manual",
    name: text_id!("format-manual"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("file", text_id!("format-manual-file"), FormatFieldKind::File).needed(),
        field("page", text_id!("format-manual-page"), FormatFieldKind::Whole { least: 1, most: 10_000 })
            .hint(text_id!("format-manual-page-hint"))
            .usual(),
    ],
};

pub(super) static PLAN: FormatTable = FormatTable {
    id: "",
    name: text_id!("format-plan"),
    layout: TableLayout::Block,
    one_of: &[],
    fields: &[
        field("id", text_id!("format-id-3"), FormatFieldKind::Id).needed(),
        field("name", text_id!("format-name"), FormatFieldKind::Text).needed(),
        field("about", text_id!("format-plan-about"), FormatFieldKind::Text),
        field(
            "lubricant",
            text_id!("format-plan-lubricant"),
            FormatFieldKind::Tables { table: TableRef(&LUBRICANT) },
        ),
        field(
            "fastener",
            text_id!("format-group-position"),
            FormatFieldKind::Tables { table: TableRef(&FASTENER) },
        ),
        field(
            "drawing",
            text_id!("format-plan-drawing"),
            FormatFieldKind::Tables { table: TableRef(&DRAWING) },
        ),
        field(
            "adapter",
            text_id!("format-plan-adapter"),
            FormatFieldKind::Tables { table: TableRef(&ADAPTER) },
        ),
        field("manual", text_id!("format-plan-manual"), FormatFieldKind::Tables { table: TableRef(&MANUAL) }),
        field("size", text_id!("format-plan-size"), FormatFieldKind::Tables { table: TableRef(&PART_SIZE) }),
        field("slot", text_id!("format-hot-parts"), FormatFieldKind::Tables { table: TableRef(&SLOT) }),
        field("joint", text_id!("format-plan-joint"), FormatFieldKind::Tables { table: TableRef(&JOINT) }),
        field("site", text_id!("format-plan-site"), FormatFieldKind::Tables { table: TableRef(&SITE) }),
        field(
            "clearance",
            text_id!("format-plan-clearance"),
            FormatFieldKind::Tables { table: TableRef(&CLEARANCE) },
        ),
        field(
            "operation",
            text_id!("format-plan-operation"),
            FormatFieldKind::Tables { table: TableRef(&OPERATION) },
        ),
    ],
};
