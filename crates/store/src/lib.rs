//! Keeping builds in PostgreSQL: events with a hash chain, plans by content, lists beside them.
//!
//! The ways in are [`Store::begin`] and [`Store::record`]: they bring the state up to date, let the
//! core decide, and append the events together with the list row in one statement that names the
//! sequence number it expects. Rules of the job do not live here, nor does anything about HTTP.

mod append;
mod archive;
pub mod backup;
mod broken;
mod chain;
mod checks;
mod choices;
pub mod cluster;
mod connect;
mod day;
mod drafts;
mod edition;
mod entry;
mod error;
mod friction_tests;
mod heads;
mod hosts;
mod integrity;
mod list;
mod lives;
mod lubricants;
mod page;
mod people;
mod pictures;
mod pieces;
mod plans;
pub mod private_file;
mod projections;
mod record;
mod roster;
mod scratch;
mod sessions;
mod shares;
mod signal;
mod signed_heads;
mod store;
mod stored_entry;
mod turn;
pub mod upgrade;
mod upkeep;

pub use archive::{ArchiveError, CameIn, Manifest, manifest_of, read_archive};
pub use backup::BackupRow;
pub use broken::Broken;
pub use chain::{Hash, link, root};
pub use checks::{Card, CheckRow, Used};
pub use day::{DayRow, UsualTimes};
pub use drafts::DraftRow;
pub use error::StoreError;
pub use friction_tests::FrictionTestRow;
pub use heads::{Head, Heads};
pub use hosts::primary_url;
pub use list::{BuildRow, Counts, List, Wanted};
pub use lives::PartRow;
pub use lubricants::{BatchShown, KindShown, LubricantVersion, ShownRow};
pub use page::Place;
pub use people::{Doing, Member, MemberChange, PeopleError, ShopRow};
pub use pictures::{KeptPicture, MOST_PIXELS, can_be_shown, media_of};
pub use pieces::PieceRow;
pub use plans::{NewVersion, PlanRow, plan_hash};
pub use record::Recorded;
pub use roster::Roster;
pub use scratch::Scratch;
pub use sessions::{Device, Guess, Lasts, SessionRow, Token};
pub use shares::{FeedRow, ShareRow};
pub use signal::Signal;
pub use signed_heads::PrintedEntry;
pub use store::Store;
pub use turn::Turn;
