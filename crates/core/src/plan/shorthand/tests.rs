//! Forty ways of saying a procedure, what is asked about, and that reading what was written changes nothing.

use super::{Asked, Figure, MOST, Procedure, Said, Spread, read};
use crate::tightening::Pattern;
use proptest::prelude::*;

/// The stages of a line in a short hand of this test: `T40` torque, `A90` angle, `S0.15<62` stretch with its limit.
fn short(text: &str) -> String {
    let read = read(text);
    assert!(read.faults.is_empty(), "{text}: {:?}", read.faults);
    let back = super::read(&read.line());
    assert_eq!(back.line(), read.line(), "{text}");
    assert_eq!(fine(&back), fine(&read), "{text} is written as {}", read.line());
    stages(&read)
}

fn stages(read: &Procedure) -> String {
    read.stages.iter().map(|said| one(said, 2)).collect::<Vec<_>>().join(" ")
}

/// The same with as many decimals as are written.
fn fine(read: &Procedure) -> String {
    read.stages.iter().map(|said| one(said, 5)).collect::<Vec<_>>().join(" ")
}

fn one(said: &Said, decimals: usize) -> String {
    let number =
        |value: f64| format!("{value:.decimals$}").trim_end_matches('0').trim_end_matches('.').to_owned();
    let figure = |figure: Figure| match figure.spread {
        Spread::Unsaid => number(figure.target),
        Spread::Within(so) => format!("{}±{}", number(figure.target), number(so)),
        Spread::Range(low, high) => format!("{}..{}", number(low), number(high)),
    };
    let asked = match said.asked {
        Asked::RunDown => "hand".to_owned(),
        Asked::Torque { nm, snug } => format!("T{}{}", figure(nm), if snug { "s" } else { "" }),
        Asked::Angle(deg) => format!("A{}", figure(deg)),
        Asked::TorqueAngle { nm, deg } => format!("T{}A{}", figure(nm), figure(deg)),
        Asked::Stretch { mm, limit_nm } => {
            format!("S{}{}", figure(mm), limit_nm.map(|nm| format!("<{}", number(nm))).unwrap_or_default())
        }
        Asked::Yield { low_nm, high_nm } => format!("Y{}..{}", number(low_nm), number(high_nm)),
        Asked::Castellated { low_nm, high_nm } => format!("C{}..{}", number(low_nm), number(high_nm)),
        Asked::Recheck { nm } => format!("R{}", number(nm)),
        Asked::Loosen => "loose".to_owned(),
    };
    said.group.as_ref().map_or(asked.clone(), |group| format!("{group}/{asked}"))
}

