//! How a household writes its figures: degrees, weights, lengths, the clock. Inside, everything is in °C, g, cm and
//! on the clock of 24 hours; a notation is a matter of fields and of pages.

use jiff::civil::Time;

use crate::choice::choice;
use crate::units::OUNCE;

/// What a field holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Quantity {
    /// A bare number.
    Plain,
    /// Per cent.
    Percent,
    /// A mass in g.
    Grams,
    /// A temperature in °C.
    Celsius,
    /// A difference of temperature in K.
    Kelvin,
    /// A length in cm.
    Length,
    /// A time in h.
    Hours,
    /// A time in min.
    Minutes,
}

choice! {
    /// Which degrees are shown and typed.
    #[derive(Default)]
    Temperatures {
        /// Degrees Celsius.
        #[default]
        Celsius = "celsius", "°C";
        /// Degrees Celsius with Fahrenheit beside them.
        Both = "both", "°C, with °F beside";
        /// Degrees Fahrenheit with Celsius beside them.
        FahrenheitFirst = "fahrenheit-first", "°F, with °C beside";
        /// Degrees Fahrenheit.
        Fahrenheit = "fahrenheit", "°F";
    }
}

choice! {
    /// Which weights are shown and typed. Grams stay beside ounces: salt and yeast want them.
    #[derive(Default)]
    Weights {
        /// Grams.
        #[default]
        Grams = "grams", "g";
        /// Grams with ounces beside them.
        Both = "grams-first", "g, with oz beside";
        /// Ounces with grams beside them.
        OuncesFirst = "ounces-first", "oz, with g beside";
        /// Cups and spoons on the sheets with grams beside them; grams elsewhere.
        CupsFirst = "cups-first", "cups on the sheet, with g beside";
    }
}

choice! {
    /// Which lengths are shown and typed.
    #[derive(Default)]
    Lengths {
        /// Centimetres.
        #[default]
        Centimetres = "cm", "cm";
        /// Inches.
        Inches = "in", "inches";
    }
}

choice! {
    /// How times of day are shown. Either is read in a field.
    #[derive(Default)]
    ClockFace {
        /// 17:30
        #[default]
        Hours24 = "24", "17:30";
        /// 5:30 pm
        Hours12 = "12", "5:30 pm";
    }
}

/// How a household writes its figures.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Notation {
    /// Degrees.
    pub temperatures: Temperatures,
    /// Weights.
    pub weights: Weights,
    /// Lengths.
    pub lengths: Lengths,
    /// Times of day.
    pub clock: ClockFace,
}

impl Notation {
    /// Its four keys, as a form carries them.
    ///
    /// ```
    /// use cerealis_core::notation::Notation;
    /// let n = Notation::default();
    /// assert_eq!(n.key(), "celsius.grams.cm.24");
    /// assert_eq!(Notation::from_key(&n.key()), Some(n));
    /// ```
    pub fn key(&self) -> String {
        [self.temperatures.key(), self.weights.key(), self.lengths.key(), self.clock.key()].join(".")
    }

    /// The notation of four keys.
    pub fn from_key(key: &str) -> Option<Notation> {
        let mut keys = key.split('.');
        Some(Notation {
            temperatures: Temperatures::from_key(keys.next()?)?,
            weights: Weights::from_key(keys.next()?)?,
            lengths: Lengths::from_key(keys.next()?)?,
            clock: ClockFace::from_key(keys.next()?)?,
        })
    }

    /// A time of day.
    pub fn time(&self, t: Time) -> String {
        match self.clock {
            ClockFace::Hours24 => t.strftime("%H:%M").to_string(),
            ClockFace::Hours12 => {
                let half = if t.hour() < 12 { "am" } else { "pm" };
                format!("{}:{:02} {half}", (t.hour() + 11) % 12 + 1, t.minute())
            }
        }
    }

    /// Whether °F come first.
    pub fn in_fahrenheit(&self) -> bool {
        matches!(self.temperatures, Temperatures::Fahrenheit | Temperatures::FahrenheitFirst)
    }

    /// Whether ounces come first.
    pub fn in_ounces(&self) -> bool {
        self.weights == Weights::OuncesFirst
    }

    /// Whether what is weighed is said in cups and spoons first.
    pub fn in_cups(&self) -> bool {
        self.weights == Weights::CupsFirst
    }

    /// Whether ounces stand anywhere.
    pub fn has_ounces(&self) -> bool {
        matches!(self.weights, Weights::Both | Weights::OuncesFirst)
    }

    /// Whether lengths are in inches.
    pub fn in_inches(&self) -> bool {
        self.lengths == Lengths::Inches
    }

