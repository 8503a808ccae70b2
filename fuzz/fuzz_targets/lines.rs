//! Lines of a device, whatever they are.
#![no_main]

use cerealis_devices::{Ask, Line};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    if let Ok(Some(line)) = Line::parse(text) {
        let said = line.to_string();
        assert!(said.len() <= cerealis_devices::LINE_MAX && !said.contains('\n'));
        assert!(matches!(Line::parse(&said), Ok(Some(_))));
    }
    if let Some(ask) = Ask::parse(text) {
        assert!(Ask::parse(&ask.to_string()).is_some());
    }
});
