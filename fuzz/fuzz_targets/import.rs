//! Files of other programs and our own: JSON-LD, our JSON, CSV, a page's source. Whatever comes in, it is taken or refused
//! with a place, and what is taken goes out and comes in again as the same.
#![no_main]

use cerealis_core::formats::{Imported, import, write_household};
use cerealis_core::pantry::Catalogue;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    let catalogue = Catalogue::bundled();
    match import(text, catalogue) {
        Ok(Some(Imported::Household(file))) => {
            let again = import(&write_household(&file), catalogue);
            assert!(matches!(again, Ok(Some(Imported::Household(other))) if other == file));
        }
        Ok(_) => {}
        Err(faults) => assert!(!faults.0.is_empty()),
    }
});
