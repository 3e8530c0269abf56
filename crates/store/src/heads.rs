//! Heads of records, signed: with every signature on an engine the shop signs the number and hash of its last entry by a
//! key of its own. A chain alone does not show that its end was cut off, that a whole engine was removed, or that somebody
//! made all of it anew; a signed head does. Heads are kept in the database and in a file beside it.

use crate::chain::BrokenLink;
use crate::private_file;
use crate::stored_entry::StoredEntry;
use rigore_mechanics::text;
use ring::rand::{SecureRandom, SystemRandom};
use ring::signature::{ED25519, Ed25519KeyPair, KeyPair, UnparsedPublicKey};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::fs::{self, OpenOptions};
use std::io::{self, Write};
use std::os::unix::fs::OpenOptionsExt;
use std::path::{Path, PathBuf};
use std::sync::{Mutex, PoisonError};
use time::OffsetDateTime;
use uuid::Uuid;

/// The last entry of an engine's record at some time, signed by a shop.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Head {
    /// The engine.
    pub build: Uuid,
    /// The number of the entry.
    pub seq: u64,
    /// Its hash, in hexadecimal digits.
    pub hash: String,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// The public half of the shop's key (Ed25519), in hexadecimal digits.
    pub key: String,
    /// The signature, in hexadecimal digits.
    pub signature: String,
}

impl Head {
    /// What is signed.
    fn text(build: Uuid, seq: u64, hash: &str, at: OffsetDateTime) -> String {
        format!("rigore head 1\n{build}\n{seq}\n{hash}\n{}\n", at.unix_timestamp())
    }

    /// Whether it is signed by the key that it names.
    pub fn is_genuine(&self) -> bool {
        let (Ok(key), Ok(signature)) = (hex::decode(&self.key), hex::decode(&self.signature)) else {
            return false;
        };
        let text = Self::text(self.build, self.seq, &self.hash, self.at);
        UnparsedPublicKey::new(&ED25519, key).verify(text.as_bytes(), &signature).is_ok()
    }
}

/// The key of a shop, and the heads that it has signed.
pub struct Heads {
    pair: Ed25519KeyPair,
    file: PathBuf,
    /// The last head of each engine.
    last: Mutex<HashMap<Uuid, Head>>,
    /// One line is written at a time.
    writing: Mutex<()>,
}

impl std::fmt::Debug for Heads {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("Heads").field("key", &self.public()).field("file", &self.file).finish_non_exhaustive()
    }
}

fn wrong(file: &Path, what: impl std::fmt::Display) -> io::Error {
    io::Error::other(format!("{}: {what}", file.display()))
}

impl Heads {
    /// Reads the key and the heads of a folder; the key is made where there is none.
    ///
    /// # Errors
    /// Where they cannot be read or written.
    pub fn open(folder: &Path) -> io::Result<Self> {
        let (key, file) = (folder.join("shop.key"), folder.join("heads.jsonl"));
        if !key.exists() {
            let mut seed = [0; 32];
            SystemRandom::new().fill(&mut seed).map_err(|_| wrong(&key, "no random numbers"))?;
            // Where another process makes one at the same moment, the first one stays.
            private_file::write_new(&key, hex::encode(seed).as_bytes())?;
        }
        let seed = hex::decode(fs::read_to_string(&key)?.trim()).map_err(|error| wrong(&key, error))?;
        let pair = Ed25519KeyPair::from_seed_unchecked(&seed).map_err(|error| wrong(&key, error))?;
        let lines = match fs::read_to_string(&file) {
            Err(error) if error.kind() == io::ErrorKind::NotFound => String::new(),
            lines => lines?,
        };
        let heads = Self { pair, file, last: Mutex::default(), writing: Mutex::default() };
        // A line that a power cut broke off was not signed whole.
        heads.add(lines.lines().filter_map(|line| serde_json::from_str(line).ok()));
        Ok(heads)
    }

    /// The public half of the key, in hexadecimal digits.
    pub fn public(&self) -> String {
        hex::encode(self.pair.public_key().as_ref())
    }

    /// Takes heads up that are genuine and of this shop.
    pub(crate) fn add(&self, heads: impl Iterator<Item = Head>) {
        let own = self.public();
        let mut last = self.last.lock().unwrap_or_else(PoisonError::into_inner);
        for head in heads.filter(|head| head.key == own && head.is_genuine()) {
            let known = last.entry(head.build).or_insert_with(|| head.clone());
            if known.seq < head.seq {
                *known = head;
            }
        }
    }

    /// The last head of an engine.
    pub fn last(&self, build: Uuid) -> Option<Head> {
        self.last.lock().unwrap_or_else(PoisonError::into_inner).get(&build).cloned()
    }

