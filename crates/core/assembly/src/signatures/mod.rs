//! Who answers for what: what a signature rests on, signing, what a lead approved, and the entries that an approval
//! rested on. A signature or an approval ends when something changes that it rests on.

pub mod acceptance;
pub mod approval;
pub mod evidence;
pub mod records;
pub mod scope;
