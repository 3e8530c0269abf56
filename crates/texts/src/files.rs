//! The files of texts, as the build found them.

include!(concat!(env!("OUT_DIR"), "/files.rs"));
