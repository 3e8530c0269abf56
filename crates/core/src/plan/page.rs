//! A plan as it is read: like a page of a good manual, drawn from the plan alone.
//!
//! A draft is shown as far as it can be read: what a fault stands in is left out.

use super::document::{Drawing, FastenerSpec, Joint, Kind, Plan, Stage, Work};
use super::edit::Written;
use super::index::{GroupIx, JointIx, OperationIx, SpecIx, StageIx};
use super::open::OpenFigure;
use super::shorthand::{self, Procedure, Usual};
use super::sites::{Clearance, Rule, SiteForm};
use super::{check, read};
use crate::document::{self, Fault, Report, Severity};
use crate::joint::Forecast;
use crate::quantity::{self, Dimension, in_mpa};
use crate::tightening::{Had, Pattern};
use serde::Serialize;
use std::collections::BTreeMap;

/// A plan as it is read.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanPage {
    /// Key of the plan.
    pub id: String,
    /// Name of the engine.
    pub name: String,
    /// What it is.
    pub about: String,
    /// Uses that its clearances have windows for.
    pub uses: Vec<String>,
    /// Its fasteners.
    pub fasteners: Vec<FastenerPage>,
    /// Its drawings, with where each stands in the plan.
    pub drawings: Vec<DrawingPage>,
    /// Its joints, those that are alike once.
    pub joints: Vec<JointPage>,
    /// Its clearances.
    pub clearances: Vec<ClearancePage>,
    /// Its parts.
    pub slots: Vec<Counted>,
    /// What is measured.
    pub sites: Vec<Counted>,
    /// The line of work.
    pub line: Vec<LineRow>,
    /// Figures that nobody has looked up yet.
    pub open: Vec<OpenPage>,
}

/// A draft as far as it can be read, and what is wrong with it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Drafted {
    /// What can be read of it.
    pub page: PlanPage,
    /// Every fault and warning, by line.
    pub faults: Vec<Fault>,
    /// Whether it can be kept as a version.
    pub usable: bool,
}

/// A drawing.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DrawingPage {
    /// Where in the plan it stands.
    pub path: String,
    /// What is drawn.
    pub drawing: Drawing,
}

/// A kind of fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FastenerPage {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Its thread.
    pub thread: String,
    /// Its strength in words; empty where it is not known.
    pub strength: String,
    /// What it turns on.
    pub lubricant: String,
    /// Whether its stretch and what an angle gives can be computed.
    pub elastic: bool,
    /// Whether it goes past yield, or is used once.
    pub policy: String,
    /// Where its figures come from.
    pub source: String,
    /// Names of the joints that have it.
    pub joints: Vec<String>,
    /// What is written of it, by field: `thread`, `bolt.head`, `bolt.segment[0].length`.
    pub written: BTreeMap<String, String>,
}

/// A joint, as it is written.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct JointPage {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called; of several that are alike, without their numbers.
    pub name: String,
    /// Names of all that are alike; one where it is alone.
    pub members: Vec<String>,
    /// The part it lies on.
    pub drawing: Drawing,
    /// Its fasteners in their groups.
    pub groups: Vec<GroupPage>,
    /// Its procedure in one line, where it can be said in one.
    pub procedure: Option<String>,
    /// Whether it is written in one line.
    pub in_one_line: bool,
    /// Its stages.
    pub stages: Vec<StagePage>,
    /// Where its figures come from.
    pub source: String,
}

/// Fasteners of a joint that share their figures.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GroupPage {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Key of its kind of fastener.
    pub fastener: String,
    /// The same in words.
    pub title: String,
    /// The order they are walked in.
    pub pattern: Pattern,
    /// Its fasteners in that order.
    pub fasteners: Vec<Placed>,
}

/// A fastener in its place.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Placed {
    /// Its name on the part.
    pub id: String,
    /// Along the engine from the front, mm.
    pub x_mm: f64,
    /// Across the engine, mm.
    pub y_mm: f64,
    /// Nominal diameter, mm.
    pub diameter_mm: f64,
    /// Where in the plan it stands, where it is written for itself and can be moved.
    pub path: Option<String>,
}

/// A stage of a procedure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StagePage {
    /// Where in the plan its figure stands.
    pub path: String,
    /// What is written there.
    pub written: String,
    /// What it is called.
    pub name: String,
    /// Its group; empty where it is done to no fastener in particular.
    pub group: String,
    /// What is wanted, and how far off it may be.
    pub words: String,
    /// The clamp load to expect after it.
    pub forecast: Option<Forecast>,
    /// Whether nobody has looked its figure up yet.
    pub open: bool,
}

