//! Where a request comes from: the address of the browser, also behind a proxy that the shop trusts.
//!
//! Where a request comes from is the last address on its way that no trusted proxy has.

use crate::App;
use crate::trusted_proxy::TrustedProxy;
use axum::extract::{ConnectInfo, FromRequestParts};
use axum::http::request::Parts;
use axum::http::{HeaderMap, HeaderName};
use std::convert::Infallible;
use std::net::{IpAddr, Ipv4Addr, SocketAddr};

const FORWARDED_FOR: HeaderName = HeaderName::from_static("x-forwarded-for");

/// The last address on the way here that is no trusted proxy's. What came before it, anybody can have written.
fn client_ip(peer: IpAddr, headers: &HeaderMap, trusted: &[TrustedProxy]) -> IpAddr {
    let is_trusted = |of: IpAddr| trusted.iter().any(|net| net.contains(of));
    let lines = headers.get_all(FORWARDED_FOR).into_iter().filter_map(|line| line.to_str().ok());
    let told: Vec<&str> = lines.flat_map(|line| line.split(',')).map(str::trim).collect();
    let mut at = peer.to_canonical();
    for before in told.into_iter().rev() {
        if !is_trusted(at) {
            break;
        }
        // Some write the port behind the address.
        let address = before.parse::<IpAddr>().or_else(|_| before.parse::<SocketAddr>().map(|of| of.ip()));
        let Ok(address) = address else { break };
        at = address.to_canonical();
    }
    at
}

/// The address of whoever asks.
pub struct ClientIp(pub IpAddr);

impl FromRequestParts<App> for ClientIp {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Infallible> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>();
        let peer = peer.map_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED), |ConnectInfo(peer)| peer.ip());
        Ok(Self(client_ip(peer, &parts.headers, &app.settings.trusted)))
    }
}

#[cfg(test)]
mod tests {
    use super::{FORWARDED_FOR, client_ip};
    use crate::trusted_proxy::TrustedProxy;
    use axum::http::{HeaderMap, HeaderValue};

    #[test]
    fn only_trusted_proxies_are_believed() {
        let trusted: Vec<TrustedProxy> =
            ["10.0.0.0/24", "::1"].iter().map(|net| net.parse().expect("a net")).collect();
        for (peer, told, ip) in [
            // Whoever comes by themselves is who they are, whatever they write.
            ("192.0.2.9", &["203.0.113.5"][..], "192.0.2.9"),
            ("10.0.0.7", &["203.0.113.5"], "203.0.113.5"),
            ("::1", &["203.0.113.5"], "203.0.113.5"),
            ("::ffff:10.0.0.7", &["203.0.113.5"], "203.0.113.5"),
            // What a browser wrote itself stands before what the proxy saw.
            ("10.0.0.7", &["198.51.100.1, 203.0.113.5"], "203.0.113.5"),
            ("10.0.0.7", &["198.51.100.1", "203.0.113.5, 10.0.0.8"], "203.0.113.5"),
            ("10.0.0.7", &["[2001:db8::5]:4711"], "2001:db8::5"),
            ("10.0.0.7", &["nonsense"], "10.0.0.7"),
            ("10.0.0.7", &[], "10.0.0.7"),
        ] {
            let headers: HeaderMap =
                told.iter().map(|line| (FORWARDED_FOR, HeaderValue::from_static(line))).collect();
            let found = client_ip(peer.parse().expect("an address"), &headers, &trusted);
            assert_eq!(found.to_string(), ip, "{peer} {told:?}");
        }
        assert!("10.0.0.0/40".parse::<TrustedProxy>().is_err_and(|says| says.contains("10.0.0.0/40")));
    }
}
