//! One time a joint is tightened (C-36): its pulls, what was done by hand, its loosenings.
//!
//! What counts has one answer. `TighteningRound::counts` says whether a pull is what its fastener has in its stage now;
//! `PullView` carries it with why it lapsed and whether it deviates, and bench, sheet and CSV show that.

use super::entry_remark::{EntryRemark, OpenStep, RoundKey};
use super::fastener_history::{
    FastenerEntry, FastenerProgress, FurtherPullAllowance, RecordedLoosening, RecordedPull,
};
use super::lubricant_used::{LubricantStatement, UsedFastener};
use super::replaced_pull::ReplacedPull;
use crate::events::Instrument;
use crate::state::ledger::EntryLedger;
use crate::state::series::{EntrySeries, SeriesEntry};
use rigore_mechanics::tightening::QualifiedTorque;
use rigore_plan::{FastenerIx, GroupIx, Joint, Plan, StageIx};
use std::collections::BTreeSet;
use std::ops::Range;
use std::sync::Arc;
use time::OffsetDateTime;

/// Something done by hand.
#[derive(Debug, Clone)]
pub(crate) struct ActionDone {
    /// What else is to be known.
    pub remarks: Vec<EntryRemark>,
    /// Fasteners that would not run down.
    pub except: Vec<FastenerIx>,
    /// With what, where it was not by hand.
    pub instrument: Option<Arc<Instrument>>,
}

/// One time a joint is tightened.
#[derive(Debug, Clone)]
pub struct TighteningRound {
    /// Pulls in the order they came.
    pub pulls: Vec<RecordedPull>,
    /// Loosenings in the order they came.
    pub loosenings: Vec<RecordedLoosening>,
    /// What leads allowed, in the order it came.
    pub(super) allowances: Vec<FurtherPullAllowance>,
    /// Pulls in stages that the plan has not any more, in the order they came.
    pub(super) replaced: Vec<ReplacedPull>,
    /// Entries of what was done by hand in such stages, with the number of each among those that are gone.
    pub(super) replaced_actions: Vec<(u64, usize)>,
    /// What was done by hand, by stage.
    pub(crate) actions: EntrySeries<StageIx, ActionDone>,
    /// What was said that fasteners turn on, by group.
    pub(crate) films: EntrySeries<GroupIx, LubricantStatement>,
    fasteners: Vec<FastenerProgress>,
    /// Pulls that are wrong or deviate, by place.
    suspects: BTreeSet<usize>,
    /// Places of pulls of which nobody is sure that the wrench clicked.
    unsure: BTreeSet<usize>,
    /// Stages that were pulled in.
    pulled: BTreeSet<StageIx>,
    /// The loosening after which none of its fasteners was in any more, where several had been: what was done by
    /// hand before it, such as a bead of sealant, is done again (C-53, C-54). 0 where there was none.
    started_over_at: u64,
}

/// The working time of a sealant that runs.
#[derive(Debug, Clone, Copy)]
pub(crate) struct SealantBead {
    /// The stage that laid it.
    pub stage: StageIx,
    /// When.
    pub since: OffsetDateTime,
    /// How long it stays open, minutes.
    pub within_min: f64,
}

impl TighteningRound {
    pub(super) fn fresh(plan: &Plan, joint: &Joint) -> Self {
        let fresh = |at| {
            FastenerProgress::fresh(joint, joint.group_with(FastenerIx(at)).map(|group| &plan[group.spec]))
        };
        Self {
            pulls: Vec::new(),
            loosenings: Vec::new(),
            allowances: Vec::new(),
            replaced: Vec::new(),
            replaced_actions: Vec::new(),
            actions: EntrySeries::default(),
            films: EntrySeries::default(),
            fasteners: (0..joint.fasteners.len()).map(fresh).collect(),
            suspects: BTreeSet::new(),
            unsure: BTreeSet::new(),
            pulled: BTreeSet::new(),
            started_over_at: 0,
        }
    }

    /// What a fastener has.
    pub fn fastened(&self, fastener: FastenerIx) -> &FastenerProgress {
        &self.fasteners[fastener.0]
    }

