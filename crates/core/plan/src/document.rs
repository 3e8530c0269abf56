//! The parts of a plan, as the rest of Rigore uses them: read, resolved and in base units.

use super::index::{
    ClearanceIx, FamilyIx, FastenerIx, GroupIx, JointIx, OperationIx, SiteIx, SlotIx, SpecIx, StageIx,
};
use super::missing_figure::MissingFigure;
use super::parts::{HardwareCounting, ItemSketch, PartSize, PartSlot, TurningCheck};
use super::rework::ReworkCause;
use super::running_loads::{ClampedParts, RunningLoads};
use super::sites::{Clearance, ClearanceRule, Site, SiteFamily};
use crate::way::Way;
use rigore_mechanics::fastener::{Material, Thread};
use rigore_mechanics::friction::{Lubricant, Lubrication};
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Pressure;
use rigore_mechanics::text;
use rigore_mechanics::tightening::adapter::Adapter;
use rigore_mechanics::tightening::{Band, FastenerPosition, SequencePattern};
use serde::Serialize;
use std::ops::{Index, Range};

/// A torque that an angle starts at is about this share of the torque that would give the same load.
const SNUG: f64 = 0.3;

/// The reusable specification of one engine.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Plan {
    /// Key of the plan, such as `tarn-5`.
    pub id: String,
    /// What the engine is called.
    pub name: String,
    /// One paragraph on it.
    pub about: String,
    /// Lubricants the plan may use: the shipped ones and its own.
    pub lubricants: Vec<Lubricant>,
    /// Fasteners by specification.
    pub specs: Vec<FastenerSpec>,
    /// Drawings that joints lie on.
    pub drawings: Vec<Drawing>,
    /// Crowfeet and the like that some fasteners need.
    pub adapters: Vec<Adapter>,
    /// Pages of the manual that its figures are from, as the shop has them.
    pub manual: Vec<ManualPage>,
    /// What is clamped together.
    pub joints: Vec<Joint>,
    /// Sizes that parts of several slots have to share.
    pub part_sizes: Vec<PartSize>,
    /// The parts it is made of.
    pub slots: Vec<PartSlot>,
    /// Sites that are alike.
    pub families: Vec<SiteFamily>,
    /// What is measured, family by family.
    pub sites: Vec<Site>,
    /// What follows from measurements.
    pub clearances: Vec<Clearance>,
    /// The steps of a build, in the order they are listed.
    pub operations: Vec<Operation>,
    /// Steps that are written once and repeated (C-38).
    pub repeats: Vec<Repeat>,
    /// Figures that nobody has looked up yet.
    pub open: Vec<MissingFigure>,
}

/// A page of a manual, as the shop has it: a picture or a PDF. Nothing is read from it by machine.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ManualPage {
    /// Key in the plan.
    pub id: String,
    /// What it is: `Workshop manual, main caps`.
    pub name: String,
    /// SHA-256 of the file, in hexadecimal digits.
    pub file: String,
    /// Which page of the file is meant, from 1.
    pub page: Option<u32>,
}

/// Steps that are written once and repeated by cylinder, cap or side (C-38).
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Repeat {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// What it goes by: `cylinder`.
    pub by: String,
    /// Its members in order: `1`, `2` or `left`, `right`.
    pub members: Vec<String>,
    /// Whether one signature covers all of it: what is done in it may be gone on from without.
    pub signed_once: bool,
}

/// The member of a repeat that an operation is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct RepeatMember {
    /// Which of [`Plan::repeats`].
    pub repeat: usize,
    /// Which member, from 0.
    pub number: usize,
}

