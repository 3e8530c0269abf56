//! The parts of a plan, as the rest of Rigore uses them: read, checked and in base units.

use super::measuring::{Clearance, Site};
use super::parts::{Hardware, Sketch, Slot};
use crate::fastener::{Strength, Thread};
use crate::friction::Lubricant;
use crate::tightening::{Band, Pattern, Position};
use serde::Serialize;

/// The reusable specification of one engine.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
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
    pub fasteners: Vec<Fastener>,
    /// Drawings that joints lie on.
    pub drawings: Vec<Drawing>,
    /// What is clamped together.
    pub joints: Vec<Joint>,
    /// The parts it is made of.
    pub slots: Vec<Slot>,
    /// What is measured.
    pub sites: Vec<Site>,
    /// What follows from measurements.
    pub clearances: Vec<Clearance>,
    /// The steps of a build, in the order they are listed.
    pub operations: Vec<Operation>,
}

/// A kind of fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fastener {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// Thread designation as written.
    pub designation: String,
    /// Its thread.
    #[serde(skip)]
    pub thread: Thread,
    /// Its strength.
    #[serde(skip)]
    pub strength: Strength,
    /// Mean bearing diameter Db, mm.
    pub bearing_diameter_mm: f64,
    /// Lubricant on the thread.
    pub thread_lubricant: String,
    /// Lubricant under the head or nut.
    pub bearing_lubricant: String,
    /// Elastic resilience of the bolt, mm/N, where the plan tells its shape.
    pub bolt_resilience: Option<f64>,
    /// Elastic resilience of the parts it clamps, mm/N, where the plan tells it.
    pub part_resilience: Option<f64>,
    /// Meant to pass yield.
    pub to_yield: bool,
    /// To be replaced once it was loosened.
    pub single_use: bool,
}

/// A drawing in true proportions, in mm; x along the engine from the front, y across it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Drawing {
    /// Key in the plan.
    pub id: String,
    /// What is seen.
    pub name: String,
    /// What it is drawn with.
    pub shapes: Vec<Shape>,
}

/// One stroke of a drawing, in mm.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Shape {
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
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Joint {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// The drawing its fasteners lie on.
    pub drawing: String,
    /// Fasteners that share targets.
    pub groups: Vec<Group>,
    /// The procedure.
    pub stages: Vec<Stage>,
}

/// Fasteners of a joint that share a target, in their sequence.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Group {
    /// Key in the joint, such as `inner`.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// Which kind of fastener it has.
    pub fastener: String,
    /// The pattern its sequence follows.
    pub pattern: Pattern,
    /// Its fasteners in tightening order.
    pub positions: Vec<Position>,
}

/// One round over a group at one target, or something to do between rounds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Stage {
    /// To a torque, in N·m.
    Torque {
        /// What the builder calls it.
        name: String,
        /// Key of the group.
        group: String,
        /// What is wanted.
        band: Band,
    },
    /// On by an angle, in degrees.
    Angle {
        /// What the builder calls it.
        name: String,
        /// Key of the group.
        group: String,
        /// What is wanted.
        band: Band,
    },
    /// Something done by hand.
    Action {
        /// What the builder calls it.
        name: String,
        /// How it is done.
        text: String,
    },
}

impl Stage {
    /// What the builder calls it.
    pub fn name(&self) -> &str {
        match self {
            Self::Torque { name, .. } | Self::Angle { name, .. } | Self::Action { name, .. } => name,
        }
    }

    /// The group it goes over, unless it is an action.
    pub fn group(&self) -> Option<&str> {
        match self {
            Self::Torque { group, .. } | Self::Angle { group, .. } => Some(group),
            Self::Action { .. } => None,
        }
    }

    /// What is wanted, in N·m or degrees, unless it is an action.
    pub fn band(&self) -> Option<&Band> {
        match self {
            Self::Torque { band, .. } | Self::Angle { band, .. } => Some(band),
            Self::Action { .. } => None,
        }
    }

    /// Whether readings are angles that add up and must not be applied twice (C-11, C-12).
    pub fn is_angle(&self) -> bool {
        matches!(self, Self::Angle { .. })
    }
}

/// One step of a build.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Operation {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// The word for this kind of step.
    pub kind: Kind,
    /// Operations that must be signed before it starts.
    pub needs: Vec<String>,
    /// Cautions to show where the work is.
    pub cautions: Vec<String>,
    /// What is done.
    pub work: Work,
}

