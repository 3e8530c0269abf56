//! The store on a real PostgreSQL.

mod cluster;
mod editions;
mod friction;
mod record;
mod versions;
