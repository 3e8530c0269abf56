//! Changing the text of a plan where it stands: what is not touched keeps its comments, its order and its spacing.
//!
//! Forms and text are two views of one thing, the text. An edit says what stands at a path from now on.

use serde::Deserialize;
use std::collections::BTreeMap;
use std::fmt;
use toml_edit::{Array, ArrayOfTables, DocumentMut, InlineTable, Item, Table, Value};

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
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct EditError {
    /// Where.
    pub path: String,
    /// What is wrong.
    pub message: String,
}

impl fmt::Display for EditError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.path, self.message)
    }
}

/// The longest path, in steps.
const DEEP: usize = 16;

/// One step of a path.
#[derive(Debug, Clone, PartialEq, Eq)]
enum Step {
    Key(String),
    At(usize),
}

/// The text with changes made.
///
/// # Errors
/// The first change that cannot be made, and why; nothing is changed then.
pub fn edit(text: &str, edits: &[Edit]) -> Result<String, EditError> {
    let fault = |path: &str, message: String| EditError { path: path.to_owned(), message };
    let parsed = text.parse::<DocumentMut>();
    let mut document = parsed.map_err(|error| fault("TOML", error.message().to_owned()))?;
    for edit in edits {
        match edit {
            Edit::Set { path, value } => set(&mut document, path, value),
            Edit::LookUp { path, text, source } => look_up(&mut document, path, text, source),
            Edit::Remove { path } => remove(&mut document, path),
            Edit::Add { text, within } => add(&mut document, within, text),
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
            | Edit::Shift { path, .. }
            | Edit::Add { within: path, .. }) = edit;
            fault(if matches!(edit, Edit::Take { .. }) { "piece" } else { path }, message)
        })?;
    }
    Ok(document.to_string())
}

/// A text whose fields are looked up by path.
#[derive(Debug)]
pub struct Written(Option<DocumentMut>);

impl Written {
    /// A text; one that is no TOML has no fields.
    pub fn of(text: &str) -> Self {
        Self(text.parse().ok())
    }

    /// What is written at a path, without its quotes; `None` where nothing is.
    pub fn at(&self, path: &str) -> Option<String> {
        self.node(path)?.written()
    }

    /// Everything that is written in a table, by its path inside of it.
    pub fn all(&self, table: &str) -> BTreeMap<String, String> {
        let mut all = BTreeMap::new();
        if let Some(node) = self.node(table) {
            node.gather("", &mut all);
        }
        all
    }

    /// The keys of a list of tables, in their order.
    pub fn ids(&self, list: &str) -> Vec<String> {
        let ids = (0..).map_while(|at| self.node(&format!("{list}[{at}]")));
        ids.map(|one| one.inner(&Step::Key("id".to_owned())).and_then(Node::written).unwrap_or_default())
            .collect()
    }

    fn node(&self, path: &str) -> Option<Node<'_>> {
        let mut at = Node::Table(self.0.as_ref()?.as_table());
        for step in steps(path).ok()? {
            at = at.inner(&step)?;
        }
        Some(at)
    }
}

fn steps(path: &str) -> Result<Vec<Step>, String> {
    let mut all = Vec::new();
    for part in path.split('.') {
        let (key, rest) = part.split_once('[').map_or((part, ""), |(key, _)| (key, &part[key.len()..]));
        if key.is_empty() {
            return Err("a path such as joint[0].stage[1].torque is needed".to_owned());
        }
        all.push(Step::Key(key.to_owned()));
        for number in rest.split('[').skip(1) {
            let number = number.strip_suffix(']').and_then(|number| number.parse().ok());
            all.push(Step::At(number.ok_or("a place in a list is a number in brackets, from 0")?));
        }
    }
    if all.len() > DEEP { Err(format!("at most {DEEP} steps")) } else { Ok(all) }
}