/// A clearance with its windows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearancePage {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How it follows from what is measured.
    pub rule: String,
    /// How many of it there are.
    pub members: usize,
    /// What it is read in; a ratio where its window goes by the bore.
    pub dimension: Dimension,
    /// Its windows by use.
    pub windows: Vec<WindowPage>,
    /// Where its figures come from.
    pub source: String,
}

/// A window of a clearance.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WindowPage {
    /// The use.
    pub name: String,
    /// The least, what is aimed at, and the most, in the base unit.
    pub window: [f64; 3],
    /// The same as it is written.
    pub written: String,
}

/// Something that there are several of.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Counted {
    /// What it is called.
    pub name: String,
    /// How many.
    pub count: usize,
    /// What it looks like, where it is measured.
    pub form: Option<SiteForm>,
}

/// A row of the line of work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LineRow {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// The word for it; none of a repeat.
    pub kind: Option<Kind>,
    /// What a repeat goes by, and how often it is done.
    pub repeat: Option<Repeated>,
    /// What is done in it, each in a line.
    pub steps: Vec<String>,
    /// Cautions to show where the work is.
    pub cautions: Vec<String>,
    /// What is written of it, by field: `item[0].text`; of a draft only.
    pub written: BTreeMap<String, String>,
    /// The rail that it lies on, from 0.
    pub rail: usize,
    /// Rails that come to it from above.
    pub from: Vec<usize>,
    /// Rails that go on from it below.
    pub to: Vec<usize>,
    /// Rails that pass it by.
    pub past: Vec<usize>,
}

/// That a row is a repeat.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Repeated {
    /// What it goes by: `cylinder`.
    pub by: String,
    /// How often it is done.
    pub times: usize,
}

/// A figure that nobody has looked up yet.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OpenPage {
    /// Where in the plan it stands.
    pub path: String,
    /// What is wanted.
    pub what: String,
    /// Where it is to be found, where that is said.
    pub note: String,
    /// Names of the operations that wait for it.
    pub operations: Vec<String>,
}

impl Plan {
    /// A text as far as it can be read, and what is wrong with it. It never stops at a fault.
    pub fn draft(file: &str, source: &str) -> Drafted {
        let (plan, report) = read::plan(file, source);
        check::plan(&plan, &report);
        let page = Page { plan: &plan, report: Some(&report), written: Written::of(source) }.page();
        let faults = report.into_faults();
        let usable = faults.iter().all(|fault| fault.severity != Severity::Error);
        Drafted { page, faults, usable }
    }

    /// The plan as it is read, with the text it was made of.
    pub fn page(&self, source: &str) -> PlanPage {
        Page { plan: self, report: None, written: Written::of(source) }.page()
    }
}

/// What a page is drawn from.
struct Page<'a> {
    plan: &'a Plan,
    /// Faults that it may have; none of a plan that is kept.
    report: Option<&'a Report>,
    written: Written,
}

