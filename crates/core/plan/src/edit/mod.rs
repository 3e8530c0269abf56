//! Changing the text of a plan where it stands: what is not touched keeps its comments, its order and its spacing.
//!
//! Forms and text are two views of one thing, the text. An edit says what stands at a path from now on.
//!
//! A plan is its text. Forms and editor are two views of one text: a form sends an `Edit` by path, which changes
//! the text where it stands and keeps its comments and order. `Plan::draft` reads a text as far as it goes and
//! gives the page that is shown, with its faults; a fault stops only the version.

mod figure;
mod list;
mod out;
mod path;
#[cfg(test)]
mod tests;
mod written;

use self::figure::{look_up, remove, set};
use self::list::{add, insert, shift};
use self::out::take_out;
use self::path::{EditTarget, steps, walk};
use rigore_mechanics::message::Message;
use serde::Deserialize;
use std::fmt;
use toml_edit::DocumentMut;

pub use self::written::SourceText;

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
    let fault = |path: &str, message: Message| EditError { path: path.to_owned(), message };
    let parsed = text.parse::<DocumentMut>();
    let mut document = parsed.map_err(|error| fault("TOML", error.message().into()))?;
    for edit in edits {
        match edit {
            Edit::Set { path, value } => set(&mut document, path, value),
            Edit::LookUp { path, text, source } => look_up(&mut document, path, text, source),
            Edit::Remove { path } => remove(&mut document, path),
            Edit::Add { text, within } => add(&mut document, within, text),
            Edit::Insert { text, after } => insert(&mut document, after, text),
            Edit::TakeOut { path } => take_out(&mut document, path),
            Edit::Procedure { joint, line } => procedure(&mut document, joint, line),
            Edit::Take { text } => take(&mut document, text),
            Edit::Shift { path, up } => shift(&mut document, path, *up),
        }
        .map_err(|message| {
            let (Edit::Procedure { joint: path, .. }
            | Edit::Take { text: path }
            | Edit::Set { path, .. }
            | Edit::LookUp { path, .. }
            | Edit::Remove { path }
            | Edit::TakeOut { path }
            | Edit::Insert { after: path, .. }
            | Edit::Shift { path, .. }
            | Edit::Add { within: path, .. }) = edit;
            fault(if matches!(edit, Edit::Take { .. }) { "piece" } else { path }, message)
        })?;
    }
    let mut edited = document.to_string();
    // A text that ends without a line break goes on to.
    if !text.ends_with('\n') && edited.ends_with('\n') {
        edited.pop();
    }
    // Where every line ends as another system ends them, every line still does.
    let ends = text.matches("\r\n").count();
    Ok(if ends > 0 && ends == text.matches('\n').count() { edited.replace('\n', "\r\n") } else { edited })
}

fn procedure(document: &mut DocumentMut, joint: &str, line: &str) -> Result<(), Message> {
    if let EditTarget::Table(table) = walk(document, &steps(joint)?)? {
        table.remove("stage");
    }
    set(document, &format!("{joint}.procedure"), &line.into())
}

fn take(document: &mut DocumentMut, piece: &str) -> Result<(), Message> {
    let missing = super::library::to_add(&document.to_string(), piece)?;
    add(document, "", &missing)
}