/// A kind of fastener.
#[derive(Debug, Clone, PartialEq)]
pub struct FastenerSpec {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// Thread designation as written.
    pub designation: String,
    /// What it is to turn on.
    pub lubrication: Lubrication,
    /// Everything its clamp load depends on.
    pub fastening: Fastening,
    /// Whether it goes into a tapped hole of which only the groups say what it is cut into.
    pub end_by_hole: bool,
    /// The parts under its head.
    pub clamped: ClampedParts,
    /// Expansion of the bolt, per K.
    pub expansion_per_k: f64,
    /// How much longer it may get for good, mm, where the plan says so.
    pub elongation_allowed_mm: Option<f64>,
    /// The end that goes into the part, where it is a stud with two: torques are those of the other end.
    pub stud: Option<StudEnd>,
    /// Meant to pass yield.
    pub to_yield: bool,
    /// To be replaced once it was loosened.
    pub single_use: bool,
    /// Where its figures come from.
    pub source: String,
}

/// The end of a stud that goes into the part: it has a thread and a lubricant of its own (C-63).
#[derive(Debug, Clone, PartialEq)]
pub struct StudEnd {
    /// Its thread.
    pub thread: Thread,
    /// Thread designation as written.
    pub designation: String,
    /// What it goes in with.
    pub lubricant: Lubricant,
}

/// A drawing in true proportions, in mm; x along the engine from the front, y across it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Drawing {
    /// Key in the plan.
    pub id: String,
    /// What is seen.
    pub name: String,
    /// Whether the engine lies along it, its front to the left.
    pub along: bool,
    /// What it is drawn with.
    pub shapes: Vec<DrawingShape>,
}

/// One stroke of a drawing, in mm.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum DrawingShape {
    /// The closed outline of a part.
    Outline {
        /// Its corners.
        points: Vec<[f64; 2]>,
    },
    /// An open line.
    Line {
        /// Its points.
        points: Vec<[f64; 2]>,
    },
    /// A bore.
    Circle {
        /// Its centre.
        at: [f64; 2],
        /// Its diameter.
        diameter: f64,
    },
}

/// The fasteners that clamp one part and are tightened together.
#[derive(Debug, Clone, PartialEq)]
pub struct Joint {
    /// Key in the plan.
    pub id: String,
    /// Key of the joints that it is written with: its own where it is alone.
    pub family: String,
    /// Which `[[joint]]` of the plan it comes from.
    pub written: usize,
    /// What the builder calls it.
    pub name: String,
    /// The drawing its fasteners lie on, by its place in the plan.
    pub drawing: usize,
    /// Fasteners that share targets.
    pub groups: Vec<FastenerGroup>,
    /// Every fastener, group by group, each group in tightening order.
    pub fasteners: Vec<FastenerPosition>,
    /// Fasteners that are reached by an adapter, with its place in the plan.
    pub adapted: Vec<(FastenerIx, usize)>,
    /// The procedure.
    pub stages: Vec<Stage>,
    /// The times it is tightened, in the order of the line of work (C-36).
    pub rounds: Vec<RoundPurpose>,
    /// Where its figures come from.
    pub source: String,
    /// Pages of the manual that say how it is tightened, by their places in [`Plan::manual`].
    pub manual: Vec<usize>,
    /// What it stands while its engine runs, where the plan says so.
    pub running: Option<RunningLoads>,
    /// Its ways as earlier versions of the plan had them, oldest first.
    pub was: Vec<EarlierWays>,
    /// Stages that earlier versions of the plan had, and this one has not: entries name them behind its own stages.
    pub gone: Vec<RemovedStage>,
    /// What its procedure in one line does not say for certain. A plan that was kept before it was asked stays
    /// readable; a new version has to answer it.
    pub unclear: Vec<Message>,
}

/// The ways of a joint as an earlier version of the plan had them (C-48).
#[derive(Debug, Clone, PartialEq)]
pub struct EarlierWays {
    /// The last entry that was made under that version.
    pub until: u64,
    /// By stage as it is now: the way it was, where it was another.
    pub ways: Vec<Option<Way>>,
}

