//! One table of a document, read field by field.
//!
//! What is written once is read for each member. `Table::of_member` puts the member into texts and looks for its
//! own joint, site or slot first; `read/repeat.rs` makes operations of a repeat, which are operations like any
//! other from then on.

use super::report::FaultReport;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension, Quantity, Unit};
use std::cell::RefCell;
use std::rc::Rc;
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// Reads a document: gives what `read` makes of it, and the report. Where the report has errors, what
/// was made holds stand-ins and is not to be used.
///
/// # Panics
/// Where what was made keeps the table it was read from.
pub fn read<T>(file: &str, source: &str, read: impl FnOnce(&TomlTable<'_>) -> T) -> (T, FaultReport) {
    let (document, syntax) = DeTable::parse_recoverable(source);
    let report = Rc::new(FaultReport::of(file, source, document.get_ref(), &syntax));
    let top = TomlTable::new(&report, String::new(), document.get_ref());
    let made = read(&top);
    top.finish();
    drop(top);
    let report = Rc::try_unwrap(report).expect("no table outlives its reading");
    (made, report)
}

/// A table of the document being read. Fields are taken by name; what was not taken when
/// [`TomlTable::finish`] is called is an unknown field.
///
/// A missing or wrong field leaves a fault behind and yields a stand-in value, so that reading
/// goes on and finds the rest: a document with an error never becomes a plan.
#[derive(Debug, Clone)]
pub struct TomlTable<'a> {
    report: Rc<FaultReport>,
    path: String,
    map: &'a DeTable<'a>,
    taken: Rc<RefCell<Vec<&'static str>>>,
    /// What stands for `#` in its texts, and which member of a family its references mean first.
    member: Option<String>,
}

impl<'a> TomlTable<'a> {
    fn new(report: &Rc<FaultReport>, path: String, map: &'a DeTable<'a>) -> Self {
        Self { report: Rc::clone(report), path, map, taken: Rc::default(), member: None }
    }

    /// The same table as it is read for one member of what it stands for: `#` in its texts is the member, and
    /// what it refers to is the member's own where there is such a thing, `rod-3` for `rod`.
    #[must_use]
    pub fn of_member(&self, member: &str) -> Self {
        Self { member: Some(member.to_owned()), ..self.clone() }
    }

    /// A table inside of it.
    fn inner(&self, path: String, map: &'a DeTable<'a>) -> Self {
        Self { member: self.member.clone(), ..Self::new(&self.report, path, map) }
    }

    fn written(&self, text: &str) -> String {
        self.member.as_ref().map_or_else(|| text.to_owned(), |member| text.replace('#', member))
    }

