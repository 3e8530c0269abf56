//! How two versions of a plan differ, told by meaning (C-48): "outer main caps, final: 45 N·m → 50 N·m".

use super::document::{
    ChecklistItem, FastenerGroup, FastenerSpec, Joint, Operation, OperationWork, Plan, Stage,
};
use super::index::StageIx;
use super::parts::PartSlot;
use super::sites::{Clearance, Site};
use crate::way::{StageProgress, Way};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension, Quantity};
use rigore_mechanics::{message, text};
use serde::Serialize;

/// One way in which two versions differ.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Difference {
    /// Name of the joint that it is about, where it is about one.
    pub joint: Option<String>,
    /// What differs: `Main caps, final`.
    pub what: String,
    /// How it was; none where it is new.
    pub was: Option<Message>,
    /// How it is; none where it is gone.
    pub now: Option<Message>,
    /// The clamp load it was forecast to give, and gives, kN, where that differs.
    pub load_kn: Option<[f64; 2]>,
}

/// How a plan differs from an earlier version of it, in the order of the plan.
///
/// ```
/// use rigore_plan::{Plan, differences};
///
/// let plan = |name: &str| {
///     let item = r#"{ id = "clean", text = "All is clean", right = "Bare metal", wrong = "Oil" }"#;
///     let look = format!("[[operation]]\nid = \"look\"\nname = \"{name}\"\nkind = \"check\"\nitem = [{item}]\n");
///     Plan::read("small.toml", &format!("format = 1\nid = \"small\"\nname = \"Small\"\n{look}")).expect("a plan")
/// };
/// assert!(differences(&plan("Look"), &plan("Look")).is_empty());
/// assert_eq!(differences(&plan("Look"), &plan("Look again")).len(), 1);
/// ```
pub fn differences(old: &Plan, new: &Plan) -> Vec<Difference> {
    let mut all = Differences { joint: None, all: Vec::new() };
    all.text(&text!("plan-name"), &old.name, &new.name);
    all.text(&text!("plan-description"), &old.about, &new.about);
    let lubricant = |of: &rigore_mechanics::friction::Lubricant| {
        let ends = [of.low, of.typical, of.high].map(|end| format!("{}/{}", end.thread, end.bearing));
        format!("{}, {}", of.name, ends.join(" – "))
    };
    all.each(
        &old.lubricants,
        &new.lubricants,
        |of| &of.id,
        |of| of.name.clone(),
        |all, old, new| {
            all.text(&new.name, lubricant(old), lubricant(new));
        },
    );
    all.each(&old.specs, &new.specs, |of| &of.id, |of| of.name.clone(), fastener);
    all.each(
        &old.drawings,
        &new.drawings,
        |of| &of.id,
        |of| of.name.clone(),
        |all, old, new| {
            if old != new {
                all.put(&new.name, message!("plan-drawing-as-was"), message!("plan-another-drawing"));
            }
        },
    );
    let (was, is) = (written(old), written(new));
    for joint in &is {
        all.joint = Some(joint.name.clone());
        match was.iter().find(|other| other.family == joint.family) {
            Some(other) => self::joint(&mut all, (old, other), (new, joint)),
            None => all.added(&joint.name),
        }
    }
    all.joint = None;
    for joint in was.iter().filter(|joint| is.iter().all(|other| other.family != joint.family)) {
        all.gone(&joint.name);
    }
    let (old_rules, new_rules) = (|of: &PartSlot| slot_rules(old, of), |of: &PartSlot| slot_rules(new, of));
    all.each(
        &old.slots,
        &new.slots,
        |of| &of.id,
        |of| of.name.clone(),
        |all, old, new| {
            let limit = |of: Option<u32>| {
                of.map_or_else(|| message!("plan-as-often-as-likes"), |most| most.to_string().into())
            };
            all.text(
                &text!("plan-uses-allowed", new = new.name),
                limit(old.uses_allowed),
                limit(new.uses_allowed),
            );
            let of = text!("plan-marks-and-sizes", new = new.name);
            all.text(&of, old_rules(old), new_rules(new));
        },
    );
    all.each(
        &old.sites,
        &new.sites,
        |of| &of.id,
        |of| of.name.clone(),
        |all, old, new| {
            if (old.form, old.dimension, old.places.len()) != (new.form, new.dimension, new.places.len()) {
                all.put(&new.name, message!("plan-measured-at-places"), message!("plan-measured-otherwise"));
            }
            let words = |[low, high]: [f64; 2]| between(low, high, new.dimension);
            all.text(&text!("plan-plausible", new = new.name), words(old.plausible), words(new.plausible));
            let shells = |of: &Site| {
                if of.shells_in {
                    message!("plan-shells-along-load-line")
                } else {
                    message!("plan-at-every-place")
                }
            };
            all.text(&text!("plan-judged", new = new.name), shells(old), shells(new));
        },
    );
    all.each(&old.clearances, &new.clearances, |of| &of.id, |of| of.name.clone(), clearance);
    all.each(
        &old.operations,
        &new.operations,
        |of| &of.id,
        |of| of.name.clone(),
        |all, old_of, new_of| {
            operation(all, (old, old_of), (new, new_of));
        },
    );
    all.all
}

