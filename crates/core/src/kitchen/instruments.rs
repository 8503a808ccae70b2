//! Instruments of the bench that tell what they show: a scale, a dough probe, an oven thermometer.

use std::net::{IpAddr, SocketAddr};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault};

choice! {
    /// What an instrument is.
    #[derive(Default)]
    InstrumentKind {
        /// A bench scale.
        #[default]
        Scale = "scale", "scale";
        /// A thermometer that is stuck into a dough, or a bread.
        Probe = "probe", "dough probe";
        /// A thermometer that lies in an oven.
        Oven = "oven", "oven thermometer";
    }
}

/// An instrument that is listened to.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
pub struct Instrument {
    /// What it is.
    pub kind: InstrumentKind,
    /// Where it listens: an address and a port, such as `127.0.0.1:8761`, at most 80 characters.
    pub address: String,
}

/// The most instruments of a kitchen.
pub const INSTRUMENTS_MAX: usize = 8;

/// Notes what is wrong with a list of them, each at its own field.
pub(super) fn check(c: &mut Check, all: &[Instrument]) {
    if all.len() > INSTRUMENTS_MAX {
        let text = format!("At most {INSTRUMENTS_MAX} instruments.");
        c.note(Fault::new("out-of-range", "instruments", text));
    }
    for (n, i) in all.iter().enumerate() {
        if i.socket().is_none() {
            let text =
                "Enter an address of this machine or of your home network, and a port: 127.0.0.1:8761.";
            c.note(Fault::new("unknown", format!("instruments.{n}.address"), text));
        }
    }
}

impl Instrument {
    /// Where it is called: this machine, or the household's own network. `None` for anything farther and for a name, which
    /// somebody else would look up.
    pub fn socket(&self) -> Option<SocketAddr> {
        let at: SocketAddr = self.address.trim().parse().ok()?;
        let home = match at.ip() {
            IpAddr::V4(a) => a.is_loopback() || a.is_private() || a.is_link_local(),
            IpAddr::V6(a) => a.is_loopback() || a.is_unique_local() || a.is_unicast_link_local(),
        };
        (home && at.port() > 0).then_some(at)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_this_machine_and_the_home_network_are_called() {
        let at = |address: &str| Instrument { kind: InstrumentKind::Scale, address: address.into() }.socket();
        for home in ["127.0.0.1:8761", "192.168.1.20:80", "10.0.0.7:1", "[::1]:9", "169.254.3.4:5000"] {
            assert!(at(home).is_some(), "{home}");
        }
        for far in [
            "",
            "scale.example:80",
            "localhost:8761",
            "8.8.8.8:53",
            "127.0.0.1",
            "127.0.0.1:0",
            "127.0.0.1:99999",
            "[2001:db8::1]:80",
            "0.0.0.0:80",
            "169.254.3.4",
            "http://127.0.0.1:8761",
            "[::ffff:8.8.8.8]:80",
        ] {
            assert!(at(far).is_none(), "{far}");
        }
    }
}
