//! Passwords, PINs and tokens: how they are made, kept and compared.
//!
//! Secrets are hashed off the threads that answer (`secrets.rs`), a guess is counted before it is looked at, and
//! waits are by what is guessed and from where.

use crate::Problem;
use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use rand::TryRngCore;
use rand::rngs::OsRng;
use rigore_mechanics::message;
use rigore_store::TokenHash;
use sha2::{Digest, Sha256};
use std::sync::atomic::{AtomicUsize, Ordering};
use tokio::sync::{Semaphore, SemaphorePermit};

/// Characters of a password, at least and at most.
const PASSWORD: std::ops::RangeInclusive<usize> = 8..=200;
/// Digits of a PIN.
const PIN: std::ops::RangeInclusive<usize> = 4..=8;
/// Characters of either.
const PASSWORD_OR_PIN: std::ops::RangeInclusive<usize> = 4..=200;

/// A token that a browser holds, as text.
///
/// # Errors
/// Where the system has no random numbers.
pub fn token() -> Result<String, Problem> {
    let mut bytes = [0; 32];
    OsRng.try_fill_bytes(&mut bytes).map_err(|error| {
        tracing::error!(%error, "no random numbers");
        Problem::internal()
    })?;
    Ok(hex::encode(bytes))
}

/// What of a token is kept: nobody who reads the database can go in by it.
pub fn kept(token: &str) -> TokenHash {
    Sha256::digest(token.as_bytes()).into()
}

/// A code of eight digits, as the server prints it.
///
/// # Errors
/// Where the system has no random numbers.
pub fn code() -> Result<String, Problem> {
    let token = token()?;
    let number = u64::from_str_radix(&token[..15], 16).unwrap_or_default() % 100_000_000;
    Ok(format!("{:04}-{:04}", number / 10_000, number % 10_000))
}

/// Whether two codes are the same, however they are typed.
pub fn same_code(given: &str, code: &str) -> bool {
    let digits = |text: &str| text.chars().filter(char::is_ascii_digit).collect::<String>();
    kept(&digits(given)) == kept(&digits(code))
}

/// How many secrets are hashed at once: each takes 19 MB and a processor for a moment.
static AT_ONCE: Semaphore = Semaphore::const_new(4);

/// How many may wait for their turn; others are told to come again.
const WAITING: usize = 32;
static WAIT: AtomicUsize = AtomicUsize::new(0);

/// One who waits for a turn, also where they hang up meanwhile.
struct QueuePlace;

impl Drop for QueuePlace {
    fn drop(&mut self) {
        WAIT.fetch_sub(1, Ordering::SeqCst);
    }
}

/// A turn to hash a secret. It has to go to the thread that hashes: whoever hangs up meanwhile gives no turn back early.
async fn turn() -> Result<SemaphorePermit<'static>, Problem> {
    let before = WAIT.fetch_add(1, Ordering::SeqCst);
    let _place = QueuePlace;
    if before >= WAITING {
        return Err(Problem::too_many(message!("server-too-many-people-sign-just-now")));
    }
    AT_ONCE.acquire().await.map_err(|_| Problem::internal())
}

/// Hashes a secret off the threads that answer.
async fn hashed(secret: String) -> Result<String, Problem> {
    let turn = turn().await?;
    let hashed = tokio::task::spawn_blocking(move || {
        let _turn = turn;
        Argon2::default().hash_password(secret.as_bytes()).map(|hash| hash.to_string())
    });
    match hashed.await {
        Ok(Ok(hash)) => Ok(hash),
        _ => Err(Problem::internal()),
    }
}

/// A password as it is kept.
///
/// # Errors
/// Of the field, where it is no password.
pub async fn password(field: &str, password: &str) -> Result<String, Problem> {
    if !PASSWORD.contains(&password.chars().count()) {
        return Err(Problem::field(field, message!("server-password-8-200-characters-needed")));
    }
    hashed(password.to_owned()).await
}

