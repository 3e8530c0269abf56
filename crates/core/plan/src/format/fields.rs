//! What describes a table of the plan format: its fields, what each holds and when it is asked for.

use rigore_mechanics::message::TextId;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text_id;
use serde::{Serialize, Serializer};

/// A table of the format.
#[derive(Debug, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FormatTable {
    /// Where it stands, without places in lists: `joint.stage`.
    pub id: &'static str,
    /// What one of it is called.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub name: TextId,
    /// How it is written.
    #[serde(skip)]
    pub layout: TableLayout,
    /// Exactly one of these fields is given; none where that is not so.
    pub one_of: &'static [&'static str],
    /// Its fields, in the order they are asked and written in. One that is asked for in several cases comes as often.
    pub fields: &'static [FormatField],
}

impl PartialEq for FormatTable {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

/// How a table is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TableLayout {
    /// With a head of its own.
    Block,
    /// In one line, inside of the field that holds it.
    Inline,
}

/// A field of a table.
#[derive(Debug, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FormatField {
    /// Its key.
    pub key: &'static str,
    /// What it is called.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub label: TextId,
    /// What helps to fill it in; empty where nothing does.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub hint: TextId,
    /// What it holds.
    pub kind: FormatFieldKind,
    /// Whether it has to be there.
    pub needed: bool,
    /// Whether a form shows it from the start; others are offered by name.
    pub usual: bool,
    /// It is asked for where one of these fields is given; always where there is none.
    pub with: &'static [&'static str],
    /// It is asked for where this field has one of these values.
    pub of: Option<FieldCondition>,
}

/// That a field has one of several values.
#[derive(Debug, Clone, Copy, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FieldCondition {
    /// The key of the field.
    pub key: &'static str,
    /// Its values.
    pub values: &'static [&'static str],
}

/// The field that says which others were assumed.
pub(super) const ASSUMED: FormatField =
    field("assumed", text_id!("format-assumed"), FormatFieldKind::Assumed);

pub(super) const fn field(key: &'static str, label: TextId, kind: FormatFieldKind) -> FormatField {
    FormatField { key, label, hint: TextId::NONE, kind, needed: false, usual: false, with: &[], of: None }
}

impl FormatField {
    pub(super) const fn hint(self, hint: TextId) -> Self {
        Self { hint, ..self }
    }

    pub(super) const fn needed(self) -> Self {
        Self { needed: true, usual: true, ..self }
    }

    pub(super) const fn usual(self) -> Self {
        Self { usual: true, ..self }
    }

    pub(super) const fn with(self, with: &'static [&'static str]) -> Self {
        Self { with, ..self }
    }

    pub(super) const fn of(self, key: &'static str, values: &'static [&'static str]) -> Self {
        Self { of: Some(FieldCondition { key, values }), ..self }
    }
}

/// What a field holds.
#[derive(Debug, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case")]
pub enum FormatFieldKind {
    /// The key by which others refer to it; made of the name where it is left out.
    Id,
    /// One line of text.
    Text,
    /// Some lines of text.
    Words,
    /// Yes or no.
    Flag,
    /// A whole number.
    Whole {
        /// The least.
        least: u32,
        /// The most.
        most: u32,
    },
    /// A number without a unit.
    Number,
    /// A list of such numbers.
    Numbers,
    /// A figure with a unit.
    Quantity {
        /// What it measures.
        dimension: Dimension,
    },
    /// A list of figures with a unit.
    Quantities {
        /// What they measure.
        dimension: Dimension,
    },
    /// A figure with a unit, or the key of what is measured.
    Size {
        /// What it measures.
        dimension: Dimension,
    },
    /// A figure with a unit, or a percentage.
    Tolerance {
        /// What it measures.
        dimension: Dimension,
    },
    /// One of some words.
    Choice {
        /// The words.
        choices: &'static [FieldChoice],
    },
    /// The key of one of a list.
    Reference {
        /// The list: `fastener`.
        list: &'static str,
    },
    /// Keys of several of a list.
    References {
        /// The list.
        list: &'static str,
    },
    /// A list of texts.
    Texts,
    /// A place x, y in mm.
    Place,
    /// A list of places.
    Places,
    /// Limits by use.
    Windows,
    /// Keys of the fasteners of a group, in an order.
    Order,
    /// Names of stages of the joints of an operation.
    Stages,
    /// Keys of fields of the same table that nobody has confirmed yet.
    Assumed,
    /// A file that the shop keeps, by its SHA-256.
    File,
    /// A table.
    Table {
        /// Which.
        #[cfg_attr(feature = "schema", schema(value_type = String))]
        table: TableRef,
    },
    /// A list of tables.
    Tables {
        /// Of which kind.
        #[cfg_attr(feature = "schema", schema(value_type = String))]
        table: TableRef,
    },
}

/// One of the words that a field can have.
#[derive(Debug, Clone, Copy, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FieldChoice {
    /// As it is written.
    pub value: &'static str,
    /// What it is called.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub label: TextId,
}

impl FieldChoice {
    pub(super) const fn new(value: &'static str, label: TextId) -> Self {
        Self { value, label }
    }
}

/// A table of the format, as a field refers to it: by its id.
#[derive(Clone, Copy)]
pub struct TableRef(pub &'static FormatTable);

// A table may hold tables of its own kind.
impl std::fmt::Debug for TableRef {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.0.id)
    }
}

impl Serialize for TableRef {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.0.id)
    }
}

impl FormatTable {
    /// Its field with a key; the first where it is asked for in several cases.
    pub fn field(&self, key: &str) -> Option<&'static FormatField> {
        self.fields.iter().find(|field| field.key == key)
    }

    /// The table that one of its fields holds, or a list of.
    pub fn inner(&self, key: &str) -> Option<&'static FormatTable> {
        match self.field(key)?.kind {
            FormatFieldKind::Table { table } | FormatFieldKind::Tables { table } => Some(table.0),
            _ => None,
        }
    }
}