    /// Reads a text that stands for what is not written out in the document; what is wrong in it is told at the
    /// field of this table that it comes from.
    pub fn reads<T>(&self, key: &str, text: &str, read: impl FnOnce(&TomlTable<'_>) -> T) -> T {
        let (document, syntax) = DeTable::parse_recoverable(text);
        for error in &syntax {
            self.error(key, error.message());
        }
        let table = TomlTable {
            member: self.member.clone(),
            ..TomlTable::new(&self.report, self.join(key), document.get_ref())
        };
        read(&table)
    }

    /// Whether nobody has looked the figure of a field up yet (C-47).
    pub fn is_open(&self, key: &str) -> bool {
        self.map.get(key).is_some_and(|value| value.get_ref().as_str().and_then(asked).is_some())
    }

    /// Those of some fields that nobody has looked up yet, with where to find them; they count as read.
    pub fn open_of(&self, keys: &[&'static str]) -> Vec<(&'static str, String)> {
        let note =
            |key: &&'static str| Some((*key, asked(self.map.get(*key)?.get_ref().as_str()?)?.to_owned()));
        let open: Vec<(&'static str, String)> = keys.iter().filter_map(note).collect();
        self.taken.borrow_mut().extend(open.iter().map(|(key, _)| *key));
        open
    }

    /// Its figures that nobody has looked up yet (C-47), with where to find them: `"?"`, or `"? page 12"`; fields of
    /// `but` are words and no figures. Where there is one, the rest of the table waits for it and is left unread.
    pub fn open(&self, but: &[&str]) -> Vec<(&'a str, String)> {
        let note = |value: &DeValue<'_>| value.as_str().and_then(asked).map(str::to_owned);
        let open = |value: &DeValue<'_>| {
            note(value).or_else(|| value.as_array()?.iter().find_map(|item| note(item.get_ref())))
        };
        let fields = self.map.iter().filter(|(key, _)| !but.contains(&key.get_ref().as_ref()));
        let open: Vec<(&str, String)> = fields
            .filter_map(|(key, value)| Some((key.get_ref().as_ref(), open(value.get_ref())?)))
            .collect();
        if !open.is_empty() {
            self.taken.borrow_mut().push(ALL);
        }
        open
    }

    /// Where in the document it stands.
    pub fn path(&self) -> &str {
        &self.path
    }

    fn join(&self, key: &str) -> String {
        if self.path.is_empty() { key.to_owned() } else { format!("{}.{key}", self.path) }
    }

    fn get(&self, key: &'static str) -> Option<&'a Spanned<DeValue<'a>>> {
        self.taken.borrow_mut().push(key);
        #[cfg(test)]
        self.report.asked.borrow_mut().insert((self.path.clone(), key));
        self.map.get(key)
    }

    /// Whether the field is there.
    pub fn has(&self, key: &str) -> bool {
        self.map.contains_key(key)
    }

    /// Records an error about a field, at its line.
    pub fn error(&self, key: &str, message: impl Into<Message>) {
        self.report.error(&self.join(key), message);
    }

    /// Records an error about the table itself.
    pub fn error_here(&self, message: impl Into<Message>) {
        self.report.error(&self.path, message);
    }

    fn missing(&self, key: &'static str, kind: impl Into<Message>) {
        self.error(key, message!("read-missing-needed", kind = kind.into()));
    }

    /// A required text; empty after a fault.
    pub fn text(&self, key: &'static str) -> String {
        let text = self.text_or(key, "");
        if text.is_empty() && !self.has(key) {
            self.missing(key, message!("read-text"));
        } else if text.trim().is_empty() && self.map.get(key).is_some_and(|v| v.get_ref().is_str()) {
            self.error(key, message!("read-empty-text-needed"));
        }
        text
    }

    /// An optional text.
    pub fn text_or(&self, key: &'static str, default: &str) -> String {
        let Some(value) = self.get(key) else { return default.to_owned() };
        if let Some(text) = value.get_ref().as_str() {
            self.written(text)
        } else {
            self.error(key, message!("read-text-needed-not", found = value.get_ref().type_str()));
            default.to_owned()
        }
    }

    /// Whether a text stands in the field.
    pub fn is_text(&self, key: &str) -> bool {
        self.map.get(key).is_some_and(|value| value.get_ref().is_str())
    }

    /// The text of a field that may be something else as well; empty where it is no text.
    pub fn word(&self, key: &'static str) -> &'a str {
        self.get(key).and_then(|value| value.get_ref().as_str()).unwrap_or_default()
    }

    /// An optional yes or no.
    pub fn flag(&self, key: &'static str) -> bool {
        let Some(value) = self.get(key) else { return false };
        value.get_ref().as_bool().unwrap_or_else(|| {
            self.error(key, message!("read-true-or-false-needed"));
            false
        })
    }

    /// A required quantity in its base unit: text with a unit, or a bare number in the base unit.
    pub fn quantity(&self, key: &'static str, dimension: Dimension) -> Option<f64> {
        let value = self.quantity_if(key, dimension);
        if value.is_none() && !self.has(key) {
            self.missing(
                key,
                message!("read-such-as-1", one = dimension.one(), symbol = dimension.base().symbol),
            );
        }
        value
    }

    /// An optional quantity in its base unit.
    pub fn quantity_if(&self, key: &'static str, dimension: Dimension) -> Option<f64> {
        let value = self.get(key)?.get_ref();
        let read = match value.as_str() {
            Some(text) => quantity::read(text, dimension, dimension.base())
                .map_err(|error| Message::from(error.to_string())),
            None => number(value).ok_or_else(|| message!("read-needed", one = dimension.one())),
        };
        read.map_err(|message| self.error(key, message)).ok()
    }

    /// The unit that a quantity is written in; its base unit where it has none.
    pub fn unit(&self, key: &str, dimension: Dimension) -> &'static Unit {
        let text = self.map.get(key).and_then(|value| value.get_ref().as_str());
        text.and_then(|text| quantity::unit_of(text, dimension)).unwrap_or(dimension.base())
    }

    /// A required quantity above zero.
    pub fn positive(&self, key: &'static str, dimension: Dimension) -> Option<f64> {
        let value = self.quantity(key, dimension)?;
        if value > 0.0 {
            return Some(value);
        }
        let value = Quantity::written_in(value, self.unit(key, dimension));
        self.error(key, message!("read-must-above-zero-not", value));
        None
    }

    /// An optional plain number.
    pub fn number_if(&self, key: &'static str) -> Option<f64> {
        let value = self.get(key)?.get_ref();
        let read = number(value);
        if read.is_none() {
            self.error(key, message!("read-number-needed"));
        }
        read
    }

    /// An optional whole number in a range; `None` after a fault.
    pub fn whole(&self, key: &'static str, range: std::ops::RangeInclusive<u32>) -> Option<u32> {
        let whole = match self.get(key)?.get_ref() {
            DeValue::Integer(integer) if integer.radix() == 10 => {
                integer.as_str().replace('_', "").parse().ok()
            }
            _ => None,
        };
        let whole = whole.filter(|whole| range.contains(whole));
        if whole.is_none() {
            self.error(
                key,
                message!("read-whole-number-from-needed", start = range.start(), end = range.end()),
            );
        }
        whole
    }

    /// An optional list of texts.
    pub fn texts(&self, key: &'static str) -> Vec<String> {
        self.items(key)
            .filter_map(|item| {
                let text = item.get_ref().as_str().map(|text| self.written(text));
                if text.is_none() {
                    self.error(key, message!("read-list-texts-needed"));
                }
                text
            })
            .collect()
    }

    /// Reads which of its fields were assumed and not confirmed yet: they have to be there.
    pub fn check_assumed(&self) {
        let written = |key: &&DeValue<'_>| key.as_str().is_some_and(|key| key != "assumed" && self.has(key));
        for item in self.items("assumed").map(Spanned::get_ref).filter(|item| !written(item)) {
            let name = item.as_str().unwrap_or("?").to_owned();
            self.error("assumed", message!("read-assumed-no-such-field", name));
        }
    }

    /// One text, or a list of them.
    fn one_or_more(&self, key: &'static str) -> Vec<String> {
        if self.is_text(key) { vec![self.text(key)] } else { self.texts(key) }
    }

    /// An optional list of quantities in their base unit: texts with a unit, or bare numbers in the base unit.
    pub fn quantities(&self, key: &'static str, dimension: Dimension) -> Vec<f64> {
        let read = |item: &Spanned<DeValue<'_>>| {
            let read = match item.get_ref().as_str() {
                Some(text) => quantity::read(&self.written(text), dimension, dimension.base())
                    .map_err(|error| Message::from(error.to_string())),
                None => number(item.get_ref())
                    .ok_or_else(|| message!("read-list-s-needed", word = dimension.word())),
            };
            read.map_err(|message| self.error(key, message)).ok()
        };
        self.items(key).filter_map(read).collect()
    }

    /// An optional list of plain numbers.
    pub fn numbers(&self, key: &'static str) -> Vec<f64> {
        self.items(key)
            .filter_map(|item| {
                let value = number(item.get_ref());
                if value.is_none() {
                    self.error(key, message!("read-list-numbers-needed"));
                }
                value
            })
            .collect()
    }

    /// A required place `[x, y]` in mm.
    pub fn place(&self, key: &'static str) -> [f64; 2] {
        if let [x, y] = self.numbers(key)[..] {
            return [x, y];
        }
        self.error(key, message!("read-place-x-y-mm-needed"));
        [0.0, 0.0]
    }

    /// An optional list of places `[[x, y], …]` in mm.
    pub fn places(&self, key: &'static str) -> Vec<[f64; 2]> {
        let pair = |item: &DeValue<'_>| match item.as_array().map(|list| list.iter().collect::<Vec<_>>()) {
            Some(list) if list.len() == 2 => Some([number(list[0].get_ref())?, number(list[1].get_ref())?]),
            _ => None,
        };
        self.items(key)
            .filter_map(|item| {
                let place = pair(item.get_ref());
                if place.is_none() {
                    self.error(key, message!("read-list-places-x-y-mm-needed"));
                }
                place
            })
            .collect()
    }

