//! What is wanted, and the verdict on what was read.

use super::had::StageProgress;
use rigore_mechanics::message::TextId;
use rigore_mechanics::text_id;
use rigore_mechanics::tightening::{Band, Verdict};

/// What is wanted, how pulls of one stage come together, and the verdict. By default the last pull counts, anything is
/// good where nothing is wanted, and it may be pulled on.
pub trait WayJudgement {
    /// What is wanted, in the base unit of what is read.
    fn band(&self) -> Option<&Band> {
        None
    }

    /// Whether pulls add up (C-12).
    fn adds_up(&self) -> bool {
        false
    }

    /// Whether one pull ends it, whatever was read: another cannot mend it.
    fn at_once(&self) -> bool {
        false
    }

    /// Whether a fastener may have it only once until it is loosened (C-11).
    fn once(&self) -> bool {
        self.adds_up() || self.at_once()
    }

    /// What a fastener has after one more pull.
    fn add(&self, had: StageProgress, figure: f64) -> StageProgress {
        let value = if self.adds_up() { had.value + figure } else { figure };
        StageProgress { value, peak: had.peak.max(value), pulls: had.pulls + 1, ..had }
    }

    /// The verdict on a value that counts.
    fn judge(&self, value: f64) -> Verdict {
        self.band().map_or(Verdict::Good, |band| band.judge(value))
    }

    /// The verdict on a value that a fastener comes to which had `before`.
    fn judge_after(&self, _before: StageProgress, value: f64) -> Verdict {
        self.judge(value)
    }

    /// The verdict in words.
    fn says(&self, verdict: Verdict) -> TextId {
        match verdict {
            Verdict::Good => text_id!("way-ok"),
            Verdict::Low => text_id!("way-under-target-pull-further"),
            Verdict::Over => text_id!("way-over"),
        }
    }

    /// What is wrong with a value that is not good, and what may be behind it; `None` where the limit
    /// says it all.
    fn wrong(&self, _verdict: Verdict) -> Option<TextId> {
        None
    }

    /// Whether a value means that the fastener moved where it should have held (C-10).
    fn moved(&self, _value: f64) -> bool {
        false
    }
}
