//! What people are told: the id of a text in the catalog, with what it holds as data.
//!
//! A [`Message`] is no finished text. Its words come from the catalog of texts (`rigore-texts`) in the language of
//! whoever reads it, once it is shown; a [`Quantity`] stays a value with its dimension, shown in the units that the
//! reader chose. Made with [`message!`](crate::message!):
//!
//! ```
//! use rigore_mechanics::{message, message::Message, quantity::{Dimension, Quantity}};
//!
//! let torque = Quantity::new(44.0, Dimension::Torque);
//! let told: Message = message!("message-with-after", words = torque, after = "2R");
//! assert_eq!(told.in_base_units(), "44.0 N·m 2R");
//! ```
//!
//! As JSON it is words and quantities in the language of the thread that writes it ([`rigore_texts::with_language`]). Where
//! it is kept to be shown later, it is written by its id ([`serialize_by_id`]).

use crate::quantity::Quantity;
use rigore_texts::TextArgument;
use serde::{Deserialize, Deserializer, Serialize};
use std::borrow::Cow;
use std::cell::Cell;
use std::fmt;

/// One piece of a message.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum MessagePiece {
    /// Words as they are.
    Words(String),
    /// A quantity, shown in the reader's unit.
    Quantity(Quantity),
}

/// What is told to a person. As JSON it is a string where it has no quantity, else its pieces in their order. Two are
/// equal that tell the same.
#[derive(Clone, Default)]
pub struct Message {
    parts: Vec<MessagePart>,
}

impl fmt::Debug for Message {
    fn fmt(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        fmt::Debug::fmt(&self.in_base_units(), formatter)
    }
}

impl PartialEq for Message {
    fn eq(&self, other: &Self) -> bool {
        self.parts == other.parts || self.pieces() == other.pieces()
    }
}

/// A part of a message, before it is shown.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
enum MessagePart {
    /// Words that are of no language: what people entered, names, standards.
    Words(String),
    /// A count, for which a text may have forms.
    Count(i64),
    Quantity(Quantity),
    /// A text of the catalog.
    Text(CatalogText),
}

/// A text of the catalog with what it holds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
struct CatalogText {
    text: Cow<'static, str>,
    #[serde(with = "holding")]
    holds: Vec<(Cow<'static, str>, Message)>,
}

/// What was typed is told again up to so many characters.
const TOLD_AGAIN: usize = 40;
/// Stands in a text for what it holds, until that is put in its place.
const PLACE: [char; 2] = ['\u{E000}', '\u{E001}'];

impl CatalogText {
    /// Adds its pieces.
    fn tell(&self, told: &mut Vec<MessagePiece>) {
        let place = |(at, (name, held)): (usize, &(Cow<'static, str>, Message))| {
            let argument = match held.parts[..] {
                [MessagePart::Count(count)] => TextArgument::Count(count),
                _ => TextArgument::Text(format!("{}{at}{}", PLACE[0], PLACE[1]).into()),
            };
            (name.clone(), argument)
        };
        let places: Vec<_> = self.holds.iter().enumerate().map(place).collect();
        let places: Vec<_> = places.iter().map(|(name, place)| (&**name, place.clone())).collect();
        let text = rigore_texts::format_text(&self.text, &places);
        let mut rest = &text[..];
        while let Some((words, behind)) = rest.split_once(PLACE[0]) {
            push(told, MessagePiece::Words(words.to_owned()));
            let Some((at, behind)) = behind.split_once(PLACE[1]) else { break };
            let held = at.parse().ok().and_then(|at: usize| self.holds.get(at));
            if let Some((_, held)) = held {
                let quoted = words.ends_with('`') && behind.starts_with('`');
                held.tell(told, quoted);
            }
            rest = behind;
        }
        push(told, MessagePiece::Words(rest.to_owned()));
    }
}

/// Words that follow each other are one piece.
fn push(told: &mut Vec<MessagePiece>, piece: MessagePiece) {
    match (told.last_mut(), piece) {
        (_, MessagePiece::Words(words)) if words.is_empty() => {}
        (Some(MessagePiece::Words(last)), MessagePiece::Words(words)) => last.push_str(&words),
        (_, piece) => told.push(piece),
    }
}

/// No longer than anybody reads.
fn short(words: &str) -> String {
    if words.chars().count() <= TOLD_AGAIN {
        return words.to_owned();
    }
    words.chars().take(TOLD_AGAIN).chain(['…']).collect()
}

impl Message {
    /// Its pieces in their order, in the language of this thread; words stand between any two quantities that are to
    /// be told apart.
    pub fn pieces(&self) -> Vec<MessagePiece> {
        let mut told = Vec::new();
        self.tell(&mut told, false);
        told
    }

