//! What a flattened plastic strip tells of a clearance (C-66): by its printed card, or by its width.

use super::sure::UncertainValue;
use rigore_mechanics::clearance::strip_clearance;

/// How far off a clearance is that follows from the width of a strip, mm.
const BY_WIDTH_MM: f64 = 0.006;

/// How far off one is that was read on the printed card, which is stepped: half a step of it, mm.
const BY_CARD_MM: f64 = 0.013;

/// Whether what was read on a strip is the clearance that its card prints: a strip that was flattened is wider than its
/// wire, and what it was flattened to is less.
pub(super) fn is_of_card(wire_mm: f64, read_mm: f64) -> bool {
    read_mm < wire_mm
}

/// The clearance that a reading on a strip of a wire tells of, mm; none where the strip has no width.
pub(super) fn clearance(wire_mm: f64, read_mm: f64) -> Option<UncertainValue> {
    let by_card = is_of_card(wire_mm, read_mm);
    let value = if by_card { read_mm } else { strip_clearance(wire_mm, read_mm) };
    (read_mm > 0.0).then_some(UncertainValue { value, u: if by_card { BY_CARD_MM } else { BY_WIDTH_MM } })
}
