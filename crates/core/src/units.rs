//! Units: plain numbers that know what they measure.
//!
//! Every figure that crosses a module border wears one of these, so that grams cannot be taken
//! for per cent or minutes for hours. Inside an engine's inner loop the bare `f64` is used, with
//! its unit in its name. Rounding happens once, where a figure is shown: see [`shown`].

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

macro_rules! unit {
    ($(#[$doc:meta])* $name:ident) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, Default, PartialEq, PartialOrd, Serialize, Deserialize, JsonSchema)]
        #[serde(transparent)]
        pub struct $name(pub f64);

        impl $name {
            /// The larger of two.
            pub fn max(self, other: Self) -> Self { Self(self.0.max(other.0)) }
            /// The smaller of two.
            pub fn min(self, other: Self) -> Self { Self(self.0.min(other.0)) }
        }
        impl std::ops::Add for $name { type Output = Self; fn add(self, o: Self) -> Self { Self(self.0 + o.0) } }
        impl std::ops::Sub for $name { type Output = Self; fn sub(self, o: Self) -> Self { Self(self.0 - o.0) } }
        impl std::ops::Mul<f64> for $name { type Output = Self; fn mul(self, k: f64) -> Self { Self(self.0 * k) } }
        impl std::ops::Div<f64> for $name { type Output = Self; fn div(self, k: f64) -> Self { Self(self.0 / k) } }
        impl std::ops::AddAssign for $name { fn add_assign(&mut self, o: Self) { self.0 += o.0; } }
        impl std::iter::Sum for $name { fn sum<I: Iterator<Item = Self>>(i: I) -> Self { Self(i.map(|x| x.0).sum()) } }
    };
}

unit!(
    /// Mass in grams.
    Grams
);
unit!(
    /// Temperature in degrees Celsius.
    Celsius
);
unit!(
    /// A share in per cent. As a baker's percentage it is of the total flour.
    Percent
);
unit!(
    /// A stretch of time in minutes.
    Minutes
);
unit!(
    /// A stretch of time in hours.
    Hours
);

/// Grams of an international avoirdupois ounce (Weights and Measures: exactly 28.349 523 125 g).
pub const OUNCE: f64 = 28.349_523_125;
/// Grams of an international pound, sixteen ounces.
pub const POUND: f64 = 16.0 * OUNCE;

/// The unit of a difference of temperature as it is said: “5 °C warmer”. A mark that is not seen tells it from a
/// temperature, which is another figure in °F.
pub const DEGREES: &str = "\u{2060}°C";

/// What a fraction that is one letter is worth: `½`, `⅓`.
pub fn vulgar_fraction(letter: char) -> Option<f64> {
    Some(match letter {
        '½' => 0.5,
        '⅓' => 1.0 / 3.0,
        '⅔' => 2.0 / 3.0,
        '¼' => 0.25,
        '¾' => 0.75,
        '⅕' => 0.2,
        '⅖' => 0.4,
        '⅗' => 0.6,
        '⅘' => 0.8,
        '⅙' => 1.0 / 6.0,
        '⅚' => 5.0 / 6.0,
        '⅛' => 0.125,
        '⅜' => 0.375,
        '⅝' => 0.625,
        '⅞' => 0.875,
        _ => return None,
    })
}

impl Celsius {
    /// The same temperature in degrees Fahrenheit.
    ///
    /// ```
    /// use cerealis_core::units::Celsius;
    /// assert_eq!(Celsius(25.0).fahrenheit(), 77.0);
    /// ```
    pub fn fahrenheit(self) -> f64 {
        self.0 * 1.8 + 32.0
    }

    /// A temperature read off a Fahrenheit thermometer.
    pub fn from_fahrenheit(f: f64) -> Self {
        Self((f - 32.0) / 1.8)
    }
}

impl Grams {
    /// This mass as a baker's percentage of `flour`; 0 when there is no flour.
    pub fn percent_of(self, flour: Grams) -> Percent {
        if flour.0 > 0.0 { Percent(100.0 * self.0 / flour.0) } else { Percent(0.0) }
    }
}

impl Percent {
    /// What this share of `whole` weighs.
    pub fn of(self, whole: Grams) -> Grams {
        Grams(whole.0 * self.0 / 100.0)
    }
}

impl From<Hours> for Minutes {
    fn from(h: Hours) -> Self {
        Minutes(h.0 * 60.0)
    }
}

impl From<Minutes> for Hours {
    fn from(m: Minutes) -> Self {
        Hours(m.0 / 60.0)
    }
}

/// How figures are shown: the one place where rounding happens.
pub mod shown {
    use super::{Grams, Minutes, Percent};

    /// The step to which a mass is weighed and shown: 0.01 g under 1 g, 0.1 g under 20 g, else 1 g.
    pub fn step(g: Grams) -> f64 {
        match g.0.abs() {
            x if x < 0.995 => 0.01,
            x if x < 19.95 => 0.1,
            _ => 1.0,
        }
    }

    /// A mass rounded to its [`step`].
    pub fn rounded(g: Grams) -> Grams {
        let per = (1.0 / step(g)).round();
        Grams((g.0 * per).round() / per)
    }

    /// The sum of masses as they are shown, so that a column adds up to its total.
    pub fn total(masses: impl IntoIterator<Item = Grams>) -> Grams {
        let hundredths: f64 = masses.into_iter().map(|g| (rounded(g).0 * 100.0).round()).sum();
        Grams(hundredths / 100.0)
    }

    /// A mass that is already rounded, without trailing noughts: `7.4`, `500`.
    pub fn plain(g: Grams) -> String {
        let text = format!("{:.2}", g.0);
        let text = text.trim_end_matches('0').trim_end_matches('.');
        if text == "-0" { "0".into() } else { text.into() }
    }

    /// A mass rounded and written, without its unit.
    pub fn grams(g: Grams) -> String {
        plain(rounded(g))
    }

    /// A percentage: two decimals under 2 %, one under 20 % or where it is not whole, else none.
    pub fn percent(p: Percent) -> String {
        let text = if p.0.abs() < 2.0 { format!("{:.2}", p.0) } else { format!("{:.1}", p.0) };
        let text = text.trim_end_matches('0').trim_end_matches('.');
        if text.is_empty() || text == "-0" { "0".into() } else { text.into() }
    }

    /// A stretch of time: `12 min`, `1 h 35`, `14 h`. Rounded to the minute under 3 h, to
    /// five minutes above: a rise is not known better.
    pub fn time(m: Minutes) -> String {
        let step = if m.0 < 180.0 { 1.0 } else { 5.0 };
        let whole = ((m.0 / step).round() * step).max(0.0) as i64;
        match (whole / 60, whole % 60) {
            (0, m) => format!("{m} min"),
            (h, 0) => format!("{h} h"),
            (h, m) => format!("{h} h {m:02}"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn figures_read_as_a_baker_writes_them() {
        assert_eq!(shown::grams(Grams(0.456)), "0.46");
        assert_eq!(shown::grams(Grams(7.44)), "7.4");
        assert_eq!(shown::grams(Grams(499.6)), "500");
        assert_eq!(shown::grams(Grams(-0.001)), "0");
        assert_eq!(shown::percent(Percent(0.8)), "0.8");
        assert_eq!(shown::percent(Percent(0.25)), "0.25");
        assert_eq!(shown::percent(Percent(65.04)), "65");
        assert_eq!(shown::time(Minutes(35.2)), "35 min");
        assert_eq!(shown::time(Minutes(95.0)), "1 h 35");
        assert_eq!(shown::time(Minutes(843.0)), "14 h 05");
        assert_eq!(shown::time(Minutes(59.7)), "1 h");
    }

    proptest! {
        #[test]
        fn fahrenheit_round_trips(c in -40.0..350.0f64) {
            let back = Celsius::from_fahrenheit(Celsius(c).fahrenheit());
            prop_assert!((back.0 - c).abs() < 1e-9);
        }

        #[test]
        fn a_shown_column_adds_up_to_its_shown_total(column in prop::collection::vec(0.0..3000.0f64, 1..20)) {
            let masses: Vec<Grams> = column.into_iter().map(Grams).collect();
            let read_off: f64 = masses.iter().map(|&g| shown::grams(g).parse::<f64>().unwrap()).sum();
            let total: f64 = shown::plain(shown::total(masses)).parse().unwrap();
            prop_assert!((read_off - total).abs() < 1e-6, "{read_off} against {total}");
        }

        #[test]
        fn percent_and_grams_round_trip(flour in 1.0..5000.0f64, pct in 0.0..300.0f64) {
            let g = Percent(pct).of(Grams(flour));
            prop_assert!((g.percent_of(Grams(flour)).0 - pct).abs() < 1e-9);
        }
    }
}
