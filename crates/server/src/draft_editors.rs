//! Who has which draft open just now: two who write one plan know of each other.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};
use uuid::Uuid;

/// A page looks every 5 s; who has not looked for so long has gone.
const GONE: Duration = Duration::from_secs(15);

/// Who has which draft open.
#[derive(Debug, Clone, Default)]
pub struct DraftEditors(Arc<Mutex<HashMap<Uuid, HashMap<String, Instant>>>>);

impl DraftEditors {
    /// Somebody looks at a draft; gives who else does, by name.
    pub fn look(&self, draft: Uuid, name: &str) -> Vec<String> {
        let now = Instant::now();
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        all.retain(|_, of| {
            of.retain(|_, at| now.duration_since(*at) < GONE);
            !of.is_empty()
        });
        let of = all.entry(draft).or_default();
        of.insert(name.to_owned(), now);
        let mut others: Vec<String> = of.keys().filter(|other| *other != name).cloned().collect();
        others.sort();
        others
    }

    /// Somebody leaves a draft.
    pub fn leave(&self, draft: Uuid, name: &str) {
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(of) = all.get_mut(&draft) {
            of.remove(name);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::DraftEditors;
    use uuid::Uuid;

    #[test]
    fn two_who_have_a_draft_open_know_of_each_other() {
        let (editors, draft) = (DraftEditors::default(), Uuid::from_u128(1));
        assert!(editors.look(draft, "one").is_empty());
        assert_eq!(editors.look(draft, "two"), ["one"]);
        assert_eq!(editors.look(draft, "one"), ["two"]);
        assert!(editors.look(Uuid::from_u128(2), "three").is_empty(), "another draft");
        editors.leave(draft, "two");
        assert!(editors.look(draft, "one").is_empty());
    }
}
