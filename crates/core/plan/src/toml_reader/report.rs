//! Faults of a document, by path and line.

use rigore_mechanics::message::Message;
use serde::Serialize;
use std::cell::RefCell;
use std::collections::{HashMap, HashSet};
use std::fmt;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// How bad a fault is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// The document is refused.
    Error,
    /// The document is taken, and this is shown.
    Warning,
}

/// Something wrong with a document, and where.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fault {
    /// How bad it is.
    pub severity: Severity,
    /// The file it is in.
    pub file: String,
    /// The line it stands on, from 1.
    pub line: usize,
    /// The field, such as `joint[0].stage[2].torque`.
    pub path: String,
    /// The same in the words of the forms: `Head, Snug, Torque`; empty where it is about the text as
    /// such.
    pub place: Message,
    /// What is wrong and what is allowed.
    pub message: Message,
    /// What a lead approves before the document is taken, where it is a warning of that kind: `Main caps, final`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub approves: Option<String>,
}

impl fmt::Display for Fault {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let word = match self.severity {
            Severity::Error => "error",
            Severity::Warning => "warning",
        };
        write!(f, "{}:{}: {word}: {}: {}", self.file, self.line, self.path, self.message.in_base_units())
    }
}

/// Where faults gather, and on which line each path of the document stands.
#[derive(Debug)]
pub struct FaultReport {
    file: String,
    lines: HashMap<String, usize>,
    faults: RefCell<Faults>,
    /// Which fields were asked for, by table.
    #[cfg(test)]
    pub asked: RefCell<std::collections::BTreeSet<(String, &'static str)>>,
}

/// What was found so far.
#[derive(Debug, Default)]
struct Faults {
    all: Vec<Fault>,
    /// The same by path and words: what is written once and stands for several is read as often.
    known: HashSet<(String, String)>,
    /// Whether there is an error among them, or among those that were too many to tell.
    errors: bool,
}

/// The most faults that are told of one document.
const MOST: usize = 500;

impl FaultReport {
    /// The report of a document, with the faults of its syntax.
    pub(super) fn of(file: &str, source: &str, top: &DeTable<'_>, syntax: &[toml::de::Error]) -> Self {
        let starts: Vec<usize> =
            std::iter::once(0).chain(source.match_indices('\n').map(|(at, _)| at + 1)).collect();
        let line = |offset: usize| starts.partition_point(|start| *start <= offset).max(1);
        let mut lines = HashMap::new();
        walk_table("", top, &line, &mut lines);
        let report = Self {
            file: file.to_owned(),
            lines,
            faults: RefCell::default(),
            #[cfg(test)]
            asked: RefCell::default(),
        };
        for error in syntax {
            let at = line(error.span().map_or(0, |span| span.start));
            report.put(Severity::Error, at, "TOML", error.message().into(), None);
        }
        report
    }

    /// Records an error at a path.
    pub fn error(&self, path: &str, message: impl Into<Message>) {
        self.put(Severity::Error, self.line(path), path, message.into(), None);
    }

    /// Records a warning at a path that a lead has to approve, and what that is about.
    pub fn warn_for_lead(&self, path: &str, message: impl Into<Message>, about: &str) {
        self.put(Severity::Warning, self.line(path), path, message.into(), Some(about.to_owned()));
    }

    /// Records a warning at a path.
    pub fn warn(&self, path: &str, message: impl Into<Message>) {
        self.put(Severity::Warning, self.line(path), path, message.into(), None);
    }

    fn put(&self, severity: Severity, line: usize, path: &str, message: Message, approves: Option<String>) {
        let mut faults = self.faults.borrow_mut();
        faults.errors |= severity == Severity::Error;
        if faults.all.len() < MOST && faults.known.insert((path.to_owned(), message.in_base_units())) {
            let (file, path) = (self.file.clone(), path.to_owned());
            let place = Message::default();
            faults.all.push(Fault { severity, file, line, path, place, message, approves });
        }
    }

    /// The line of a path, or of the nearest part of the document around it.
    fn line(&self, path: &str) -> usize {
        let mut path = path;
        loop {
            if let Some(line) = self.lines.get(path) {
                return *line;
            }
            match path.rfind(['.', '[']) {
                Some(end) => path = &path[..end],
                None => return 1,
            }
        }
    }

    /// Whether anything is refused.
    pub fn has_errors(&self) -> bool {
        self.faults.borrow().errors
    }

    /// Whether no error stands at a path or inside it.
    pub fn is_sound(&self, path: &str) -> bool {
        let inside = |fault: &Fault| {
            let rest = fault.path.strip_prefix(path);
            rest.is_some_and(|rest| rest.is_empty() || rest.starts_with(['.', '[']))
        };
        !self.faults.borrow().all.iter().any(|fault| fault.severity == Severity::Error && inside(fault))
    }

    /// Whether the document has so many items in a list, and no more.
    pub fn counts(&self, list: &str, items: usize) -> bool {
        let has = |at: usize| self.lines.contains_key(&format!("{list}[{at}]"));
        !has(items) && (items == 0 || has(items - 1))
    }

    /// Every fault, by line.
    pub fn into_faults(self) -> Vec<Fault> {
        let mut faults = self.faults.into_inner().all;
        faults.sort_by_key(|fault| fault.line);
        faults
    }
}

fn walk_table(
    path: &str,
    table: &DeTable<'_>,
    line: &dyn Fn(usize) -> usize,
    lines: &mut HashMap<String, usize>,
) {
    for (key, value) in table {
        let name = key.get_ref();
        let path = if path.is_empty() { name.to_string() } else { format!("{path}.{name}") };
        lines.insert(path.clone(), line(value.span().start));
        walk(&path, value, line, lines);
    }
}

fn walk(
    path: &str,
    value: &Spanned<DeValue<'_>>,
    line: &dyn Fn(usize) -> usize,
    lines: &mut HashMap<String, usize>,
) {
    match value.get_ref() {
        DeValue::Table(table) => walk_table(path, table, line, lines),
        DeValue::Array(items) => {
            // Figures and texts of a list stand where the list does.
            for (index, item) in items.iter().enumerate() {
                if matches!(item.get_ref(), DeValue::Table(_)) {
                    let path = format!("{path}[{index}]");
                    lines.insert(path.clone(), line(item.span().start));
                    walk(&path, item, line, lines);
                }
            }
        }
        _ => {}
    }
}