impl Page<'_> {
    fn sound(&self, path: &str) -> bool {
        self.report.is_none_or(|report| report.is_sound(path))
    }

    fn page(&self) -> PlanPage {
        let plan = self.plan;
        // Where a list misses one, places of it mean others.
        let whole = |list: &str, count: usize| self.report.is_none_or(|report| report.counts(list, count));
        let specs = whole("fastener", plan.specs.len());
        let mut joints: Vec<JointPage> = Vec::new();
        if specs && !plan.specs.is_empty() && !plan.drawings.is_empty() {
            let first = |at: &usize| *at == 0 || plan.joints[*at - 1].written != plan.joints[*at].written;
            let drawn = |at: &usize| self.is_drawn(&plan.joints[*at]);
            joints
                .extend((0..plan.joints.len()).filter(first).filter(drawn).map(|at| self.joint(JointIx(at))));
        }
        let numbered = |list: &str, at: usize| format!("{list}[{at}]");
        let drawings = plan.drawings.iter().enumerate();
        PlanPage {
            id: plan.id.clone(),
            name: plan.name.clone(),
            about: plan.about.clone(),
            uses: plan.uses().into_iter().map(str::to_owned).collect(),
            fasteners: if specs {
                (0..plan.specs.len()).map(|at| self.fastener(SpecIx(at))).collect()
            } else {
                Vec::new()
            },
            drawings: drawings
                .map(|(at, drawing)| DrawingPage { path: numbered("drawing", at), drawing: drawing.clone() })
                .collect(),
            joints,
            clearances: plan.clearances.iter().enumerate().map(|(at, of)| self.clearance(at, of)).collect(),
            slots: alike(plan.slots.iter().map(|slot| (slot.family.as_str(), slot.name.as_str(), None))),
            sites: alike(
                plan.sites
                    .iter()
                    .map(|site| (plan[site.family].id.as_str(), site.name.as_str(), Some(site.form))),
            ),
            line: self.line(),
            open: plan.open.iter().map(|figure| self.open(figure)).collect(),
        }
    }

    /// Whether everything that a joint names is there.
    fn is_drawn(&self, joint: &Joint) -> bool {
        joint.groups.iter().all(|group| group.spec.0 < self.plan.specs.len())
            && joint.stages.iter().filter_map(|stage| stage.group).all(|group| group.0 < joint.groups.len())
            && joint.drawing < self.plan.drawings.len()
    }

    fn open(&self, figure: &OpenFigure) -> OpenPage {
        let name = |at: &OperationIx| self.plan[*at].name.clone();
        OpenPage {
            path: figure.path.clone(),
            what: figure.what.clone(),
            note: figure.note.clone(),
            operations: figure.operations.iter().map(name).collect(),
        }
    }

    fn fastener(&self, at: SpecIx) -> FastenerPage {
        let spec = &self.plan[at];
        let has = |joint: &&super::document::Joint| joint.groups.iter().any(|group| group.spec == at);
        let mut joints: Vec<String> =
            self.plan.joints.iter().filter(has).map(|joint| joint.name.clone()).collect();
        joints.dedup();
        FastenerPage {
            path: format!("fastener[{}]", at.0),
            id: spec.id.clone(),
            name: spec.name.clone(),
            thread: spec.designation.clone(),
            strength: strength(spec),
            lubricant: spec.lubrication.words(),
            elastic: spec.fastening.resilience().is_some(),
            policy: match (spec.to_yield, spec.single_use) {
                (true, _) => "past yield, single use".to_owned(),
                (false, true) => "single use".to_owned(),
                (false, false) => String::new(),
            },
            source: spec.source.clone(),
            joints,
            written: self.written.all(&format!("fastener[{}]", at.0)),
        }
    }

    fn joint(&self, at: JointIx) -> JointPage {
        let plan = self.plan;
        let joint = &plan[at];
        let path = format!("joint[{}]", joint.written);
        let members = plan.joints.iter().filter(|other| other.written == joint.written);
        let groups = joint.groups.iter().enumerate().map(|(number, group)| {
            let group_path = format!("{path}.group[{number}]");
            let ids = self.written.ids(&format!("{group_path}.position"));
            let placed = |at: &crate::tightening::Position| Placed {
                path: ids.iter().position(|id| *id == at.id).map(|at| format!("{group_path}.position[{at}]")),
                id: at.id.clone(),
                x_mm: at.x_mm,
                y_mm: at.y_mm,
                diameter_mm: plan[group.spec].fastening.thread.nominal_mm(),
            };
            GroupPage {
                path: group_path.clone(),
                id: group.id.clone(),
                name: group.name.clone(),
                fastener: plan[group.spec].id.clone(),
                title: plan[group.spec].title(),
                pattern: group.pattern,
                fasteners: joint.fasteners[group.fasteners.clone()].iter().map(placed).collect(),
            }
        });
        let stages = (0..joint.stages.len()).map(StageIx).map(|stage| self.stage(joint, stage));
        JointPage {
            id: joint.family.clone(),
            name: self.written.at(&format!("{path}.name")).unwrap_or_else(|| joint.name.clone()),
            members: members.map(|joint| joint.name.clone()).collect(),
            drawing: plan.drawings[joint.drawing].clone(),
            groups: groups.collect(),
            procedure: Procedure::of(joint).filter(|said| says_all(said, joint)).map(|said| said.line()),
            in_one_line: joint.stages.iter().any(|stage| stage.path.ends_with(".procedure")),
            stages: stages.collect(),
            source: joint.source.clone(),
            path,
        }
    }

    fn stage(&self, joint: &Joint, at: StageIx) -> StagePage {
        let stage = &joint[at];
        let rules = stage.way.rules();
        let figure = if stage.path.ends_with(".procedure") {
            stage.path.clone()
        } else {
            format!("{}.{}", stage.path, rules.key())
        };
        let figure = rules.wanted().map_or(figure, str::to_owned);
        let words = match rules.band() {
            Some(band) if rules.aim(Had::default()).is_some() && band.target > 0.0 => {
                let ([low, high], target) =
                    ([band.low, band.high].map(|value| stage.way.print(value)), stage.way.print(band.target));
                format!("{target} ({low} to {high})")
            }
            _ => rules.words(Had::default()),
        };
        StagePage {
            path: figure.clone(),
            written: self.written.at(&figure).unwrap_or_default(),
            name: stage.name.clone(),
            group: joint.group_of(at).map(|group| group.name.clone()).unwrap_or_default(),
            words,
            forecast: if self.sound("fastener") && self.sound(&stage.path) {
                self.plan.forecast(joint, at)
            } else {
                None
            },
            open: rules.wanted().is_some(),
        }
    }

    fn clearance(&self, at: usize, clearance: &Clearance) -> ClearancePage {
        let plan = self.plan;
        let name = |family: super::index::FamilyIx| {
            let site = plan.families.get(family.0).and_then(|family| plan.sites.get(family.sites.start));
            site.map_or_else(String::new, |site| site.name.trim_end_matches(" 1").to_lowercase())
        };
        let rule = match &clearance.rule {
            Rule::Difference { plus, minus: None, .. } => name(*plus),
            Rule::Difference { plus, minus: Some(minus), .. } => {
                format!("{} less {}", name(*plus), name(*minus))
            }
            Rule::Least { of } => format!("the least of {}", name(*of)),
            Rule::Compression(_) => "compression ratio".to_owned(),
        };
        let written = |name: &str| {
            let figures =
                (0..3).filter_map(|n| self.written.at(&format!("clearance[{at}].window.{name}[{n}]")));
            figures.collect::<Vec<_>>().join(" – ")
        };
        let windows = clearance.windows.iter().map(|of| WindowPage {
            name: of.name.clone(),
            written: written(&of.name),
            window: [of.window.low, of.window.target, of.window.high],
        });
        ClearancePage {
            path: format!("clearance[{at}]"),
            id: clearance.id.clone(),
            name: clearance.name.clone(),
            rule: clearance.per_bore.map_or(rule.clone(), |_| format!("{rule}, per mm of bore")),
            members: if plan.families.is_empty() { 0 } else { plan.members(clearance) },
            dimension: clearance.per_bore.map_or(clearance.dimension, |_| Dimension::Ratio),
            windows: windows.collect(),
            source: clearance.source.clone(),
        }
    }

    fn line(&self) -> Vec<LineRow> {
        let plan = self.plan;
        let circle = self.report.is_some_and(Report::has_errors)
            && (!self.sound("operation") || plan.operations.is_empty());
        if circle {
            return Vec::new();
        }
        let rails = |links: &[super::rails::Link]| {
            let mut rails: Vec<usize> = links.iter().map(|link| link.rail).collect();
            rails.dedup();
            rails
        };
        plan.rails()
            .into_iter()
            .map(|row| {
                let first = &plan[row.operations[0]];
                let repeat = plan.repeat(row.operations[0]);
                let members = repeat.map_or(1, |repeat| repeat.members.len());
                let steps = row.operations.iter().take(row.operations.len() / members);
                let steps: Vec<String> = match repeat {
                    Some(_) => steps.map(|at| plan[*at].step.clone()).collect(),
                    None => self.steps(row.operations[0]),
                };
                let path = match repeat {
                    // What is written of a repeat stands around its steps.
                    Some(_) => first.written.split(".step").next().unwrap_or_default().to_owned(),
                    None => first.written.clone(),
                };
                LineRow {
                    written: if self.report.is_some() { self.written.all(&path) } else { BTreeMap::new() },
                    path,
                    id: repeat.map_or(&first.id, |repeat| &repeat.id).clone(),
                    name: repeat.map_or(&first.name, |repeat| &repeat.name).clone(),
                    kind: repeat.is_none().then_some(first.kind),
                    repeat: repeat.map(|repeat| Repeated { by: repeat.by.clone(), times: members }),
                    steps,
                    cautions: first.cautions.clone(),
                    rail: row.rail,
                    from: rails(&row.from),
                    to: rails(&row.to),
                    past: rails(&row.past),
                }
            })
            .collect()
    }

    /// What is done in an operation, each in a line.
    fn steps(&self, at: OperationIx) -> Vec<String> {
        let plan = self.plan;
        match &plan[at].work {
            Work::Items(items) => items.iter().map(|item| item.text.clone()).collect(),
            Work::Tighten(work) => work.shares.iter().map(|share| plan[share.joint].name.clone()).collect(),
            Work::Measure(sites) => {
                let mut names: Vec<String> = sites
                    .iter()
                    .map(|site| {
                        plan[*site].name.trim_end_matches(|c: char| c.is_ascii_digit()).trim().to_owned()
                    })
                    .collect();
                names.dedup();
                names
            }
            Work::Parts(_) | Work::Count(_) | Work::Turn(_) | Work::Sign => Vec::new(),
        }
    }
}

