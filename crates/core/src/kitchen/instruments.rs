//! Instruments of the bench that tell what they show: a scale, a dough probe, an oven thermometer.

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
        let port = i.address.rsplit_once(':').filter(|(host, _)| !host.trim().is_empty());
        let named = port.is_some_and(|(host, port)| {
            port.parse::<u16>().is_ok_and(|p| p > 0) && !host.contains(char::is_whitespace)
        });
        if !named || i.address.chars().count() > 80 {
            let text = "Give its address and port, such as 127.0.0.1:8761.";
            c.note(Fault::new("unknown", format!("instruments.{n}.address"), text));
        }
    }
}
