//! Stages by rule: equal steps or shares of a final torque, as a wrench can be set (M-11).

use crate::message::Message;
use crate::quantity::{Quantity, Unit};
use crate::{message, text};
use thiserror::Error;

/// Most steps to a torque.
pub const MOST: u32 = 12;

/// Why a torque cannot be reached in steps.
#[derive(Debug, Clone, Copy, PartialEq, Error)]
pub enum StepError {
    /// Two steps would be set alike, or one at nothing.
    #[error("{}", text!("mechanics-steps-wrench-too-coarse-tell-these"))]
    TooCoarse(f64),
    /// The shares do not rise to the whole.
    #[error("{}", text!("mechanics-shares-have-rise-from-above-0"))]
    Shares,
}

impl StepError {
    /// What is wrong, for people, with the unit that the steps were given in.
    pub fn message(&self, unit: &'static Unit) -> Message {
        match self {
            Self::TooCoarse(step) => message!(
                "mechanics-wrench-sets-steps-cannot-tell-these",
                step = Quantity::written_in(*step, unit),
            ),
            Self::Shares => self.to_string().into(),
        }
    }
}

/// The settings of so many equal steps to a final torque, each rounded to what the wrench can be set
/// to; all in N·m.
///
/// # Errors
/// [`StepError::TooCoarse`] where rounding makes two of them one.
pub fn equal(last: f64, steps: u32, resolution: f64) -> Result<Vec<f64>, StepError> {
    let shares: Vec<f64> = (1..=steps).map(|step| f64::from(step) / f64::from(steps)).collect();
    shared(last, &shares, resolution)
}

/// The settings for shares of a final torque, the last of them 1.
///
/// # Errors
/// [`StepError`] where the shares do not rise to 1, or rounding makes two of them one.
pub fn shared(last: f64, shares: &[f64], resolution: f64) -> Result<Vec<f64>, StepError> {
    let rise = shares.windows(2).all(|pair| pair[0] < pair[1]);
    let ends = shares.first().is_some_and(|first| *first > 0.0)
        && shares.last().is_some_and(|last| (last - 1.0).abs() < 1e-9);
    if !rise || !ends {
        return Err(StepError::Shares);
    }
    let set = |share: &f64| (last * share / resolution).round() * resolution;
    let mut settings: Vec<f64> = shares.iter().map(set).collect();
    // The last one is the torque itself, whatever the wrench can be set to.
    settings.pop();
    settings.push(last);
    let apart = settings.windows(2).all(|pair| pair[0] < pair[1]) && settings[0] > 0.0;
    if apart { Ok(settings) } else { Err(StepError::TooCoarse(resolution)) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn three_equal_steps_on_a_wrench_that_sets_whole_newton_metres() {
        assert_eq!(equal(88.0, 3, 1.0).unwrap(), [29.0, 59.0, 88.0]);
        // What is wanted in the end is never rounded.
        assert_eq!(equal(88.5, 3, 1.0).unwrap(), [30.0, 59.0, 88.5]);
        assert_eq!(shared(80.0, &[0.5, 0.75, 1.0], 1.0).unwrap(), [40.0, 60.0, 80.0]);
    }

    #[test]
    fn steps_that_a_wrench_cannot_tell_apart_are_refused() {
        assert_eq!(equal(4.0, 6, 1.0), Err(StepError::TooCoarse(1.0)));
        assert_eq!(equal(8.0, 2, 10.0), Err(StepError::TooCoarse(10.0)));
        assert_eq!(shared(80.0, &[0.5, 0.4, 1.0], 1.0), Err(StepError::Shares));
        assert_eq!(shared(80.0, &[0.5, 0.9], 1.0), Err(StepError::Shares));
        assert_eq!(shared(80.0, &[], 1.0), Err(StepError::Shares));
    }

    proptest! {
        #[test]
        fn steps_rise_and_none_is_off_by_more_than_half_a_step_of_the_wrench(
            last in 20.0f64..300.0, steps in 1u32..=6,
        ) {
            let settings = equal(last, steps, 1.0).unwrap();
            for (n, set) in (1..).zip(&settings) {
                prop_assert!((set - last * f64::from(n) / f64::from(steps)).abs() <= 0.5 + 1e-9);
            }
        }
    }
}