    fn tell(&self, told: &mut Vec<MessagePiece>, quoted: bool) {
        for part in &self.parts {
            match part {
                MessagePart::Words(words) if quoted => push(told, MessagePiece::Words(short(words))),
                MessagePart::Words(words) => push(told, MessagePiece::Words(words.clone())),
                MessagePart::Count(count) => push(told, MessagePiece::Words(count.to_string())),
                MessagePart::Quantity(quantity) => push(told, MessagePiece::Quantity(*quantity)),
                MessagePart::Text(text) => text.tell(told),
            }
        }
    }

    /// Whether it says nothing.
    pub fn is_empty(&self) -> bool {
        self.parts.is_empty()
    }

    /// The text for where no reader has chosen units: the command line and tables. Quantities are in their base
    /// units, or in the one that the plan gives them in.
    pub fn in_base_units(&self) -> String {
        let text = |piece: MessagePiece| match piece {
            MessagePiece::Words(words) => words,
            MessagePiece::Quantity(quantity) => quantity.in_base_unit(),
        };
        self.pieces().into_iter().map(text).collect()
    }

    /// The same as words and quantities, in the language of this thread: what is recorded stays as it was told.
    #[must_use]
    pub fn as_told(&self) -> Self {
        Self::of_pieces(self.pieces())
    }

    fn of_pieces(pieces: Vec<MessagePiece>) -> Self {
        let part = |piece| match piece {
            MessagePiece::Words(words) => MessagePart::Words(words),
            MessagePiece::Quantity(quantity) => MessagePart::Quantity(quantity),
        };
        Self { parts: pieces.into_iter().map(part).collect() }
    }

    /// Several messages in one, with a mark such as a comma between them.
    pub fn join(messages: impl IntoIterator<Item = Self>, between: &str) -> Self {
        let mut joined = Self::default();
        for (at, message) in messages.into_iter().enumerate() {
            if at > 0 && !between.is_empty() {
                joined.parts.push(MessagePart::Words(between.to_owned()));
            }
            joined.parts.extend(message.parts);
        }
        joined
    }

    /// Several things that all count: `a and b`.
    pub fn all_of(messages: impl IntoIterator<Item = Self>) -> Self {
        let both = |first: Self, second: Self| crate::message!("message-both", first, second);
        messages.into_iter().reduce(both).unwrap_or_default()
    }

    /// The same holding one thing more, where its text asks for it: what is only known by whoever tells it.
    #[must_use]
    pub fn holding(mut self, name: &'static str, held: impl Into<Self>) -> Self {
        if let [MessagePart::Text(text)] = &mut self.parts[..] {
            text.holds.push((name.into(), held.into()));
        }
        self
    }

    /// A text of the catalog by its id, with what it holds. Used by [`message!`](crate::message!).
    #[doc(hidden)]
    pub fn of(text: &'static str, holds: Vec<(Cow<'static, str>, Self)>) -> Self {
        Self { parts: vec![MessagePart::Text(CatalogText { text: text.into(), holds })] }
    }
}

/// A [`Message`] by the id of its text in the catalog, with what it holds:
/// `message!("tighten-fastener-turned", fastener, angle = Quantity::new(..))`.
///
/// What it holds is words, a whole number, a [`Quantity`] or another message. The tests of the catalog read every use
/// and name an id that is not there, and a name that its text has and is not given.
#[macro_export]
macro_rules! message {
    ($id:literal $(, $name:ident $(= $value:expr)?)* $(,)?) => {
        $crate::message::Message::of(
            $id,
            ::std::vec![$((::std::stringify!($name).into(), $crate::message!(@ $name $(= $value)?))),*],
        )
    };
    (@ $name:ident) => { $crate::message::MessageArgument::to_message(&$name) };
    (@ $name:ident = $value:expr) => { $crate::message::MessageArgument::to_message(&$value) };
}

/// The text of a [`message!`](crate::message!) now, in the language of this thread: where a string is needed that
/// nobody keeps.
#[macro_export]
macro_rules! text {
    ($($message:tt)*) => { $crate::message!($($message)*).in_base_units() };
}

/// The id of a text that holds nothing, for tables that are there before anybody reads them:
/// `text_id!("calc-clamp-load")`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct TextId(&'static str);

impl TextId {
    /// Used by [`text_id!`](crate::text_id!).
    #[doc(hidden)]
    pub const fn new(id: &'static str) -> Self {
        Self(id)
    }