    fn items(&self, key: &'static str) -> impl Iterator<Item = &'a Spanned<DeValue<'a>>> + use<'a> {
        let value = self.get(key);
        let array = value.and_then(|value| value.get_ref().as_array());
        if value.is_some() && array.is_none() {
            self.error(key, message!("read-list-needed"));
        }
        array.into_iter().flat_map(|array| array.iter())
    }

    /// An optional list of tables.
    pub fn tables(&self, key: &'static str) -> Vec<Self> {
        self.items(key)
            .enumerate()
            .filter_map(|(index, item)| {
                let path = format!("{}[{index}]", self.join(key));
                let map = item.get_ref().as_table();
                if map.is_none() {
                    self.report.error(&path, message!("read-table-needed"));
                }
                Some(self.inner(path, map?))
            })
            .collect()
    }

    /// An optional table.
    pub fn table(&self, key: &'static str) -> Option<Self> {
        let value = self.get(key)?;
        let map = value.get_ref().as_table();
        if map.is_none() {
            self.error(key, message!("read-table-needed"));
        }
        Some(self.inner(self.join(key), map?))
    }

    /// A required word out of a list; the first one after a fault.
    pub fn choice<T: Copy>(&self, key: &'static str, choices: &[(&str, T)]) -> Option<T> {
        let word = self.text(key);
        if word.is_empty() {
            return None;
        }
        let found = choices.iter().find(|(name, _)| *name == word).map(|(_, value)| *value);
        if found.is_none() {
            let names: Vec<_> = choices.iter().map(|(name, _)| *name).collect();
            self.error(key, message!("read-not-one", word, names = names.join(", ")));
        }
        found
    }

    /// A required reference to one of `ids`, as its place among them; says what there is when it is
    /// not there, and stands in the first.
    pub fn reference<'i>(
        &self,
        key: &'static str,
        what: impl Into<Message>,
        ids: impl Iterator<Item = &'i str>,
    ) -> usize {
        let known: Vec<&str> = ids.collect();
        self.find(key, &what.into(), &self.text(key), &known).unwrap_or(0)
    }