/// Whether a line says all that a joint does: reading it gives the same stages.
fn says_all(said: &Procedure, joint: &Joint) -> bool {
    let groups: Vec<(&str, &str)> =
        joint.groups.iter().map(|group| (group.id.as_str(), group.name.as_str())).collect();
    // What was written in one line may have tolerances of its joint.
    if joint.stages.iter().any(|stage| stage.path.ends_with(".procedure")) {
        return true;
    }
    let again = shorthand::read(&said.line());
    let Ok(text) = again.tables(&groups, &Usual::default()) else { return false };
    let (stages, _) = document::read("line", &text, |table| read::written(table, joint));
    let of = |stages: &[Stage]| -> Vec<_> {
        let real = stages.iter().filter(|stage| !stage.name.starts_with("Holes dry"));
        real.map(|stage| (stage.group, stage.walk, stage.again.clone(), stage.way.clone())).collect()
    };
    of(&stages) == of(&joint.stages)
}

/// The yield of a fastener in words; a question mark where nobody has looked it up.
fn strength(spec: &FastenerSpec) -> String {
    if !spec.fastening.known {
        return String::new();
    }
    let strength = spec.fastening.strength;
    let [yields, breaks] =
        [strength.proof, strength.tensile].map(|of| quantity::format(in_mpa(of), Dimension::Pressure.base()));
    format!("yields at {yields}, breaks at {breaks}")
}

