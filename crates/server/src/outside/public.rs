//! Which addresses a channel may ask: those of the open network, unless the server was started for those nearby, too. It is looked
//! at when a name has become an address, so that no name leads in.

use std::net::{IpAddr, Ipv4Addr, Ipv6Addr};

use ureq::config::Config;
use ureq::http::Uri;
use ureq::unversioned::resolver::{DefaultResolver, ResolvedSocketAddrs, Resolver};
use ureq::unversioned::transport::NextTimeout;

/// Knows names by their public addresses only.
#[derive(Debug, Default)]
pub(super) struct PublicOnly(DefaultResolver);

impl Resolver for PublicOnly {
    fn resolve(&self, uri: &Uri, config: &Config, timeout: NextTimeout) -> Result<ResolvedSocketAddrs, ureq::Error> {
        let found = self.0.resolve(uri, config, timeout)?;
        let mut public = self.empty();
        found.iter().filter(|address| is_public(address.ip())).for_each(|address| public.push(*address));
        // As if there were no such host: what is inside is nobody's to find out.
        if public.is_empty() { Err(ureq::Error::HostNotFound) } else { Ok(public) }
    }
}

/// Whether an address is one of the open network: none of this machine, of a private network, of the neighbourhood, or kept for
/// other uses (RFC 6890).
pub(super) fn is_public(address: IpAddr) -> bool {
    match address {
        IpAddr::V4(address) => is_public_v4(address),
        IpAddr::V6(address) => match embedded(address) {
            Some(inner) => is_public_v4(inner),
            None => is_public_v6(address),
        },
    }
}

fn is_public_v4(address: Ipv4Addr) -> bool {
    let [a, b, c, _] = address.octets();
    let shared = a == 100 && (64..128).contains(&b);
    let benchmarks = a == 198 && (b == 18 || b == 19);
    let protocols = a == 192 && b == 0 && c == 0;
    !(address.is_private()
        || address.is_loopback()
        || address.is_link_local()
        || address.is_broadcast()
        || address.is_documentation()
        || address.is_multicast()
        || a == 0
        || a >= 240
        || shared
        || benchmarks
        || protocols)
}

fn is_public_v6(address: Ipv6Addr) -> bool {
    let first = address.segments()[0];
    let local = first & 0xfe00 == 0xfc00 || first & 0xffc0 == 0xfe80;
    let documentation = first == 0x2001 && address.segments()[1] == 0xdb8;
    // All that is given out to anybody begins so.
    first & 0xe000 == 0x2000 && !(local || documentation || address.is_multicast())
}

/// An address of the older form within one of the newer: mapped, compatible, translated (64:ff9b::/96) or 6to4 (2002::/16).
fn embedded(address: Ipv6Addr) -> Option<Ipv4Addr> {
    let [a, b, c, d, e, f, high, low] = address.segments();
    let of = |high: u16, low: u16| {
        let ([a, b], [c, d]) = (high.to_be_bytes(), low.to_be_bytes());
        Ipv4Addr::new(a, b, c, d)
    };
    match (a, b, c, d, e, f) {
        (0, 0, 0, 0, 0, 0 | 0xffff) | (0x64, 0xff9b, 0, 0, 0, 0) => Some(of(high, low)),
        (0x2002, ..) => Some(of(b, c)),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_what_is_out_in_the_open_is_public() {
        for inside in [
            "127.0.0.1",
            "127.9.9.9",
            "0.0.0.0",
            "10.1.2.3",
            "172.16.0.1",
            "192.168.1.1",
            "169.254.169.254",
            "100.64.0.1",
            "198.18.0.1",
            "224.0.0.1",
            "255.255.255.255",
            "240.0.0.1",
            "::1",
            "::",
            "fe80::1",
            "fc00::1",
            "fd12::1",
            "ff02::1",
            "::ffff:127.0.0.1",
            "::ffff:10.0.0.1",
            "64:ff9b::7f00:1",
            "2002:7f00:1::",
            "2001:db8::1",
        ] {
            assert!(!is_public(inside.parse().unwrap()), "{inside}");
        }
        for public in
            ["1.1.1.1", "93.184.215.14", "2606:4700:4700::1111", "::ffff:1.1.1.1", "172.32.0.1", "100.128.0.1"]
        {
            assert!(is_public(public.parse().unwrap()), "{public}");
        }
    }
}
