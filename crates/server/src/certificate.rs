//! Until when the certificate of a server is good: told before browsers refuse it.

use rigore_mechanics::text;
use std::fs;
use std::path::Path;
use time::{Duration, OffsetDateTime};
use x509_parser::pem::parse_x509_pem;

/// How long before its end it is told.
const SOON: Duration = Duration::days(14);

/// Until when the first certificate of a file is good; none where there is no certificate in it.
pub fn good_until(file: &Path) -> Option<OffsetDateTime> {
    let text = fs::read(file).ok()?;
    let (_, pem) = parse_x509_pem(&text).ok()?;
    Some(pem.parse_x509().ok()?.validity().not_after.to_datetime())
}

/// What is wrong with the certificate in a file, in words.
pub fn fault(file: &Path, now: OffsetDateTime) -> Option<String> {
    let name = file.display().to_string();
    let Some(until) = good_until(file) else {
        return Some(text!("server-certificate-cannot-read-one-was-read", name));
    };
    let day = until.date().to_string();
    if until <= now {
        return Some(text!("server-certificate-ran-out-on-browsers-refuse", name, day));
    }
    (until - now < SOON).then(|| text!("server-certificate-runs-out-on-put-new", name, day))
}

#[cfg(test)]
mod tests {
    use super::{fault, good_until};
    use rcgen::{CertificateParams, KeyPair, date_time_ymd};
    use time::macros::datetime;

    #[test]
    fn a_certificate_that_runs_out_is_told_before_and_after() {
        let mut wanted = CertificateParams::new(["localhost".to_owned()]).expect("what is wanted");
        wanted.not_after = date_time_ymd(2026, 5, 20);
        let made = wanted.self_signed(&KeyPair::generate().expect("a key")).expect("a certificate");
        let folder = tempfile::tempdir().expect("a folder");
        let file = folder.path().join("shop.pem");
        std::fs::write(&file, made.pem()).expect("written");
        assert_eq!(good_until(&file), Some(datetime!(2026-05-20 00:00 UTC)));
        assert_eq!(fault(&file, datetime!(2026-05-05 00:00 UTC)), None);
        let told = |now| fault(&file, now).expect("it is told");
        assert!(told(datetime!(2026-05-07 00:00 UTC)).contains("runs out on 2026-05-20"));
        assert!(told(datetime!(2026-05-20 00:00 UTC)).contains("ran out on 2026-05-20"));
        std::fs::write(&file, "no certificate").expect("written");
        assert!(told(datetime!(2026-05-01 00:00 UTC)).contains("cannot be read"));
    }
}