#[test]
fn manuals_are_written_by_many_hands() {
    for (text, expected) in [
        ("40 N·m, 70 N·m, then 90° twice", "T40 T70 A90 A90"),
        ("in 3 equal steps to 90 N·m", "T30 T60 T90"),
        ("25 lbf·ft snug, 60°", "T33.9s A60"),
        ("inner: 30 N·m, 60°; side: 23 N·m", "inner/T30 inner/A60 side/T23"),
        ("stretch 0.0052 in, not over 58 lbf·ft", "S0.13<78.64"),
        ("until it stops rising, 30 to 40 lbf·ft", "Y40.67..54.23"),
        ("40-50 lbf·ft, forward to the next slot", "C54.23..67.79"),
        ("90° then 40 N·m", "A90 T40"),
        ("40, 70, 90 Nm", "T40 T70 T90"),
        ("40,70,90 Nm", "T40 T70 T90"),
        ("40 Nm; 70 Nm; 90 Nm", "T40 T70 T90"),
        ("30, 60, then 90 N·m", "T30 T60 T90"),
        ("Step 1: 40 N·m\nStep 2: 70 N·m\nStep 3: 90°", "T40 T70 A90"),
        ("1st pass 20 lbf·ft, 2nd pass 40 lbf·ft, final 65 lbf·ft", "T27.12 T54.23 T88.13"),
        ("1) 40 N·m 2) 70 N·m", "T40 T70"),
        ("1. 40 Nm\n2. 90°\n3. 90°", "T40 A90 A90"),
        ("First 40 N·m, second 70 N·m, finally 90 degrees", "T40 T70 A90"),
        ("Tighten to 40 N·m, then turn a further 90°", "T40 A90"),
        ("torque to 40 Nm + 90 deg + 90 deg", "T40 A90 A90"),
        ("40 N·m followed by 45°", "T40 A45"),
        ("40 N·m then a quarter turn", "T40 A90"),
        ("40 N·m and 1/4 turn", "T40 A90"),
        ("40 N·m, half a turn", "T40 A180"),
        ("15 lb-ft, then two flats", "T20.34 A120"),
        ("50 %, 75 %, 100 % of 90 N·m", "T45 T67.5 T90"),
        ("50%, 75% and 100% of 90 Nm", "T45 T67.5 T90"),
        ("90 N·m in three equal steps", "T30 T60 T90"),
        ("90 N·m, in 3 steps", "T30 T60 T90"),
        ("180° in two equal steps", "A90 A90"),
        ("40 N·m and 60° in one pull", "T40A60"),
        ("40 N·m + 60°, in one go", "T40A60"),
        ("60 ± 3 N·m", "T60±3"),
        ("60 N·m ± 5 %", "T60±3"),
        ("60 N·m +/- 3 N·m, 90° ± 4°", "T60±3 A90±4"),
        ("60 N·m, ± 3", "T60±3"),
        ("40-50 N·m", "T40..50"),
        ("between 40 and 50 N·m", "T40..50"),
        ("from 40 to 50 N·m", "T40..50"),
        ("40 N·m to 50 N·m", "T40..50"),
        ("by hand, 10 N·m, 40 N·m", "hand T10 T40"),
        ("run down by hand until it touches, then 40 N·m", "hand T40"),
        ("40 N·m, loosen, 30 N·m, 90°", "T40 loose T30 A90"),
        ("30 N·m, 60 N·m, check 60 N·m", "T30 T60 R60"),
        ("60 N·m, recheck", "T60 R60"),
        ("snug: 25 N·m, angle: 75°", "T25s A75"),
        ("25 N·m, snug, 75°", "T25s A75"),
        ("stretch 0.15 mm not over 62 N·m", "S0.15<62"),
        ("stretch: 0.15 mm, max 62 N·m", "S0.15<62"),
        ("0.14 to 0.16 mm", "S0.14..0.16"),
        ("30-40 lbf·ft until it rises no more", "Y40.67..54.23"),
        ("40 N·m to the next slot", "C40..40"),
        ("9,5 Nm", "T9.5"),
        ("0,15 mm", "S0.15"),
        ("M10 bolts: 50 N·m; M8 bolts: 25 N·m", "M10 bolts/T50 M8 bolts/T25"),
        ("40 N·m x 2", "T40 T40"),
        ("40 N·m, 2 x 90°", "T40 A90 A90"),
        ("40 N·m, twice", "T40 T40"),
        ("65 in-lb, 100 in-lb", "T7.34 T11.3"),
        ("4 kgf·m", "T39.23"),
        ("40 N·m (oiled), 90°", "T40 A90"),
        ("60 lbf·ft, ± 3", "T81.35±4.07"),
        ("180° ± 4° in two equal steps", "A90±2 A90±2"),
        ("40 N·m then two turns", "T40 A720"),
        ("inner: 30 N·m then side: 23 N·m", "inner/T30 side/T23"),
        ("bolts: 50 N·m; nuts: 40 N·m", "bolts/T50 nuts/T40"),
        ("1: 40 N·m\n2: 70 N·m", "T40 T70"),
        ("final 30, 60 N·m", "T30 T60"),
        ("pass 10, 20, 30 N·m", "T10 T20 T30"),
        ("step 1, 40 N·m, step 2, 70 N·m", "T40 T70"),
        ("step one 40 N·m", "T40"),
    ] {
        assert_eq!(short(text), expected, "{text}");
    }
}