/// A stage of a joint that an earlier version of the plan had, and this one has not (C-48).
#[derive(Debug, Clone, PartialEq)]
pub struct RemovedStage {
    /// The last entry that was made under that version.
    pub until: u64,
    /// Its number there, from 0.
    pub number: usize,
    /// What it was called.
    pub name: String,
    /// How it was tightened.
    pub way: Way,
}

/// What a joint is tightened for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum RoundPurpose {
    /// To measure, hone or mock up, and then taken apart again.
    Trial,
    /// For good.
    Final,
}

/// Fasteners of a joint that share a target.
#[derive(Debug, Clone, PartialEq)]
pub struct FastenerGroup {
    /// Key in the joint, such as `inner`.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// Which kind of fastener it has.
    pub spec: SpecIx,
    /// The slot of the set that its fasteners are of, where the plan says so (C-23).
    pub parts: Option<SlotIx>,
    /// What its fasteners go into, where the plan says so.
    pub hole: Option<Hole>,
    /// The pattern its sequence follows.
    pub pattern: SequencePattern,
    /// Its fasteners in tightening order, by their places in [`Joint::fasteners`].
    pub fasteners: Range<usize>,
}

/// What fasteners are screwed into (C-39).
#[derive(Debug, Clone, PartialEq)]
pub struct Hole {
    /// What it is cut into, where the plan says so.
    pub material: Option<Material>,
    /// Tensile strength of its material.
    pub tensile: Pressure,
    /// What its thread stands in shear, as a share of that, where the plan says so.
    pub shear_ratio: Option<f64>,
    /// Length of thread that is engaged and counts, mm.
    pub engaged_mm: f64,
    /// Whether it is blind: what is left in it cracks the part under the fastener.
    pub blind: bool,
}

/// One round over a group at one target, or something to do between rounds.
#[derive(Debug, Clone, PartialEq)]
pub struct Stage {
    /// What the builder calls it.
    pub name: String,
    /// The group it goes over; none for an action.
    pub group: Option<GroupIx>,
    /// How it goes over the group.
    pub walk: StageWalk,
    /// Groups of its joint that make it be done again when they are touched after it (C-18).
    pub again: Vec<GroupIx>,
    /// How one fastener is tightened.
    pub way: Way,
    /// Where in the plan it is written: `joint[3].stage[1]`, or `joint[3].procedure`.
    pub path: String,
    /// Where its figure comes from, where that is said of it alone.
    pub source: String,
    /// What that table calls it.
    pub heading: String,
}

/// How a stage goes over its group.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum StageWalk {
    /// All fasteners of the group, before the next stage starts (C-9).
    #[default]
    Round,
    /// Together with the stage before it: one fastener has both before the next one's turn.
    Each,
}

/// One step of a build.
#[derive(Debug, Clone, PartialEq)]
pub struct Operation {
    /// Key in the plan.
    pub id: String,
    /// Key of the step that it is written with: its own where it is not repeated.
    pub family: String,
    /// Where in the plan it is written: `operation[3]`.
    pub written: String,
    /// The member of a repeat that it is of.
    pub member: Option<RepeatMember>,
    /// What the builder calls it.
    pub name: String,
    /// The same, whichever member of a repeat it is of.
    pub step: String,
    /// The word for this kind of step.
    pub kind: OperationKind,
    /// Operations that must be signed before it starts.
    pub needs: Vec<OperationIx>,
    /// Parts that are fitted in it, by slot.
    pub parts: Vec<SlotIx>,
    /// Whether it closes the engine over what is in it.
    pub closes: bool,
    /// How the engine stands for it, where that is said.
    pub stand: Option<EngineStand>,
    /// How long it takes, minutes, where the plan says so.
    pub minutes: Option<f64>,
    /// Cautions to show where the work is.
    pub cautions: Vec<String>,
    /// What is done.
    pub work: OperationWork,
}

