//! Which group of a joint has which stage of a line.

use super::{LineQuestion, LineStage, Procedure, StageKind};
use crate::document::{FastenerSpec, Joint};
use rigore_mechanics::fastener::Thread;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use std::collections::BTreeSet;
use std::ops::Range;

/// What a group of a joint may be called in a line: by its key, its name, its thread or its fasteners.
#[derive(Debug, Clone, PartialEq)]
pub struct GroupNames<'a> {
    /// Its key in the joint.
    pub key: &'a str,
    /// Its name as shown.
    pub name: &'a str,
    /// The name of its joint, which stands for all groups.
    pub joint: &'a str,
    /// Its thread, where it is known.
    pub thread: Option<Thread>,
    /// Its fasteners by name, in tightening order.
    pub fasteners: Vec<&'a str>,
}

/// The groups of a joint, by the kinds of fastener of its plan.
pub fn groups_of<'a>(joint: &'a Joint, specs: &'a [FastenerSpec]) -> Vec<GroupNames<'a>> {
    let names = joint.groups.iter().map(|group| GroupNames {
        key: &group.id,
        name: &group.name,
        joint: &joint.name,
        thread: specs.get(group.spec.0).map(|spec| spec.fastening.thread),
        fasteners: joint.fasteners[group.fasteners.clone()]
            .iter()
            .map(|fastener| fastener.id.as_str())
            .collect(),
    });
    names.collect()
}

/// A stage of a line with the group it is for, by its place; none for what is done to no fastener in particular.
pub(super) type GroupStage<'a> = (Option<usize>, &'a StageKind);

