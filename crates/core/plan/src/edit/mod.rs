//! Changing the text of a plan where it stands: what is not touched keeps its comments, its order and its spacing.
//!
//! Forms and text are two views of one thing, the text. An edit says what stands at a path from now on.
//!
//! A plan is its text. Forms and editor are two views of one text: a form sends an `Edit` by path, which changes
//! the text where it stands and keeps its comments and order. `Plan::draft` reads a text as far as it goes and
//! gives the page that is shown, with its faults; a fault stops only the version.

mod assumed;
mod figure;
#[cfg(test)]
mod form_tests;
mod joint;
mod line;
mod list;
mod manual;
mod measurement;
mod out;
mod path;
mod regroup;
mod table;
#[cfg(test)]
mod tests;
mod written;

use self::figure::{look_up, remove, set};
use self::joint::{add_joint, draw_outline};
use self::line::{add_step, insert, move_step, split_step};
use self::list::{add, shift};
use self::manual::add_manual_page;
use self::measurement::add_measurement;
use self::out::take_out;
use self::path::{EditTarget, PathStep, steps, walk};
use self::regroup::regroup;
use self::table::{append, put};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::Deserialize;
use std::fmt;
use toml_edit::DocumentMut;

pub use self::joint::{Arrangement, NewGroup, NewJoint};
pub use self::line::StepPlace;
pub use self::measurement::NewMeasurement;
pub use self::written::{SourceText, TableFields};

/// One change.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Edit {
    /// Something stands at a path from now on.
    Set {
        /// Where, such as `joint[3].stage[1].torque`.
        path: String,
        /// What: a text, a number, yes or no, a list of those, or a table of them.
        value: serde_json::Value,
    },
    /// A figure is looked up: it stands at its path from now on, how far off it may be beside it where that is said
    /// behind `±`, and where it was found.
    LookUp {
        /// Where it was wanted.
        path: String,
        /// What was found: `45 N·m ± 2 N·m`, `0.040 mm, 0.050 mm, 0.065 mm`, a procedure in one line.
        text: String,
        /// Where.
        #[serde(default)]
        source: String,
    },
    /// What stands at a path goes: a field, or one of a list.
    Remove {
        /// Where.
        path: String,
    },
    /// Tables are added, given as a plan writes them.
    Add {
        /// Their text.
        text: String,
        /// The table inside of which they stand, such as `joint[3]`; the plan itself where it is empty.
        #[serde(default)]
        within: String,
    },
    /// A step of the work comes in behind another: who needed that one needs the new one from now on.
    Insert {
        /// Its text: one `[[operation]]`, and what else it brings, such as what it measures.
        text: String,
        /// The step that it comes behind, such as `operation[3]`.
        after: String,
    },
    /// Something goes with all that is there for it alone: a step of the work, a clearance, a joint, a part.
    TakeOut {
        /// Which, such as `clearance[2]`.
        path: String,
    },
    /// A joint has a procedure in one line from now on; stages that were written out go.
    Procedure {
        /// The joint, such as `joint[3]`.
        joint: String,
        /// The line.
        line: String,
    },
    /// A piece of a plan is taken in, with all that it needs and is not there yet.
    Take {
        /// Its text.
        text: String,
    },
    /// One of a list changes places with its neighbour.
    Shift {
        /// Which, such as `joint[3].stage[1]`.
        path: String,
        /// Towards the beginning.
        up: bool,
    },
    /// A table says this from now on; what is left out goes, and what it says already stays as it stands.
    Put {
        /// Which, such as `joint[3].stage[1]`.
        path: String,
        /// All of its fields, as the plan format has them.
        #[cfg_attr(feature = "schema", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
        fields: TableFields,
        /// What it said when somebody began to change it: then only what they changed is, and it is refused where
        /// somebody else changed the same.
        #[serde(default)]
        #[cfg_attr(feature = "schema", schema(value_type = Option<std::collections::HashMap<String, serde_json::Value>>))]
        was: Option<TableFields>,
    },
    /// One more table of a list. Its key is made of its name where it is left out.
    Append {
        /// The list, such as `adapter` or `joint[3].stage`.
        list: String,
        /// Its fields, as the plan format has them.
        #[cfg_attr(feature = "schema", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
        fields: TableFields,
    },
    /// What a table was assumed to say is confirmed.
    Confirm {
        /// Which, such as `fastener[2]`; every table where it is empty.
        path: String,
        /// Keys of its fields; all that were assumed where there are none.
        #[serde(default)]
        fields: Vec<String>,
    },
    /// One more step of the build sequence.
    AddStep {
        /// Its fields, as the plan format has them.
        #[cfg_attr(feature = "schema", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
        fields: TableFields,
        /// Where it goes; what it needs follows from that.
        place: StepPlace,
    },
    /// A step of the build sequence goes to another place.
    MoveStep {
        /// Which, such as `operation[3]`.
        path: String,
        /// Where it goes.
        place: StepPlace,
    },
    /// A step that tightens is parted in two: the rest of its stages goes into a step of its own behind it.
    SplitStep {
        /// Which, such as `operation[3]`.
        path: String,
        /// Names of the stages that stay: the first ones.
        stages: Vec<String>,
    },
    /// One more joint, with its drawing, its fasteners and the step that tightens it.
    AddJoint {
        /// The joint.
        joint: NewJoint,
    },
    /// One more measurement, with its limits and the step that takes it.
    AddMeasurement {
        /// The measurement.
        measurement: NewMeasurement,
    },
    /// Fasteners of a joint go into another group of it.
    Regroup {
        /// The joint, such as `joint[3]`.
        joint: String,
        /// Their names.
        fasteners: Vec<String>,
        /// The key of the group; the name of a new one where the joint has none with this key.
        group: String,
    },
    /// A page of a manual is put to a joint.
    AddManualPage {
        /// The joint, such as `joint[3]`.
        joint: String,
        /// Fields of the page, as the plan format has them.
        #[cfg_attr(feature = "schema", schema(value_type = std::collections::HashMap<String, serde_json::Value>))]
        fields: TableFields,
    },
    /// The procedure of a joint in one line is written out as stages, each of which can be changed.
    WriteOut {
        /// The joint, such as `joint[3]`.
        joint: String,
    },
    /// The part of a joint is drawn anew around its fasteners.
    DrawOutline {
        /// The joint, such as `joint[3]`.
        joint: String,
    },
}