    /// What the fasteners of a group turned on when an entry was made: what was said last before it, or after it
    /// for what was pulled already. `counts` says which entries were not voided.
    pub fn lubricant_statement(
        &self,
        group: GroupIx,
        seq: u64,
        counts: impl Fn(u64) -> bool,
    ) -> Option<(u64, &LubricantStatement)> {
        let of_group = self.films.entries().rev().filter(|said| said.key == group && counts(said.seq));
        let mut covers = of_group.filter(|said| said.seq < seq || said.value.pulled_too);
        covers.next().map(|said| (said.seq, &said.value))
    }

    /// The fasteners of a group as they were used when an entry was made.
    pub fn used_fastener<'a>(
        &self,
        plan: &'a Plan,
        joint: &Joint,
        group: GroupIx,
        seq: u64,
        counts: impl Fn(u64) -> bool,
    ) -> UsedFastener<'a> {
        UsedFastener::of(
            &plan[joint[group].spec],
            self.lubricant_statement(group, seq, counts).map(|(_, said)| said),
        )
    }

    /// What was last done by hand in a stage, where the joint was not taken apart since.
    pub(crate) fn done_by_hand(&self, stage: StageIx) -> Option<&SeriesEntry<StageIx, ActionDone>> {
        self.actions.latest(stage).filter(|done| done.seq > self.started_over_at)
    }

    /// Whether what is done by hand in a stage is done, for all of its fasteners.
    pub fn acted(&self, stage: StageIx) -> bool {
        self.done_by_hand(stage).is_some_and(|done| done.value.except.is_empty())
    }

    /// Fasteners of a stage that would not run down when it was last done.
    pub fn resisting(&self, stage: StageIx) -> &[FastenerIx] {
        self.done_by_hand(stage).map_or(&[], |done| &done.value.except)
    }

    /// Whether a pull is what its fastener has in its stage now.
    pub fn counts(&self, pull: &RecordedPull) -> bool {
        self.fasteners[pull.fastener.0].last(pull.stage) == pull.seq
    }

    /// Finds the loosening after which the joint starts over: the last one that left nothing in it, where more
    /// than one fastener had been in.
    fn find_start(&mut self, counts: &dyn Fn(u64) -> bool) {
        self.started_over_at = 0;
        if self.loosenings.is_empty() {
            return;
        }
        let pulls = self.pulls.iter().map(|pull| (pull.seq, pull.fastener, true));
        let loosenings = self.loosenings.iter().filter(|of| !of.apart);
        let loosenings = loosenings.map(|loosening| (loosening.seq, loosening.fastener, false));
        let mut steps: Vec<(u64, FastenerIx, bool)> =
            pulls.chain(loosenings).filter(|(seq, ..)| counts(*seq)).collect();
        steps.sort_unstable_by_key(|(seq, ..)| *seq);
        let mut holding: BTreeSet<FastenerIx> = BTreeSet::new();
        let mut several = false;
        for (seq, fastener, pulled) in steps {
            if pulled {
                holding.insert(fastener);
                several |= holding.len() > 1;
            } else if holding.remove(&fastener) && holding.is_empty() && several {
                self.started_over_at = seq;
                several = false;
            }
        }
    }

    /// What an instrument showed last in a stage, on another fastener than this one.
    pub(super) fn read_before(
        &self,
        stage: StageIx,
        fastener: FastenerIx,
        instrument: &str,
        counts: impl Fn(u64) -> bool,
    ) -> Option<f64> {
        if !self.pulled.contains(&stage) {
            return None;
        }
        let last = self.pulls.iter().rev().find(|pull| pull.stage == stage && counts(pull.seq))?;
        (last.fastener != fastener && last.instrument.id == instrument).then_some(last.read)
    }

    /// What is left to do of some stages that are walked together.
    pub fn open_in<'a>(
        &'a self,
        joint: &'a Joint,
        at: RoundKey,
        leg: Range<usize>,
    ) -> impl Iterator<Item = OpenStep> + 'a {
        let first = StageIx(leg.start);
        let by_hand = joint[first].way.by_hand().is_some();
        let act = (by_hand && !self.acted(first)).then_some(OpenStep::Act { at, stage: first });
        let group = joint.group_of(first).filter(|_| !by_hand);
        let fasteners = group.map(|group| group.fasteners.clone()).unwrap_or_default();
        let (start, last) = (fasteners.start, fasteners.end.saturating_sub(1));
        let backwards = joint[first].way.loosens();
        let sequence =
            fasteners.map(move |fastener| if backwards { start + last - fastener } else { fastener });
        let pulls = sequence.flat_map(move |fastener| {
            let fastened = &self.fasteners[fastener];
            let after = leg.clone().map(StageIx).find(|stage| fastened.to_loosen(joint, *stage));
            let loosen = after.map(|stage| OpenStep::Loosen {
                at,
                fastener: FastenerIx(fastener),
                after: Some(stage),
            });
            let open = move |stage: &StageIx| !self.fasteners[fastener].finished(*stage);
            let pulls = leg.clone().map(StageIx).filter(open).map(move |stage| OpenStep::Pull {
                at,
                stage,
                fastener: FastenerIx(fastener),
                place: fastener - start,
            });
            loosen.into_iter().chain(pulls)
        });
        act.into_iter().chain(pulls)
    }

    /// Fasteners that are still to be loosened, in the order of it.
    pub fn to_loosen<'a>(&'a self, joint: &Joint, at: RoundKey) -> impl Iterator<Item = OpenStep> + use<'a> {
        let holds = |fastener: &FastenerIx| self.fastened(*fastener).holds();
        joint.backwards().into_iter().filter(holds).map(move |fastener| OpenStep::Loosen {
            at,
            fastener,
            after: None,
        })
    }

    /// Pulls that bear on their fastener as it is now and are wrong or deviate.
    pub fn suspects<'a>(&'a self, ledger: &'a EntryLedger) -> impl Iterator<Item = &'a RecordedPull> {
        self.suspects.iter().map(|at| &self.pulls[*at]).filter(|pull| self.stands(pull, ledger))
    }

    /// Pulls that bear on their fastener as it is now, of which nobody is sure that the wrench clicked, and that nobody
    /// followed by one that is sure.
    pub fn unsure<'a>(&'a self, ledger: &'a EntryLedger) -> impl Iterator<Item = &'a RecordedPull> {
        let sure = move |unsure: &RecordedPull| {
            let steps = self.fasteners[unsure.fastener.0].history.iter().rev();
            let pulls = steps.filter_map(|step| match step {
                FastenerEntry::Pull(at) => Some(&self.pulls[*at]),
                FastenerEntry::Loosening(_) | FastenerEntry::Allowance(_) => None,
            });
            pulls
                .take_while(|other| other.seq > unsure.seq)
                .any(|other| ledger.counts(other.seq) && !other.remarks.contains(&EntryRemark::Unsure))
        };
        let unsure = self.unsure.iter().map(|at| &self.pulls[*at]);
        unsure.filter(move |pull| self.stands(pull, ledger) && !sure(pull))
    }

    /// Whether a pull still bears on the fastener as it is now.
    pub fn stands(&self, pull: &RecordedPull, ledger: &EntryLedger) -> bool {
        pull.seq > self.fasteners[pull.fastener.0].loosened_at() && ledger.counts(pull.seq)
    }

    /// Loosenings after which a spent fastener went back.
    pub fn owed_fasteners(&self) -> impl Iterator<Item = (FastenerIx, u64)> {
        let owed = |(at, fastened): (usize, &FastenerProgress)| Some((FastenerIx(at), fastened.owed()?));
        self.fasteners.iter().enumerate().filter_map(owed)
    }

    /// The sealant that was laid before a stage; the last one where there were more, and none once it was
    /// left to cure.
    pub fn bead(&self, joint: &Joint, before: StageIx, ledger: &EntryLedger) -> Option<SealantBead> {
        let rests = |stage: &StageIx| joint[*stage].way.rests_min().is_some();
        let from = (0..=before.0).rev().map(StageIx).find(rests).map_or(0, |rest| rest.0 + 1);
        let laid = |stage: StageIx| {
            let within_min = joint[stage].way.within_min()?;
            let done = self.done_by_hand(stage)?;
            Some(SealantBead { stage, since: ledger.mark(done.seq)?.stamp.at, within_min })
        };
        (from..before.0).rev().map(StageIx).find_map(laid)
    }

    /// When something was last done in the round before a stage.
    pub fn touched(&self, before: StageIx, ledger: &EntryLedger) -> Option<OffsetDateTime> {
        let counts = |seq: &u64| ledger.counts(*seq);
        let mut pulls = self.pulls.iter().rev().filter(|pull| pull.stage < before).map(|pull| pull.seq);
        let mut acts = self.actions.entries().rev().filter(|done| done.key < before).map(|done| done.seq);
        let last = pulls.find(counts).max(acts.find(counts))?;
        Some(ledger.mark(last)?.stamp.at)
    }

    fn look(&mut self, at: usize) {
        let pull = &self.pulls[at];
        if pull.judged.wrong() || pull.remarks.iter().any(EntryRemark::deviates) {
            self.suspects.insert(at);
        } else {
            self.suspects.remove(&at);
        }
        if pull.remarks.contains(&EntryRemark::Unsure) {
            self.unsure.insert(at);
        }
    }

    /// Enters a pull.
    pub(super) fn pull(&mut self, plan: &Plan, joint: &Joint, pull: RecordedPull, ledger: &EntryLedger) {
        let (at, fastener, seq) = (self.pulls.len(), pull.fastener, pull.seq);
        self.pulled.insert(pull.stage);
        self.pulls.push(pull);
        self.enter(plan, joint, fastener, FastenerEntry::Pull(at), (seq, ledger));
    }

    /// Enters a loosening.
    pub(super) fn loosen(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        loosening: RecordedLoosening,
        ledger: &EntryLedger,
    ) {
        let (at, fastener, seq) = (self.loosenings.len(), loosening.fastener, loosening.seq);
        self.loosenings.push(loosening);
        self.enter(plan, joint, fastener, FastenerEntry::Loosening(at), (seq, ledger));
    }

    /// Enters that a fastener may be pulled further than the plan allows.
    pub(super) fn allow(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        allowance: FurtherPullAllowance,
        ledger: &EntryLedger,
    ) {
        let (at, fastener, seq) = (self.allowances.len(), allowance.fastener, allowance.seq);
        self.allowances.push(allowance);
        self.enter(plan, joint, fastener, FastenerEntry::Allowance(at), (seq, ledger));
    }

    /// Enters what the fasteners of a group turn on.
    pub(super) fn lubricate(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        (seq, group): (u64, GroupIx),
        said: LubricantStatement,
        ledger: &EntryLedger,
    ) {
        self.films.push(seq, group, said);
        // It is not in the ledger yet.
        self.replay_group(plan, joint, group, &|entry| entry == seq || ledger.counts(entry));
    }

    fn enter(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        fastener: FastenerIx,
        step: FastenerEntry,
        (seq, ledger): (u64, &EntryLedger),
    ) {
        self.fasteners[fastener.0].history.push(step);
        // It is not in the ledger yet.
        let counts = |entry| entry == seq || ledger.counts(entry);
        self.take(plan, joint, fastener, step, &counts);
        if matches!(step, FastenerEntry::Loosening(_)) {
            self.find_start(&counts);
        }
        self.unsettle(plan, joint, fastener, &counts);
    }

    /// Stages that are done again when the group of a fastener is touched after them are looked at again (C-18).
    fn unsettle(&mut self, plan: &Plan, joint: &Joint, fastener: FastenerIx, counts: &dyn Fn(u64) -> bool) {
        let touched = joint.group_ix(fastener);
        let rests = |stage: &StageIx| joint[*stage].again.iter().any(|group| Some(*group) == touched);
        for stage in (0..joint.stages.len()).map(StageIx).filter(rests) {
            if let Some(group) = joint[stage].group
                && self.pulled.contains(&stage)
            {
                self.replay_group(plan, joint, group, counts);
            }
        }
    }

    /// Whether a pull holds no more because another group was touched after it.
    pub(super) fn is_unsettled(
        &self,
        joint: &Joint,
        pull: &RecordedPull,
        counts: &dyn Fn(u64) -> bool,
    ) -> bool {
        let again = &joint[pull.stage].again;
        let bears = |(fastener, seq): (FastenerIx, u64)| {
            joint.group_ix(fastener).is_some_and(|group| again.contains(&group)) && counts(seq)
        };
        let pulls = self.pulls.iter().map(|other| (other.fastener, other.seq));
        let loosenings = self.loosenings.iter().map(|other| (other.fastener, other.seq));
        let later = |(_, seq): &(FastenerIx, u64)| *seq > pull.seq;
        !again.is_empty()
            && (pulls.rev().take_while(later).any(bears) || loosenings.rev().take_while(later).any(bears))
    }

    /// Tells the fasteners of a group what the first of their kind has shown for all of them.
    pub(super) fn tell(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        group: GroupIx,
        qualified: Option<QualifiedTorque>,
        counts: &dyn Fn(u64) -> bool,
    ) {
        let used = self.used_fastener(plan, joint, group, u64::MAX, counts);
        for fastener in joint[group].fasteners.clone() {
            self.fasteners[fastener].qualify(joint, &used.spec, qualified);
        }
    }

    fn take(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        fastener: FastenerIx,
        step: FastenerEntry,
        counts: &dyn Fn(u64) -> bool,
    ) {
        let Some(group) = joint.group_ix(fastener) else { return };
        match step {
            FastenerEntry::Pull(at) => {
                let seq = self.pulls[at].seq;
                let used = self.used_fastener(plan, joint, group, seq, counts);
                let holds = counts(seq) && !self.is_unsettled(joint, &self.pulls[at], counts);
                self.fasteners[fastener.0].pull(joint, &used, &mut self.pulls[at], holds);
                self.look(at);
            }
            FastenerEntry::Allowance(at) => {
                let FurtherPullAllowance { seq, utilisation, .. } = &self.allowances[at];
                let (seq, utilisation) = (*seq, *utilisation);
                if counts(seq) {
                    let used = self.used_fastener(plan, joint, group, seq, counts);
                    let opened = self.fasteners[fastener.0].allow(joint, &used.spec, utilisation);
                    // What was short for good can be pulled on now.
                    let last = |pull: &RecordedPull| pull.fastener == fastener && Some(pull.seq) == opened;
                    if let Some(at) = self.pulls.iter().rposition(last) {
                        self.pulls[at].judged.mends = true;
                        self.look(at);
                    }
                }
            }
            FastenerEntry::Loosening(at) => {
                let seq = self.loosenings[at].seq;
                if counts(seq) {
                    let used = self.used_fastener(plan, joint, group, seq, counts);
                    self.fasteners[fastener.0].loosen(joint, &used.spec, &mut self.loosenings[at]);
                }
            }
        }
    }

    /// Takes every entry of a fastener again, after one of them was voided.
    pub(super) fn replay(&mut self, plan: &Plan, joint: &Joint, fastener: FastenerIx, ledger: &EntryLedger) {
        let counts = |entry| ledger.counts(entry);
        self.replay_counting(plan, joint, fastener, &counts);
        self.find_start(&counts);
        self.unsettle(plan, joint, fastener, &counts);
    }

    /// Whether none of its fasteners holds.
    pub fn is_loose(&self) -> bool {
        !self.fasteners.iter().any(FastenerProgress::holds)
    }

    /// Finds what fasteners of a group turn on again, after an entry about it was voided.
    pub(super) fn settle_film(&mut self, plan: &Plan, joint: &Joint, group: GroupIx, ledger: &EntryLedger) {
        self.films.settle(group, ledger);
        self.replay_group(plan, joint, group, &|entry| ledger.counts(entry));
    }

    fn replay_group(&mut self, plan: &Plan, joint: &Joint, group: GroupIx, counts: &dyn Fn(u64) -> bool) {
        for fastener in joint[group].fasteners.clone() {
            self.replay_counting(plan, joint, FastenerIx(fastener), counts);
        }
    }

    fn replay_counting(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        fastener: FastenerIx,
        counts: &dyn Fn(u64) -> bool,
    ) {
        let Some(group) = joint.group_ix(fastener) else { return };
        let history = std::mem::take(&mut self.fasteners[fastener.0].history);
        let now = self.used_fastener(plan, joint, group, u64::MAX, counts);
        let qualified = self.fasteners[fastener.0].qualified();
        self.fasteners[fastener.0] = FastenerProgress::fresh(joint, Some(&now.spec));
        self.fasteners[fastener.0].qualify(joint, &now.spec, qualified);
        for step in &history {
            self.take(plan, joint, fastener, *step, counts);
        }
        // What comes next turns on what it is lubricated with now, whatever it was pulled on before.
        self.fasteners[fastener.0].expect(joint, Some(&now.spec));
        self.fasteners[fastener.0].history = history;
    }
}