/// How an engine stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum EngineStand {
    /// As it runs.
    Upright,
    /// Crankcase up.
    UpsideDown,
    /// Front end up.
    FrontUp,
    /// On its side.
    OnItsSide,
}

/// The word for a kind of operation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum OperationKind {
    /// Enter the parts an engine came with.
    TakeIn,
    /// Clean, chase, dry, lay out.
    Prepare,
    /// Put a part in its place.
    Fit,
    /// Look at something and say whether it is right.
    Check,
    /// Apply sealant or a gasket.
    Seal,
    /// Tighten a joint.
    Tighten,
    /// Take a joint apart again.
    Loosen,
    /// Measure.
    Measure,
    /// Count hardware.
    Count,
    /// Turn the crankshaft.
    Turn,
    /// Sign the engine off.
    Sign,
}

/// What an operation consists of.
#[derive(Debug, Clone, PartialEq)]
pub enum OperationWork {
    /// Items to be confirmed one by one.
    Items(Vec<ChecklistItem>),
    /// Joints to be tightened or taken apart.
    Tighten(TightenSpec),
    /// Sites to be measured, in order.
    Measure(Vec<SiteIx>),
    /// Parts to be entered.
    Parts(Vec<SlotIx>),
    /// Hardware to be counted (C-6).
    Count(HardwareCounting),
    /// The crankshaft to be turned (C-33).
    Turn(TurningCheck),
    /// A lead's signature under the whole engine.
    Sign,
}

/// What an operation does to joints (C-36, C-37).
#[derive(Debug, Clone, PartialEq)]
pub struct TightenSpec {
    /// Whether they are tightened or taken apart.
    pub task: TightenTask,
    /// The joints, which are worked together, stage by stage.
    pub shares: Vec<JointShare>,
    /// Which fasteners are used, where it is not those that stay.
    pub fasteners: Option<String>,
}

/// Whether joints are tightened or taken apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum TightenTask {
    /// They are tightened.
    Tighten,
    /// They are taken apart, in the reverse order (C-17).
    Loosen,
}

/// What an operation does to one joint.
#[derive(Debug, Clone, PartialEq)]
pub struct JointShare {
    /// The joint.
    pub joint: JointIx,
    /// Which of its [`Joint::rounds`].
    pub round: usize,
    /// The stages that are run, by place.
    pub stages: Range<usize>,
}

impl JointShare {
    /// The joint in its round.
    pub fn at(&self) -> (JointIx, usize) {
        (self.joint, self.round)
    }
}

impl TightenSpec {
    /// What it does to the joint with this key; to the only one where none is named.
    pub fn share(&self, plan: &Plan, joint: Option<&str>) -> Option<&JointShare> {
        match (joint, &self.shares[..]) {
            (Some(id), shares) => shares.iter().find(|share| plan[share.joint].id == id),
            (None, [share]) => Some(share),
            (None, _) => None,
        }
    }
}

/// One thing to confirm.
#[derive(Debug, Clone, PartialEq)]
pub struct ChecklistItem {
    /// Key in the operation.
    pub id: String,
    /// What to do or look at.
    pub text: String,
    /// What right looks like.
    pub right: String,
    /// What wrong looks like.
    pub wrong: String,
    /// A drawing of it, where one says it better.
    pub sketch: Option<ItemSketch>,
    /// What makes it be confirmed again.
    pub again: Vec<ReworkCause>,
    /// What goes in with it that has to come out again (C-43).
    pub puts_in: Option<TemporaryItemSpec>,
    /// Key of what comes out with it.
    pub takes_out: Option<String>,
}

/// Something that goes in for the work and has to come out again (C-43).
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TemporaryItemSpec {
    /// Key in the plan.
    pub id: String,
    /// What it is.
    pub name: String,
    /// How many of it.
    pub count: u32,
}