/// The joints as they are written: the first of each family.
fn written(plan: &Plan) -> Vec<&Joint> {
    let first = |at: &usize| plan.joints[..*at].iter().all(|other| other.family != plan.joints[*at].family);
    (0..plan.joints.len()).filter(first).map(|at| &plan.joints[at]).collect()
}

struct Differences {
    joint: Option<String>,
    all: Vec<Difference>,
}

impl Differences {
    fn push(&mut self, what: &str, was: Option<Message>, now: Option<Message>) -> &mut Difference {
        let joint = self.joint.clone();
        let at = self.all.len();
        self.all.push(Difference { joint, what: what.to_owned(), was, now, load_kn: None });
        &mut self.all[at]
    }

    fn put(&mut self, what: &str, was: impl Into<Message>, now: impl Into<Message>) {
        self.push(what, Some(was.into()), Some(now.into()));
    }

    fn text(&mut self, what: &str, was: impl Into<Message>, now: impl Into<Message>) {
        let (was, now) = (was.into(), now.into());
        if was != now {
            self.put(what, was, now);
        }
    }

    fn added(&mut self, what: &str) {
        self.push(what, None, Some(message!("plan-new")));
    }

    fn gone(&mut self, what: &str) {
        self.push(what, Some(message!("plan-was-there")), None);
    }

    /// What is keyed: new ones, those that are gone, and how the others differ.
    fn each<T>(
        &mut self,
        old: &[T],
        new: &[T],
        key: impl Fn(&T) -> &String,
        name: impl Fn(&T) -> String,
        differ: impl Fn(&mut Self, &T, &T),
    ) {
        for item in new {
            match old.iter().find(|other| key(other) == key(item)) {
                Some(other) => differ(self, other, item),
                None => self.added(&name(item)),
            }
        }
        for item in old.iter().filter(|item| new.iter().all(|other| key(other) != key(item))) {
            self.gone(&name(item));
        }
    }
}

fn between(low: f64, high: f64, dimension: Dimension) -> Quantity {
    Quantity::fine(low, dimension).up_to(high)
}