    /// No text.
    pub const NONE: Self = Self("");

    /// The text, now.
    pub fn text(self) -> String {
        self.to_message().in_base_units()
    }
}

impl MessageArgument for TextId {
    fn to_message(&self) -> Message {
        if self.0.is_empty() { Message::default() } else { Message::of(self.0, Vec::new()) }
    }
}

impl From<TextId> for Message {
    fn from(id: TextId) -> Self {
        id.to_message()
    }
}

impl Serialize for TextId {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&self.text())
    }
}

/// A [`TextId`](crate::message::TextId).
#[macro_export]
macro_rules! text_id {
    ($id:literal) => {
        $crate::message::TextId::new($id)
    };
}

/// What a text of the catalog can hold.
pub trait MessageArgument {
    /// As a part of a message.
    fn to_message(&self) -> Message;
}

impl<H: MessageArgument + ?Sized> MessageArgument for &H {
    fn to_message(&self) -> Message {
        (*self).to_message()
    }
}

impl MessageArgument for str {
    fn to_message(&self) -> Message {
        Message::from(self.to_owned())
    }
}

impl MessageArgument for String {
    fn to_message(&self) -> Message {
        self.as_str().to_message()
    }
}

impl MessageArgument for Cow<'_, str> {
    fn to_message(&self) -> Message {
        (**self).to_message()
    }
}

impl MessageArgument for Quantity {
    fn to_message(&self) -> Message {
        Message { parts: vec![MessagePart::Quantity(*self)] }
    }
}

impl MessageArgument for Message {
    fn to_message(&self) -> Message {
        self.clone()
    }
}

macro_rules! argument_count {
    ($($number:ty),*) => {$(
        impl MessageArgument for $number {
            fn to_message(&self) -> Message {
                Message { parts: vec![MessagePart::Count(i64::try_from(*self).unwrap_or(i64::MAX))] }
            }
        }
    )*};
}
argument_count!(usize, u64, u32, u16, u8, i64, i32);

impl From<&str> for Message {
    fn from(words: &str) -> Self {
        words.to_message()
    }
}

impl From<&String> for Message {
    fn from(words: &String) -> Self {
        words.to_message()
    }
}

impl From<String> for Message {
    fn from(words: String) -> Self {
        let words = Some(words).filter(|words| !words.is_empty());
        Self { parts: words.into_iter().map(MessagePart::Words).collect() }
    }
}

impl From<Quantity> for Message {
    fn from(quantity: Quantity) -> Self {
        quantity.to_message()
    }
}

impl From<&Message> for Message {
    fn from(message: &Message) -> Self {
        message.clone()
    }
}

thread_local! {
    static BY_ID: Cell<bool> = const { Cell::new(false) };
}

/// Writes messages by the ids of their texts in what is called: what is kept beside the record is read by others, in
/// other languages.
pub fn serialize_by_id<T>(write: impl FnOnce() -> T) -> T {
    struct Back(bool);
    impl Drop for Back {
        fn drop(&mut self) {
            BY_ID.set(self.0);
        }
    }
    let _back = Back(BY_ID.replace(true));
    write()
}

impl Serialize for Message {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        if BY_ID.get() {
            return self.parts.serialize(serializer);
        }
        match &self.pieces()[..] {
            [] => serializer.serialize_str(""),
            [MessagePiece::Words(words)] => serializer.serialize_str(words),
            pieces => pieces.serialize(serializer),
        }
    }
}

impl<'de> Deserialize<'de> for Message {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum Sent {
            Words(String),
            Parts(Vec<MessagePart>),
        }
        Ok(match Sent::deserialize(deserializer)? {
            Sent::Words(words) => Self::from(words),
            Sent::Parts(parts) => Self { parts },
        })
    }
}

/// What a text holds, as an object by name.
mod holding {
    use super::Message;
    use serde::ser::SerializeMap as _;
    use serde::{Deserialize as _, Deserializer, Serializer};
    use std::borrow::Cow;
    use std::collections::BTreeMap;

