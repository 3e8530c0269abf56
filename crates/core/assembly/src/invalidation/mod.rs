//! What makes earlier work be done again (C-40): a part was replaced, a fastener loosened, a joint taken apart.

pub mod rework;
pub mod unsettle;
