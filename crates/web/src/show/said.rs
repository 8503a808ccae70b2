//! What the recipe that a formula came from says, beside what is worked out here.

use cerealis_core::formula::{Formula, Said};
use cerealis_reader::{Finding, Found};

/// What the recipe says of something, and its figure as it is shown.
pub fn said(f: &Formula, what: Found) -> Option<(&Said, String)> {
    let said = f.said.iter().find(|s| s.what == what.key())?;
    let finding =
        Finding { found: what, low: said.low, high: said.high, key: String::new(), text: String::new() };
    Some((said, finding.figure()))
}
