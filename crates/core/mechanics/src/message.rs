//! What people are told: words with their quantities as data.
//!
//! A [`Message`] never holds a figure as finished text: a [`Quantity`] stays a value with its dimension until it is
//! shown, in the units that the reader chose. Neither of them can be put into a `format!`. Made with [`message!`](crate::message!):
//!
//! ```
//! use rigore_mechanics::{message, message::Message, quantity::{Dimension, Quantity}};
//!
//! let (bolt, most) = ("2R", Quantity::new(44.0, Dimension::Torque));
//! let told: Message = message!("{bolt}: {most} is the most", bolt, most);
//! assert_eq!(told.in_base_units(), "2R: 44.0 N·m is the most");
//! ```
//!
//! A message carries its quantities as data. What the core says to people is a `Message`: words, and each quantity
//! as a value with its dimension. Neither can be put into a `format!`; a screen shows them in the units of its
//! reader (`say` in `units.ts`), and the command line and tables in base units. A test walks through all pages of
//! the demonstration shop.

use crate::quantity::Quantity;
use serde::{Deserialize, Deserializer, Serialize};

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

/// What is told to a person. As JSON it is a string where it has no quantity, else its pieces in their order.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Message {
    pieces: Vec<MessagePiece>,
}

impl Message {
    /// Its pieces in their order; words stand between any two quantities that are to be told apart.
    pub fn pieces(&self) -> &[MessagePiece] {
        &self.pieces
    }

    /// Whether it says nothing.
    pub fn is_empty(&self) -> bool {
        self.pieces.is_empty()
    }

    /// The text for where no reader has chosen units: the command line and tables. Quantities are in their base
    /// units, or in the one that the plan gives them in.
    pub fn in_base_units(&self) -> String {
        let text = |piece: &MessagePiece| match piece {
            MessagePiece::Words(words) => words.clone(),
            MessagePiece::Quantity(quantity) => quantity.in_base_unit(),
        };
        self.pieces.iter().map(text).collect()
    }

    /// Several messages in one, with words between them.
    pub fn join(messages: impl IntoIterator<Item = Self>, between: &str) -> Self {
        let mut joined = Self::default();
        for (at, message) in messages.into_iter().enumerate() {
            if at > 0 {
                joined.push(MessagePiece::Words(between.to_owned()));
            }
            joined.append(message);
        }
        joined
    }

    /// The same with its words changed.
    #[must_use]
    pub fn map_words(self, change: impl Fn(&str) -> String) -> Self {
        let mut changed = Self::default();
        for piece in self.pieces {
            changed.push(match piece {
                MessagePiece::Words(words) => MessagePiece::Words(change(&words)),
                quantity @ MessagePiece::Quantity(_) => quantity,
            });
        }
        changed
    }

    /// Makes a message of a template, in which `{name}` stands for an argument. Used by [`message!`](crate::message!), which checks
    /// the names.
    #[doc(hidden)]
    pub fn of(template: &str, arguments: &[(&str, Self)]) -> Self {
        let mut message = Self::default();
        let mut rest = template;
        while let Some((words, behind)) = rest.split_once('{') {
            message.push(MessagePiece::Words(words.to_owned()));
            let Some((name, behind)) = behind.split_once('}') else { break };
            if let Some((_, argument)) = arguments.iter().find(|(of, _)| *of == name) {
                message.append(argument.clone());
            }
            rest = behind;
        }
        message.push(MessagePiece::Words(rest.to_owned()));
        message
    }

    fn append(&mut self, other: Self) {
        for piece in other.pieces {
            self.push(piece);
        }
    }

    /// Words that follow each other are one piece.
    fn push(&mut self, piece: MessagePiece) {
        match (self.pieces.last_mut(), piece) {
            (_, MessagePiece::Words(words)) if words.is_empty() => {}
            (Some(MessagePiece::Words(last)), MessagePiece::Words(words)) => last.push_str(&words),
            (_, piece) => self.pieces.push(piece),
        }
    }
}

