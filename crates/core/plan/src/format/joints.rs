//! Joints.

use super::fields::{FieldChoice, FormatFieldKind, FormatTable, TableLayout, TableRef, field};
use super::groups::{GROUP, RUNNING};
use super::stages::STAGE;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;

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
        field("manual", text_id!("format-plan-manual"), FormatFieldKind::References { list: "manual" }),
    ],
};
