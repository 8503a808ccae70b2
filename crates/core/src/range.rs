//! Ranges: what a figure may be, said once for the check, the form, the schema and the hint.

use schemars::Schema;

use crate::fault::{Check, Fault, out_of_range};
use crate::units::Celsius;

/// The range of one figure.
///
/// ```
/// use cerealis_core::range::Range;
/// const DESIRED: Range = Range::of("The desired dough temperature", 10.0, 38.0, "°C").or_fahrenheit();
/// assert!(DESIRED.holds(25.0) && !DESIRED.holds(77.0));
/// assert!(DESIRED.takes(77.0), "77 can only be °F");
/// assert_eq!(DESIRED.hint(), "10 to 38 °C");
/// ```
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Range {
    /// What it is, as a sentence begins.
    pub what: &'static str,
    /// The least.
    pub low: f64,
    /// The most.
    pub high: f64,
    /// Its unit; empty for a count.
    pub unit: &'static str,
    fahrenheit: bool,
}

impl Range {
    /// From the least to the most, both of them allowed.
    pub const fn of(what: &'static str, low: f64, high: f64, unit: &'static str) -> Range {
        Range { what, low, high, unit, fahrenheit: false }
    }

    /// Whether a figure outside of it that would be inside if it were °F is taken as that: a slip to be
    /// mended, no fault.
    pub const fn or_fahrenheit(self) -> Range {
        Range { fahrenheit: true, ..self }
    }

    /// Whether a figure lies in it.
    pub fn holds(&self, x: f64) -> bool {
        (self.low..=self.high).contains(&x)
    }

    /// Whether a figure passes the check: in the range, or a °F where that is taken.
    pub fn takes(&self, x: f64) -> bool {
        self.holds(x) || (self.fahrenheit && self.as_fahrenheit(x).is_some())
    }

    /// What was meant by a figure that lies outside of it in °C and inside of it in °F.
    pub fn as_fahrenheit(&self, x: f64) -> Option<Celsius> {
        let meant = Celsius::from_fahrenheit(x);
        (!self.holds(x) && self.holds(meant.0)).then_some(meant)
    }

    /// What a temperature is taken for: itself, the °F that it can only be, or the nearer end.
    pub fn meant(&self, t: Celsius) -> Celsius {
        self.as_fahrenheit(t.0).unwrap_or(Celsius(t.0.clamp(self.low, self.high)))
    }

    /// The same range where nothing is taken for °F: what an engine is given is meant.
    pub const fn exact(self) -> Range {
        Range { fahrenheit: false, ..self }
    }

    /// Puts its limits into a schema; where °F is taken, up to the most in °F.
    pub fn limit(self) -> impl FnMut(&mut Schema) {
        let high = if self.fahrenheit { Celsius(self.high).fahrenheit() } else { self.high };
        move |schema| {
            schema.insert("minimum".into(), self.low.into());
            schema.insert("maximum".into(), high.into());
        }
    }

    /// Notes a fault at `path` unless the figure passes.
    pub fn check(&self, c: &mut Check, path: &str, x: f64) {
        if !self.takes(x) {
            c.note(Fault::new("out-of-range", path, self.sentence()));
        }
    }

    /// Notes a fault at `path` unless the figure passes or there is none.
    pub fn check_some(&self, c: &mut Check, path: &str, x: Option<f64>) {
        if let Some(x) = x {
            self.check(c, path, x);
        }
    }

    /// The sentence of the fault.
    pub fn sentence(&self) -> String {
        out_of_range(self.what, self.low, self.high, self.unit)
    }

    /// The range as a hint says it.
    pub fn hint(&self) -> String {
        format!("{} to {} {}", self.low, self.high, self.unit).trim_end().to_owned()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// A schema says the same limits as the check; where °F is taken, up to the most in °F.
    #[test]
    fn the_schema_says_the_limits() {
        let schema = serde_json::to_value(schemars::schema_for!(crate::mix::MixWish)).unwrap();
        let desired = &schema["properties"]["desired"];
        assert_eq!((desired["minimum"].as_f64(), desired["maximum"].as_f64()), (Some(10.0), Some(100.4)));
        let friction = &schema["properties"]["friction"];
        assert_eq!((friction["minimum"].as_f64(), friction["maximum"].as_f64()), (Some(0.0), Some(3.0)));
    }

    proptest! {
        #[test]
        fn what_is_meant_lies_in_the_range(low in -20.0..40.0f64, wide in 1.0..80.0f64, t in -50.0..700.0f64) {
            let range = Range::of("A figure", low, low + wide, "°C").or_fahrenheit();
            let meant = range.meant(Celsius(t));
            prop_assert!(range.holds(meant.0));
            prop_assert_eq!(range.meant(meant), meant, "meant once is meant for good");
            prop_assert!(!range.holds(t) || meant.0 == t);
        }

        #[test]
        fn what_does_not_pass_is_noted_once(x in -100.0..200.0f64) {
            let range = Range::of("A figure", 10.0, 38.0, "°C").or_fahrenheit();
            let mut c = Check::new();
            range.check(&mut c, "figure", x);
            prop_assert_eq!(c.done(()).is_ok(), range.takes(x));
        }
    }
}