fn fastener(all: &mut Differences, old: &FastenerSpec, new: &FastenerSpec) {
    let name = &new.name;
    all.text(&text!("plan-thread", name), &old.designation, &new.designation);
    let known = |of: &FastenerSpec, value: f64, unit: Dimension| {
        if of.fastening.known { Message::from(Quantity::fine(value, unit)) } else { "?".into() }
    };
    let mpa =
        |of: &FastenerSpec| known(of, quantity::in_mpa(of.fastening.strength.proof), Dimension::Pressure);
    let bearing = |of: &FastenerSpec| known(of, of.fastening.bearing_diameter_mm, Dimension::Length);
    all.text(&text!("plan-yield", name), mpa(old), mpa(new));
    all.text(&text!("plan-bearing-diameter", name), bearing(old), bearing(new));
    all.text(&text!("plan-lubricant", name), old.lubricants(), new.lubricants());
    let resilience = |of: &FastenerSpec| {
        let part = |value: Option<f64>| {
            value.map_or(text!("plan-unknown"), |value| format!("{:.3}e-6 mm/N", value * 1e6))
        };
        message!(
            "plan-bolt-parts",
            bolt = part(of.fastening.bolt.map(|bolt| bolt.total())),
            parts = part(of.fastening.parts.map(|parts| parts.mm_per_n))
        )
    };
    all.text(&text!("plan-resilience", name), resilience(old), resilience(new));
    all.text(&text!("plan-clamped-parts", name), old.clamped.words(), new.clamped.words());
    let allowed = |of: &FastenerSpec| {
        let allowed = of.elongation_allowed_mm.map(|mm| Quantity::fine(mm, Dimension::Clearance).into());
        allowed.unwrap_or_else(|| message!("plan-not-said"))
    };
    all.text(&text!("plan-permanent-stretch-allowed", name), allowed(old), allowed(new));
    let policy = |of: &FastenerSpec| match (of.to_yield, of.single_use) {
        (true, _) => message!("plan-torque-yield-single-use"),
        (false, true) => message!("plan-single-use"),
        (false, false) => message!("plan-reusable"),
    };
    all.text(name, policy(old), policy(new));
}

fn joint(all: &mut Differences, (old, was): (&Plan, &Joint), (new, joint): (&Plan, &Joint)) {
    all.text(&text!("plan-name-joint"), &was.name, &joint.name);
    let running = |of: &Joint| of.running.map_or_else(|| message!("plan-none"), |running| running.words());
    all.text(&text!("plan-running-loads"), running(was), running(joint));
    all.each(
        &was.groups,
        &joint.groups,
        |of| &of.id,
        |of| format!("{}, {}", joint.name, of.name),
        |all, from, to| {
            group(all, (old, was, from), (new, joint, to));
        },
    );
    let title = |stage: &Stage, of: &Joint| {
        let group = stage.group.filter(|_| of.groups.len() > 1).map(|group| &of[group].name);
        let named = group.filter(|name| !stage.name.to_lowercase().contains(&name.to_lowercase()));
        let group = named.map(|name| format!(" ({name})")).unwrap_or_default();
        format!("{}, {}{group}", joint.name, stage.name.to_lowercase())
    };
    for at in (0..joint.stages.len()).map(StageIx) {
        let stage = &joint[at];
        let Some(from) = same_stage(joint, at, was) else {
            all.added(&title(stage, joint));
            continue;
        };
        if was[from].way == stage.way {
            continue;
        }
        let words = |way: &Way| match way.wanted() {
            Some(_) => "?".into(),
            None => words(way),
        };
        let load = |plan: &Plan, joint: &Joint, at| plan.forecast(joint, at).map(|load| load.typical_kn);
        let load_kn = load(old, was, from).zip(load(new, joint, at)).map(|(a, b)| [a, b]);
        let difference = all.push(&title(stage, joint), Some(words(&was[from].way)), Some(words(&stage.way)));
        difference.load_kn = load_kn.filter(|[a, b]| (a - b).abs() > 0.05);
    }
    let still = |at: &StageIx| same_stage(was, *at, joint).is_some();
    for at in (0..was.stages.len()).map(StageIx).filter(|at| !still(at)) {
        all.gone(&title(&was[at], was));
    }
}

/// A way with how far off it may be.
fn words(way: &Way) -> Message {
    let rules = &way;
    match rules.band() {
        Some(band) if rules.aim(StageProgress::default()).is_some() => band.words(),
        _ => rules.words(StageProgress::default()),
    }
}

