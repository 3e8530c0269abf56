//! From nothing to an engine's shape: a few choices make the text of a plan, with drawings in true proportions, joints
//! with their fasteners in true places, parts, sizes, clearances and the line of work in the order of the craft.
//!
//! Everything it makes is plain plan text, to be changed freely. Figures that nobody has looked up yet are questions in
//! it (C-47): the shape of an engine says nothing about its torques.
//!
//! An engine's shape is plan text, too: a whole plan from a few choices, with its figures open. `library.rs` takes a piece of one plan, with all that it needs, into another.

mod choices;
mod drawings;
mod frame;
mod joints;
mod line;
mod measured;
mod text;

pub use choices::{
    CamLayout, CrankPins, CylinderLayout, EngineExtra, EngineShape, EngineUse, MainCaps, RodFastening,
    ShapeError,
};

use frame::ShapeFrame;
use text::ShapeText;

impl EngineShape {
    /// The text of a plan for this engine.
    ///
    /// ```
    /// use rigore_plan::Plan;
    /// use rigore_plan::shape::EngineShape;
    ///
    /// let engine = EngineShape { name: "Skua 4".into(), cylinders: 4, ..EngineShape::default() };
    /// let text = engine.plan().expect("an engine");
    /// assert!(Plan::read("skua-4.toml", &text).is_ok());
    /// ```
    ///
    /// # Errors
    /// The first choice that makes no engine, and what would.
    pub fn plan(&self) -> Result<String, ShapeError> {
        self.check()?;
        let frame = ShapeFrame::of(self);
        let mut text = ShapeText::default();
        let about = if self.about.trim().is_empty() { frame.about() } else { self.about.trim().to_owned() };
        text.line("format = 1");
        text.field("id", &frame.key());
        text.field("name", self.name.trim());
        text.field("about", &about);
        joints::fasteners(&frame, &mut text);
        measured::sizes(&mut text);
        measured::slots(&frame, &mut text);
        drawings::all(&frame, &mut text);
        joints::all(&frame, &mut text);
        measured::sites(&frame, &mut text);
        measured::clearances(&frame, &mut text);
        line::all(&frame, &mut text);
        Ok(text.done())
    }
}

#[cfg(test)]
mod tests;