/// The word for a kind of operation.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Kind {
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
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "work", rename_all = "kebab-case")]
pub enum Work {
    /// Items to be confirmed one by one.
    Items {
        /// The items.
        items: Vec<Item>,
    },
    /// A joint to be tightened.
    Tighten {
        /// Key of the joint.
        joint: String,
    },
    /// Sites to be measured.
    Measure {
        /// Places of the sites in the plan's list, in the order they are measured.
        sites: Vec<usize>,
    },
    /// Parts to be entered.
    Parts {
        /// Places of the slots in the plan's list.
        slots: Vec<usize>,
    },
    /// Hardware to be counted (C-6).
    Count {
        /// The kinds of it.
        hardware: Vec<Hardware>,
        /// Key of the operation that counted the same out before, where this counts back.
        back_of: Option<String>,
    },
    /// The crankshaft to be turned (C-33).
    Turn {
        /// What was fitted last, to blame for a bind.
        suspect: String,
        /// The most that turning may take, N·m, where that is limited.
        most_nm: Option<f64>,
        /// The most that turning may take more than the time before, N·m, where that is limited.
        rise_nm: Option<f64>,
    },
    /// A lead's signature under the whole engine.
    Sign,
}

/// One thing to confirm.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Item {
    /// Key in the operation.
    pub id: String,
    /// What to do or look at.
    pub text: String,
    /// What right looks like.
    pub right: String,
    /// What wrong looks like.
    pub wrong: String,
    /// A drawing of it, where one says it better.
    pub sketch: Option<Sketch>,
}

fn by_id<'a, T>(list: &'a [T], id: &str, key: impl Fn(&T) -> &str) -> Option<&'a T> {
    list.iter().find(|item| key(item) == id)
}

impl Plan {
    /// The lubricant with this key.
    pub fn lubricant(&self, id: &str) -> Option<&Lubricant> {
        by_id(&self.lubricants, id, |l| &l.id)
    }

    /// The fastener with this key.
    pub fn fastener(&self, id: &str) -> Option<&Fastener> {
        by_id(&self.fasteners, id, |f| &f.id)
    }

    /// The drawing with this key.
    pub fn drawing(&self, id: &str) -> Option<&Drawing> {
        by_id(&self.drawings, id, |d| &d.id)
    }

    /// The joint with this key.
    pub fn joint(&self, id: &str) -> Option<&Joint> {
        by_id(&self.joints, id, |j| &j.id)
    }

    /// The operation with this key, and its place in the line.
    pub fn operation(&self, id: &str) -> Option<(usize, &Operation)> {
        self.operations.iter().enumerate().find(|(_, operation)| operation.id == id)
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

    /// The site with this key, and its place in the list.
    pub fn site(&self, id: &str) -> Option<(usize, &Site)> {
        self.sites.iter().enumerate().find(|(_, site)| site.id == id)
    }

    /// The members of a family of sites, by number.
    pub fn family<'a>(&'a self, family: &'a str) -> impl Iterator<Item = (usize, &'a Site)> {
        self.sites.iter().enumerate().filter(move |(_, site)| site.family == family)
    }

    /// How many members a clearance has.
    pub fn members(&self, clearance: &Clearance) -> usize {
        clearance.first_family().map_or(0, |family| self.family(family).count())
    }

    /// The place in the line and the joint of a tightening operation.
    pub fn joint_of(&self, operation: &str) -> Option<(usize, &Joint)> {
        let (at, planned) = self.operation(operation)?;
        match &planned.work {
            Work::Tighten { joint } => Some((at, self.joint(joint)?)),
            _ => None,
        }
    }
}

impl Joint {
    /// The group with this key.
    pub fn group(&self, id: &str) -> Option<&Group> {
        by_id(&self.groups, id, |g| &g.id)
    }

    /// The group of a stage.
    pub fn group_of(&self, stage: &Stage) -> Option<&Group> {
        stage.group().and_then(|id| self.group(id))
    }

    /// The group a fastener belongs to.
    pub fn group_with(&self, fastener: &str) -> Option<&Group> {
        self.groups.iter().find(|group| group.positions.iter().any(|p| p.id == fastener))
    }
}
