//! What a screen shows of one engine: its bench, its page, its line of work, the timeline of one fastener.

pub mod bench;
pub mod engine;
pub mod line_of_work;
pub mod timeline;
