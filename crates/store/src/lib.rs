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
mod dry_run;
mod edition;
mod entry;
mod error;
mod friction_tests;
mod heads;
mod hosts;
mod integrity;
mod list;
mod lubricants;
mod page;
mod part_lives;
mod people;
mod pictures;
mod pieces;
mod plans;
pub mod private_file;
mod projections;
mod record;
mod roster;
mod scratch;
mod server_turn;
mod sessions;
mod shares;
mod signal;
mod signed_heads;
mod store;
mod stored_entry;
pub mod upgrade;
mod upkeep;

pub use archive::{ArchiveError, ImportedEngine, Manifest, manifest_of, read_archive};
pub use backup::BackupRow;
pub use broken::BrokenRecord;
pub use chain::{Hash, link, root};
pub use checks::{CheckRow, InstrumentCard, InstrumentUse};
pub use choices::Letterhead;
pub use day::{DayRow, UsualTimes};
pub use drafts::{DraftRow, DraftStep, SavedText};
pub use error::StoreError;
pub use friction_tests::FrictionTestRow;
pub use heads::{Head, Heads};
pub use hosts::primary_url;
pub use list::{BuildCounts, BuildList, BuildOrder, BuildRow, ListQuery};
pub use lubricants::{BatchFactors, KindFactors, LubricantVersion, NutFactorRow};
pub use page::PageCursor;
pub use part_lives::{PartOrder, PartRow};
pub use people::{AuditRow, Member, MemberChange, PeopleError, ShopRow};
pub use pictures::{KeptPicture, MOST_PIXELS, PDF, can_be_shown, document_media_of, media_of};
pub use pieces::PieceRow;
pub use plans::{NewVersion, PlanRow, plan_hash};
pub use record::RecordedCommand;
pub use roster::Roster;
pub use scratch::Scratch;
pub use server_turn::ServerTurn;
pub use sessions::{BenchDevice, SecretGuess, SessionLength, SessionRow, TokenHash};
pub use shares::{FeedRow, ShareRow};
pub use signal::BuildSignal;
pub use signed_heads::PrintedEntry;
pub use store::Store;