impl Edit {
    /// What it changes: a path, or the name of what it adds.
    fn place(&self) -> &str {
        match self {
            Self::Set { path, .. }
            | Self::LookUp { path, .. }
            | Self::Remove { path }
            | Self::TakeOut { path }
            | Self::Shift { path, .. }
            | Self::Put { path, .. }
            | Self::Confirm { path, .. }
            | Self::MoveStep { path, .. }
            | Self::SplitStep { path, .. }
            | Self::Insert { after: path, .. }
            | Self::Add { within: path, .. }
            | Self::Append { list: path, .. }
            | Self::Procedure { joint: path, .. }
            | Self::Regroup { joint: path, .. }
            | Self::AddManualPage { joint: path, .. }
            | Self::WriteOut { joint: path }
            | Self::DrawOutline { joint: path } => path,
            Self::Take { .. } => "piece",
            Self::AddStep { .. } => "operation",
            Self::AddJoint { .. } => "joint",
            Self::AddMeasurement { .. } => "site",
        }
    }

    /// Makes the change; gives where what it adds stands, where it adds one table.
    fn make(&self, document: &mut DocumentMut) -> Result<Option<String>, Message> {
        match self {
            Self::Append { list, fields } => return append(document, list, fields).map(Some),
            Self::AddManualPage { joint, fields } => {
                return add_manual_page(document, joint, fields).map(Some);
            }
            Self::AddStep { fields, place } => return add_step(document, fields, place).map(Some),
            Self::Set { path, value } => set(document, path, value),
            Self::Confirm { path, fields } => assumed::confirm(document, path, fields),
            Self::LookUp { path, text, source } => look_up(document, path, text, source),
            Self::Remove { path } => remove(document, path),
            Self::Add { text, within } => add(document, within, text),
            Self::Insert { text, after } => insert(document, after, text),
            Self::TakeOut { path } => take_out(document, path),
            Self::Procedure { joint, line } => procedure(document, joint, line),
            Self::Take { text } => take(document, text),
            Self::Shift { path, up } => shift(document, path, *up),
            Self::Put { path, fields, was } => put(document, path, fields, was.as_ref()),
            Self::MoveStep { path, place } => move_step(document, path, place),
            Self::SplitStep { path, stages } => split_step(document, path, stages),
            Self::AddJoint { joint } => add_joint(document, joint),
            Self::AddMeasurement { measurement } => add_measurement(document, measurement),
            Self::Regroup { joint, fasteners, group } => regroup(document, joint, fasteners, group),
            Self::WriteOut { joint } => write_out(document, joint),
            Self::DrawOutline { joint } => draw_outline(document, joint),
        }
        .map(|()| None)
    }
}

