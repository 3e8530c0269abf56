//! The table that is printed, row by row.

use std::time::Duration;

/// What a figure is held against.
#[derive(Debug, Clone, Copy)]
pub enum Aim {
    /// It is small enough up to this.
    AtMost(f64),
    /// It is large enough from this.
    AtLeast(f64),
    /// It is told, without an aim.
    Told,
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
        println!("{:58} {:>10}  {:>10}", "measured", "value", "aim");
        Self::default()
    }

    /// Prints a row; what it is says its unit.
    pub fn row(&mut self, what: &str, value: f64, aim: Aim) {
        let (bound, met) = match aim {
            Aim::AtMost(most) => (format!("<= {most}"), Some(value <= most)),
            Aim::AtLeast(least) => (format!(">= {least}"), Some(value >= least)),
            Aim::Told => (String::new(), None),
        };
        let verdict = match met {
            Some(true) => "met",
            Some(false) => "MISSED",
            None => "",
        };
        let digits = if value >= 100.0 { 0 } else { 2 };
        println!("{what:58} {value:>10.digits$}  {bound:>10}  {verdict}");
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
