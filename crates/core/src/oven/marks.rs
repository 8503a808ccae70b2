//! The marks on an oven's dial.

use crate::choice::choice;
use crate::units::Celsius;

choice! {
    /// The marks on an oven's dial: it is set to no finer step.
    #[derive(Default)]
    Marks {
        /// Every 5 °C.
        #[default]
        Five = "5", "every 5 °C";
        /// Every 10 °C.
        Ten = "10", "every 10 °C";
        /// Every 5 °F.
        FiveF = "5f", "every 5 °F";
        /// Every 25 °F.
        TwentyFiveF = "25f", "every 25 °F";
    }
}

impl Marks {
    /// The mark nearest to a temperature.
    pub fn nearest(self, t: Celsius) -> Celsius {
        let to = |x: f64, step: f64| (x / step).round() * step;
        match self {
            Marks::Five => Celsius(to(t.0, 5.0)),
            Marks::Ten => Celsius(to(t.0, 10.0)),
            Marks::FiveF => Celsius::from_fahrenheit(to(t.fahrenheit(), 5.0)),
            Marks::TwentyFiveF => Celsius::from_fahrenheit(to(t.fahrenheit(), 25.0)),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_dial_is_set_to_its_marks() {
        assert_eq!(Marks::Five.nearest(Celsius(217.0)), Celsius(215.0));
        assert_eq!(Marks::Ten.nearest(Celsius(217.0)), Celsius(220.0));
        assert!((Marks::TwentyFiveF.nearest(Celsius(217.0)).fahrenheit() - 425.0).abs() < 1e-9);
        assert!((Marks::FiveF.nearest(Celsius(217.0)).fahrenheit() - 425.0).abs() < 1e-9);
    }
}
