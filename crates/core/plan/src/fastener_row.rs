//! Fasteners in a row, evenly from one end to the other.

/// A row as a plan writes it.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct FastenerRow<'a> {
    /// The key of each, in which `*` is its number.
    pub id: &'a str,
    /// How many, two at the least.
    pub count: u32,
    /// Where the first one is, mm.
    pub from: [f64; 2],
    /// Where the last one is, mm.
    pub to: [f64; 2],
    /// The number of the first one.
    pub first: u32,
}

impl FastenerRow<'_> {
    /// Each fastener with its key and place, in their order.
    pub fn places(&self) -> impl Iterator<Item = (String, [f64; 2])> {
        (0..self.count).map(|number| {
            let share = f64::from(number) / f64::from(self.count.max(2) - 1);
            let at = [0, 1].map(|axis| self.from[axis] + share * (self.to[axis] - self.from[axis]));
            (self.id.replace('*', &(self.first + number).to_string()), at)
        })
    }
}