#[test]
fn order_and_lubricant_are_said_with_it() {
    for (text, order, lubricant) in [
        ("40 N·m, 70 N·m, then 90° twice, centre out", Some(Pattern::CentreOut), None),
        ("20 Nm, 40 Nm criss-cross", Some(Pattern::CrissCross), None),
        ("40 N·m, from the ends in, with moly paste", Some(Pattern::OutsideIn), Some("moly-paste")),
        ("threads lightly oiled: 40 N·m", None, Some("engine-oil")),
        ("40 N·m dry", None, Some("dry")),
    ] {
        let read = read(text);
        assert_eq!((read.order, read.lubricant), (order, lubricant), "{text}: {read:?}");
        assert!(read.faults.is_empty(), "{text}: {:?}", read.faults);
    }
    let shipped: Vec<String> = crate::friction::shipped().into_iter().map(|of| of.id).collect();
    for word in [
        "degreased",
        "dry",
        "oiled",
        "moly",
        "assembly paste",
        "anti-seize",
        "threadlocker",
        "thread sealant",
    ] {
        let key = read(&format!("40 N·m, {word}")).lubricant.expect("a lubricant");
        assert!(shipped.iter().any(|id| id == key), "{word} is {key}");
    }
}

#[test]
fn what_cannot_be_read_or_in_two_ways_is_told_under_its_words() {
    for (text, words, message) in [
        ("30", "30", "30 of what?"),
        ("40 N·m, 70", "70", "70 of what?"),
        ("", "", "nothing is asked"),
        ("30,60 N·m", "30,60", "30, then 60, or 30.6"),
        ("40, 70, then 90°", "40", "40 of what?"),
        ("40 N·m - 50 N·m", "40 N·m - 50 N·m", "anything between"),
        ("40 N·m wobble", "wobble", "`wobble` was not understood"),
        ("inner 30 N·m", "inner", "ends with a colon"),
        ("until it stops rising", "until it stops rising", "between which torques"),
        (
            "90 N·m until it stops rising 40 N·m",
            "90 N·m until it stops rising 40 N·m",
            "between which torques",
        ),
        ("50 %, 100 %", "50 %", "of what?"),
        ("60° in one pull", "60° in one pull", "a torque and an angle"),
        ("40 N·m, not over 60 N·m", "not over 60 N·m", "say the stretch before it"),
        ("0 N·m", "0 N·m", "more than zero"),
        ("40 N·m 99 times", "99 times", "1 to 12"),
        ("60 N·m ± 3 mm", "60 N·m ± 3 mm", "measures something else"),
        ("60 N·m, ± 3 mm", "60 N·m, ± 3 mm", "measures something else"),
        ("inner: 60 N·m; side: ± 3", "± 3", "stands behind its figure"),
        ("3 ± 5 N·m", "3 ± 5 N·m", "more than zero"),
        ("in equal steps to 90 N·m", "equal steps", "how many?"),
        ("stretch to 40 N·m", "stretch to 40 N·m", "stretched by how much?"),
        ("snug 60°", "snug 60°", "a torque is needed"),
        ("loosen 90°", "loosen 90°", "all the way"),
        ("50-40 N·m", "50-40 N·m", "runs downwards"),
        ("torque (10) N·m", "10", "10 of what?"),
        ("stretch 0.15 mm, not over 58 to 62 N·m", "not over 58 to 62 N·m", "not over what?"),
        ("inner: 30 N·m oiled; side: 20 N·m dry", "20 N·m dry", "another one was said"),
    ] {
        let read = read(text);
        let found = read
            .faults
            .iter()
            .any(|fault| fault.message.contains(message) && &text[fault.at.clone()] == words);
        assert!(found, "{text}: {:?}", read.faults);
    }
    assert!(read(&"4 N·m, ".repeat(MOST)).faults[0].message.contains("at most"));
    // What was understood is there all the same.
    assert_eq!(stages(&read("40 N·m, wobble, 90°")), "T40 A90");
}

