//! The hash chain: each event carries the hash of the one before it and of itself.

use crate::stored_entry::StoredEntry;
use rigore_mechanics::text;
use sha2::{Digest, Sha256};
use uuid::Uuid;

/// A SHA-256.
pub type Hash = [u8; 32];

/// What the first event of a build is chained to: the hash of the build's id.
pub fn root(build: Uuid) -> Hash {
    Sha256::digest(build.as_bytes()).into()
}

/// The hash of an event with this text, after the one with the hash `before`.
pub fn link(before: &Hash, body: &str) -> Hash {
    let mut digest = Sha256::new();
    digest.update(before);
    digest.update(body.as_bytes());
    digest.finalize().into()
}

/// Where a chain does not hold.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct BrokenLink {
    /// The entry.
    pub seq: u64,
    /// What is wrong with it.
    pub what: String,
}

/// Follows the chain on from an entry with its number and hash over those after it; gives the hash of the last.
/// `number_in` is the number that the text of an entry carries, by its place, where it can be read.
///
/// # Errors
/// The first entry that is not what it was when it was recorded.
pub(crate) fn follow(
    (mut seq, mut hash): (u64, Hash),
    entries: &[StoredEntry],
    number_in: impl Fn(usize) -> Option<u64>,
) -> Result<Hash, BrokenLink> {
    for (at, entry) in entries.iter().enumerate() {
        seq += 1;
        if entry.seq.cast_unsigned() != seq {
            return Err(BrokenLink { seq, what: text!("store-entry-is-missing") });
        }
        hash = link(&hash, &entry.body);
        if hash[..] != entry.hash {
            let what = text!("store-does-not-match-hash-or-entry");
            return Err(BrokenLink { seq, what });
        }
        if number_in(at).is_some_and(|number| number != seq) {
            return Err(BrokenLink { seq, what: text!("store-carries-another-number") });
        }
    }
    Ok(hash)
}

#[cfg(test)]
mod tests {
    use super::{BrokenLink, Hash, follow, link, root};
    use crate::stored_entry::StoredEntry;
    use uuid::Uuid;

    #[test]
    fn a_chain_holds_as_it_was_written_and_no_other_way() {
        let start = root(Uuid::nil());
        let bodies = ["one", "two", "three"];
        let mut chain: Vec<(u64, &str, Hash)> = Vec::new();
        for (seq, body) in (1..).zip(bodies) {
            chain.push((seq, body, link(chain.last().map_or(&start, |(_, _, hash)| hash), body)));
        }
        let walk = |from: (u64, Hash), chain: &[(u64, &str, Hash)]| {
            let stored = |(seq, body, hash): &(u64, &str, Hash)| StoredEntry {
                seq: seq.cast_signed(),
                body: (*body).to_owned(),
                hash: hash.to_vec(),
            };
            follow(from, &chain.iter().map(stored).collect::<Vec<_>>(), |_| None)
        };
        assert_eq!(walk((0, start), &chain), Ok(chain[2].2));
        assert_eq!(walk((2, chain[1].2), &chain[2..]), Ok(chain[2].2), "on from where it was read to");
        assert_eq!(walk((0, start), &[]), Ok(start));
        let mut changed = chain.clone();
        changed[1].1 = "tow";
        assert!(matches!(walk((0, start), &changed), Err(BrokenLink { seq: 2, .. })));
        let short = [chain[0], chain[2]];
        assert_eq!(walk((0, start), &short), Err(BrokenLink { seq: 2, what: "is missing".into() }));
        assert!(walk((0, root(Uuid::max())), &chain).is_err(), "the chain of another engine");
        let one = [StoredEntry { seq: 1, body: "one".to_owned(), hash: chain[0].2.to_vec() }];
        let other = follow((0, start), &one, |_| Some(2));
        assert_eq!(other, Err(BrokenLink { seq: 1, what: "carries another number".into() }));
    }
}