/// Something of the document that is looked at.
enum Node<'a> {
    Table(&'a Table),
    Tables(&'a ArrayOfTables),
    Value(&'a Value),
}

impl<'a> Node<'a> {
    fn of(item: &'a Item) -> Option<Self> {
        match item {
            Item::Table(table) => Some(Self::Table(table)),
            Item::ArrayOfTables(tables) => Some(Self::Tables(tables)),
            Item::Value(value) => Some(Self::Value(value)),
            Item::None => None,
        }
    }

    fn inner(self, step: &Step) -> Option<Self> {
        match (self, step) {
            (Self::Table(table), Step::Key(key)) => Self::of(table.get(key)?),
            (Self::Tables(tables), Step::At(at)) => tables.get(*at).map(Node::Table),
            (Self::Value(Value::Array(array)), Step::At(at)) => array.get(*at).map(Node::Value),
            (Self::Value(Value::InlineTable(table)), Step::Key(key)) => table.get(key).map(Node::Value),
            _ => None,
        }
    }

    fn gather(self, path: &str, all: &mut BTreeMap<String, String>) {
        let join = |key: &str| if path.is_empty() { key.to_owned() } else { format!("{path}.{key}") };
        match self {
            Self::Table(table) => {
                for (key, node) in table.iter().filter_map(|(key, item)| Some((key, Self::of(item)?))) {
                    node.gather(&join(key), all);
                }
            }
            Self::Value(Value::InlineTable(table)) => {
                for (key, value) in table {
                    Self::Value(value).gather(&join(key), all);
                }
            }
            Self::Tables(tables) => {
                for (at, table) in tables.iter().enumerate() {
                    Self::Table(table).gather(&format!("{path}[{at}]"), all);
                }
            }
            Self::Value(Value::Array(array)) => {
                for (at, value) in array.iter().enumerate() {
                    Self::Value(value).gather(&format!("{path}[{at}]"), all);
                }
            }
            node @ Self::Value(_) => all.extend(node.written().map(|text| (path.to_owned(), text))),
        }
    }

    fn written(self) -> Option<String> {
        match self {
            Self::Value(Value::String(text)) => Some(text.value().clone()),
            Self::Value(value) => Some(value.to_string().trim().to_owned()),
            _ => None,
        }
    }
}

/// Something of the document that is changed.
enum Place<'a> {
    Table(&'a mut Table),
    Inline(&'a mut InlineTable),
    Tables(&'a mut ArrayOfTables),
    Array(&'a mut Array),
}

impl<'a> Place<'a> {
    fn of(item: &'a mut Item) -> Option<Self> {
        match item {
            Item::Table(table) => Some(Self::Table(table)),
            Item::ArrayOfTables(tables) => Some(Self::Tables(tables)),
            Item::Value(value) => Self::of_value(value),
            Item::None => None,
        }
    }

    fn of_value(value: &'a mut Value) -> Option<Self> {
        match value {
            Value::Array(array) => Some(Self::Array(array)),
            Value::InlineTable(table) => Some(Self::Inline(table)),
            _ => None,
        }
    }

    fn inner(self, step: &Step) -> Result<Self, String> {
        let there = match (self, step) {
            (Self::Table(table), Step::Key(key)) => table.get_mut(key).and_then(Self::of),
            (Self::Inline(table), Step::Key(key)) => table.get_mut(key).and_then(Self::of_value),
            (Self::Tables(tables), Step::At(at)) => tables.get_mut(*at).map(Place::Table),
            (Self::Array(array), Step::At(at)) => array.get_mut(*at).and_then(Self::of_value),
            _ => None,
        };
        there.ok_or_else(|| "there is nothing at this path".to_owned())
    }
}

fn walk<'a>(document: &'a mut DocumentMut, steps: &[Step]) -> Result<Place<'a>, String> {
    steps.iter().try_fold(Place::Table(document.as_table_mut()), Place::inner)
}

fn split(path: &str) -> Result<(Vec<Step>, Step), String> {
    let mut all = steps(path)?;
    let last = all.pop().ok_or("a path is needed")?;
    Ok((all, last))
}

fn set(document: &mut DocumentMut, path: &str, value: &serde_json::Value) -> Result<(), String> {
    let (way, last) = split(path)?;
    let mut value = toml_value(value, 0)?;
    match (walk(document, &way)?, last) {
        (Place::Table(table), Step::Key(key)) => match table.get_mut(&key) {
            Some(Item::Value(there)) => {
                *value.decor_mut() = there.decor().clone();
                *there = value;
            }
            Some(Item::Table(_) | Item::ArrayOfTables(_)) => return Err("a table stands here".to_owned()),
            Some(Item::None) | None => {
                table.insert(&key, Item::Value(value));
            }
        },
        (Place::Inline(table), Step::Key(key)) => match table.get_mut(&key) {
            Some(there) => {
                *value.decor_mut() = there.decor().clone();
                *there = value;
            }
            None => {
                table.insert(&key, value);
            }
        },
        (Place::Array(array), Step::At(at)) if at < array.len() => {
            if let Some(there) = array.get(at) {
                *value.decor_mut() = there.decor().clone();
            }
            array.replace_formatted(at, value);
        }
        (Place::Array(array), Step::At(at)) if at == array.len() => {
            // One more stands on its line as the one before it does.
            if let Some(before) = at.checked_sub(1).and_then(|before| array.get(before)) {
                *value.decor_mut() = before.decor().clone();
            }
            array.push_formatted(value);
        }
        _ => return Err("nothing can be put here".to_owned()),
    }
    Ok(())
}

/// What was looked up, as a plan has it.
fn look_up(document: &mut DocumentMut, path: &str, text: &str, source: &str) -> Result<(), String> {
    let (table, key) = path.rsplit_once('.').ok_or("a path such as joint[0].procedure is needed")?;
    let text = text.trim();
    let of_clearance = table.contains("clearance[");
    let of_line = key == "procedure" || text.starts_with('?');
    if of_clearance && !of_line {
        // Three figures, from the least to the most; where no use was said, they are those of the street.
        let parts =
            text.split(['–', ';']).flat_map(|part| part.split(", ")).flat_map(|part| part.split(" to "));
        let parts: Vec<&str> = parts.map(str::trim).filter(|part| !part.is_empty()).collect();
        let plain: Result<Vec<f64>, _> = parts.iter().map(|part| part.parse()).collect();
        let window = plain.map_or_else(|_| serde_json::json!(parts), |numbers| serde_json::json!(numbers));
        let window = if key == "window" { serde_json::json!({ "street": window }) } else { window };
        set(document, path, &window)?;
    } else if let Some((figure, off)) =
        text.split_once('±').or_else(|| text.split_once("+-")).filter(|_| !of_line)
    {
        set(document, path, &figure.trim().into())?;
        set(document, &format!("{table}.tolerance"), &off.trim().into())?;
    } else {
        set(document, path, &text.into())?;
    }
    if source.trim().is_empty() {
        return Ok(());
    }
    let table = table.strip_suffix(".window").unwrap_or(table);
    set(document, &format!("{table}.source"), &source.trim().into())
}

fn toml_value(value: &serde_json::Value, deep: usize) -> Result<Value, String> {
    use serde_json::Value as Json;
    if deep > DEEP {
        return Err("it goes too deep".to_owned());
    }
    Ok(match value {
        Json::Bool(flag) => Value::from(*flag),
        Json::Number(number) => match number.as_i64() {
            Some(whole) => Value::from(whole),
            None => Value::from(number.as_f64().ok_or("a number is needed")?),
        },
        Json::String(text) => Value::from(text.as_str()),
        Json::Array(items) => {
            let items = items.iter().map(|item| toml_value(item, deep + 1));
            Value::Array(items.collect::<Result<Array, String>>()?)
        }
        Json::Object(fields) => {
            let mut table = InlineTable::new();
            for (key, value) in fields {
                table.insert(key, toml_value(value, deep + 1)?);
            }
            Value::InlineTable(table)
        }
        Json::Null => return Err("a value is needed; take it out instead".to_owned()),
    })
}

fn remove(document: &mut DocumentMut, path: &str) -> Result<(), String> {
    let (way, last) = split(path)?;
    match (walk(document, &way)?, last) {
        (Place::Table(table), Step::Key(key)) => {
            table.remove(&key);
        }
        (Place::Inline(table), Step::Key(key)) => {
            table.remove(&key);
        }
        (Place::Tables(tables), Step::At(at)) if at < tables.len() => {
            tables.remove(at);
            if tables.is_empty() {
                remove(document, path.rsplit_once('[').map_or(path, |(list, _)| list))?;
            }
        }
        (Place::Array(array), Step::At(at)) if at < array.len() => {
            array.remove(at);
        }
        _ => return Err("there is nothing at this path".to_owned()),
    }
    Ok(())
}

/// Tables of the same name go behind those that are there.
fn add(document: &mut DocumentMut, within: &str, text: &str) -> Result<(), String> {
    let added = text.parse::<DocumentMut>().map_err(|error| error.message().to_owned())?;
    let way = if within.is_empty() { Vec::new() } else { steps(within)? };
    let Place::Table(table) = walk(document, &way)? else {
        return Err("tables are added to a table only".to_owned());
    };
    // Tables are written in the order of their places; those of one place in the order they are kept in.
    let last = last_position(table);
    for (key, mut item) in added.into_table() {
        match &mut item {
            Item::Table(inner) => place(inner, Some(last)),
            Item::ArrayOfTables(inner) => inner.iter_mut().for_each(|inner| place(inner, Some(last))),
            _ => {}
        }
        match (table.get_mut(&key), item) {
            (Some(Item::ArrayOfTables(there)), Item::ArrayOfTables(more)) => {
                for table in more {
                    there.push(table);
                }
            }
            (None, item) => {
                table.insert(&key, item);
            }
            _ => return Err(format!("`{key}` stands there already")),
        }
    }
    Ok(())
}

fn procedure(document: &mut DocumentMut, joint: &str, line: &str) -> Result<(), String> {
    if let Place::Table(table) = walk(document, &steps(joint)?)? {
        table.remove("stage");
    }
    set(document, &format!("{joint}.procedure"), &line.into())
}

fn take(document: &mut DocumentMut, piece: &str) -> Result<(), String> {
    let missing = super::library::to_add(&document.to_string(), piece)?;
    add(document, "", &missing)
}

/// The largest position of a table, by which tables are written in their order.
fn last_position(table: &Table) -> isize {
    let inner = table.iter().map(|(_, item)| match item {
        Item::Table(table) => last_position(table),
        Item::ArrayOfTables(tables) => tables.iter().map(last_position).max().unwrap_or_default(),
        _ => 0,
    });
    inner.max().unwrap_or_default().max(table.position().unwrap_or_default())
}

fn shift(document: &mut DocumentMut, path: &str, up: bool) -> Result<(), String> {
    let (way, last) = split(path)?;
    let Step::At(at) = last else { return Err("one of a list is needed".to_owned()) };
    let other = if up { at.checked_sub(1) } else { at.checked_add(1) };
    let other = other.ok_or("it is the first already")?;
    match walk(document, &way)? {
        Place::Array(array) if at.max(other) < array.len() => {
            let (low, high) = (at.min(other), at.max(other));
            let (first, second) = (array.remove(low), array.remove(low));
            array.insert_formatted(low, second);
            array.insert_formatted(high, first);
        }
        Place::Tables(tables) if at.max(other) < tables.len() => {
            // They are written where they stand: the two change their places in the text as well.
            let mut all: Vec<Table> = std::mem::take(tables).into_iter().collect();
            let stood = [at, other].map(|of| all[of].position());
            all.swap(at, other);
            place(&mut all[at], stood[0]);
            place(&mut all[other], stood[1]);
            for table in all {
                tables.push(table);
            }
        }
        _ => return Err("there is no neighbour".to_owned()),
    }
    Ok(())
}

/// Puts a table, with what is inside of it, where another one stood.
fn place(table: &mut Table, at: Option<isize>) {
    table.set_position(at);
    for (_, item) in table.iter_mut() {
        match item {
            Item::Table(inner) => place(inner, at),
            Item::ArrayOfTables(inner) => inner.iter_mut().for_each(|inner| place(inner, at)),
            _ => {}
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Edit, Written, edit};
    use serde_json::json;

    const TEXT: &str = "# A plan.\nformat = 1\n\n# The caps.\n[[joint]]\nid = \"caps\" # as cast\n\n  [[joint.group]]\n  id = \"inner\"\n  position = [\n    { id = \"1\", at = [0, 0] }, # the front\n    { id = \"2\", at = [10, 0] },\n  ]\n\n  [[joint.stage]]\n  torque = \"45 N·m\" # page 12\n\n# The end.\n[[operation]]\nid = \"fit\"\n";

    fn set(path: &str, value: serde_json::Value) -> Edit {
        Edit::Set { path: path.to_owned(), value }
    }

    #[test]
    fn what_is_not_touched_keeps_its_comments_and_its_order() {
        let edits = [
            set("joint[0].stage[0].torque", json!("50 N·m")),
            set("joint[0].group[0].position[1].at", json!([12.5, 0])),
            set("joint[0].source", json!("the card")),
        ];
        let now = edit(TEXT, &edits).unwrap();
        assert_eq!(
            now.replace("50 N·m", "45 N·m")
                .replace("[12.5, 0]", "[10, 0]")
                .replace("source = \"the card\"\n", ""),
            TEXT
        );
        assert_eq!(edit(TEXT, &[]).unwrap(), TEXT);
        let paths = ["joint[0].stage[0].torque", "joint[0].group[0].position[1].at", "joint[1].id"];
        let read = Written::of(&now);
        assert_eq!(
            paths.map(|path| read.at(path)),
            [Some("50 N·m".to_owned()), Some("[12.5, 0]".to_owned()), None]
        );
        assert_eq!(read.ids("joint[0].group[0].position"), ["1", "2"]);
    }

    #[test]
    fn what_is_added_stands_behind_its_like_and_what_is_taken_out_is_gone() {
        let more =
            Edit::Add { text: "[[stage]]\nangle = \"60°\"\n".to_owned(), within: "joint[0]".to_owned() };
        let joint = Edit::Add {
            text: "[[joint]]\nid = \"head\"\n[[joint.group]]\nid = \"all\"\n".to_owned(),
            within: String::new(),
        };
        let now = edit(TEXT, &[more, joint]).unwrap();
        let read: toml::Table = now.parse().unwrap();
        assert_eq!(read["joint"].as_array().unwrap().len(), 2);
        assert_eq!(read["joint"][0]["stage"].as_array().unwrap().len(), 2, "{now}");
        assert_eq!(read["joint"][1]["group"][0]["id"].as_str(), Some("all"));
        let back = edit(
            &now,
            &[
                Edit::Remove { path: "joint[1]".to_owned() },
                Edit::Remove { path: "joint[0].stage[1]".to_owned() },
            ],
        )
        .unwrap();
        let (back, was): (toml::Table, toml::Table) = (back.parse().unwrap(), TEXT.parse().unwrap());
        assert_eq!(back, was);
    }

    #[test]
    fn neighbours_change_places_with_all_that_is_inside_of_them() {
        let two = "[[joint]]\nid = \"a\"\n[[joint.group]]\nid = \"x\"\n[[joint]]\nid = \"b\"\n[[joint.group]]\nid = \"y\"\n";
        let now = edit(two, &[Edit::Shift { path: "joint[1]".to_owned(), up: true }]).unwrap();
        let read: toml::Table = now.parse().unwrap();
        let ids = [0, 1].map(|at| {
            (read["joint"][at]["id"].as_str().unwrap(), read["joint"][at]["group"][0]["id"].as_str().unwrap())
        });
        assert_eq!(ids, [("b", "y"), ("a", "x")]);
    }

    #[test]
    fn a_change_that_cannot_be_made_says_where_and_changes_nothing() {
        for (path, value) in [
            ("joint[7].id", json!("x")),
            ("joint[0]", json!(1)),
            ("", json!(1)),
            ("joint[x]", json!(1)),
            ("format", json!(null)),
        ] {
            assert!(edit(TEXT, &[set(path, value)]).is_err(), "{path}");
        }
        assert!(edit("a = ", &[]).is_err());
    }
}
