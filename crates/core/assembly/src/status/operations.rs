//! How each operation stands: done, now, waiting and for what.

use crate::events::{ApprovalSubject, Person, Role};
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use crate::status::timers::SealantCure;
use crate::work::kind::{BenchStep, SheetWork};
use crate::work::kinds::kind;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{OperationIx, OperationKind, OperationWork};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// Where an operation stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum OperationStatus {
    /// Its requirements are open.
    Waiting,
    /// It can be started.
    Ready,
    /// It is being worked on.
    InWork,
    /// Something in it has to be mended or accepted.
    Held,
    /// All is done but the signature.
    ToSign,
    /// It is signed.
    Done,
}

/// A signature that does not cover the work any more.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LapsedSignature {
    /// Who had signed.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Whether it had left the operation out.
    pub left_out: bool,
    /// The entry that ended it.
    pub ended_by: u64,
    /// When that was recorded.
    #[serde(with = "time::serde::rfc3339::option")]
    pub ended_at: Option<OffsetDateTime>,
}

/// One operation in the line of work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OperationView {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// The word for it.
    pub kind: OperationKind,
    /// The member of a repeat that it is, where it is one.
    pub member: Option<MemberView>,
    /// Where it stands.
    pub status: OperationStatus,
    /// Names of the operations it waits for.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<String>))]
    pub waits_for: Vec<Message>,
    /// Who recorded something in it last, while it is open.
    pub at_it: Option<ActiveWorker>,
    /// The sealant that it waits for, until that has cured.
    pub cure: Option<SealantCure>,
    /// Steps done.
    pub done: usize,
    /// Steps in all.
    pub total: usize,
    /// What is next in it, in one line.
    pub next: Message,
    /// Open issues in it.
    pub issues: usize,
    /// Why something that was done in it is to be done again, where it is.
    pub again: Vec<String>,
    /// Cautions to show where the work is.
    pub cautions: Vec<String>,
    /// Who signed it.
    pub signed_by: Option<Person>,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339::option")]
    pub signed_at: Option<OffsetDateTime>,
    /// The signing entry, so that it can be voided.
    pub signed_seq: Option<u64>,
    /// Other operations that the same signature covers, by name.
    pub signed_with: Vec<String>,
    /// Why it was left out, where it was.
    pub skipped: Option<String>,
}

/// Who is at an operation.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ActiveWorker {
    /// Who.
    pub by: String,
    /// When they recorded something last.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

/// The member of a repeat that an operation is (C-38).
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MemberView {
    /// Key of the repeat.
    pub repeat: String,
    /// What the repeat is called.
    pub name: String,
    /// What it goes by: `cylinder`.
    pub by: String,
    /// What the step is called, whichever member it is of.
    pub step: String,
    /// Which member: `3` or `left`.
    pub member: String,
    /// Its place among them, from 0.
    pub number: usize,
    /// How many members there are.
    pub of: usize,
    /// Whether one signature covers all of the repeat.
    pub signed_once: bool,
}

/// How something that an operation needs stands.
enum Behind {
    /// It holds up what needs it.
    Open,
    /// It may be gone on from, where nothing behind it was opened again.
    Met,
    /// It was left out: what waited for it waits for what it waited for (C-61).
    LeftOut,
}

/// How far an operation is, and what stands against its signature.
#[derive(Debug, Clone, PartialEq, Default)]
pub(crate) struct OperationBrief {
    /// Steps done.
    pub done: usize,
    /// Steps in all.
    pub total: usize,
    /// What is next in it, in one line.
    pub next: Message,
    /// Open issues in it.
    pub issues: usize,
    /// What has to be done about the first of them.
    pub now: Option<Message>,
}

impl BuildState {
    /// The next step of an operation, and the one after it (which is [`BenchStep::Sign`] at the end).
    pub fn steps(&self, at: OperationIx) -> (BenchStep, BenchStep) {
        let kind = kind(self, at);
        let mut steps = kind.open();
        let next = steps.next().unwrap_or(BenchStep::Sign);
        let then = steps.next().unwrap_or(BenchStep::Sign);
        (next, then)
    }

    /// The next step of an operation.
    pub fn step(&self, at: OperationIx) -> BenchStep {
        kind(self, at).open().next().unwrap_or(BenchStep::Sign)
    }

    /// How many steps of an operation are done, and how many there are.
    pub fn progress(&self, at: OperationIx) -> (usize, usize) {
        let kind = kind(self, at);
        let total = kind.total();
        (total - kind.left().min(total), total)
    }

    /// Whether all is done in an operation and nothing stands against its signature.
    pub(crate) fn is_done(&self, at: OperationIx) -> bool {
        let (done, total) = self.progress(at);
        done == total && self.issues_of(at).is_empty()
    }