/// A [`Message`] from a template: `message!("{bolt} turned {angle}", bolt, angle = Quantity::new(..))`.
///
/// Every `{name}` of the template is an argument of that name, and every argument stands in it: both are checked when
/// it is compiled. An argument is words, a whole number, a [`Quantity`] or another message.
#[macro_export]
macro_rules! message {
    ($template:literal $(, $name:ident $(= $value:expr)?)* $(,)?) => {{
        // The names are checked by the compiler, and nothing is formatted.
        const _: fn() = || {
            let _ = ::std::format_args!($template $(, $name = "")*);
        };
        $crate::message::Message::of(
            $template,
            &[$((::std::stringify!($name), $crate::message!(@ $name $(= $value)?))),*],
        )
    }};
    (@ $name:ident) => { $crate::message::Message::from($name) };
    (@ $name:ident = $value:expr) => { $crate::message::Message::from($value) };
}

impl From<&str> for Message {
    fn from(words: &str) -> Self {
        Self::from(words.to_owned())
    }
}

impl From<&&str> for Message {
    fn from(words: &&str) -> Self {
        Self::from(*words)
    }
}

impl From<&String> for Message {
    fn from(words: &String) -> Self {
        Self::from(words.clone())
    }
}

impl From<String> for Message {
    fn from(words: String) -> Self {
        let mut message = Self::default();
        message.push(MessagePiece::Words(words));
        message
    }
}

impl From<Quantity> for Message {
    fn from(quantity: Quantity) -> Self {
        Self { pieces: vec![MessagePiece::Quantity(quantity)] }
    }
}

impl From<&Quantity> for Message {
    fn from(quantity: &Quantity) -> Self {
        Self::from(*quantity)
    }
}

impl From<&Message> for Message {
    fn from(message: &Message) -> Self {
        message.clone()
    }
}

macro_rules! from_whole_number {
    ($($number:ty),*) => {$(
        impl From<$number> for Message {
            fn from(number: $number) -> Self {
                Self::from(number.to_string())
            }
        }
    )*};
}
from_whole_number!(usize, u32, u64, i32);

impl Serialize for Message {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match &self.pieces[..] {
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
            Pieces(Vec<MessagePiece>),
        }
        Ok(match Sent::deserialize(deserializer)? {
            Sent::Words(words) => Self::from(words),
            Sent::Pieces(pieces) => Self { pieces },
        })
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

/// What tests ask of a message; nothing else may make text of one.
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

impl PartialEq<str> for Message {
    fn eq(&self, text: &str) -> bool {
        self.in_base_units() == *text
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::Dimension;

    #[test]
    fn a_quantity_stays_one_in_whatever_it_is_put_into() {
        let torque = Quantity::new(44.0, Dimension::Torque);
        let pull = message!("{bolt}: {torque}", bolt = "2R", torque);
        let all = message!("{joint}, {pull}, {count} times", joint = "Rod 2", pull, count = 2_usize);
        let pieces = [
            MessagePiece::Words("Rod 2, 2R: ".to_owned()),
            MessagePiece::Quantity(torque),
            MessagePiece::Words(", 2 times".to_owned()),
        ];
        assert_eq!(all.pieces(), pieces);
        assert_eq!(all.in_base_units(), "Rod 2, 2R: 44.0 N·m, 2 times");
        let json = serde_json::to_value(&all).unwrap();
        assert_eq!(json[1], serde_json::json!({ "value": 44.0, "dimension": "torque" }));
        assert_eq!(serde_json::from_value::<Message>(json).unwrap(), all);
    }

    #[test]
    fn words_alone_are_sent_as_the_string_they_are() {
        let json = serde_json::to_value(message!("{name} is away", name = "Wrench {A}")).unwrap();
        assert_eq!(json, serde_json::json!("Wrench {A} is away"));
        assert_eq!(serde_json::to_value(Message::default()).unwrap(), serde_json::json!(""));
    }
}
