//! Proxies whose word is taken for where a request comes from.

use ipnet::IpNet;
use rigore_mechanics::text;
use std::net::IpAddr;
use std::str::FromStr;

/// A proxy, or a net of them, whose word is taken for where a request comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct TrustedProxy(IpNet);

impl FromStr for TrustedProxy {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let alone = || text.parse::<IpAddr>().map(IpNet::from);
        let net = text.parse::<IpNet>().or_else(|_| alone());
        net.map(Self).map_err(|_| text!("server-no-address-such-as-10-0", text))
    }
}

impl TrustedProxy {
    /// Whether it is this address, or has it in it.
    pub fn contains(&self, address: IpAddr) -> bool {
        self.0.contains(&address.to_canonical())
    }
}
