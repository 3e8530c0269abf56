//! Choosing graded bearing shells (C-31).

use super::verdict::Window;
use serde::Serialize;
use std::collections::BTreeMap;

/// A grade of shell that is at hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShellGrade {
    /// What the grade is called.
    pub name: String,
    /// Thickness at the crown, mm.
    pub thickness_mm: f64,
}

/// The shells proposed for one bore.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShellChoice {
    /// Upper shell, by place among the grades.
    pub upper: usize,
    /// Lower shell, by place among the grades.
    pub lower: usize,
    /// The clearance they give, mm.
    pub clearance_mm: f64,
    /// Whether that is inside the window.
    pub inside: bool,
}

/// Proposes shells for bores whose room (housing bore less journal, mean, mm) is given: the same
/// pair for all where that meets the window in every bore, else the pair nearest the target in
/// each. Shells of one bore are at most one grade apart. `grades` rise in thickness. `stock` says
/// how many shells of each grade are at hand; empty or `None` means enough. Where the stock does
/// not go round, the choice that is best on the whole is proposed, and nothing where none is.
pub fn choose_shells(
    rooms_mm: &[f64],
    grades: &[ShellGrade],
    stock: &[Option<u32>],
    window: &Window,
) -> Vec<ShellChoice> {
    let pairs: Vec<(usize, usize)> =
        (0..grades.len()).flat_map(|a| [(a, a), (a, a + 1)]).filter(|(_, b)| *b < grades.len()).collect();
    let fit = |room: f64, (upper, lower): (usize, usize)| {
        let clearance_mm = room - grades[upper].thickness_mm - grades[lower].thickness_mm;
        let inside = (window.low..=window.high).contains(&clearance_mm);
        ShellChoice { upper, lower, clearance_mm, inside }
    };
    let off = |choice: &ShellChoice| (choice.clearance_mm - window.target).abs();
    let at_hand = |choices: &[ShellChoice]| {
        let used = |grade| choices.iter().flat_map(|c| [c.upper, c.lower]).filter(|g| *g == grade).count();
        (0..grades.len()).all(|grade| left(stock, grade).is_none_or(|most| used(grade) <= most))
    };
    let alike = pairs
        .iter()
        .filter(|(upper, lower)| upper == lower)
        .map(|&pair| rooms_mm.iter().map(|&room| fit(room, pair)).collect::<Vec<_>>());
    let for_all = alike
        .filter(|choices| !choices.is_empty() && choices.iter().all(|choice| choice.inside))
        .filter(|choices| at_hand(choices))
        .min_by(|a, b| a.iter().map(off).sum::<f64>().total_cmp(&b.iter().map(off).sum()));
    if let Some(choices) = for_all {
        return choices;
    }
    let options: Vec<Vec<ShellChoice>> =
        rooms_mm.iter().map(|&room| pairs.iter().map(|&pair| fit(room, pair)).collect()).collect();
    let nearest =
        |of_bore: &Vec<ShellChoice>| of_bore.iter().copied().min_by(|a, b| off(a).total_cmp(&off(b)));
    let best: Vec<ShellChoice> = options.iter().filter_map(nearest).collect();
    if at_hand(&best) { best } else { share_out(&options, grades.len(), stock, off) }
}

fn left(stock: &[Option<u32>], grade: usize) -> Option<usize> {
    stock.get(grade).copied().flatten().map(|count| count as usize)
}

/// The cheapest way to give every bore a pair out of a stock: bore by bore, the cheapest way to
/// have used up each combination of shells.
fn share_out(
    options: &[Vec<ShellChoice>],
    grades: usize,
    stock: &[Option<u32>],
    cost: impl Fn(&ShellChoice) -> f64,
) -> Vec<ShellChoice> {
    let mut ways: BTreeMap<Vec<usize>, (f64, Vec<ShellChoice>)> =
        BTreeMap::from([(vec![0; grades], (0.0, Vec::new()))]);
    for of_bore in options {
        let mut longer: BTreeMap<Vec<usize>, (f64, Vec<ShellChoice>)> = BTreeMap::new();
        for (used, (so_far, choices)) in &ways {
            for choice in of_bore {
                let mut now = used.clone();
                now[choice.upper] += 1;
                now[choice.lower] += 1;
                let enough = |grade: usize| left(stock, grade).is_none_or(|most| now[grade] <= most);
                let total = so_far + cost(choice).powi(2);
                let better = longer.get(&now).is_none_or(|(known, _)| total < *known);
                if enough(choice.upper) && enough(choice.lower) && better {
                    let with = choices.iter().copied().chain([*choice]).collect();
                    longer.insert(now, (total, with));
                }
            }
        }
        ways = longer;
    }
    let cheapest = ways.into_values().min_by(|a, b| a.0.total_cmp(&b.0));
    cheapest.map(|(_, choices)| choices).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const WINDOW: Window = Window { low: 0.040, high: 0.060, target: 0.050 };

    fn grades() -> Vec<ShellGrade> {
        [("A", 1.980), ("B", 1.985), ("C", 1.990)]
            .map(|(name, thickness_mm)| ShellGrade { name: name.into(), thickness_mm })
            .into()
    }

    #[test]
    fn one_pair_for_all_where_that_meets_the_window() {
        let choices = choose_shells(&[4.018, 4.022, 4.020], &grades(), &[], &WINDOW);
        assert!(choices.iter().all(|c| (c.upper, c.lower) == (1, 1) && c.inside), "{choices:?}");
    }

    #[test]
    fn else_the_nearest_pair_for_each_bore_mixed_by_one_grade() {
        let choices = choose_shells(&[4.010, 4.025, 4.031], &grades(), &[], &WINDOW);
        assert_eq!((choices[0].upper, choices[0].lower), (0, 0));
        assert_eq!((choices[1].upper, choices[1].lower), (1, 2));
        assert!((choices[1].clearance_mm - 0.050).abs() < 1e-9);
    }

    #[test]
    fn a_short_stock_is_shared_out_for_the_best_on_the_whole() {
        let rooms = [4.018, 4.022, 4.020];
        let stock = [None, Some(3), None];
        let choices = choose_shells(&rooms, &grades(), &stock, &WINDOW);
        let used = choices.iter().flat_map(|c| [c.upper, c.lower]).filter(|grade| *grade == 1).count();
        assert!(used <= 3 && choices.len() == 3 && choices.iter().all(|c| c.inside), "{choices:?}");
        assert_eq!(choose_shells(&rooms, &grades(), &[Some(0), Some(2), Some(2)], &WINDOW), []);
    }

    proptest! {
        #[test]
        fn no_more_shells_are_proposed_than_are_at_hand(
            rooms in prop::collection::vec(3.97f64..4.06, 1..6),
            stock in prop::collection::vec(prop::option::of(0u32..8), 3),
        ) {
            let choices = choose_shells(&rooms, &grades(), &stock, &WINDOW);
            for (grade, most) in stock.iter().enumerate() {
                let used = choices.iter().flat_map(|c| [c.upper, c.lower]).filter(|g| *g == grade).count();
                prop_assert!(most.is_none_or(|most| used <= most as usize));
            }
        }

        #[test]
        fn shells_of_one_bore_are_at_most_one_grade_apart(rooms in prop::collection::vec(3.9f64..4.1, 1..8)) {
            let choices = choose_shells(&rooms, &grades(), &[], &WINDOW);
            prop_assert_eq!(choices.len(), rooms.len());
            prop_assert!(choices.iter().all(|c| c.lower - c.upper <= 1));
        }
    }
}