    /// What an operation waits for: what it needs that is not signed, and where that is, what that rests on in its
    /// turn. Something that was opened again is done again before anybody goes on (C-40).
    pub fn open_needs(&self, at: OperationIx) -> Vec<OperationIx> {
        let mut open = Vec::new();
        let mut seen = vec![false; self.plan.operations.len()];
        let mut behind: Vec<(OperationIx, OperationIx)> = Vec::new();
        let push = |behind: &mut Vec<_>, by: OperationIx| {
            behind.extend(self.plan[by].needs.iter().rev().map(|need| (*need, by)));
        };
        push(&mut behind, at);
        while let Some((need, by)) = behind.pop() {
            if std::mem::replace(&mut seen[need.0], true) {
                continue;
            }
            match self.behind(need, by, &|at| self.is_done(at)) {
                Behind::Open => open.push(need),
                Behind::Met | Behind::LeftOut => push(&mut behind, need),
            }
        }
        open
    }

    /// How something that an operation needs stands: it may be gone on from where it is signed; or where all is
    /// done in it and right, and one signature covers all of their repeat.
    fn behind(&self, need: OperationIx, by: OperationIx, done: &dyn Fn(OperationIx) -> bool) -> Behind {
        let of_one = |at: OperationIx| self.plan[at].member.map(|member| member.repeat);
        let goes_on =
            || self.plan.repeat(need).is_some_and(|repeat| repeat.signed_once) && of_one(need) == of_one(by);
        match self.operations().signed(need) {
            Some(signature) if signature.left_out.is_some() => Behind::LeftOut,
            Some(_) => Behind::Met,
            None if goes_on() && done(need) => Behind::Met,
            None => Behind::Open,
        }
    }

    /// Which operations wait for others, all of them at once.
    pub(crate) fn waiting(&self, briefs: &[OperationBrief]) -> Vec<bool> {
        let mut known: Vec<Option<bool>> = vec![None; briefs.len()];
        let done = |at: OperationIx| briefs[at.0].done == briefs[at.0].total && briefs[at.0].issues == 0;
        self.plan.line().map(|at| self.waits_for_another(at, &done, &mut known)).collect()
    }

    fn waits_for_another(
        &self,
        at: OperationIx,
        done: &dyn Fn(OperationIx) -> bool,
        known: &mut Vec<Option<bool>>,
    ) -> bool {
        if let Some(waits) = known[at.0] {
            return waits;
        }
        // A plan has no circles; one that was never checked does not hang here.
        known[at.0] = Some(false);
        let waits = self.plan[at].needs.iter().any(|need| match self.behind(*need, at, done) {
            Behind::Open => true,
            Behind::Met | Behind::LeftOut => self.waits_for_another(*need, done, known),
        });
        known[at.0] = Some(waits);
        waits
    }

    /// Everything open, in the order of the plan.
    pub fn issues(&self) -> Vec<Issue> {
        self.plan.line().flat_map(|at| self.issues_of(at)).collect()
    }

    /// Everything open in one operation.
    pub fn issues_of(&self, at: OperationIx) -> Vec<Issue> {
        let mut issues = kind(self, at).issues();
        issues.extend(self.issues_of_findings(at));
        issues.extend(self.issues_of_inside(at));
        issues.extend(self.issue_of_leaving_out(at));
        issues.extend(self.issues_of_versions(at));
        issues.extend(self.issues_of_doubts(at));
        issues
    }