/// A list of the plan that is looked up by place.
macro_rules! list {
    ($index:ident, $field:ident, $item:ident, $of:ident) => {
        impl Index<$index> for $of {
            type Output = $item;

            fn index(&self, at: $index) -> &$item {
                &self.$field[at.0]
            }
        }
    };
}

list!(SpecIx, specs, FastenerSpec, Plan);
list!(JointIx, joints, Joint, Plan);
list!(SlotIx, slots, PartSlot, Plan);
list!(FamilyIx, families, SiteFamily, Plan);
list!(SiteIx, sites, Site, Plan);
list!(ClearanceIx, clearances, Clearance, Plan);
list!(OperationIx, operations, Operation, Plan);
list!(GroupIx, groups, FastenerGroup, Joint);
list!(StageIx, stages, Stage, Joint);
list!(FastenerIx, fasteners, FastenerPosition, Joint);

impl Plan {
    /// How many engines the part of a slot may be in: what the plan says, or one where its fasteners are for one
    /// use (C-62).
    pub fn uses_allowed(&self, slot: SlotIx) -> Option<u32> {
        let groups = self.joints.iter().flat_map(|joint| &joint.groups);
        let single_use = |spec: SpecIx| self.specs.get(spec.0).is_some_and(|spec| spec.single_use);
        let once = groups.filter(|group| group.parts == Some(slot)).any(|group| single_use(group.spec));
        self.slots[slot.0].uses_allowed.or(once.then_some(1))
    }

    /// The place of the joint with this key.
    pub fn joint(&self, id: &str) -> Option<JointIx> {
        self.joints.iter().position(|joint| joint.id == id).map(JointIx)
    }

    /// The place of the operation with this key.
    pub fn operation(&self, id: &str) -> Option<OperationIx> {
        self.operations.iter().position(|operation| operation.id == id).map(OperationIx)
    }

    /// The places of all operations, in the order of the line.
    pub fn line(&self) -> impl Iterator<Item = OperationIx> + Clone + use<> {
        (0..self.operations.len()).map(OperationIx)
    }

    /// The place of the slot with this key.
    pub fn slot(&self, id: &str) -> Option<SlotIx> {
        self.slots.iter().position(|slot| slot.id == id).map(SlotIx)
    }

    /// The fasteners that are pieces of the set in a slot, in the order that they are numbered in.
    pub fn pieces(&self, slot: SlotIx) -> Vec<(JointIx, FastenerIx)> {
        let joints = self.joints.iter().enumerate();
        let groups =
            joints.flat_map(|(joint, of)| of.groups.iter().map(move |group| (JointIx(joint), group)));
        let of_it = groups.filter(|(_, group)| group.parts == Some(slot));
        of_it
            .flat_map(|(joint, group)| group.fasteners.clone().map(move |at| (joint, FastenerIx(at))))
            .collect()
    }

    /// The most that a piece of the set in a slot may stay longer for good, mm (C-25).
    pub fn set_mm(&self, slot: SlotIx) -> Option<f64> {
        let pieces = self.pieces(slot);
        let of_piece = |&(joint, fastener): &(JointIx, FastenerIx)| {
            let joint = &self[joint];
            joint.set_mm(&self[joint.group_with(fastener)?.spec], fastener)
        };
        pieces.iter().find_map(of_piece)
    }

    /// The crank angles of a clearance's series, degrees after top, where it is the least of one.
    pub fn series(&self, clearance: &Clearance) -> Vec<f64> {
        let ClearanceRule::Least { of, .. } = &clearance.rule else { return Vec::new() };
        let first = self.families.get(of.0).and_then(|family| self.sites.get(family.sites.start));
        first.iter().flat_map(|site| &site.places).filter_map(|place| place.crank_deg).collect()
    }

    /// The place of the site with this key.
    pub fn site(&self, id: &str) -> Option<SiteIx> {
        self.sites.iter().position(|site| site.id == id).map(SiteIx)
    }

