//! Driving the real interface in headless Chromium, for tests and for pictures.
//!
//! [`Rigore`] is a server process on a database, which can be killed and started again;
//! [`Screen`] is a window somebody sits at.

mod rigore;
mod screen;

use reqwest::header::{COOKIE, HeaderMap, HeaderValue};

/// A client that is in the demonstration as its lead, unless a request says otherwise.
pub fn client() -> reqwest::Client {
    let cookie = HeaderMap::from_iter([(COOKIE, HeaderValue::from_static("rigore=demonstration.lead"))]);
    reqwest::Client::builder().default_headers(cookie).build().unwrap_or_default()
}

/// What such a client gets.
///
/// # Errors
/// Where nobody answers.
pub async fn get(url: impl reqwest::IntoUrl) -> reqwest::Result<reqwest::Response> {
    client().get(url).send().await
}

pub use rigore::{Rigore, process_cpu};
pub use screen::{Browser, Screen};
