//! A recipe in any words: lines and method are read, proposed and never a reason to stop.
#![no_main]

use cerealis_core::pantry::{Catalogue, Measures};
use cerealis_reader::{ReadInput, propose, read, read_method};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    let catalogue = Catalogue::bundled();
    let found = read_method(text);
    if let Ok(output) = read(&ReadInput { text: text.into(), measures: Measures::default() }, catalogue) {
        let proposal = propose("A dough", &output.lines, &found, None, catalogue);
        assert!(proposal.formula.lines.iter().all(|l| l.grams.0.is_finite() && l.grams.0 >= 0.0));
    }
});