/// Why a change cannot be made.
#[derive(Debug, Clone, PartialEq)]
pub struct EditError {
    /// Where.
    pub path: String,
    /// What is wrong.
    pub message: Message,
}

impl fmt::Display for EditError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.path, self.message.in_base_units())
    }
}

/// The text with changes made.
///
/// ```
/// use rigore_plan::edit::{Edit, edit};
///
/// let text = "# Of the manual.\nname = \"Small\"\n";
/// let set = Edit::Set { path: "name".into(), value: "Smaller".into() };
/// assert_eq!(edit(text, &[set])?, "# Of the manual.\nname = \"Smaller\"\n");
/// # Ok::<(), rigore_plan::edit::EditError>(())
/// ```
///
/// # Errors
/// The first change that cannot be made, and why; nothing is changed then.
pub fn edit(text: &str, edits: &[Edit]) -> Result<String, EditError> {
    edit_text(text, edits).map(|edited| edited.text)
}

/// A text with changes made.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct EditedText {
    /// The text.
    pub text: String,
    /// Where the table stands that was added last, such as `adapter[2]`.
    pub added: Option<String>,
}

/// The same as [`edit`], with where what was added stands.
///
/// # Errors
/// The first change that cannot be made, and why; nothing is changed then.
pub fn edit_text(text: &str, edits: &[Edit]) -> Result<EditedText, EditError> {
    let fault = |path: &str, message: Message| EditError { path: path.to_owned(), message };
    let parsed = text.parse::<DocumentMut>();
    let mut document = parsed.map_err(|error| fault("TOML", error.message().into()))?;
    let mut added = None;
    for edit in edits {
        let made = edit.make(&mut document).map_err(|message| fault(edit.place(), message))?;
        added = made.or(added);
    }
    let mut edited = document.to_string();
    // A text that ends without a line break goes on to.
    if !text.ends_with('\n') && edited.ends_with('\n') {
        edited.pop();
    }
    // Where every line ends as another system ends them, every line still does.
    let ends = text.matches("\r\n").count();
    let same = ends > 0 && ends == text.matches('\n').count();
    Ok(EditedText { text: if same { edited.replace('\n', "\r\n") } else { edited }, added })
}

fn procedure(document: &mut DocumentMut, joint: &str, line: &str) -> Result<(), Message> {
    if let EditTarget::Table(table) = walk(document, &steps(joint)?)? {
        table.remove("stage");
    }
    set(document, &format!("{joint}.procedure"), &line.into())
}

fn write_out(document: &mut DocumentMut, joint: &str) -> Result<(), Message> {
    let at = match path::split(joint)? {
        (way, PathStep::At(at)) if way == [PathStep::Key("joint".to_owned())] => at,
        _ => return Err(message!("edit-there-nothing-at-this-path")),
    };
    let written = crate::read::written_out(&document.to_string(), at)?;
    if let EditTarget::Table(table) = walk(document, &steps(joint)?)? {
        for key in ["procedure", "tolerance", "angle_tolerance", "slots", "twist"] {
            table.remove(key);
        }
    }
    for (group, (pattern, listed)) in written.orders.iter().enumerate().filter(|(_, (of, _))| !of.is_empty())
    {
        let path = format!("{joint}.group[{group}]");
        if matches!(walk(document, &steps(&path)?)?, EditTarget::Table(table) if table.contains_key("pattern"))
        {
            continue;
        }
        set(document, &format!("{path}.pattern"), &(*pattern).into())?;
        if !listed.is_empty() {
            set(document, &format!("{path}.order"), &listed.as_slice().into())?;
        }
    }
    add(document, joint, &written.stages)
}

fn take(document: &mut DocumentMut, piece: &str) -> Result<(), Message> {
    let missing = super::library::to_add(&document.to_string(), piece)?;
    add(document, "", &missing)
}