/// What is alike, counted.
fn alike<'a>(all: impl Iterator<Item = (&'a str, &'a str, Option<SiteForm>)>) -> Vec<Counted> {
    let mut counted: Vec<(&str, Counted)> = Vec::new();
    for (family, name, form) in all {
        match counted.last_mut().filter(|(last, _)| *last == family) {
            Some((_, of)) => {
                of.count += 1;
                // What all of them are called, without what tells them apart.
                let same = of.name.chars().zip(name.chars()).take_while(|(a, b)| a == b).map(|(a, _)| a);
                let same: String = same.collect();
                of.name.truncate(same.trim_end().len());
            }
            None => counted.push((family, Counted { name: name.to_owned(), count: 1, form })),
        }
    }
    counted.into_iter().map(|(_, of)| of).collect()
}

impl Procedure {
    /// The stages of a joint as they can be said in one line; `None` where it has more than a line says.
    pub fn of(joint: &Joint) -> Option<Self> {
        let mut stages = Vec::new();
        let several = joint.groups.len() > 1;
        let mut at = 0;
        while let Some(stage) = joint.stages.get(at) {
            let together = joint.stages[at + 1..]
                .iter()
                .take_while(|next| next.walk == super::document::Walk::Each && next.group == stage.group)
                .map(|next| &next.way);
            let together: Vec<_> = std::iter::once(&stage.way).chain(together).collect();
            at += together.len();
            if stage.group.is_none() && stage.name.starts_with("Holes dry") {
                continue;
            }
            let asked = shorthand::asked(&together)?;
            let group = stage.group.filter(|_| several).map(|group: GroupIx| joint[group].id.clone());
            stages.push(shorthand::Said { group, asked, at: 0..0 });
        }
        let mut patterns = joint.groups.iter().map(|group| group.pattern);
        let first = patterns.next()?;
        let order = patterns.all(|pattern| pattern == first).then_some(first);
        Some(Self { stages, order, lubricant: None, faults: Vec::new() })
    }
}
