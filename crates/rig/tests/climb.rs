//! The advised climb on bolts whose friction nobody knows.

use rigore_mechanics::fastener::{Strength, Thread};
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{
    BoltEnd, BoltHead, BoltSegment, Fastening, SegmentSection, TorqueStretchPair, WeakestSection,
    bolt_resilience,
};
use rigore_mechanics::quantity::{Dimension, mm, mpa};
use rigore_mechanics::tightening::{Band, StretchSteps, Verdict};
use rigore_rig::StretchedBolt;

const BOLTS: u32 = 10_000;
const GAUGE_MM: f64 = 0.001;

/// A rod bolt: M9×1.0 with a shank of 7.6 mm, of which only its lubricant's range is known.
fn rod_bolt() -> Fastening {
    let thread = Thread::parse("M9x1").expect("a thread");
    let shank =
        |length, diameter| BoltSegment { length: mm(length), section: SegmentSection::Shank(mm(diameter)) };
    let segments = [
        shank(8.0, 9.0),
        shank(26.0, 7.6),
        BoltSegment { length: mm(6.0), section: SegmentSection::FreeThread },
    ];
    let bolt = bolt_resilience(&thread, &segments, BoltHead::Hex, BoltEnd::Tapped, [mpa(205_000.0); 2]);
    Fastening {
        thread,
        strength: Strength::figures(mpa(1250.0), mpa(1350.0)).expect("figures"),
        neck: WeakestSection::of(&thread, [9.0, 7.6]),
        bearing_diameter_mm: 12.0,
        friction: [0.06, 0.12, 0.20].map(Friction::both),
        bolt: Some(bolt),
        parts: None,
        known: true,
        converted: 1.0,
    }
}

/// How a climb over many bolts went.
struct Went {
    /// The share of bolts inside the window after so many pulls, from 1 to 8.
    inside: [f64; 8],
    /// The most that any bolt used of its yield.
    used: f64,
}

fn climb(scatter: f64, step_nm: Option<f64>) -> Went {
    let fastening = rod_bolt();
    let band = Band::between(0.150, 0.145, 0.155, Dimension::Length);
    let way = StretchSteps {
        fastening: &fastening,
        band,
        first_nm: None,
        step_nm,
        most_nm: None,
        qualified: None,
        utilisation: 0.9,
    };
    let mut done = [0_u32; 8];
    let mut used: f64 = 0.0;
    for seed in 0..BOLTS {
        let mu = 0.06 + 0.14 * f64::from(seed) / f64::from(BOLTS - 1);
        let mut bolt = StretchedBolt::new(&fastening, Friction::both(mu), scatter, GAUGE_MM, seed.into())
            .expect("a bolt");
        let mut pairs = Vec::new();
        for pulls in &mut done {
            let torque_nm = way.next(&pairs).expect("a torque").torque_nm;
            let stretch_mm = bolt.pull(torque_nm);
            used = used.max(bolt.used());
            pairs.push(TorqueStretchPair { torque_nm, stretch_mm });
            match band.judge(stretch_mm) {
                Verdict::Good => {
                    *pulls += 1;
                    break;
                }
                Verdict::Over => drop(bolt.loosen()),
                Verdict::Low => {}
            }
        }
    }
    let mut so_far = 0;
    let inside = done.map(|count| {
        so_far += count;
        f64::from(so_far) / f64::from(BOLTS)
    });
    Went { inside, used }
}

#[test]
fn in_four_pulls_nearly_every_bolt_is_stretched_as_it_should_and_none_past_its_limit() {
    for (scatter, step_nm) in
        [(0.01, None), (0.015, None), (0.03, None), (0.01, Some(8.0)), (0.015, Some(8.0)), (0.03, Some(8.0))]
    {
        let Went { inside, used } = climb(scatter, step_nm);
        println!(
            "scatter {scatter}, step {step_nm:?}: inside after 1 to 8 pulls {inside:.4?}, used {used:.3}"
        );
        assert!(used <= 0.9, "{used}");
        if (scatter, step_nm) == (0.015, None) {
            assert!(inside[3] >= 0.99, "{inside:?}");
        }
    }
}