impl Procedure {
    /// Its stages for the groups of a joint. Where some groups are named, what comes before belongs to the others;
    /// where that is not certain, it is asked (C-51).
    ///
    /// # Errors
    /// What is not certain, at the words it is about.
    pub fn for_groups(&self, groups: &[GroupNames<'_>]) -> Result<Vec<GroupStage<'_>>, Vec<LineQuestion>> {
        let mut questions = Vec::new();
        let mut resolved: Vec<Option<Vec<usize>>> = Vec::new();
        for stage in &self.stages {
            resolved.push(stage.group.as_ref().map(|named| {
                resolve(groups, named).unwrap_or_else(|message| {
                    questions.push(LineQuestion { at: stage.at.clone(), message });
                    Vec::new()
                })
            }));
        }
        questions.dedup();
        if !questions.is_empty() {
            return Err(questions);
        }
        let common = self.common_groups(groups, &resolved)?;
        let mut stages = Vec::new();
        for (stage, named) in self.stages.iter().zip(&resolved) {
            if matches!(stage.kind, StageKind::Action(_) | StageKind::Wait(_) | StageKind::Seal { .. }) {
                stages.push((None, &stage.kind));
                continue;
            }
            let of = named.as_deref().unwrap_or(&common);
            stages.extend(of.iter().map(|group| (Some(*group), &stage.kind)));
        }
        Ok(stages)
    }

    /// The groups that have the stages of no named group.
    fn common_groups(
        &self,
        groups: &[GroupNames<'_>],
        resolved: &[Option<Vec<usize>>],
    ) -> Result<Vec<usize>, Vec<LineQuestion>> {
        let all = 0..groups.len();
        let named: BTreeSet<usize> = resolved.iter().flatten().flatten().copied().collect();
        let is_common = |(_, of): &(&LineStage, &Option<Vec<usize>>)| of.is_none();
        let common: Vec<&LineStage> =
            self.stages.iter().zip(resolved).filter(is_common).map(|(stage, _)| stage).collect();
        if named.is_empty() || common.is_empty() {
            return Ok(all.collect());
        }
        let all_named = named.len() == groups.len();
        let mut questions = Vec::new();
        let mut of: Vec<usize> = all.filter(|group| !named.contains(group)).collect();
        for group in named {
            let first = self
                .stages
                .iter()
                .zip(resolved)
                .find(|(_, of)| of.as_ref().is_some_and(|of| of.contains(&group)));
            let Some((first, _)) = first else { continue };
            match shares_common(&common, &first.kind, all_named) {
                Some(true) => of.push(group),
                Some(false) => {}
                None => questions.push(LineQuestion {
                    at: place(&common),
                    message: message!("procedure-does-have-this-too-write-all", group = groups[group].name),
                }),
            }
        }
        if of.is_empty() && questions.is_empty() {
            let message = message!("procedure-which-group-this-for-write-name");
            questions.push(LineQuestion { at: place(&common), message });
        }
        of.sort_unstable();
        if questions.is_empty() { Ok(of) } else { Err(questions) }
    }
}

fn place(stages: &[&LineStage]) -> Range<usize> {
    let start = stages.first().map_or(0, |stage| stage.at.start);
    start..stages.last().map_or(start, |stage| stage.at.end)
}

/// Whether a named group has the stages before it as well; none where it may or may not.
fn shares_common(common: &[&LineStage], first: &StageKind, all_named: bool) -> Option<bool> {
    let last = common.iter().rev().find(|stage| !stage.kind.figures().is_empty())?;
    let last_torque = match &last.kind {
        StageKind::Torque { torque, .. } | StageKind::Recheck(torque) => Some(torque.base()),
        _ => None,
    };
    let goes_up = |nm: f64| last_torque.is_some_and(|last| nm > last * 1.001);
    match first {
        // What it begins with rests on what was done before.
        StageKind::Angle(_) | StageKind::Recheck(_) | StageKind::Loosen => Some(true),
        // Going on upwards it may have them, and starting lower it hardly does.
        StageKind::Torque { torque, .. }
        | StageKind::TorqueAngle { torque, .. }
        | StageKind::Castellated(torque)
        | StageKind::Yield(torque) => (goes_up(torque.base()) == all_named).then_some(all_named),
        StageKind::RunDown | StageKind::Stretch { .. } => (!all_named).then_some(false),
        StageKind::Action(_) | StageKind::Wait(_) | StageKind::Seal { .. } => None,
    }
}

/// Words of a name that do not tell one group from another.
const EVERY_NAME: [&str; 14] = [
    "bolt", "nut", "stud", "fastener", "screw", "capscrew", "the", "row", "group", "of", "set", "all",
    "tighten", "torque",
];

/// The groups that a line names.
fn resolve(groups: &[GroupNames<'_>], named: &str) -> Result<Vec<usize>, Message> {
    let wanted = telling_words(named);
    let plain = |text: &str| text.trim().to_lowercase().trim_end_matches('s').to_owned();
    let exact =
        |group: &GroupNames<'_>| plain(group.key) == plain(named) || plain(group.name) == plain(named);
    if let Some(group) = groups.iter().position(exact) {
        return Ok(vec![group]);
    }
    if let Some(of) = by_fasteners(groups, named)? {
        return Ok(of);
    }
    if let Some(of) = by_thread(groups, named)? {
        return Ok(of);
    }
    let everything = ["all", "both", "every"]
        .iter()
        .any(|word| named.to_lowercase().split_whitespace().any(|of| of == *word));
    if wanted.is_empty() && (everything || groups.len() == 1) {
        return Ok((0..groups.len()).collect());
    }
    let holds = |text: &str| {
        let words = telling_words(text);
        !wanted.is_empty() && wanted.iter().all(|word| words.contains(word))
    };
    let found: Vec<usize> =
        (0..groups.len()).filter(|at| holds(groups[*at].key) || holds(groups[*at].name)).collect();
    match found[..] {
        [one] => Ok(vec![one]),
        [] if groups.first().is_some_and(|group| holds(group.joint)) => Ok((0..groups.len()).collect()),
        [] => Err(message!("procedure-no-group-called-there", named, groups = keys(groups))),
        _ => Err(message!("procedure-can-more-than-one-group-there", named, groups = keys(groups))),
    }
}

fn keys(groups: &[GroupNames<'_>]) -> String {
    groups.iter().map(|group| group.key).collect::<Vec<_>>().join(", ")
}

/// The words that tell a group from others, in the singular; numbers and threads are read by themselves.
fn telling_words(text: &str) -> Vec<String> {
    let words = text.split(|c: char| !c.is_alphabetic()).filter(|word| !word.is_empty());
    let singular = words.map(|word| word.to_lowercase().trim_end_matches('s').to_owned());
    singular.filter(|word| !EVERY_NAME.contains(&word.as_str())).collect()
}

/// Groups by the numbers of their fasteners: `bolts 1-8`. They are whole groups, or it is asked.
fn by_fasteners(groups: &[GroupNames<'_>], named: &str) -> Result<Option<Vec<usize>>, Message> {
    let Some(list) = fastener_words(named) else { return Ok(None) };
    let known = |name: &str| groups.iter().any(|group| group.fasteners.contains(&name));
    let wanted: BTreeSet<String> = list.into_iter().collect();
    if let Some(unknown) = wanted.iter().find(|name| !known(name)) {
        let all: Vec<&str> = groups.iter().flat_map(|group| group.fasteners.iter().copied()).collect();
        return Err(message!("procedure-no-fastener-called-there", unknown, all = all.join(", ")));
    }
    let mut found = Vec::new();
    for (at, group) in groups.iter().enumerate() {
        let has = group.fasteners.iter().filter(|name| wanted.contains(**name)).count();
        if has == group.fasteners.len() {
            found.push(at);
        } else if has > 0 {
            return Err(message!(
                "procedure-part-group-make-group-own-first",
                named,
                key = group.key,
                fasteners = group.fasteners.join(", ")
            ));
        }
    }
    Ok(Some(found))
}

/// The fasteners of a name such as `Bolts 1-8` or `nuts 1, 3 and 5`; none where it gives no numbers.
fn fastener_words(named: &str) -> Option<Vec<String>> {
    let lower = named.to_lowercase();
    let rest =
        lower.split_whitespace().skip_while(|word| !is_noun(word)).skip(1).collect::<Vec<_>>().join(" ");
    if !rest.starts_with(|c: char| c.is_ascii_digit()) {
        return None;
    }
    let spread =
        rest.replace(['–', '—'], "-").replace(" to ", "-").replace(" through ", "-").replace(" thru ", "-");
    let parts = spread.split([',', ' ', '&', '/', '+']).filter(|part| !part.is_empty() && *part != "and");
    let mut names = Vec::new();
    for part in parts {
        match part.split_once('-').map(|(from, to)| (from.parse::<u32>(), to.parse::<u32>())) {
            Some((Ok(from), Ok(to))) if from <= to && to - from < 400 => {
                names.extend((from..=to).map(|number| number.to_string()));
            }
            Some(_) => names.extend(part.split('-').map(str::to_uppercase)),
            None => names.push(part.to_uppercase()),
        }
    }
    Some(names)
}

fn is_noun(word: &str) -> bool {
    ["bolt", "nut", "stud", "fastener", "screw", "capscrew"].contains(&word.trim_end_matches('s'))
}

/// Groups by their thread: `M8`, `M8x25`, `3/8`.
fn by_thread(groups: &[GroupNames<'_>], named: &str) -> Result<Option<Vec<usize>>, Message> {
    let Some((nominal_mm, pitch_mm)) = named.split_whitespace().find_map(thread_size) else {
        return Ok(None);
    };
    let fits = |group: &GroupNames<'_>| {
        group.thread.is_some_and(|thread| {
            (thread.nominal_mm() - nominal_mm).abs() < 0.02
                && pitch_mm.is_none_or(|pitch_mm| (thread.pitch_mm() - pitch_mm).abs() < 0.02)
        })
    };
    let words = telling_words(
        &named.split_whitespace().filter(|word| thread_size(word).is_none()).collect::<Vec<_>>().join(" "),
    );
    let named_so = |group: &GroupNames<'_>| {
        let own = telling_words(group.name);
        words.iter().all(|word| own.contains(word))
    };
    let found: Vec<usize> =
        (0..groups.len()).filter(|at| fits(&groups[*at]) && named_so(&groups[*at])).collect();
    match found[..] {
        [] => Err(message!("procedure-no-group-has-thread-there", named, groups = keys(groups))),
        [one] => Ok(Some(vec![one])),
        _ => Err(message!("procedure-several-groups-have-thread-there", named, groups = keys(groups))),
    }
}

/// Nominal diameter and, where it is written, pitch of a thread, mm. `M8x25` is a length behind a diameter.
fn thread_size(word: &str) -> Option<(f64, Option<f64>)> {
    let word = word.trim_matches(['(', ')', '"', ',']).to_lowercase().replace('×', "x");
    if let Some(size) = word.strip_prefix('m').filter(|size| size.starts_with(|c: char| c.is_ascii_digit())) {
        let (nominal, rest) =
            size.split_once('x').map_or((size, None), |(nominal, rest)| (nominal, Some(rest)));
        let first = rest
            .and_then(|rest| rest.split('x').next())
            .and_then(|of| of.replace(',', ".").parse::<f64>().ok());
        return Some((nominal.replace(',', ".").parse().ok()?, first.filter(|pitch_mm| *pitch_mm <= 6.0)));
    }
    let (size, threads) =
        word.split_once('-').map_or((word.as_str(), None), |(size, threads)| (size, Some(threads)));
    let (above, below) = size.split_once('/')?;
    let inches = above.parse::<f64>().ok()? / below.parse::<f64>().ok().filter(|below| *below > 0.0)?;
    let pitch_mm = threads.and_then(|threads| threads.parse::<f64>().ok()).filter(|threads| *threads > 0.0);
    Some((inches * 25.4, pitch_mm.map(|threads| 25.4 / threads)))
}
