//! The store on a real PostgreSQL.

mod archives;
mod cluster;
mod editions;
mod friction;
mod heads;
mod integrity;
mod record;
mod uses;
mod versions;