    /// The place of the clearance with this key.
    pub fn clearance(&self, id: &str) -> Option<ClearanceIx> {
        self.clearances.iter().position(|clearance| clearance.id == id).map(ClearanceIx)
    }

    /// The site of a family that belongs to a member, counted from 0.
    pub fn member(&self, family: FamilyIx, member: usize) -> Option<SiteIx> {
        // Of a text with a fault nothing may be there that a name stands for.
        let sites = &self.families.get(family.0)?.sites;
        (member < sites.len()).then(|| SiteIx(sites.start + member))
    }

    /// How many members a clearance has.
    pub fn members(&self, clearance: &Clearance) -> usize {
        let first = clearance.families().next();
        first.and_then(|family| self.families.get(family.0)).map_or(0, |family| family.sites.len())
    }

    /// Where something that goes in comes out again.
    pub fn comes_out(&self, id: &str) -> Option<(OperationIx, usize)> {
        let takes = |at: OperationIx| match &self[at].work {
            OperationWork::Items(items) => {
                items.iter().position(|item| item.takes_out.as_deref() == Some(id)).map(|item| (at, item))
            }
            _ => None,
        };
        self.line().find_map(takes)
    }

    /// The repeat that an operation belongs to.
    pub fn repeat(&self, operation: OperationIx) -> Option<&Repeat> {
        self[operation].member.map(|member| &self.repeats[member.repeat])
    }

    /// What an operation does to joints, where it is about joints.
    pub fn tightens(&self, operation: OperationIx) -> Option<&TightenSpec> {
        match &self[operation].work {
            OperationWork::Tighten(work) => Some(work),
            _ => None,
        }
    }

    /// What a fastener is reached by, where it needs an adapter.
    pub fn adapter(&self, joint: &Joint, fastener: FastenerIx) -> Option<&Adapter> {
        let (_, adapter) = joint.adapted.iter().find(|(adapted, _)| *adapted == fastener)?;
        self.adapters.get(*adapter)
    }

    /// Uses that its clearances have windows for.
    pub fn uses(&self) -> Vec<&str> {
        let mut uses: Vec<&str> = Vec::new();
        for window in self.clearances.iter().flat_map(|clearance| &clearance.windows) {
            if !uses.contains(&window.name.as_str()) {
                uses.push(&window.name);
            }
        }
        uses
    }

    /// The specification of the fasteners that a stage goes over.
    pub fn spec(&self, joint: &Joint, stage: StageIx) -> Option<&FastenerSpec> {
        Some(&self[joint.group_of(stage)?.spec])
    }

    /// What the holes are cut into that a kind of fastener is tapped into, where only its groups say so.
    pub fn hole_materials(&self, spec: SpecIx) -> Vec<Material> {
        let mut materials = Vec::new();
        if self[spec].end_by_hole {
            let groups =
                self.joints.iter().flat_map(|joint| &joint.groups).filter(|group| group.spec == spec);
            for material in groups.filter_map(|group| group.hole.as_ref()?.material) {
                if !materials.contains(&material) {
                    materials.push(material);
                }
            }
        }
        materials
    }

    /// The groups that begin at what the first fastener of a group has shown, that group itself among them: all of
    /// its kind whose stages say so. None where another one comes before it and shows it.
    pub fn qualified_by(&self, joint: JointIx, group: GroupIx) -> Vec<(JointIx, GroupIx)> {
        let spec = self[joint][group].spec;
        let joints = (0..self.joints.len()).map(JointIx);
        let of_kind = joints.flat_map(|at| {
            let groups = self[at].qualifying().into_iter();
            groups.filter(move |of| self[at][*of].spec == spec).map(move |of| (at, of))
        });
        let groups: Vec<(JointIx, GroupIx)> = of_kind.collect();
        if groups.first() == Some(&(joint, group)) { groups } else { Vec::new() }
    }

