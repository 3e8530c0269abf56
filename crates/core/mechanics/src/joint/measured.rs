//! Friction that a shop has measured, in place of the one that a table gives (C-28).

use super::preload::BearingFace;
use super::stretch::NutFactor;
use crate::fastener::Thread;
use crate::friction::{Friction, Lubricant, Lubrication, MeasuredFriction};

/// Least friction that is computed with.
const LEAST_MU: f64 = 0.005;

/// A lubrication with the friction that was measured of it on a fastener.
pub fn measured_lubrication(
    table: &Lubrication,
    measured: &MeasuredFriction,
    thread: &Thread,
    bearing: BearingFace,
) -> Lubrication {
    let all = &measured.all;
    let friction = all.range().map(|k| NutFactor { k, error: None }.friction(thread, bearing));
    let friction = friction.map(|mu| Friction::both(mu.max(LEAST_MU)));
    let of = |known: &Lubricant| Lubricant {
        low: friction[0],
        typical: friction[1],
        high: friction[2],
        source: format!(
            "measured by this shop on {} bolts: K {:.3} ± {:.3}",
            all.count, all.median, all.spread
        ),
        ..known.clone()
    };
    Lubrication { thread: of(&table.thread), bearing: of(&table.bearing) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::friction::{NutFactorSpread, shipped};
    use crate::joint::TorqueRelation;
    use crate::quantity::mm;

    #[test]
    fn what_was_measured_gives_the_nut_factor_it_was_measured_as() {
        let (thread, bearing) = (Thread::parse("M9x1").unwrap(), BearingFace { mean_diameter: mm(12.0) });
        let all = NutFactorSpread { count: 40, median: 0.16, spread: 0.005 };
        let measured = MeasuredFriction {
            fastener: "b".into(),
            thread: "moly-paste".into(),
            bearing: "moly-paste".into(),
            all,
        };
        let table = shipped();
        let paste = table.iter().find(|known| known.id == "moly-paste").unwrap();
        let lubrication = Lubrication { thread: paste.clone(), bearing: paste.clone() };
        let own = measured_lubrication(&lubrication, &measured, &thread, bearing);
        let k = own.friction().map(|friction| TorqueRelation { thread, bearing, friction }.nut_factor());
        for (k, wanted) in k.into_iter().zip([0.15, 0.16, 0.17]) {
            assert!((k - wanted).abs() < 1e-12, "{k} for {wanted}");
        }
        assert!(own.same_stuff(&lubrication) && own.thread.source.contains("40 bolts"));
    }
}
