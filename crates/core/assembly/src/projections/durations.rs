//! How long operations took: the time between entries that were made in them, breaks left out.

use crate::state::BuildState;
use rigore_plan::OperationIx;
use serde::Serialize;
use time::{Duration, OffsetDateTime};

/// A pause that is longer is a break, and counts for nothing.
const BREAK: Duration = Duration::minutes(30);
/// What was recorded in less was entered afterwards, and tells nothing about the work.
const LEAST: Duration = Duration::seconds(30);

/// How long an operation of an engine took.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct OperationDuration {
    /// Key of the operation.
    pub operation: String,
    /// Key of the step that it is written with.
    pub step: String,
    /// How long, minutes, and when it was signed; none where it is not signed, or that cannot be told.
    pub minutes: Option<(f64, OffsetDateTime)>,
}

impl BuildState {
    /// How long each of some operations took.
    pub(crate) fn durations(&self, of: &[OperationIx]) -> Vec<OperationDuration> {
        let mut lasts: Vec<Option<OffsetDateTime>> = vec![None; self.plan.operations.len()];
        let mut took = vec![Duration::ZERO; self.plan.operations.len()];
        // Somebody who works on two at once works on neither all the time: what lies between an entry and the one
        // before it, in whichever operation that was, counts once.
        let mut before: Option<OffsetDateTime> = None;
        for seq in 1..=self.seq {
            let Some(line) = self.ledger().line(seq) else { continue };
            let Some(at) = line.operation else { continue };
            let now = line.mark.stamp.at;
            let since = lasts[at.0].max(before.filter(|_| lasts[at.0].is_some()));
            if let Some(since) = since {
                let gap = now - since;
                // What is said of it after its signature is no work on it.
                let signed = self.operations().signed(at).is_some_and(|signature| signature.stamp.at < now);
                if gap.is_positive() && gap <= BREAK && !signed {
                    took[at.0] += gap;
                }
            }
            lasts[at.0] = Some(now);
            before = Some(now);
        }
        let of_one = |at: &OperationIx| {
            let signature = self.operations().signed(*at).filter(|signature| signature.left_out.is_none());
            let time = took[at.0];
            let known = signature.filter(|_| time >= LEAST);
            OperationDuration {
                operation: self.plan[*at].id.clone(),
                step: self.plan[*at].family.clone(),
                minutes: known.map(|signature| (time.as_seconds_f64() / 60.0, signature.stamp.at)),
            }
        };
        of.iter().map(of_one).collect()
    }
}