    /// Whether the stretch of a kind of fastener is read in any stage.
    pub fn is_stretched(&self, spec: SpecIx) -> bool {
        self.joints.iter().any(|joint| {
            let of_it = |at: &StageIx| joint.group_of(*at).is_some_and(|group| group.spec == spec);
            let mut stages = (0..joint.stages.len()).map(StageIx).filter(of_it);
            stages.any(|stage| joint[stage].way.shows().is_some())
        })
    }

    /// The clamp load that a kind of fastener is brought to where it is used first, kN, and the torque that its
    /// angle would start at, N·m; `None` where no stage gives it one.
    pub fn wanted_load(&self, spec: SpecIx) -> Option<(f64, f64)> {
        let of_it =
            |joint: &Joint, stage: &StageIx| joint.group_of(*stage).is_some_and(|group| group.spec == spec);
        self.joints.iter().find_map(|joint| {
            let stages = || (0..joint.stages.len()).map(StageIx).filter(|stage| of_it(joint, stage));
            let wanted_kn = stages().filter_map(|stage| self.forecast(joint, stage)).next_back()?.typical_kn;
            let turns = stages().position(|stage| joint[stage].way.adds_up());
            let snug = turns.and_then(|turns| stages().nth(turns.checked_sub(1)?));
            let snug = snug.and_then(|snug| Some(joint[snug].way.band()?.target));
            let fastening = &self[spec].fastening;
            let usual = fastening.nut_factors()[1] * fastening.thread.nominal_mm();
            Some((wanted_kn, snug.unwrap_or(SNUG * wanted_kn * usual)))
        })
    }

    /// The clamp load to expect after a stage of a joint: what the stages of its group up to it give.
    /// `None` for actions, and for angles on a fastener without resilience.
    pub fn forecast(&self, joint: &Joint, stage: StageIx) -> Option<Forecast> {
        joint.forecast(&self.spec(joint, stage)?.fastening, stage)
    }
}

impl FastenerSpec {
    /// What it is called in every plan: its name and thread.
    pub fn title(&self) -> String {
        format!("{}, {}", self.name, self.designation)
    }

    /// The thread that is engaged in its hole: that of a stud's other end, else its own.
    pub fn hole_thread(&self) -> Thread {
        self.stud.as_ref().map_or(self.fastening.thread, |stud| stud.thread)
    }

    /// What it turns on in words, both ends of a stud.
    pub fn lubricants(&self) -> String {
        let nut = self.lubrication.words();
        match &self.stud {
            Some(StudEnd { designation: thread, lubricant, .. }) => {
                text!("plan-stud-and-nut", nut, thread, lubricant = lubricant.name)
            }
            None => nut,
        }
    }

    /// The end that goes into the part, where it has one of its own and a way of tightening is about that one.
    pub fn stud_end(&self, way: &Way) -> Option<&StudEnd> {
        self.stud.as_ref().filter(|_| way.key() == "stud")
    }

    /// The same fastener on another lubricant; its torques are converted to it where that is said.
    #[must_use]
    pub fn on(&self, lubrication: &Lubrication, converts: bool) -> Self {
        let fastening = self.fastening.on(lubrication.friction(), converts);
        Self { lubrication: lubrication.clone(), fastening, ..self.clone() }
    }
}

impl Joint {
    /// The clamp load to expect after a stage: what the stages of its group up to it give on such a fastener.
    pub fn forecast(&self, fastening: &Fastening, stage: StageIx) -> Option<Forecast> {
        self.forecast_by(fastening, stage, |band| band.target)
    }

    /// The same where every stage is pulled to the most that it allows.
    pub fn forecast_at_most(&self, fastening: &Fastening, stage: StageIx) -> Option<Forecast> {
        self.forecast_by(fastening, stage, |band| if band.high.is_finite() { band.high } else { band.target })
    }

