//! What follows from the choices.

use super::choices::{CamLayout, CrankPins, CylinderLayout, EngineExtra, EngineShape};
use crate::free_key::key_of;

/// The measures that follow from the choices, mm: x along the engine from its front, y across it.
pub(super) struct ShapeFrame<'a> {
    pub engine: &'a EngineShape,
    /// Cylinders of one bank.
    pub per_bank: u32,
    /// Main bearings.
    pub mains: u32,
    /// Banks: `left` and `right`, or one without a name.
    pub banks: Vec<&'static str>,
    /// Where the first main bearing stands.
    pub first: f64,
    /// Half of the width of the block.
    pub half: f64,
    /// How long the block is.
    pub long: f64,
}

impl<'a> ShapeFrame<'a> {
    pub fn of(engine: &'a EngineShape) -> Self {
        let two = engine.layout != CylinderLayout::Inline;
        let per_bank = if two { engine.cylinders / 2 } else { engine.cylinders };
        let mains = per_bank + 1;
        let first = engine.spacing_mm * 0.42;
        Self {
            engine,
            per_bank,
            mains,
            banks: if two { vec!["left", "right"] } else { vec![] },
            first,
            half: engine.bore_mm * 1.42,
            long: 2.0 * first + engine.spacing_mm * f64::from(mains - 1),
        }
    }

    /// Where main bearings stand along the engine.
    pub fn main_x(&self) -> Vec<f64> {
        (0..self.mains).map(|at| self.first + self.engine.spacing_mm * f64::from(at)).collect()
    }

    /// Where the cylinders of a bank stand along the engine.
    pub fn bore_x(&self) -> Vec<f64> {
        (0..self.per_bank).map(|at| self.first + self.engine.spacing_mm * (f64::from(at) + 0.5)).collect()
    }

    pub fn has(&self, extra: EngineExtra) -> bool {
        // A valley is between two banks.
        self.engine.has.contains(&extra) && (extra != EngineExtra::ValleyCover || self.two_banks())
    }

    /// How often the side clearance of rods is measured: two rods on one pin have it together.
    pub fn side_clearances(&self) -> u32 {
        if self.two_banks() && self.engine.pins == CrankPins::Shared {
            self.per_bank
        } else {
            self.engine.cylinders
        }
    }

    pub fn two_banks(&self) -> bool {
        !self.banks.is_empty()
    }

    /// `members = ["left", "right"]` where there are two banks.
    pub fn members(&self) -> String {
        if self.two_banks() { "members = [\"left\", \"right\"]\n".to_owned() } else { String::new() }
    }

    /// `count = 4` where there are several cylinders.
    pub fn each_cylinder(&self) -> String {
        if self.engine.cylinders > 1 { format!("count = {}\n", self.engine.cylinders) } else { String::new() }
    }

    pub fn overhead(&self) -> bool {
        self.engine.cams != CamLayout::Block
    }

    pub fn key(&self) -> String {
        key_of(&self.engine.name, "engine")
    }

    pub fn about(&self) -> String {
        let EngineShape { layout, cylinders, bore_mm, v_angle_deg, .. } = self.engine;
        let stands = match layout {
            CylinderLayout::Inline if *cylinders == 1 => "Single".to_owned(),
            CylinderLayout::Inline => format!("Inline {cylinders}"),
            CylinderLayout::V => format!("{v_angle_deg}° V{cylinders}"),
            CylinderLayout::Flat => format!("Flat {cylinders}"),
        };
        let cams = match self.engine.cams {
            CamLayout::Block => "camshaft in the block",
            CamLayout::Single => "one camshaft a head",
            CamLayout::Twin => "twin cam",
        };
        format!("{stands}, {bore_mm} mm bore, {cams}, {} main bearings.", self.mains)
    }
}
