//! The table that is printed, row by row.

use std::time::Duration;

/// What a figure is held against. A yardstick is measured in the same run, so that a slow machine does not decide
/// whether an aim is met.
#[derive(Debug, Clone, Copy)]
pub enum Aim {
    /// It is small enough up to this.
    AtMost(f64),
    /// It is large enough from this.
    AtLeast(f64),
    /// It is at most so many times a yardstick.
    Times(f64, Yardstick),
    /// It is at least this share of a yardstick.
    Share(f64, Yardstick),
    /// It is at most so much more than a yardstick.
    Beyond(f64, Yardstick),
    /// It is told, without an aim.
    Told,
}

/// Something that was measured in the same run and unit.
#[derive(Debug, Clone, Copy)]
pub struct Yardstick {
    /// What it is.
    pub name: &'static str,
    /// Its value.
    pub value: f64,
}

impl Aim {
    /// The aim as it is printed, and whether a value meets it.
    fn judge(self, value: f64) -> (String, Option<bool>) {
        match self {
            Self::AtMost(most) => (format!("<= {most}"), Some(value <= most)),
            Self::AtLeast(least) => (format!(">= {least}"), Some(value >= least)),
            Self::Times(most, Yardstick { name, value: yardstick }) => {
                let times = value / yardstick;
                (format!("{times:.2} x {name} ({}), <= {most}", digits(yardstick)), Some(times <= most))
            }
            Self::Share(least, Yardstick { name, value: yardstick }) => {
                let share = value / yardstick;
                (format!("{share:.2} of {name} ({}), >= {least}", digits(yardstick)), Some(share >= least))
            }
            Self::Beyond(most, Yardstick { name, value: yardstick }) => {
                let beyond = value - yardstick;
                let text = format!("{} over {name} ({}), <= {most}", digits(beyond), digits(yardstick));
                (text, Some(beyond <= most))
            }
            Self::Told => (String::new(), None),
        }
    }
}

/// A value with as many digits as are read.
fn digits(value: f64) -> String {
    let places = if value.abs() >= 100.0 { 0 } else { 2 };
    format!("{value:.places$}")
}

/// Rows so far.
#[derive(Debug, Default)]
pub struct ResultTable {
    met: usize,
    missed: Vec<String>,
}

impl ResultTable {
    /// Prints the head.
    pub fn begin() -> Self {
        println!("{:62} {:>10}  {:52}", "measured", "value", "against");
        Self::default()
    }

    /// Prints a row; what it is says its unit.
    pub fn row(&mut self, what: &str, value: f64, aim: Aim) {
        let (against, met) = aim.judge(value);
        let verdict = match met {
            Some(true) => "met",
            Some(false) => "MISSED",
            None => "",
        };
        println!("{what:62} {:>10}  {against:52} {verdict}", digits(value));
        match met {
            Some(true) => self.met += 1,
            Some(false) => self.missed.push(what.to_owned()),
            None => {}
        }
    }

    /// Prints how many aims were met, and which were not.
    pub fn end(&self) {
        println!("\n{} aims met, {} missed", self.met, self.missed.len());
        for what in &self.missed {
            println!("  missed: {what}");
        }
    }
}

/// Milliseconds.
pub fn ms(duration: Duration) -> f64 {
    duration.as_secs_f64() * 1000.0
}

/// Microseconds.
pub fn us(duration: Duration) -> f64 {
    duration.as_secs_f64() * 1e6
}

/// The value that this share, in percent, of the others stays under. Sorts them.
pub fn percentile(values: &mut [f64], percent: usize) -> f64 {
    values.sort_by(f64::total_cmp);
    values[(values.len() - 1) * percent / 100]
}