    fn forecast_by(
        &self,
        fastening: &Fastening,
        stage: StageIx,
        figure: fn(&Band) -> f64,
    ) -> Option<Forecast> {
        let group = self[stage].group?;
        let of_group = self.stages[..=stage.0].iter().filter(|stage| stage.group == Some(group));
        of_group.fold(None, |before, stage| {
            let rules = &stage.way;
            let figure = figure(rules.band()?) * if rules.converts() { fastening.converted } else { 1.0 };
            rules.load(fastening, before, figure)
        })
    }

    /// Groups of which one fastener shows the torque for all of their kind.
    pub fn qualifying(&self) -> Vec<GroupIx> {
        let shows = |group: &GroupIx| {
            self.stages.iter().any(|stage| stage.group == Some(*group) && stage.way.qualifies())
        };
        (0..self.groups.len()).map(GroupIx).filter(shows).collect()
    }

    /// The way of a stage as it was when an entry was made: versions of a plan may differ in it (C-48).
    pub fn way_at(&self, stage: StageIx, seq: u64) -> &Way {
        let was = self.was.iter().find(|was| seq <= was.until);
        was.and_then(|was| was.ways.get(stage.0)?.as_ref()).unwrap_or(&self[stage].way)
    }

    /// The most that a fastener may stay longer for good, mm: what one of its stages says, else what its kind says
    /// (C-25).
    pub fn set_mm(&self, spec: &FastenerSpec, fastener: FastenerIx) -> Option<f64> {
        let group = self.group_ix(fastener);
        let of_it = self.stages.iter().filter(|stage| stage.group.is_some() && stage.group == group);
        of_it.filter_map(|stage| stage.way.set_mm()).reduce(f64::min).or(spec.elongation_allowed_mm)
    }

    /// The group of a stage.
    pub fn group_of(&self, stage: StageIx) -> Option<&FastenerGroup> {
        self[stage].group.map(|group| &self[group])
    }

    /// The group a fastener belongs to.
    pub fn group_with(&self, fastener: FastenerIx) -> Option<&FastenerGroup> {
        self.group_ix(fastener).map(|group| &self[group])
    }

    /// The place of the group a fastener belongs to.
    pub fn group_ix(&self, fastener: FastenerIx) -> Option<GroupIx> {
        self.groups.iter().position(|group| group.fasteners.contains(&fastener.0)).map(GroupIx)
    }

    /// The place of the fastener with this name.
    pub fn fastener(&self, id: &str) -> Option<FastenerIx> {
        self.fasteners.iter().position(|fastener| fastener.id == id).map(FastenerIx)
    }

    /// The order in which its fasteners are loosened: what was tightened last comes first, and each group
    /// backwards (C-17).
    pub fn backwards(&self) -> Vec<FastenerIx> {
        let last = |group: GroupIx| self.stages.iter().rposition(|stage| stage.group == Some(group));
        let mut groups: Vec<GroupIx> = (0..self.groups.len()).map(GroupIx).collect();
        groups.sort_by_key(|group| std::cmp::Reverse(last(*group)));
        groups.into_iter().flat_map(|group| self[group].fasteners.clone().rev().map(FastenerIx)).collect()
    }

    /// Those of them that an operation runs.
    pub fn legs_in(&self, share: &JointShare) -> impl Iterator<Item = Range<usize>> + use<'_> {
        let stages = share.stages.clone();
        self.legs().filter(move |leg| stages.contains(&leg.start))
    }

    /// Stages that are walked together: all but the first of them are [`StageWalk::Each`].
    pub fn legs(&self) -> impl Iterator<Item = Range<usize>> {
        let mut start = 0;
        std::iter::from_fn(move || {
            let first = start;
            if first >= self.stages.len() {
                return None;
            }
            let together =
                |stage: &&Stage| stage.walk == StageWalk::Each && stage.group == self.stages[first].group;
            start += 1 + self.stages[first + 1..].iter().take_while(together).count();
            Some(first..start)
        })
    }
}
