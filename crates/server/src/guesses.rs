//! Limits on guessing secrets. A guess is counted before it is looked at, for the name and address it is made at, for
//! the address over all names, for the name over all addresses, and for the bench.

use crate::{App, Problem};
use rigore_mechanics::message::Message;
use rigore_store::SecretGuess;
use std::net::IpAddr;
use time::Duration;

/// Wrong guesses that nobody has to wait after: at one address for one name, over all names, over all addresses, and of
/// all PINs at one bench.
const FREE: i32 = 5;
const FREE_OF_ADDRESS: i32 = 50;
const FREE_OF_NAME: i32 = 30;
const FREE_AT_BENCH: i32 = 20;
/// After so long without another guess, those before it count no more.
const FORGOTTEN: Duration = Duration::minutes(15);

/// Who guesses what: what it is counted by.
#[derive(Debug)]
pub struct GuessCounter {
    address: IpAddr,
    /// Counters that a right guess clears.
    own: Vec<String>,
    /// Counters of others, too, with the guesses they give free: a right guess only takes itself back.
    shared: Vec<(String, i32)>,
}

/// An address as far as one customer of a network has it: an IPv6 network gives each of them a net of /64.
fn network(address: IpAddr) -> String {
    match address {
        IpAddr::V4(address) => address.to_string(),
        IpAddr::V6(address) => {
            let [a, b, c, d, ..] = address.segments();
            format!("{a:x}:{b:x}:{c:x}:{d:x}::/64")
        }
    }
}

impl GuessCounter {
    /// A guess of a secret that is only guessed at one place, such as the code of an empty shop.
    pub fn of(what: &str, address: IpAddr) -> Self {
        let of = network(address);
        let shared = vec![(format!("address {of}"), FREE_OF_ADDRESS)];
        Self { address, own: vec![format!("{what} {of}")], shared }
    }

    /// A guess of somebody's password. At an enrolled bench nobody from elsewhere can keep its people out.
    pub fn of_password(name: &str, address: IpAddr, at_a_bench: bool) -> Self {
        let mut guesses = Self::of(&format!("password {name}"), address);
        if !at_a_bench {
            guesses.shared.push((format!("password {name}"), FREE_OF_NAME));
        }
        guesses
    }

    /// A guess of a PIN at a bench, beside what counts those of one person there.
    pub fn of_pin(bench: uuid::Uuid, address: IpAddr) -> Self {
        let of = network(address);
        let shared =
            vec![(format!("pins {bench}"), FREE_AT_BENCH), (format!("address {of}"), FREE_OF_ADDRESS)];
        Self { address, own: Vec::new(), shared }
    }

    /// Counts it.
    ///
    /// # Errors
    /// How long to wait first, where too many were wrong.
    pub async fn count(&self, app: &App) -> Result<(), Problem> {
        let own = self.own.iter().map(|key| (key, FREE));
        for (key, free) in own.chain(self.shared.iter().map(|(key, free)| (key, *free))) {
            if let SecretGuess::Wait { seconds } = app.store.guess(key, free, FORGOTTEN).await? {
                tracing::warn!(address = %self.address, seconds, "too many wrong secrets");
                return Err(Problem::wait(seconds));
            }
        }
        Ok(())
    }

    /// It was right.
    ///
    /// # Errors
    /// Where the database does not answer.
    pub async fn was_right(&self, app: &App) -> Result<(), Problem> {
        let shared: Vec<String> = self.shared.iter().map(|(key, _)| key.clone()).collect();
        app.store.uncount_guesses(&shared).await?;
        Ok(app.store.forget_guesses(&self.own).await?)
    }

    /// It was wrong: the answer, and a line of the log with the address. What was typed is in neither.
    pub fn was_wrong(&self, says: impl Into<Message>) -> Problem {
        tracing::warn!(address = %self.address, "a wrong secret");
        Problem::secret(says)
    }
}

#[cfg(test)]
mod tests {
    use super::network;

    #[test]
    fn one_customer_of_a_network_is_one_address() {
        let of = |text: &str| network(text.parse().expect("an address"));
        assert_eq!(of("192.0.2.9"), "192.0.2.9");
        assert_eq!(of("2001:db8:1:2:3:4:5:6"), of("2001:db8:1:2::9"));
        assert_ne!(of("2001:db8:1:2::9"), of("2001:db8:1:3::9"));
    }
}
