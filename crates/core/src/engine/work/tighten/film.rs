//! What the fasteners of a joint turn on in one of its rounds, as far as somebody said so (C-26, C-27).

use super::round::Round;
use crate::engine::state::State;
use crate::friction::Lubrication;
use crate::plan::{FastenerSpec, GroupIx, Joint, OperationIx, Plan, StageIx};
use crate::tightening::{Conversion, Way};
use std::borrow::Cow;

/// What somebody said that the fasteners of a group turn on.
#[derive(Debug, Clone)]
pub(in crate::engine) struct Said {
    /// What it is.
    pub lubrication: Lubrication,
    /// Whether torques are converted to it.
    pub converts: bool,
    /// Whether what was pulled before turned on it, too.
    pub pulled_too: bool,
    /// Why it is another one than the plan asks for, where it is.
    pub reason: String,
}

/// A fastener as it is used.
#[derive(Debug)]
pub(in crate::engine) struct Used<'a> {
    /// Its specification, with what it turns on.
    pub spec: Cow<'a, FastenerSpec>,
    /// How torques are converted to that, where they are.
    conversion: Option<Conversion>,
}

impl Used<'_> {
    /// How the torques of a way are converted, where they are.
    pub fn conversion(&self, way: &Way) -> Option<&Conversion> {
        self.conversion.as_ref().filter(|_| way.rules().converts())
    }

    /// What a figure of a way was multiplied by.
    pub fn factor(&self, way: &Way) -> f64 {
        self.conversion(way).map_or(1.0, |conversion| conversion.factor)
    }
}

impl State {
    /// The fasteners of a stage that an operation runs, as they are used.
    pub fn fastener_used(&self, at: OperationIx, joint: &Joint, stage: StageIx) -> Option<FastenerSpec> {
        let (work, group) = (self.plan.tightens(at)?, joint[stage].group?);
        let round = self.joints.round(work.share(&self.plan, Some(&joint.id))?.at());
        let used = round.used(&self.plan, joint, group, u64::MAX, |seq| self.ledger.counts(seq));
        Some(used.spec.into_owned())
    }
}

impl Round {
    /// What the fasteners of a group turned on when an entry was made: what was said last before it, or after it
    /// for what was pulled already. `counts` says which entries were not voided.
    pub fn said(&self, group: GroupIx, seq: u64, counts: impl Fn(u64) -> bool) -> Option<(u64, &Said)> {
        let of_group = self.films.entries().rev().filter(|said| said.key == group && counts(said.seq));
        let mut covers = of_group.filter(|said| said.seq < seq || said.value.pulled_too);
        covers.next().map(|said| (said.seq, &said.value))
    }

    /// The fasteners of a group as they were used when an entry was made.
    pub fn used<'a>(
        &self,
        plan: &'a Plan,
        joint: &Joint,
        group: GroupIx,
        seq: u64,
        counts: impl Fn(u64) -> bool,
    ) -> Used<'a> {
        let spec = &plan[joint[group].spec];
        let said = self.said(group, seq, counts).map(|(_, said)| said);
        let Some(said) = said.filter(|said| said.lubrication != spec.lubrication) else {
            return Used { spec: Cow::Borrowed(spec), conversion: None };
        };
        let used = spec.on(&said.lubrication, said.converts);
        let [least, typical, most] = used.fastening.nut_factors();
        let conversion = said.converts.then(|| Conversion {
            from: spec.lubrication.words(),
            used: said.lubrication.words(),
            source: said.lubrication.thread.source.clone(),
            factor: used.fastening.converted,
            load: [typical / most, typical / least],
        });
        Used { spec: Cow::Owned(used), conversion }
    }
}
