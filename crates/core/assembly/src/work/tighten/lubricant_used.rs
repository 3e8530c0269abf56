//! What the fasteners of a joint turn on in one of its rounds, as far as somebody said so (C-26, C-27).
//!
//! What fasteners turn on belongs to their round. What somebody said is used (`lubricant_used.rs`) carries its figures in its
//! entry, so that a change of the shop's lubricants touches no record. `TighteningRound::used` is the only way to a fastener
//! as it is used: its specification on that lubricant, and how torques are converted. A pull is kept as it was read
//! and judged as the plan's torque that it stands for; saying it later, or taking it back, replays the group.
//! Friction that the shop has measured stands in for a table as a lubricant with other figures, by the same entry.

use rigore_mechanics::friction::Lubrication;
use rigore_plan::FastenerSpec;
use rigore_plan::LubricantConversion;
use rigore_plan::way::Way;
use std::borrow::Cow;

/// What somebody said that the fasteners of a group turn on.
#[derive(Debug, Clone)]
pub(crate) struct LubricantStatement {
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
pub(crate) struct UsedFastener<'a> {
    /// Its specification, with what it turns on.
    pub spec: Cow<'a, FastenerSpec>,
    /// How torques are converted to that, where they are.
    conversion: Option<LubricantConversion>,
}

impl<'a> UsedFastener<'a> {
    /// A fastener on what somebody said that it turns on; as the plan has it where nobody did.
    pub fn of(spec: &'a FastenerSpec, said: Option<&LubricantStatement>) -> Self {
        let Some(said) = said.filter(|said| said.lubrication != spec.lubrication) else {
            return Self { spec: Cow::Borrowed(spec), conversion: None };
        };
        let used = spec.on(&said.lubrication, said.converts);
        let [least, typical, most] = used.fastening.nut_factors();
        let conversion = said.converts.then(|| LubricantConversion {
            from: spec.lubrication.words(),
            used: said.lubrication.words(),
            source: said.lubrication.thread.source.clone(),
            factor: used.fastening.converted,
            load: [typical / most, typical / least],
        });
        Self { spec: Cow::Owned(used), conversion }
    }

    /// How the torques of a way are converted, where they are.
    pub fn conversion(&self, way: &Way) -> Option<&LubricantConversion> {
        self.conversion.as_ref().filter(|_| way.converts())
    }

    /// What a figure of a way was multiplied by.
    pub fn factor(&self, way: &Way) -> f64 {
        self.conversion(way).map_or(1.0, |conversion| conversion.factor)
    }
}