    /// An optional list of references, as places among `ids`; without those that are not there.
    pub fn references<'i>(
        &self,
        key: &'static str,
        what: impl Into<Message>,
        ids: impl Iterator<Item = &'i str>,
    ) -> Vec<usize> {
        let known: Vec<&str> = ids.collect();
        let what = what.into();
        self.texts(key).iter().filter_map(|id| self.find(key, &what, id, &known)).collect()
    }

    /// An optional list of references to what may belong to a family, given as keys with the key of the
    /// family: a name means the member's own, else the one that is called so, else all of the family.
    pub fn references_among(
        &self,
        key: &'static str,
        what: impl Into<Message>,
        known: &[(&str, &str)],
    ) -> Vec<usize> {
        let what = what.into();
        let of = |id: &String| {
            if let Some(at) = self.position(id, &known.iter().map(|(id, _)| *id)) {
                return vec![at];
            }
            let family: Vec<usize> = (0..known.len()).filter(|at| known[*at].1 == id).collect();
            if family.is_empty() {
                let mut names: Vec<&str> = known.iter().map(|(_, family)| *family).collect();
                names.dedup();
                self.find(key, &what, id, &names);
            }
            family
        };
        self.one_or_more(key).iter().flat_map(of).collect()
    }

    /// The member's own, else the one that is called so.
    fn position<'i>(&self, id: &str, known: &(impl Iterator<Item = &'i str> + Clone)) -> Option<usize> {
        let own = self.member.as_ref().map(|member| format!("{id}-{member}"));
        let own = own.and_then(|own| known.clone().position(|other| other == own));
        own.or_else(|| known.clone().position(|other| other == id))
    }

    fn find(&self, key: &str, what: &Message, id: &str, known: &[&str]) -> Option<usize> {
        let found = self.position(id, &known.iter().copied());
        if found.is_none() && !id.is_empty() {
            let there = if known.is_empty() {
                message!("read-there-none")
            } else {
                message!("read-there", known = known.join(", "))
            };
            self.error(key, message!("read-no-called", what, id, there));
        }
        found
    }

    /// Records every field that was not taken as unknown.
    pub fn finish(&self) {
        let taken = self.taken.borrow();
        if taken.contains(&ALL) {
            return;
        }
        for (key, _) in self.map {
            let name = key.get_ref().as_ref();
            if !taken.contains(&name) {
                let known = taken.join(", ");
                let message = message!("read-unknown-field-known-here", known);
                self.report.error(&self.join(name), message);
            }
        }
    }
}

/// What stands for every field of a table that is left unread.
const ALL: &str = "*";

/// Where a figure is to be found that nobody has looked up yet; `None` where a text is a figure.
pub fn asked(text: &str) -> Option<&str> {
    text.trim().strip_prefix('?').map(str::trim)
}

fn number(value: &DeValue<'_>) -> Option<f64> {
    let text = match value {
        DeValue::Integer(integer) if integer.radix() == 10 => integer.as_str(),
        DeValue::Float(float) => float.as_str(),
        _ => return None,
    };
    text.replace('_', "").parse().ok().filter(|number: &f64| number.is_finite())
}
