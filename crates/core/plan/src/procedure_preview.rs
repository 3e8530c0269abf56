//! A procedure in one line, tried on a joint of a draft while it is typed: what was understood, and what it does.

use super::edit::{Edit, edit};
use super::page::JointPage;
use super::procedure::{self, LineQuestion, Procedure, groups_of};
use super::{Plan, read};
use crate::toml_reader::{Fault, asked};
use rigore_mechanics::message::Message;
use serde::Serialize;

/// What came of trying a line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LineTrial {
    /// The words of each stage that was understood, by their places in the line, in UTF-16.
    pub understood: Vec<[usize; 2]>,
    /// What was not understood, or can be read in two ways.
    pub asks: Vec<TrialQuestion>,
    /// The same line as everybody can read it; empty where something was not understood.
    pub canonical: String,
    /// The joint with its stages; none where it cannot be read.
    pub joint: Option<JointPage>,
    /// Faults and warnings about it.
    pub faults: Vec<Fault>,
}

/// A question about words of the line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TrialQuestion {
    /// Where the words are, in UTF-16.
    pub at: [usize; 2],
    /// What is asked.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub message: Message,
}

/// Tries a line on the joint at a path, such as `joint[3]`.
pub fn try_line(source: &str, joint: &str, line: &str) -> LineTrial {
    let said = if asked(line).is_some() { Procedure::default() } else { procedure::read(line) };
    let mut questions = said.questions.clone();
    if questions.is_empty() {
        questions = unclear_groups(source, joint, &said);
    }
    let wide = |at: usize| line[..at].encode_utf16().count();
    let place = |at: &std::ops::Range<usize>| [wide(at.start), wide(at.end)];
    let asks = questions
        .iter()
        .map(|question| TrialQuestion { at: place(&question.at), message: question.message.clone() });
    let mut tried = LineTrial {
        understood: said.stages.iter().map(|stage| place(&stage.at)).collect(),
        asks: asks.collect(),
        canonical: if questions.is_empty() { said.line() } else { String::new() },
        joint: None,
        faults: Vec::new(),
    };
    let made = Edit::Procedure { joint: joint.to_owned(), line: line.to_owned() };
    if let Ok(text) = edit(source, &[made]) {
        let drafted = Plan::draft("plan", &text);
        tried.faults = drafted.faults;
        tried.faults.retain(|fault| {
            fault.path == joint || fault.path.strip_prefix(joint).is_some_and(|rest| rest.starts_with('.'))
        });
        // What was not understood is asked under its words.
        if !tried.asks.is_empty() {
            tried.faults.retain(|fault| !fault.path.ends_with(".procedure"));
        }
        tried.joint = drafted.page.joints.into_iter().find(|of| of.path == joint);
    }
    tried
}

/// What is not certain about the groups of the joint that a line is for.
fn unclear_groups(source: &str, joint: &str, said: &Procedure) -> Vec<LineQuestion> {
    let Some(written) =
        joint.strip_prefix("joint[").and_then(|rest| rest.strip_suffix(']')?.parse::<usize>().ok())
    else {
        return Vec::new();
    };
    let plan = read::plan("plan", source).0;
    let of = plan.joints.iter().find(|of| of.written == written);
    of.and_then(|of| said.for_groups(&groups_of(of, &plan.specs)).err()).unwrap_or_default()
}