fn group(
    all: &mut Differences,
    (old, was, from): (&Plan, &Joint, &FastenerGroup),
    (new, joint, to): (&Plan, &Joint, &FastenerGroup),
) {
    let name = format!("{}, {}", joint.name, to.name);
    all.text(&text!("plan-fastener", name), old[from.spec].title(), new[to.spec].title());
    let order = |joint: &Joint, group: &FastenerGroup| {
        let ids: Vec<&str> =
            joint.fasteners[group.fasteners.clone()].iter().map(|at| at.id.as_str()).collect();
        ids.join(" ")
    };
    all.text(&text!("plan-order", name), order(was, from), order(joint, to));
    let place =
        |joint: &Joint, id: &str| joint.fasteners.iter().find(|at| at.id == id).map(|at| [at.x_mm, at.y_mm]);
    let moved = joint.fasteners[to.fasteners.clone()]
        .iter()
        .filter(|at| place(was, &at.id).is_some_and(|[x, y]| (x - at.x_mm).hypot(y - at.y_mm) > 1e-6));
    let moved: Vec<&str> = moved.map(|at| at.id.as_str()).collect();
    if !moved.is_empty() {
        all.put(
            &text!("plan-place", name, moved = moved.join(", ")),
            message!("plan-where-was"),
            message!("plan-somewhere-else"),
        );
    }
    let hole = |of: &FastenerGroup| {
        let engaged = |mm: f64| message!("plan-engaged", mm = Quantity::new(mm, Dimension::Length));
        of.hole.as_ref().map_or(message!("plan-not-said"), |hole| engaged(hole.engaged_mm))
    };
    all.text(&text!("plan-hole", name), hole(from), hole(to));
}

fn clearance(all: &mut Differences, old: &Clearance, new: &Clearance) {
    all.text(&text!("plan-name-clearance"), &old.name, &new.name);
    let words = |of: &Clearance, name: &str| {
        let window = of.windows.iter().find(|window| window.name == name)?;
        Some(of.words(&window.window))
    };
    let mut uses: Vec<&str> =
        old.windows.iter().chain(&new.windows).map(|window| window.name.as_str()).collect();
    uses.sort_unstable();
    uses.dedup();
    for name in uses {
        let (was, now) = (words(old, name), words(new, name));
        if was != now {
            let open = was.is_none() && !old.opens.is_empty();
            let was = was.or_else(|| open.then(|| "?".into()));
            all.push(&format!("{}, {name}", new.name), was, now);
        }
    }
    if (&old.rule, old.second, old.per_bore, old.filed) != (&new.rule, new.second, new.per_bore, new.filed) {
        all.put(&new.name, message!("plan-as-followed"), message!("plan-follows-otherwise"));
    }
}