fn figure(most: u32, step: f64) -> impl Strategy<Value = Figure> {
    (1..most, 0..3_u8, 1..20_u32).prop_map(move |(target, spread, so)| {
        let (target, so) = (f64::from(target) * step, f64::from(so) * step);
        match spread {
            0 => Figure { target, spread: Spread::Unsaid },
            // What may be off by all of it is no figure.
            1 => Figure { target, spread: Spread::Within(so.min(target - step / 2.0)) },
            _ => Figure {
                target: f64::midpoint(target, target + so),
                spread: Spread::Range(target, target + so),
            },
        }
    })
}

fn asked() -> impl Strategy<Value = Asked> {
    let nm = || figure(400, 0.5);
    let deg = || figure(360, 1.0);
    prop_oneof![
        Just(Asked::RunDown),
        (nm(), any::<bool>()).prop_map(|(nm, snug)| Asked::Torque { nm, snug }),
        deg().prop_map(Asked::Angle),
        (nm(), deg()).prop_map(|(nm, deg)| Asked::TorqueAngle { nm, deg }),
        (figure(400, 0.0005), proptest::option::of(1..200_u32))
            .prop_map(|(mm, limit)| Asked::Stretch { mm, limit_nm: limit.map(f64::from) }),
        (1..100_u32, 1..50_u32)
            .prop_map(|(low, more)| Asked::Yield { low_nm: f64::from(low), high_nm: f64::from(low + more) }),
        (1..100_u32, 0..50_u32).prop_map(|(low, more)| Asked::Castellated {
            low_nm: f64::from(low),
            high_nm: f64::from(low + more)
        }),
        (1..400_u32).prop_map(|nm| Asked::Recheck { nm: f64::from(nm) }),
        Just(Asked::Loosen),
    ]
}

fn groups() -> impl Strategy<Value = Vec<(Option<&'static str>, Vec<Asked>)>> {
    let names = ["inner", "outer", "side bolts", "M8 studs"];
    let stages = || proptest::collection::vec(asked(), 1..6);
    prop_oneof![
        stages().prop_map(|stages| vec![(None, stages)]),
        proptest::collection::vec(stages(), 1..4).prop_map(move |all| names
            .into_iter()
            .map(Some)
            .zip(all)
            .collect()),
    ]
}

proptest! {
    #[test]
    fn reading_what_was_written_gives_the_same_stages(groups in groups()) {
        let mut stages: Vec<Said> = Vec::new();
        for (group, asked) in groups {
            for asked in asked {
                let group = group.map(str::to_owned);
                // Nothing is run down by hand twice in a row.
                let twice = stages.last().is_some_and(|last| last.asked == Asked::RunDown && asked == Asked::RunDown);
                if !twice {
                    stages.push(Said { group, asked, at: 0..0 });
                }
            }
        }
        let written = Procedure { stages, ..Procedure::default() };
        let line = written.line();
        let back = read(&line);
        prop_assert!(back.faults.is_empty(), "{line}: {:?}", back.faults);
        prop_assert_eq!(fine(&back), fine(&written), "{}", line);
        prop_assert_eq!(back.line(), line);
    }

    #[test]
    fn no_text_makes_it_panic_and_every_fault_has_its_place(text in "\\PC{0,60}") {
        for fault in read(&text).faults {
            prop_assert!(text.get(fault.at).is_some());
        }
    }

    #[test]
    fn no_pile_of_its_own_words_makes_it_panic(
        words in proptest::collection::vec(
            prop_oneof![
                Just("40"), Just("N·m"), Just("°"), Just(","), Just("then"), Just("twice"), Just("in"), Just("3"),
                Just("equal steps"), Just("%"), Just("of"), Just("±"), Just(":"), Just("inner"), Just("snug"),
                Just("in one pull"), Just("stretch"), Just("not over"), Just("to the next slot"), Just("-"), Just("x"),
                Just("until it stops rising"), Just("1/4 turn"), Just("check"), Just("loosen"), Just("by hand"), Just("0,5"),
            ],
            0..24,
        )
    ) {
        let text = words.join(" ");
        let read = read(&text);
        for fault in &read.faults {
            prop_assert!(text.get(fault.at.clone()).is_some());
        }
        if read.faults.is_empty() {
            prop_assert_eq!(super::read(&read.line()).line(), read.line(), "{}", text);
        }
    }
}