    /// Signs the head of a record.
    pub(crate) fn sign(&self, build: Uuid, seq: u64, hash: &[u8]) -> Head {
        let (hash, at) = (hex::encode(hash), OffsetDateTime::now_utc());
        let at = at.replace_nanosecond(0).unwrap_or(at);
        let signature = hex::encode(self.pair.sign(Head::text(build, seq, &hash, at).as_bytes()));
        Head { build, seq, hash, at, key: self.public(), signature }
    }

    /// Writes a head to the end of the file, on the disk.
    pub(crate) fn write(&self, head: &Head) -> io::Result<()> {
        let line = serde_json::to_string(head).map_err(io::Error::other)?;
        let _one = self.writing.lock().unwrap_or_else(PoisonError::into_inner);
        let mut file = OpenOptions::new().append(true).create(true).mode(0o600).open(&self.file)?;
        writeln!(file, "{line}")?;
        file.sync_data()
    }

    /// Every engine that has a head.
    pub(crate) fn builds(&self) -> Vec<Uuid> {
        self.last.lock().unwrap_or_else(PoisonError::into_inner).keys().copied().collect()
    }

    /// What of a whole record, in order, is not there as it was signed.
    pub(crate) fn missing(&self, build: Uuid, entries: &[StoredEntry]) -> Option<BrokenLink> {
        let head = self.last(build)?;
        let at = entries.binary_search_by_key(&head.seq.cast_signed(), |entry| entry.seq);
        let what = match at.ok().map(|at| hex::encode(&entries[at].hash)) {
            None => text!("store-missing-was-there-when-shop-signed"),
            Some(hash) if hash != head.hash => text!("store-another-than-one-shop-signed"),
            Some(_) => return None,
        };
        Some(BrokenLink { seq: head.seq, what })
    }
}

#[cfg(test)]
mod tests {
    use super::{Head, Heads};
    use crate::stored_entry::StoredEntry;
    use std::os::unix::fs::PermissionsExt;
    use uuid::Uuid;

    #[test]
    fn a_head_is_genuine_as_it_was_signed_and_no_other_way() {
        let folder = tempfile::tempdir().expect("a folder");
        let heads = Heads::open(folder.path()).expect("made");
        let mode = std::fs::metadata(folder.path().join("shop.key")).expect("a key").permissions().mode();
        assert_eq!(mode & 0o777, 0o600);
        let head = heads.sign(Uuid::nil(), 7, &[1; 32]);
        assert!(head.is_genuine());
        let other = tempfile::tempdir().expect("a folder");
        let other = Heads::open(other.path()).expect("another shop");
        for forged in [
            Head { seq: 6, ..head.clone() },
            Head { hash: hex::encode([2; 32]), ..head.clone() },
            Head { build: Uuid::max(), ..head.clone() },
            Head { key: other.public(), ..head.clone() },
            Head { signature: String::new(), ..head.clone() },
            Head { at: head.at + time::Duration::days(1), ..head.clone() },
        ] {
            assert!(!forged.is_genuine(), "{forged:?}");
        }
    }

    #[test]
    fn heads_are_there_again_by_the_same_key_and_those_of_others_are_not_known() {
        let folder = tempfile::tempdir().expect("a folder");
        let heads = Heads::open(folder.path()).expect("made");
        let build = Uuid::from_u128(5);
        for seq in [3, 9, 6] {
            heads.write(&heads.sign(build, seq, &[1; 32])).expect("written");
        }
        let stranger = tempfile::tempdir().expect("a folder");
        let stranger = Heads::open(stranger.path()).expect("another shop");
        heads.write(&stranger.sign(build, 12, &[1; 32])).expect("written by somebody else");
        std::fs::write(
            folder.path().join("heads.jsonl"),
            std::fs::read_to_string(folder.path().join("heads.jsonl")).expect("read")
                + "{\"build\": \"broken off",
        )
        .expect("a line that a power cut broke off");
        let again = Heads::open(folder.path()).expect("read again");
        assert_eq!(again.public(), heads.public());
        assert_eq!(again.last(build).map(|head| head.seq), Some(9));
        let entries = |seqs: &[i64], byte: u8| {
            let entry = |seq: &i64| StoredEntry { seq: *seq, body: String::new(), hash: vec![byte; 32] };
            seqs.iter().map(entry).collect::<Vec<_>>()
        };
        assert!(again.missing(build, &entries(&[7, 8, 9, 10], 1)).is_none());
        let other = again.missing(build, &entries(&[8, 9], 2));
        assert!(other.is_some_and(|link| link.what.contains("another")));
        let cut_off = again.missing(build, &entries(&[7, 8], 1));
        assert!(cut_off.is_some_and(|link| link.what.contains("missing")));
        assert!(again.missing(Uuid::nil(), &[]).is_none(), "it was never signed");
    }
}
