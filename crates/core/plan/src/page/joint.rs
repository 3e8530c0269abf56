//! Fasteners and joints of a plan as they are read.

use super::source::PageSource;
use crate::document::{Drawing, FastenerSpec, Joint, ManualPage, Stage, StageWalk};
use crate::index::{GroupIx, JointIx, SpecIx, StageIx};
use crate::joint_sheet::GroupSheet;
use crate::procedure::{self, LineOrder, LineStage, Procedure, StageDefaults, groups_of};
use crate::read;
use crate::toml_reader;
use crate::way::StageProgress;
use rigore_mechanics::joint::Forecast;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity, in_mpa};
use rigore_mechanics::tightening::{FastenerPosition, SequencePattern};
use rigore_mechanics::{message, text};
use serde::Serialize;
use std::collections::BTreeMap;

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
    pub strength: Message,
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
    /// The names by which operations run stages of it, each once, in their order.
    pub headings: Vec<String>,
    /// Where its figures come from.
    pub source: String,
    /// Pages of the manual that say how it is tightened.
    pub manual: Vec<ManualPage>,
    /// What is written of its loads while the engine runs, by field: `axial`, `rod.stroke`.
    pub running: BTreeMap<String, String>,
    /// Everything that is known of its clamp load, group by group.
    pub sheet: Vec<GroupSheet>,
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
    pub pattern: SequencePattern,
    /// Its fasteners in that order.
    pub fasteners: Vec<PlacedFastener>,
}

/// A fastener in its place.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlacedFastener {
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
    pub words: Message,
    /// The clamp load to expect after it.
    pub forecast: Option<Forecast>,
    /// Whether nobody has looked its figure up yet.
    pub open: bool,
}

impl PageSource<'_> {
    /// Whether everything that a joint names is there.
    pub(super) fn is_drawn(&self, joint: &Joint) -> bool {
        joint.groups.iter().all(|group| group.spec.0 < self.plan.specs.len())
            && joint.stages.iter().filter_map(|stage| stage.group).all(|group| group.0 < joint.groups.len())
            && joint.drawing < self.plan.drawings.len()
    }

    pub(super) fn fastener(&self, at: SpecIx) -> FastenerPage {
        let spec = &self.plan[at];
        let has = |joint: &&Joint| joint.groups.iter().any(|group| group.spec == at);
        let mut joints: Vec<String> =
            self.plan.joints.iter().filter(has).map(|joint| joint.name.clone()).collect();
        joints.dedup();
        FastenerPage {
            path: format!("fastener[{}]", at.0),
            id: spec.id.clone(),
            name: spec.name.clone(),
            thread: spec.designation.clone(),
            strength: strength(spec),
            lubricant: spec.lubricants(),
            elastic: spec.fastening.resilience().is_some(),
            policy: match (spec.to_yield, spec.single_use) {
                (true, _) => text!("plan-torque-yield-single-use"),
                (false, true) => text!("plan-single-use"),
                (false, false) => String::new(),
            },
            source: spec.source.clone(),
            joints,
            written: self.written.all(&format!("fastener[{}]", at.0)),
        }
    }

    pub(super) fn joint(&self, at: JointIx) -> JointPage {
        let plan = self.plan;
        let joint = &plan[at];
        let path = format!("joint[{}]", joint.written);
        let members = plan.joints.iter().filter(|other| other.written == joint.written);
        let groups = joint.groups.iter().enumerate().map(|(number, group)| {
            let group_path = format!("{path}.group[{number}]");
            let ids = self.written.ids(&format!("{group_path}.position"));
            let placed = |at: &FastenerPosition| PlacedFastener {
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
            procedure: Procedure::of(joint)
                .filter(|said| says_all(said, joint, &self.plan.specs))
                .map(|said| said.line()),
            in_one_line: joint.stages.iter().any(|stage| stage.path.ends_with(".procedure")),
            stages: stages.collect(),
            headings: headings(&joint.stages),
            source: joint.source.clone(),
            manual: joint.manual.iter().filter_map(|at| plan.manual.get(*at).cloned()).collect(),
            running: self.written.all(&format!("{path}.running")),
            sheet: plan.joint_sheet(joint),
            path,
        }
    }

    fn stage(&self, joint: &Joint, at: StageIx) -> StagePage {
        let stage = &joint[at];
        let rules = &stage.way;
        let figure = if stage.path.ends_with(".procedure") {
            stage.path.clone()
        } else {
            format!("{}.{}", stage.path, rules.key())
        };
        let figure = rules.wanted().map_or(figure, str::to_owned);
        let words = match rules.band() {
            Some(band) if rules.aim(StageProgress::default()).is_some() && band.target > 0.0 => band.words(),
            _ => rules.words(StageProgress::default()),
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
}

/// Names of stages as operations name them, each once.
pub(super) fn headings<'a>(stages: impl IntoIterator<Item = &'a Stage>) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    for stage in stages {
        if !all.contains(&stage.heading) {
            all.push(stage.heading.clone());
        }
    }
    all
}

/// Whether a line says all that a joint does: reading it gives the same stages.
fn says_all(said: &Procedure, joint: &Joint, specs: &[FastenerSpec]) -> bool {
    // What was written in one line may have tolerances of its joint.
    if joint.stages.iter().any(|stage| stage.path.ends_with(".procedure")) {
        return true;
    }
    let again = procedure::read(&said.line());
    let Ok(text) = again.tables(&groups_of(joint, specs), &StageDefaults::default()) else { return false };
    let (stages, _) = toml_reader::read("line", &text, |table| read::written(table, joint));
    let of = |stages: &[Stage]| -> Vec<_> {
        let real = stages.iter().filter(|stage| !stage.name.starts_with("Holes dry"));
        real.map(|stage| (stage.group, stage.walk, stage.again.clone(), stage.way.clone())).collect()
    };
    of(&stages) == of(&joint.stages)
}

/// The yield of a fastener in words; a question mark where nobody has looked it up.
fn strength(spec: &FastenerSpec) -> Message {
    if !spec.fastening.known {
        return Message::default();
    }
    let strength = spec.fastening.strength;
    let [yields, breaks] =
        [strength.proof, strength.tensile].map(|of| Quantity::new(in_mpa(of), Dimension::Pressure));
    message!("plan-yield-tensile", yields, breaks)
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
                .take_while(|next| next.walk == StageWalk::Each && next.group == stage.group)
                .map(|next| &next.way);
            let together: Vec<_> = std::iter::once(&stage.way).chain(together).collect();
            at += together.len();
            if stage.group.is_none() && stage.name.starts_with("Holes dry") {
                continue;
            }
            let kind = procedure::stage_kind(&together)?;
            let group = stage.group.filter(|_| several).map(|group: GroupIx| joint[group].id.clone());
            stages.push(LineStage { group, kind, at: 0..0 });
        }
        let mut patterns = joint.groups.iter().map(|group| group.pattern);
        let first = patterns.next()?;
        let order = patterns.all(|pattern| pattern == first).then_some(LineOrder::Pattern(first));
        Some(Self { stages, order, ..Self::default() })
    }
}
