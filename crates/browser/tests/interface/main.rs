//! The real interface in a real browser, against a real server and database.

// The longest come first, so that the others run beside them: tests go by their names.
mod accessible;
mod apart;
mod authoring;
mod built;
mod calculate;
mod day;
mod engines;
mod entries;
mod forms;
mod keyboard;
mod main_caps;
mod measuring;
mod mechanics;
mod own;
mod papers;
mod places;
mod presses;
mod shop;
mod texts;
mod ways;
