//! Both readers of what people type, on texts that somebody mangled: none stops them, and none holds them up.
//!
//! `measure mangled CASES` takes as many cases of each; a case that makes a reader panic ends the measuring with its
//! number, by which it is made again.

use crate::table::{Aim, Table, ms};
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};
use rigore_core::plan::edit::edit;
use rigore_core::plan::{Plan, procedure};
use std::hint::black_box;
use std::time::Instant;

/// Lines such as manuals have.
const LINES: [&str; 6] = [
    "inner: in 3 equal steps to 88 N·m, then 60°; outer: 25 lbf·ft snug, 90° twice; side: 23 N·m ± 2, centre out",
    "Step 1: 40 N·m\nStep 2: 70 N·m\nfinal: 90° in one pull, order 1 2 3 4",
    "stretch 0.0052 in, not over 58 lbf·ft, loosen between",
    "until it stops rising, 30 to 40 lbf·ft, then check",
    "40-50 lbf·ft, forward to the next slot",
    "50 %, 75 %, 100 % of 9,5 kgf·m, lubricant moly-paste, by hand, wait 10 min",
];
/// A plan of every kind of thing, short enough for millions.
const SHORT: &str = include_str!("short-plan.toml");
const PLANS: [&str; 3] = [
    SHORT,
    include_str!("../../../../../plans/ostra-11.toml"),
    include_str!("../../../../../plans/skerry-8.toml"),
];
/// What is put in between.
const PIECES: [&str; 24] = [
    "[[",
    "]]",
    "= ",
    "\"",
    "\"?\"",
    "{",
    "}",
    "[",
    "]",
    "\n[[joint]]\n",
    "\n[[operation]]\n",
    "-1",
    "1e308",
    "nan",
    "0",
    "±",
    "N·m",
    "°",
    "%",
    "then ",
    ", ",
    "999999999999999999999",
    "\u{0}",
    "é\u{301}",
];

fn mangled(of: &str, random: &mut StdRng) -> String {
    let mut text = of.as_bytes().to_vec();
    for _ in 0..random.random_range(1..=4) {
        let at = random.random_range(0..=text.len());
        let end = (at + random.random_range(0..40)).min(text.len());
        let piece: Vec<u8> = match random.random_range(0..4) {
            0 => PIECES[random.random_range(0..PIECES.len())].into(),
            1 => (0..random.random_range(0..12)).map(|_| random.random()).collect(),
            2 => {
                let from = random.random_range(0..=text.len());
                text[from..(from + 80).min(text.len())].to_vec()
            }
            _ => Vec::new(),
        };
        text.splice(at..end, piece);
    }
    String::from_utf8_lossy(&text).into_owned()
}

/// Reads mangled lines and plans, so many of each.
pub fn measure(table: &mut Table, cases: u64) {
    let (mut line, mut plan) = (0.0_f64, 0.0_f64);
    for case in 0..cases {
        let mut random = StdRng::seed_from_u64(case);
        let text = mangled(LINES[random.random_range(0..LINES.len())], &mut random);
        let start = Instant::now();
        let read = procedure::read(&text);
        black_box(read.line());
        line = line.max(ms(start.elapsed()));
        // The long ones take a hundred times as long: one in a hundred.
        let of = if case % 100 == 0 { random.random_range(1..PLANS.len()) } else { 0 };
        let text = mangled(PLANS[of], &mut random);
        let start = Instant::now();
        black_box(Plan::draft("plan", &text).usable);
        plan = plan.max(ms(start.elapsed()));
        if let Ok(same) = edit(&text, &[]) {
            let (same, text) = (same.replace("\r\n", "\n"), text.replace("\r\n", "\n"));
            let at = same.bytes().zip(text.bytes()).take_while(|(a, b)| a == b).count();
            let around = |of: &str| {
                String::from_utf8_lossy(&of.as_bytes()[at.saturating_sub(30)..(at + 30).min(of.len())])
                    .into_owned()
            };
            assert!(
                same == text,
                "case {case}: an edit of nothing made {:?} of {:?}",
                around(&same),
                around(&text)
            );
        }
    }
    table.row(&format!("the slowest of {cases} mangled lines read, ms"), line, Aim::AtMost(50.0));
    table.row(&format!("the slowest of {cases} mangled plans read, ms"), plan, Aim::AtMost(50.0));
}