/// A PIN as it is kept.
///
/// # Errors
/// Of the field, where it is no PIN, or one that anybody would try first.
pub async fn pin(field: &str, pin: &str) -> Result<String, Problem> {
    if !PIN.contains(&pin.len()) || !pin.bytes().all(|digit| digit.is_ascii_digit()) {
        return Err(Problem::field(field, message!("server-pin-4-8-digits-needed")));
    }
    let digits = pin.as_bytes();
    let steps = |by: i16| digits.windows(2).all(|two| i16::from(two[1]) - i16::from(two[0]) == by);
    if steps(0) || steps(1) || steps(-1) {
        return Err(Problem::field(field, message!("server-pin-anybody-would-try-first-take")));
    }
    hashed(pin.to_owned()).await
}

/// A password and a PIN as they are kept, where they are given.
///
/// # Errors
/// Of the field that is none.
pub async fn given(
    new_password: Option<&str>,
    new_pin: Option<&str>,
) -> Result<(Option<String>, Option<String>), Problem> {
    let (mut hashed_password, mut hashed_pin) = (None, None);
    if let Some(text) = new_password {
        hashed_password = Some(password("password", text).await?);
    }
    if let Some(text) = new_pin {
        hashed_pin = Some(pin("pin", text).await?);
    }
    Ok((hashed_password, hashed_pin))
}

/// Whether a secret is one of those that are kept: its place among them. It takes as long where none is kept.
///
/// # Errors
/// [`Problem::too_many`] where too many wait for the same.
pub async fn verify(secret: String, kept: Vec<String>) -> Result<Option<usize>, Problem> {
    if !PASSWORD_OR_PIN.contains(&secret.chars().count()) {
        return Ok(None);
    }
    let turn = turn().await?;
    let found = tokio::task::spawn_blocking(move || {
        let _turn = turn;
        let is_it = |hash: &str| {
            let hash = PasswordHash::new(hash).ok()?;
            Argon2::default().verify_password(secret.as_bytes(), &hash).ok()
        };
        if kept.is_empty() {
            let _ = Argon2::default().hash_password(secret.as_bytes());
        }
        kept.iter().position(|hash| is_it(hash).is_some())
    });
    found.await.map_err(|_| Problem::internal())
}

#[cfg(test)]
mod tests {
    use super::{code, kept, password, pin, same_code, token, verify};

    #[tokio::test]
    async fn a_secret_is_known_by_its_hash_and_no_other_is() {
        let hashes = vec![
            password("password", "correct horse").await.unwrap(),
            password("password", "Ærlig ømhet 42").await.unwrap(),
        ];
        assert!(hashes[0].starts_with("$argon2id$"));
        assert_eq!(verify("Ærlig ømhet 42".to_owned(), hashes.clone()).await.unwrap(), Some(1));
        assert_eq!(verify("correct horse ".to_owned(), hashes).await.unwrap(), None);
        assert_eq!(verify("anything".to_owned(), vec!["not a hash".to_owned()]).await.unwrap(), None);
    }

    #[tokio::test]
    async fn what_is_no_secret_is_said_by_its_field() {
        assert_eq!(password("password", "short").await.unwrap_err().errors[0].field, "password");
        for wrong in ["123", "1111", "1234", "98765", "12a4", "123456789", "", "１２８４"] {
            assert_eq!(pin("pin", wrong).await.unwrap_err().errors[0].field, "pin", "{wrong}");
        }
        assert!(pin("pin", "2580").await.is_ok());
    }

    #[test]
    fn tokens_differ_and_codes_are_read_as_people_type_them() {
        assert_ne!(token().unwrap(), token().unwrap());
        assert_ne!(kept("a"), kept("b"));
        let code = code().unwrap();
        assert_eq!(code.len(), 9);
        assert!(same_code(&code.replace('-', " "), &code) && !same_code("", &code));
    }
}
