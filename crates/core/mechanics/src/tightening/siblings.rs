//! Comparing pulls of one joint with each other (C-22, M-14): the odd one out by median and median
//! absolute deviation.

/// Fewer siblings than this say nothing about one another.
const LEAST: usize = 5;
/// Beyond this many robust standard deviations one is odd.
const ODD: f64 = 3.5;
/// The median absolute deviation of a normal scatter, in standard deviations.
const MAD_OF_SIGMA: f64 = 0.674_5;
/// Scatter below this share of the median is what any wrench has.
const LEAST_SCATTER: f64 = 0.01;

/// One that stands out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Outlier {
    /// Its place.
    pub at: usize,
    /// Whether it is above the others.
    pub above: bool,
    /// What the others have: their median.
    pub usual: f64,
}

fn median(values: &mut [f64]) -> f64 {
    values.sort_by(f64::total_cmp);
    let half = values.len() / 2;
    if values.len() % 2 == 1 { values[half] } else { f64::midpoint(values[half - 1], values[half]) }
}

/// Those that stand out among values that should be alike; none where there are too few to tell.
pub fn outliers(values: &[f64]) -> Vec<Outlier> {
    if values.len() < LEAST {
        return Vec::new();
    }
    let usual = median(&mut values.to_vec());
    let mut off: Vec<f64> = values.iter().map(|value| (value - usual).abs()).collect();
    let scatter = (median(&mut off) / MAD_OF_SIGMA).max(LEAST_SCATTER * usual.abs());
    let odd = values.iter().enumerate().filter(|(_, value)| ((*value - usual) / scatter).abs() > ODD);
    odd.map(|(at, value)| Outlier { at, above: *value > usual, usual }).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_one_that_climbs_too_little_is_found_and_usual_scatter_is_not() {
        assert_eq!(outliers(&[61.0, 60.0, 62.0, 59.5, 60.5, 61.5]), []);
        let odd = outliers(&[61.0, 60.0, 62.0, 48.0, 60.5, 61.5]);
        assert_eq!(odd, [Outlier { at: 3, above: false, usual: 60.75 }]);
        let odd = outliers(&[61.0, 60.0, 62.0, 60.0, 75.0, 61.5]);
        assert!(odd.len() == 1 && odd[0].at == 4 && odd[0].above);
    }

    #[test]
    fn too_few_say_nothing_and_equal_ones_are_not_odd() {
        assert_eq!(outliers(&[60.0, 20.0, 60.0, 60.0]), []);
        assert_eq!(outliers(&[60.0; 8]), []);
        assert_eq!(outliers(&[60.0, 60.0, 60.0, 60.0, 60.0, 61.0]), []);
        assert_eq!(outliers(&[]), []);
    }
}