fn operation(all: &mut Differences, (old, was): (&Plan, &Operation), (new, now): (&Plan, &Operation)) {
    all.text(&text!("plan-name-operation"), &was.name, &now.name);
    let needs = |plan: &Plan, of: &Operation| {
        let names: Vec<&str> = of.needs.iter().map(|at| plan[*at].name.as_str()).collect();
        if names.is_empty() { text!("plan-nothing") } else { names.join(", ") }
    };
    all.text(&text!("plan-needs", now = now.name), needs(old, was), needs(new, now));
    all.text(&text!("plan-cautions", now = now.name), was.cautions.join(" "), now.cautions.join(" "));
    match (&was.work, &now.work) {
        (OperationWork::Items(from), OperationWork::Items(to)) => {
            let title = |item: &ChecklistItem| format!("{}, {}", now.name, item.text);
            all.each(
                from,
                to,
                |item| &item.id,
                title,
                |all, from, to| {
                    let words = |item: &ChecklistItem| {
                        message!("plan-not", item = item.text, right = item.right, wrong = item.wrong)
                    };
                    all.text(&now.name, words(from), words(to));
                },
            );
        }
        (OperationWork::Turn(from), OperationWork::Turn(to)) => {
            let words = |most: Option<f64>| {
                most.map_or(message!("plan-no-limit"), |nm| {
                    Message::from(Quantity::new(nm, Dimension::Torque))
                })
            };
            all.text(&text!("plan-most", now = now.name), words(from.most_nm), words(to.most_nm));
            all.text(&text!("plan-rise", now = now.name), words(from.rise_nm), words(to.rise_nm));
        }
        (OperationWork::Measure(from), OperationWork::Measure(to)) => {
            let names = |plan: &Plan, sites: &[super::index::SiteIx]| {
                let names: Vec<&str> = sites.iter().map(|at| plan[*at].name.as_str()).collect();
                names.join(", ")
            };
            all.text(&text!("plan-measures", now = now.name), names(old, from), names(new, to));
        }
        (OperationWork::Tighten(from), OperationWork::Tighten(to)) => {
            let words = |plan: &Plan, of: &super::document::TightenSpec| {
                let shares: Vec<String> = of
                    .shares
                    .iter()
                    .map(|share| {
                        let joint = &plan[share.joint];
                        let stages: Vec<&str> = joint.stages[share.stages.clone()]
                            .iter()
                            .map(|stage| stage.name.as_str())
                            .collect();
                        // Stages that are new or gone are told at the joint.
                        if stages.len() == joint.stages.len() {
                            joint.name.clone()
                        } else {
                            format!("{}: {}", joint.name, stages.join(", "))
                        }
                    })
                    .collect();
                shares.join("; ")
            };
            all.text(&text!("plan-works-on", now = now.name), words(old, from), words(new, to));
        }
        (OperationWork::Count(_), OperationWork::Count(_))
        | (OperationWork::Parts(_), OperationWork::Parts(_))
        | (OperationWork::Sign, OperationWork::Sign) => {}
        _ => all.put(&now.name, message!("plan-another-kind-work"), message!("plan-this-kind-work")),
    }
}

/// The stage of the same name and group, the same one of those that are called alike; else the one that was only
/// renamed: of the same group and way, with a name that the other joint has not.
pub fn same_stage(joint: &Joint, at: StageIx, other: &Joint) -> Option<StageIx> {
    let group = |joint: &Joint, stage: usize| joint.stages[stage].group.map(|group| joint[group].id.clone());
    let key = |joint: &Joint, stage: usize| (joint.stages[stage].name.clone(), group(joint, stage));
    let named = |joint: &Joint, at: usize, other: &Joint| {
        let wanted = key(joint, at);
        let number = (0..at).filter(|stage| key(joint, *stage) == wanted).count();
        (0..other.stages.len()).filter(|stage| key(other, *stage) == wanted).nth(number)
    };
    if let Some(same) = named(joint, at.0, other) {
        return Some(StageIx(same));
    }
    let is_like = |a: &Joint, stage: usize| {
        group(a, stage) == group(joint, at.0) && a.stages[stage].way == joint.stages[at.0].way
    };
    let number =
        (0..at.0).filter(|stage| is_like(joint, *stage) && named(joint, *stage, other).is_none()).count();
    let renamed = (0..other.stages.len())
        .filter(|stage| is_like(other, *stage) && named(other, *stage, joint).is_none());
    renamed.map(StageIx).nth(number)
}

/// What is compared when a part is logged in: the mark it carries, where it was before, the sizes it shares.
fn slot_rules(plan: &Plan, slot: &PartSlot) -> Message {
    let marks = [
        (slot.numbered, message!("plan-carries-its-number")),
        (slot.returns, message!("plan-goes-back-to-its-place")),
    ];
    let marks = marks.into_iter().filter_map(|(is_so, words)| is_so.then_some(words));
    let sizes = slot.sizes.iter().filter_map(|at| plan.part_sizes.get(*at));
    let sizes = sizes.map(|size| Message::from(format!("{} ({})", size.name, size.choices.join(", "))));
    let all: Vec<Message> = marks.chain(sizes).collect();
    if all.is_empty() { message!("plan-none-compared") } else { Message::join(all, ", ") }
}