    /// An operation that was left out deviates from the plan until a lead stands for it (C-4).
    fn issue_of_leaving_out(&self, at: OperationIx) -> Option<Issue> {
        let signature = self.operations().signed(at)?;
        let reason = signature.left_out.as_ref()?;
        let planned = &self.plan[at];
        let seq = signature.stamp.seq;
        let subject = ApprovalSubject::LeftOut { operation: planned.id.clone() };
        if signature.stamp.by.role == Role::Lead || self.is_approved(&subject) {
            return None;
        }
        Some(Issue {
            seq,
            subject: Some(subject),
            operation: planned.id.clone(),
            joint: None,
            fastener: None,
            text: message!("assembly-was-skipped", planned = planned.name, reason),
            to_do: message!("assembly-lead-approves-or-void-do"),
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    }

    /// How far an operation is.
    pub(crate) fn brief(&self, at: OperationIx) -> OperationBrief {
        self.brief_with(at, &self.issues_of(at))
    }

    fn brief_with(&self, at: OperationIx, issues: &[Issue]) -> OperationBrief {
        let kind = kind(self, at);
        let total = kind.total();
        OperationBrief {
            done: total - kind.left().min(total),
            total,
            next: kind.open().next().unwrap_or(BenchStep::Sign).line(),
            issues: issues.len(),
            now: issues.first().map(|issue| issue.to_do.clone()),
        }
    }

    /// Every operation with how far it is, and everything open.
    pub(crate) fn briefs(&self) -> (Vec<OperationBrief>, Vec<Issue>) {
        let issues: Vec<Vec<Issue>> = self.plan.line().map(|at| self.issues_of(at)).collect();
        let briefs = self.plan.line().map(|at| self.brief_with(at, &issues[at.0])).collect();
        (briefs, issues.into_iter().flatten().collect())
    }

    /// What an operation waits for. The signature under the engine waits for every other operation,
    /// to be signed with nothing open in it.
    fn waits_for(&self, at: OperationIx, briefs: &[OperationBrief]) -> Vec<OperationIx> {
        if !matches!(self.plan[at].work, OperationWork::Sign) {
            return self.open_needs(at);
        }
        let open = |other: &OperationIx| {
            *other != at && (self.operations().signed(*other).is_none() || briefs[other.0].issues > 0)
        };
        self.plan.line().filter(open).collect()
    }

    /// What an operation waits for in words: the one of it that can be done next, and how many there are besides.
    fn next_of(&self, open: &[OperationIx]) -> Option<Message> {
        let first = open.first()?;
        let can_start = |of: &&OperationIx| self.open_needs(**of).is_empty();
        let next = open.iter().find(can_start).copied();
        let name = &self.plan[next.unwrap_or(*first)].name;
        Some(match open.len() {
            1 => name.into(),
            more => message!("assembly-more", name, more = more - 1),
        })
    }

    /// What else an operation waits for: what has to come out of the engine, figures that nobody has looked up, and
    /// what is not at the bench.
    pub(crate) fn other_blockers(&self, at: OperationIx) -> Vec<Message> {
        let inside = self.to_come_out(at).into_iter().map(|what| message!("assembly-removed", what));
        let wanted =
            self.missing_figures_of(at).map(|figure| message!("assembly-spec-missing", what = figure.what));
        inside.chain(wanted).chain(self.waits_outside_in_words(at)).collect()
    }

    /// Whether there is any of that.
    fn has_other_blockers(&self, at: OperationIx) -> bool {
        self.in_the_way(at).next().is_some()
            || self.missing_figures_of(at).next().is_some()
            || self.waits_outside(at).next().is_some()
    }

    /// Where an operation stands.
    pub(crate) fn status(&self, at: OperationIx, brief: &OperationBrief, waits: bool) -> OperationStatus {
        let operations = self.operations();
        if brief.issues > 0 {
            OperationStatus::Held
        } else if operations.signed(at).is_some() {
            OperationStatus::Done
        } else if waits || self.has_other_blockers(at) {
            OperationStatus::Waiting
        } else if brief.done == brief.total {
            OperationStatus::ToSign
        } else if operations.started(at).is_some() {
            OperationStatus::InWork
        } else {
            OperationStatus::Ready
        }
    }

    /// One operation in the line of work.
    pub(crate) fn operation_view(&self, at: OperationIx, briefs: &[OperationBrief]) -> OperationView {
        let (planned, brief) = (&self.plan[at], &briefs[at.0]);
        let signature = self.operations().signed(at);
        let open = self.waits_for(at, briefs);
        let waits_for = self.next_of(&open).into_iter();
        OperationView {
            id: planned.id.clone(),
            name: planned.name.clone(),
            kind: planned.kind,
            member: self.member_view(at),
            status: self.status(at, brief, !open.is_empty()),
            waits_for: waits_for.chain(self.other_blockers(at)).collect(),
            at_it: self.active_worker(at),
            cure: self.waits_for_cure(at),
            done: brief.done,
            total: brief.total,
            next: brief.next.clone(),
            issues: brief.issues,
            again: self.rework_reasons(at),
            cautions: planned.cautions.clone(),
            signed_by: signature.map(|signature| (*signature.stamp.by).clone()),
            signed_at: signature.map(|signature| signature.stamp.at),
            signed_seq: signature.map(|signature| signature.stamp.seq),
            signed_with: signature.map(|signature| self.names(&signature.with)).unwrap_or_default(),
            skipped: signature.and_then(|signature| signature.left_out.clone()),
        }
    }

    pub(crate) fn active_worker(&self, at: OperationIx) -> Option<ActiveWorker> {
        let open = self.operations().signed(at).is_none();
        let last = self.operations().last(at).filter(|_| open)?;
        let last = &self.ledger().mark(last)?.stamp;
        Some(ActiveWorker { by: last.by.name.clone(), at: last.at })
    }

    fn member_view(&self, at: OperationIx) -> Option<MemberView> {
        let number = self.plan[at].member?.number;
        let repeat = self.plan.repeat(at)?;
        Some(MemberView {
            repeat: repeat.id.clone(),
            name: repeat.name.clone(),
            by: repeat.by.clone(),
            step: self.plan[at].step.clone(),
            member: repeat.members[number].clone(),
            number,
            of: repeat.members.len(),
            signed_once: repeat.signed_once,
        })
    }

    /// What some operations are called.
    fn names(&self, of: &[OperationIx]) -> Vec<String> {
        of.iter().map(|at| self.plan[*at].name.clone()).collect()
    }

    /// What the build sheet says of an operation.
    pub fn section(&self, at: OperationIx) -> SheetWork {
        kind(self, at).section()
    }

    /// Signatures under an operation that do not cover the work any more.
    pub fn lapsed_signatures(&self, at: OperationIx) -> Vec<LapsedSignature> {
        let lapsed = self.operations().signatures(at).iter().filter_map(|signature| {
            let ended_by = signature.lapsed?;
            Some(LapsedSignature {
                by: signature.stamp.by.name.clone(),
                at: signature.stamp.at,
                left_out: signature.left_out.is_some(),
                ended_by,
                ended_at: self.ledger().mark(ended_by).map(|mark| mark.stamp.at),
            })
        });
        lapsed.collect()
    }
}
