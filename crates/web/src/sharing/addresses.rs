//! Where this machine is on the household's network.

use std::net::IpAddr;

/// Whether an address is of a household's network: nothing that reaches farther is ever listened on.
pub fn at_home(address: IpAddr) -> bool {
    match address {
        IpAddr::V4(a) => a.is_private(),
        IpAddr::V6(a) => a.is_unique_local(),
    }
}

/// This machine's addresses on the household's network, in order.
pub fn found() -> Vec<IpAddr> {
    let all = if_addrs::get_if_addrs().unwrap_or_default();
    let mut home: Vec<IpAddr> = all.into_iter().map(|i| i.ip()).filter(|a| at_home(*a)).collect();
    home.sort_unstable();
    home.dedup();
    home
}

/// This machine's name, as it may stand in an address.
pub fn host_name() -> String {
    let name = gethostname::gethostname().to_string_lossy().to_lowercase();
    let first = name.split('.').next().unwrap_or_default();
    let plain: String = first.chars().filter(|c| c.is_ascii_alphanumeric() || *c == '-').take(60).collect();
    if plain.is_empty() { "kitchen".into() } else { plain }
}

/// An address as it stands in a link.
pub fn in_link(address: IpAddr) -> String {
    match address {
        IpAddr::V4(a) => a.to_string(),
        IpAddr::V6(a) => format!("[{a}]"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_home_networks_are_at_home() {
        for home in ["192.168.1.20", "10.0.0.7", "172.16.3.4", "fd12:3456::1"] {
            assert!(at_home(home.parse().unwrap()), "{home}");
        }
        for out in ["8.8.8.8", "172.32.0.1", "127.0.0.1", "2001:db8::1", "fe80::1", "::1", "0.0.0.0"] {
            assert!(!at_home(out.parse().unwrap()), "{out}");
        }
    }
}
