//! What happened to one fastener, from its first entry to its last, over every round and operation.

use crate::state::BuildState;
use crate::state::entry_topic::{EntryTopic, FindingTopic};
use crate::work::tighten::tight_bolt_reading::readings_in_words;
use crate::work::tighten::{TightenWork, tighten_work::JointWork};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Quantity;
use rigore_mechanics::{message, text};
use rigore_plan::{FastenerIx, JointIx, OperationIx};
use serde::Serialize;
use time::OffsetDateTime;

/// Everything that happened to one fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FastenerTimeline {
    /// What it is called: `Main caps 3L`.
    pub name: String,
    /// Its specification.
    pub fastener: String,
    /// What happened, in the order it came.
    pub lines: Vec<TimelineEntry>,
}

/// One thing that happened to a fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TimelineEntry {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// What the operation is called.
    pub operation: String,
    /// What it was.
    pub what: Message,
    /// With what, and how it came in.
    pub with: String,
    /// Whether it was wrong.
    pub wrong: bool,
    /// Why it does not count, where it does not.
    pub voided: Option<String>,
}

impl BuildState {
    /// What happened to a fastener; none where the plan has no such one.
    pub fn fastener_timeline(&self, joint: &str, fastener: &str) -> Option<FastenerTimeline> {
        let joint = self.plan.joint(joint)?;
        let of = &self.plan[joint];
        let at = of.fastener(fastener)?;
        let spec = of.group_with(at).map(|group| self.plan[group.spec].title()).unwrap_or_default();
        let mut lines: Vec<TimelineEntry> =
            self.plan.line().flat_map(|line| self.told_in(line, joint, at)).collect();
        lines.extend(self.found_on(joint, at));
        lines.sort_by_key(|line| line.seq);
        lines.dedup_by_key(|line| line.seq);
        Some(FastenerTimeline { name: format!("{} {}", of.name, of[at].id), fastener: spec, lines })
    }

    /// What was done to it in one operation.
    fn told_in(&self, operation: OperationIx, joint: JointIx, fastener: FastenerIx) -> Vec<TimelineEntry> {
        let Some(work) = self.plan.tightens(operation) else { return Vec::new() };
        let Some(hand) = (TightenWork { state: self, at: operation, work }).hand(joint) else {
            return Vec::new();
        };
        let here = |seq: u64| self.ledger().line(seq).and_then(|line| line.operation) == Some(operation);
        let name = hand.name(fastener).to_owned();
        let pulls =
            hand.pulls().filter(|pull| pull.fastener == name && here(pull.seq)).map(|pull| TimelineEntry {
                seq: pull.seq,
                at: pull.at,
                by: pull.by,
                operation: self.plan[operation].name.clone(),
                what: message!(
                    "assembly-stage-value-verdict-remarks",
                    stage = pull.stage_name,
                    value = Quantity::fine(pull.value, pull.dimension),
                    verdict = pull.says,
                    remarks = Message::join(pull.remarks.iter().map(|of| message!("assembly-of", of)), ""),
                ),
                with: text!(
                    "assembly-instrument-method",
                    instrument = pull.instrument,
                    method = word(pull.method)
                ),
                wrong: pull.wrong,
                voided: pull.voided,
            });
        let mut lines: Vec<TimelineEntry> = pulls.collect();
        lines.extend(
            hand.round.loosenings.iter().filter(|of| of.fastener == fastener && here(of.seq)).filter_map(
                |of| {
                    let what = if of.replaced {
                        message!("assembly-loosened-replaced")
                    } else {
                        message!("assembly-loosened")
                    };
                    let gauged = readings_in_words(of)
                        .map(|gauged| message!("assembly-gauged", gauged))
                        .unwrap_or_default();
                    let what = message!("assembly-what-reason-gauged", what, reason = &of.reason, gauged);
                    self.line_of(of.seq, operation, what)
                },
            ),
        );
        lines.extend(
            acts_on(&hand, fastener)
                .into_iter()
                .filter(|(seq, _)| here(*seq))
                .filter_map(|(seq, what)| self.line_of(seq, operation, what)),
        );
        lines
    }

    /// What was found on it, and what became of that.
    fn found_on(&self, joint: JointIx, fastener: FastenerIx) -> Vec<TimelineEntry> {
        let about = FindingTopic::Fastener(joint, fastener);
        let views = self.finding_views().into_iter().filter(|view| {
            self.ledger().line(view.seq).and_then(|line| line.thing) == Some(EntryTopic::Finding(about))
        });
        let told = views.flat_map(|view| {
            let found = TimelineEntry {
                seq: view.seq,
                at: view.at,
                by: view.by.name,
                operation: view.operation_name.clone(),
                what: message!("assembly-found", text = view.text),
                with: String::new(),
                wrong: true,
                voided: None,
            };
            let operation = view.operation_name;
            let steps = view.steps.into_iter().map(move |step| TimelineEntry {
                seq: step.seq,
                at: step.at,
                by: step.by,
                operation: operation.clone(),
                what: message!("assembly-step-text", step = step.what, text = step.text),
                with: String::new(),
                wrong: false,
                voided: step.voided,
            });
            std::iter::once(found).chain(steps)
        });
        told.collect()
    }

    fn line_of(&self, seq: u64, operation: OperationIx, what: impl Into<Message>) -> Option<TimelineEntry> {
        let mark = self.ledger().mark(seq)?;
        Some(TimelineEntry {
            seq,
            at: mark.stamp.at,
            by: mark.stamp.by.name.clone(),
            operation: self.plan[operation].name.clone(),
            what: what.into(),
            with: String::new(),
            wrong: false,
            voided: mark.voided.as_ref().map(|voided| voided.reason.clone()),
        })
    }
}

/// What was done by hand to its group, and what its group turns on.
fn acts_on(hand: &JointWork<'_>, fastener: FastenerIx) -> Vec<(u64, Message)> {
    let group = hand.joint.group_ix(fastener);
    let acts = hand
        .round
        .actions
        .entries()
        .filter(|act| hand.joint[act.key].group.is_none_or(|of| Some(of) == group));
    let acts = acts.map(|act| {
        let resists = act.value.except.contains(&fastener);
        let name = &hand.joint[act.key].name;
        (act.seq, if resists { message!("assembly-did-not-run-down", name) } else { name.into() })
    });
    let films = hand.round.films.entries().filter(|said| Some(said.key) == group);
    let films = films.map(|said| (said.seq, message!("assembly-on", words = said.value.lubrication.words())));
    acts.chain(films).collect()
}

/// How a reading came in, in a word.
fn word(method: crate::events::ReadingMethod) -> Message {
    use crate::events::ReadingMethod;
    match method {
        ReadingMethod::Typed => message!("assembly-typed"),
        ReadingMethod::Device => message!("assembly-sent-by"),
        ReadingMethod::Imported => message!("assembly-imported"),
        ReadingMethod::Simulated => message!("assembly-simulated"),
        ReadingMethod::Clicked => message!("assembly-clicked-at-setting"),
        ReadingMethod::Seen => message!("assembly-by-eye"),
    }
}
