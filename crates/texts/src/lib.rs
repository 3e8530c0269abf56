//! What Rigore says, by language: the messages of the core, the server and the command line, from the Fluent files
//! under `texts/`. A message is asked for by its id; what it holds (a name, a count, another text) goes in by name.
//!
//! ```
//! use rigore_texts::{TextArgument, Language, format_text, with_language};
//!
//! let count = |count| format_text("message-and-more", &[("said", TextArgument::Text("a".into())), ("more", TextArgument::Count(count))]);
//! assert_eq!(with_language(Language::EnUs, || count(2)), "a (and 2 more)");
//! ```
//!
//! The language is that of the thread: the server sets it for each request ([`with_language`]), the command line once.

use fluent_bundle::concurrent::FluentBundle;
use fluent_bundle::{FluentArgs, FluentResource, FluentValue};
use std::borrow::Cow;
use std::cell::Cell;
use std::sync::LazyLock;
use unic_langid::LanguageIdentifier;

mod files;

/// A language, as a country speaks it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Language {
    /// English, United States.
    #[default]
    EnUs,
    /// English, United Kingdom.
    EnGb,
    /// English with accents on its vowels: whatever is shown without them does not come from the catalog. For tests.
    Accented,
}

impl Language {
    /// The language that an `Accept-Language` header asks for first among those that are here.
    ///
    /// ```
    /// use rigore_texts::Language;
    /// assert_eq!(Language::from_accept_header("de, en-GB;q=0.8"), Language::EnGb);
    /// assert_eq!(Language::from_accept_header("nn"), Language::EnUs);
    /// ```
    pub fn from_accept_header(header: &str) -> Self {
        let mut asked: Vec<(f32, &str)> = header.split(',').filter_map(weighted).collect();
        asked.sort_by(|a, b| b.0.total_cmp(&a.0));
        asked.into_iter().find_map(|(_, tag)| Self::from_tag(tag)).unwrap_or_default()
    }

    /// The language of a tag such as `en-GB`, where it is one of those that are here.
    pub fn from_tag(tag: &str) -> Option<Self> {
        let tag = tag.to_ascii_lowercase();
        match tag.as_str() {
            "en" | "en-us" => Some(Self::EnUs),
            "en-gb" | "en-ie" | "en-au" | "en-nz" | "en-za" | "en-in" => Some(Self::EnGb),
            "en-xa" => Some(Self::Accented),
            _ => None,
        }
    }

    fn bundle(self) -> &'static FluentBundle<FluentResource> {
        static BUNDLES: [LazyLock<FluentBundle<FluentResource>>; 3] = [
            LazyLock::new(|| bundle(Language::EnUs)),
            LazyLock::new(|| bundle(Language::EnGb)),
            LazyLock::new(|| bundle(Language::Accented)),
        ];
        &BUNDLES[self as usize]
    }
}

/// A language of an `Accept-Language` header with its weight.
fn weighted(part: &str) -> Option<(f32, &str)> {
    let mut pieces = part.trim().split(";q=");
    let tag = pieces.next()?.trim();
    let weight = pieces.next().map_or(Some(1.0), |weight| weight.trim().parse().ok())?;
    (weight > 0.0 && !tag.is_empty()).then_some((weight, tag))
}

fn bundle(language: Language) -> FluentBundle<FluentResource> {
    let (tag, terms) = match language {
        Language::EnUs | Language::Accented => ("en-US", files::TERMS_EN_US),
        Language::EnGb => ("en-GB", files::TERMS_EN_GB),
    };
    let tag: LanguageIdentifier = tag.parse().expect("a language tag");
    let mut bundle = FluentBundle::new_concurrent(vec![tag]);
    bundle.set_use_isolating(false);
    if language == Language::Accented {
        bundle.set_transform(Some(accented));
    }
    for text in files::MESSAGES_EN.iter().chain([&terms]) {
        // A file with a fault gives what can be read of it; the tests of the catalog name the fault.
        let resource = FluentResource::try_new((*text).to_owned()).unwrap_or_else(|(resource, _)| resource);
        bundle.add_resource_overriding(resource);
    }
    bundle
}

fn accented(text: &str) -> Cow<'_, str> {
    let accent = |letter| match letter {
        'a' => 'à',
        'e' => 'é',
        'i' => 'î',
        'o' => 'ö',
        'u' => 'û',
        other => other,
    };
    text.chars().map(accent).collect::<String>().into()
}

thread_local! {
    static LANGUAGE: Cell<Language> = const { Cell::new(Language::EnUs) };
}

/// The language that this thread speaks now.
pub fn language() -> Language {
    LANGUAGE.get()
}

/// Speaks a language in what is called, and the one before it afterwards.
pub fn with_language<T>(language: Language, run: impl FnOnce() -> T) -> T {
    struct Back(Language);
    impl Drop for Back {
        fn drop(&mut self) {
            LANGUAGE.set(self.0);
        }
    }
    let _back = Back(LANGUAGE.replace(language));
    run()
}

/// What a message holds.
#[derive(Debug, Clone, PartialEq)]
pub enum TextArgument<'a> {
    /// A name, a figure with its unit, another text.
    Text(Cow<'a, str>),
    /// A count: a message may have a form for one and another for many.
    Count(i64),
}

/// A text by its id, in the language of the thread, with what it holds. An id that is not in the catalog is told as
/// it is; the tests of the catalog find it before.
pub fn format_text(id: &str, arguments: &[(&str, TextArgument<'_>)]) -> String {
    let bundle = language().bundle();
    let Some(pattern) = bundle.get_message(id).and_then(|message| message.value()) else {
        return id.to_owned();
    };
    let given: FluentArgs<'_> = arguments
        .iter()
        .map(|(name, argument)| {
            let value = match argument {
                TextArgument::Text(text) => FluentValue::String(text.clone()),
                TextArgument::Count(count) => FluentValue::from(*count),
            };
            (*name, value)
        })
        .collect();
    let mut faults = Vec::new();
    bundle.format_pattern(pattern, Some(&given), &mut faults).into_owned()
}

#[cfg(test)]
mod tests {
    use super::{Language, TextArgument, format_text, language, with_language};

    #[test]
    fn a_text_has_a_form_for_one_and_the_words_of_its_country() {
        let broken = |count| {
            format_text(
                "server-records-broken-nothing-recorded-on-them",
                &[("count", TextArgument::Count(count))],
            )
        };
        assert!(broken(1).contains("The record of one engine is broken"), "{}", broken(1));
        assert!(broken(2).contains("2 engines are broken"), "{}", broken(2));
        let rod = || format_text("calc-rod-between-centres", &[]);
        assert_eq!(
            [Language::EnUs, Language::EnGb].map(|of| with_language(of, rod)),
            ["rod between centers", "rod between centres"]
        );
        assert_eq!(language(), Language::EnUs, "and the language before it afterwards");
    }

    #[test]
    fn what_is_no_weight_or_no_language_is_passed_over() {
        for (header, of) in [
            ("en-GB;q=0.2, en-US;q=0.9", Language::EnUs),
            ("en-AU", Language::EnGb),
            ("de-DE, *;q=0.5", Language::EnUs),
            ("en-GB;q=x", Language::EnUs),
            ("en-GB;q=0", Language::EnUs),
            (",;q=1,,en-gb", Language::EnGb),
        ] {
            assert_eq!(Language::from_accept_header(header), of, "{header}");
        }
    }
}
