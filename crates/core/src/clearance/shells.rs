//! Choosing graded bearing shells (C-31).

use super::verdict::Window;
use serde::Serialize;

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
/// each. Shells of one bore are at most one grade apart. `grades` rise in thickness.
pub fn choose_shells(rooms_mm: &[f64], grades: &[ShellGrade], window: &Window) -> Vec<ShellChoice> {
    let pairs: Vec<(usize, usize)> =
        (0..grades.len()).flat_map(|a| [(a, a), (a, a + 1)]).filter(|(_, b)| *b < grades.len()).collect();
    let fit = |room: f64, (upper, lower): (usize, usize)| {
        let clearance_mm = room - grades[upper].thickness_mm - grades[lower].thickness_mm;
        let inside = (window.low_mm..=window.high_mm).contains(&clearance_mm);
        ShellChoice { upper, lower, clearance_mm, inside }
    };
    let off = |choice: &ShellChoice| (choice.clearance_mm - window.target_mm).abs();
    let alike = pairs
        .iter()
        .filter(|(upper, lower)| upper == lower)
        .map(|&pair| rooms_mm.iter().map(|&room| fit(room, pair)).collect::<Vec<_>>());
    let for_all = alike
        .filter(|choices| !choices.is_empty() && choices.iter().all(|choice| choice.inside))
        .min_by(|a, b| a.iter().map(off).sum::<f64>().total_cmp(&b.iter().map(off).sum()));
    for_all.unwrap_or_else(|| {
        let best =
            |&room: &f64| pairs.iter().map(|&pair| fit(room, pair)).min_by(|a, b| off(a).total_cmp(&off(b)));
        rooms_mm.iter().filter_map(best).collect()
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const WINDOW: Window = Window { low_mm: 0.040, high_mm: 0.060, target_mm: 0.050 };

    fn grades() -> Vec<ShellGrade> {
        [("A", 1.980), ("B", 1.985), ("C", 1.990)]
            .map(|(name, thickness_mm)| ShellGrade { name: name.into(), thickness_mm })
            .into()
    }

    #[test]
    fn one_pair_for_all_where_that_meets_the_window() {
        let choices = choose_shells(&[4.018, 4.022, 4.020], &grades(), &WINDOW);
        assert!(choices.iter().all(|c| (c.upper, c.lower) == (1, 1) && c.inside), "{choices:?}");
    }

    #[test]
    fn else_the_nearest_pair_for_each_bore_mixed_by_one_grade() {
        let choices = choose_shells(&[4.010, 4.025, 4.031], &grades(), &WINDOW);
        assert_eq!((choices[0].upper, choices[0].lower), (0, 0));
        assert_eq!((choices[1].upper, choices[1].lower), (1, 2));
        assert!((choices[1].clearance_mm - 0.050).abs() < 1e-9);
    }

    proptest! {
        #[test]
        fn shells_of_one_bore_are_at_most_one_grade_apart(rooms in prop::collection::vec(3.9f64..4.1, 1..8)) {
            let choices = choose_shells(&rooms, &grades(), &WINDOW);
            prop_assert_eq!(choices.len(), rooms.len());
            prop_assert!(choices.iter().all(|c| c.lower - c.upper <= 1));
        }
    }
}
