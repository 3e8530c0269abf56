//! The hash chain: each event carries the hash of the one before it and of itself.

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