    /// A bare figure of a field, in what is reckoned with: °C, g, cm.
    pub fn meant(&self, figure: f64, of: Quantity) -> f64 {
        match of {
            Quantity::Celsius if self.in_fahrenheit() => to_step((figure - 32.0) / 1.8, DEGREE),
            Quantity::Kelvin if self.in_fahrenheit() => to_step(figure / 1.8, DEGREE),
            Quantity::Grams if self.in_ounces() => figure * OUNCE,
            Quantity::Length if self.in_inches() => figure * 2.54,
            _ => figure,
        }
    }

    /// The figure that stands in a field for one that is reckoned with.
    pub fn written(&self, figure: f64, of: Quantity) -> f64 {
        match of {
            Quantity::Celsius if self.in_fahrenheit() => figure * 1.8 + 32.0,
            Quantity::Kelvin if self.in_fahrenheit() => figure * 1.8,
            Quantity::Grams if self.in_ounces() => figure / OUNCE,
            Quantity::Length if self.in_inches() => figure / 2.54,
            _ => figure,
        }
    }

    /// The text that stands in a field for a figure: the shortest that is read back as the same, so that a page that
    /// is sent back changes nothing and what was typed is what is shown.
    pub fn text(&self, figure: f64, of: Quantity) -> String {
        let written = self.written(figure, of);
        let as_read = |text: &str| text.parse().map(|typed| self.meant(typed, of));
        let same = |text: &String| {
            let slack = if written == figure { 0.0 } else { 1e-9 * figure.abs().max(1.0) };
            as_read(text).is_ok_and(|read| (read - figure).abs() <= slack)
        };
        let fine = if written.abs() < 1.0 { 4 } else { FINE };
        let text = (0..FINE).map(|decimals| short(written, decimals)).find(same).unwrap_or_else(|| {
            if written == figure { figure.to_string() } else { format!("{written:.fine$}") }
        });
        if text == "-0" { "0".into() } else { text }
    }

    /// What a text of so many decimals came from: nobody types ounces to the thousandth, so it is a whole step of
    /// grams or centimetres that was written in them.
    pub(crate) fn unrounded(&self, read: f64, decimals: usize, of: Quantity) -> f64 {
        match of {
            _ if decimals < FINE => read,
            Quantity::Grams if self.in_ounces() && read.abs() >= OUNCE => to_step(read, 10.0),
            Quantity::Grams if self.in_ounces() => to_step(read, 100.0),
            Quantity::Length if self.in_inches() => to_step(read, 100.0),
            _ => read,
        }
    }
}

/// Degrees that were °F are kept to a ten thousandth.
const DEGREE: f64 = 10_000.0;

/// Decimals that nobody types, and that a figure has which comes out even in the other unit alone.
const FINE: usize = 3;

/// Rounded to one part of `per`.
pub(crate) fn to_step(x: f64, per: f64) -> f64 {
    (x * per).round() / per
}

fn short(x: f64, decimals: usize) -> String {
    let text = format!("{x:.decimals$}");
    if decimals > 0 { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::typed::typed_in;
    use proptest::prelude::*;
    use proptest::sample::select;

    pub(crate) fn notations() -> impl Strategy<Value = Notation> {
        (
            select(&Temperatures::ALL[..]),
            select(&Weights::ALL[..]),
            select(&Lengths::ALL[..]),
            select(&ClockFace::ALL[..]),
        )
            .prop_map(|(temperatures, weights, lengths, clock)| Notation {
                temperatures,
                weights,
                lengths,
                clock,
            })
    }

    const ALL: [Quantity; 4] = [Quantity::Celsius, Quantity::Kelvin, Quantity::Grams, Quantity::Length];

    proptest! {
        /// What is typed in a notation is shown again as it was typed, whatever the unit.
        #[test]
        fn what_was_typed_is_what_is_shown(n in notations(), tenths in 1i32..6000, of in select(&ALL[..])) {
            let text = format!("{}", f64::from(tenths) / 10.0);
            let read = typed_in(&text, of, n).unwrap();
            prop_assert_eq!(n.text(read, of), text);
        }

        /// A field that is sent back untouched changes nothing.
        #[test]
        fn a_figure_that_comes_back_is_the_same(n in notations(), tenths in 1i32..30000, of in select(&ALL[..])) {
            let figure = f64::from(tenths) / 10.0;
            let text = n.text(figure, of);
            let back = typed_in(&text, of, n).unwrap();
            prop_assert!((back - figure).abs() <= 1e-9 * figure.max(1.0), "{figure} as {text} came back as {back}");
        }
    }
}
