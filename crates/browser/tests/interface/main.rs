//! The real interface in a real browser, against a real server and database.

mod calculate;
mod entries;
mod main_caps;
mod measuring;
mod places;
mod shop;
mod ways;
mod whole;