    pub(super) fn serialize<S: Serializer>(
        holds: &[(Cow<'static, str>, Message)],
        serializer: S,
    ) -> Result<S::Ok, S::Error> {
        let mut map = serializer.serialize_map(Some(holds.len()))?;
        for (name, held) in holds {
            map.serialize_entry(name, held)?;
        }
        map.end()
    }

    pub(super) fn deserialize<'de, D: Deserializer<'de>>(
        deserializer: D,
    ) -> Result<Vec<(Cow<'static, str>, Message)>, D::Error> {
        let holds = BTreeMap::<String, Message>::deserialize(deserializer)?;
        Ok(holds.into_iter().map(|(name, held)| (name.into(), held)).collect())
    }
}

#[cfg(feature = "schema")]
impl utoipa::PartialSchema for Message {
    fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
        use utoipa::openapi::schema::{ArrayBuilder, ObjectBuilder, OneOfBuilder, Type};
        OneOfBuilder::new()
            .description(Some(
                "What is told to a person: a string where it has no quantity, else its pieces in their order.",
            ))
            .item(ObjectBuilder::new().schema_type(Type::String))
            .item(ArrayBuilder::new().items(utoipa::openapi::Ref::from_schema_name("MessagePiece")))
            .into()
    }
}

#[cfg(feature = "schema")]
impl utoipa::ToSchema for Message {
    fn schemas(schemas: &mut Vec<(String, utoipa::openapi::RefOr<utoipa::openapi::schema::Schema>)>) {
        schemas.push(("MessagePiece".to_owned(), <MessagePiece as utoipa::PartialSchema>::schema()));
        <MessagePiece as utoipa::ToSchema>::schemas(schemas);
    }
}

/// What checks of messages ask: all of it is about its text in base units.
impl Message {
    /// Whether its text has a part.
    pub fn contains(&self, part: &str) -> bool {
        self.in_base_units().contains(part)
    }

    /// Whether its text starts so.
    pub fn starts_with(&self, start: &str) -> bool {
        self.in_base_units().starts_with(start)
    }

    /// Whether its text ends so.
    pub fn ends_with(&self, end: &str) -> bool {
        self.in_base_units().ends_with(end)
    }
}

impl PartialEq<&str> for Message {
    fn eq(&self, text: &&str) -> bool {
        self.in_base_units() == *text
    }
}

impl PartialEq<String> for Message {
    fn eq(&self, text: &String) -> bool {
        self.in_base_units() == *text
    }
}

impl PartialEq<str> for Message {
    fn eq(&self, text: &str) -> bool {
        self.in_base_units() == *text
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::Dimension;
    use rigore_texts::{Language, with_language};

    fn pull() -> Message {
        let torque = Quantity::new(44.0, Dimension::Torque);
        message!(
            "message-with-after",
            words = torque,
            after = message!("message-and-more", said = "2R", more = 2_usize)
        )
    }

    #[test]
    fn a_quantity_stays_one_in_whatever_it_is_put_into() {
        let all = message!("message-of", of = "Rod {2}", words = pull());
        let pieces = [
            MessagePiece::Words("Rod {2}: ".to_owned()),
            MessagePiece::Quantity(Quantity::new(44.0, Dimension::Torque)),
            MessagePiece::Words(" 2R (and 2 more)".to_owned()),
        ];
        assert_eq!(all.pieces(), pieces);
        assert_eq!(all.in_base_units(), "Rod {2}: 44.0 N·m 2R (and 2 more)");
        let json = serde_json::to_value(&all).unwrap();
        assert_eq!(json[1], serde_json::json!({ "value": 44.0, "dimension": "torque" }));
        assert_eq!(serde_json::from_value::<Message>(json).unwrap(), all.as_told());
    }

    #[test]
    fn words_alone_are_sent_as_the_string_they_are() {
        let json = serde_json::to_value(message!("message-of", of = "Wrench", words = "{A}")).unwrap();
        assert_eq!(json, serde_json::json!("Wrench: {A}"));
        assert_eq!(serde_json::to_value(Message::default()).unwrap(), serde_json::json!(""));
    }

    #[test]
    fn a_message_that_is_kept_is_told_in_the_language_of_whoever_reads_it() {
        let kept = serialize_by_id(|| serde_json::to_value(pull()).unwrap());
        let read: Message = serde_json::from_value(kept).unwrap();
        assert_eq!(read.in_base_units(), "44.0 N·m 2R (and 2 more)");
        let accented = with_language(Language::Accented, || read.in_base_units());
        assert_eq!(accented, "44.0 N·m 2R (ànd 2 möré)");
    }

    #[test]
    fn what_is_quoted_is_told_up_to_forty_characters() {
        let told = message!("message-quoted", words = "é".repeat(41)).in_base_units();
        assert_eq!(told, format!("`{}…`", "é".repeat(40)));
    }
}
