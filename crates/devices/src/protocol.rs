//! The lines that devices speak: one message a line, words with spaces between, in UTF-8. Both sides pass over a line that
//! they do not know, so that a later version may say more.

use std::fmt;

/// The version of the lines.
pub const VERSION: u32 = 1;
/// The longest line, in bytes.
pub const LINE_MAX: usize = 200;

/// What a device is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// A bench scale.
    Scale,
    /// A thermometer that is stuck into a dough.
    Probe,
    /// A thermometer that lies in an oven.
    Oven,
}

impl Kind {
    /// All of them.
    pub const ALL: [Kind; 3] = [Kind::Scale, Kind::Probe, Kind::Oven];

    /// Its word.
    pub fn word(self) -> &'static str {
        match self {
            Kind::Scale => "scale",
            Kind::Probe => "probe",
            Kind::Oven => "oven",
        }
    }

    /// The kind of a word.
    pub fn from_word(word: &str) -> Option<Kind> {
        Kind::ALL.into_iter().find(|k| k.word() == word)
    }
}

/// What is measured.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Quantity {
    /// Weight, in grams.
    Weight,
    /// Temperature, in degrees Celsius.
    Temperature,
}

impl Quantity {
    fn words(self) -> (&'static str, &'static str) {
        match self {
            Quantity::Weight => ("weight", "g"),
            Quantity::Temperature => ("temperature", "C"),
        }
    }
}

/// A line of a device.
#[derive(Clone, Debug, PartialEq)]
pub enum Line {
    /// The first line: who it is, and which version it speaks.
    Greeting {
        /// The version.
        version: u32,
        /// What it is.
        kind: Kind,
        /// Its name, to the end of the line.
        name: String,
    },
    /// What it shows.
    Shows {
        /// What is measured.
        quantity: Quantity,
        /// The figure, in its unit.
        value: f64,
        /// Whether it stands still.
        stable: bool,
    },
    /// What was asked was done.
    Done,
    /// Something is wrong with it, in words.
    Trouble(String),
}

/// What a device is asked.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Ask {
    /// A scale: this is nought.
    Tare,
    /// A simulated one: something is done at it.
    Act(Act, f64),
}

/// What can be done at a simulated device.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Act {
    /// So many grams are put on the scale, over some seconds; taken off where negative.
    Put,
    /// The probe is stuck into something of so many °C.
    Into,
    /// The oven's dial is turned to so many °C.
    Dial,
    /// Its door is open for so many seconds.
    Door,
    /// It says nothing for so many seconds.
    Silent,
}

impl Act {
    /// All of them.
    pub const ALL: [Act; 5] = [Act::Put, Act::Into, Act::Dial, Act::Door, Act::Silent];

    /// Its word.
    pub fn word(self) -> &'static str {
        match self {
            Act::Put => "put",
            Act::Into => "into",
            Act::Dial => "dial",
            Act::Door => "door",
            Act::Silent => "silent",
        }
    }

    /// What is done by a word.
    pub fn from_word(word: &str) -> Option<Act> {
        Act::ALL.into_iter().find(|a| a.word() == word)
    }
}

/// A line that does not read; which word of it.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("the line does not read at “{0}”")]
pub struct Malformed(pub String);

fn plain(text: &str) -> String {
    let one_line: String = text.chars().map(|c| if c.is_control() { ' ' } else { c }).collect();
    let mut cut = one_line.trim().to_owned();
    while cut.len() > LINE_MAX / 2 {
        cut.pop();
    }
    cut
}

impl fmt::Display for Line {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Line::Greeting { version, kind, name } => {
                write!(f, "cerealis-device {version} {} {}", kind.word(), plain(name))
            }
            Line::Shows { quantity, value, stable } => {
                let (word, unit) = quantity.words();
                write!(f, "{word} {value:.2} {unit} {}", if *stable { "stable" } else { "moving" })
            }
            Line::Done => write!(f, "done"),
            Line::Trouble(words) => write!(f, "trouble {}", plain(words)),
        }
    }
}

impl Line {
    /// Reads a line; `None` for one of a word that this version does not know.
    ///
    /// # Errors
    /// A line of a known word that does not read.
    pub fn parse(text: &str) -> Result<Option<Line>, Malformed> {
        let bad = |word: &str| Malformed(word.chars().take(40).collect());
        let (word, rest) = text.trim().split_once(' ').unwrap_or((text.trim(), ""));
        Ok(Some(match word {
            "cerealis-device" => {
                let mut parts = rest.splitn(3, ' ');
                let mut next = || parts.next().unwrap_or_default();
                let (version, kind, name) = (next(), next(), next());
                Line::Greeting {
                    version: version.parse().map_err(|_| bad(version))?,
                    kind: Kind::from_word(kind).ok_or_else(|| bad(kind))?,
                    name: plain(name),
                }
            }
            "weight" | "temperature" => {
                let quantity = if word == "weight" { Quantity::Weight } else { Quantity::Temperature };
                let parts: Vec<&str> = rest.split(' ').collect();
                let [value, unit, stands] = parts[..] else { return Err(bad(rest)) };
                if unit != quantity.words().1 {
                    return Err(bad(unit));
                }
                let figure: f64 = value.parse().map_err(|_| bad(value))?;
                // “nan” and “inf” are figures to Rust, and none to anybody else.
                if !figure.is_finite() || figure.abs() > 1e6 {
                    return Err(bad(value));
                }
                let stable = match stands {
                    "stable" => true,
                    "moving" => false,
                    other => return Err(bad(other)),
                };
                Line::Shows { quantity, value: figure, stable }
            }
            "done" => Line::Done,
            "trouble" => Line::Trouble(plain(rest)),
            _ => return Ok(None),
        }))
    }
}

impl fmt::Display for Ask {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Ask::Tare => write!(f, "tare"),
            Ask::Act(act, figure) => write!(f, "act {} {figure:.2}", act.word()),
        }
    }
}

impl Ask {
    /// Reads what is asked; `None` for what this version does not know.
    pub fn parse(text: &str) -> Option<Ask> {
        match text.trim().split(' ').collect::<Vec<_>>()[..] {
            ["tare"] => Some(Ask::Tare),
            ["act", word, figure] => {
                let figure: f64 = figure.parse().ok().filter(|f: &f64| f.is_finite() && f.abs() <= 1e4)?;
                Some(Ask::Act(Act::from_word(word)?, figure))
            }
            _ => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn lines() -> impl Strategy<Value = Line> {
        let kind = prop::sample::select(Kind::ALL.to_vec());
        prop_oneof![
            (1u32..9, kind, "[a-zA-Z][a-zA-Z ]{0,20}[a-z]")
                .prop_map(|(version, kind, name)| Line::Greeting { version, kind, name }),
            (any::<bool>(), -200_000i32..200_000, any::<bool>()).prop_map(|(weight, hundredths, stable)| {
                let quantity = if weight { Quantity::Weight } else { Quantity::Temperature };
                Line::Shows { quantity, value: f64::from(hundredths) / 100.0, stable }
            }),
            Just(Line::Done),
            "[a-z][a-z ]{0,30}[a-z]".prop_map(Line::Trouble),
        ]
    }

    proptest! {
        #[test]
        fn a_line_is_read_as_it_was_said(line in lines()) {
            let said = line.to_string();
            prop_assert!(said.len() <= LINE_MAX && !said.contains('\n'));
            prop_assert_eq!(Line::parse(&said), Ok(Some(line)));
        }

        /// Whatever comes is a line, one that is not known, or one that does not read.
        #[test]
        fn any_text_is_answered_for(bytes in prop::collection::vec(any::<u8>(), 0..300)) {
            let text = String::from_utf8_lossy(&bytes);
            if let Ok(Some(line)) = Line::parse(&text) {
                prop_assert!(line.to_string().len() <= LINE_MAX);
            }
            if let Some(ask) = Ask::parse(&text) {
                prop_assert_eq!(Ask::parse(&ask.to_string()).is_some(), true);
            }
        }

        #[test]
        fn what_is_asked_is_read_as_it_was_said(act in prop::sample::select(Act::ALL.to_vec()), hundredths in -100_000i32..100_000) {
            let ask = Ask::Act(act, f64::from(hundredths) / 100.0);
            prop_assert_eq!(Ask::parse(&ask.to_string()), Some(ask));
        }

        /// A word more or another in a known line: it never reads as another figure.
        #[test]
        fn a_damaged_figure_is_none(value in -5000.0..5000.0f64, end in "[a-z]{1,8}") {
            let (said, unit) = (format!("weight {value:.2} g stable {end}"), format!("weight {value:.2} {end}x stable"));
            prop_assert!(Line::parse(&said).is_err());
            prop_assert!(Line::parse(&unit).is_err());
        }
    }

    #[test]
    fn what_is_no_figure_is_refused_and_what_is_new_is_passed_over() {
        for bad in [
            "weight nan g stable",
            "weight inf g stable",
            "weight 1e9 g stable",
            "weight g stable",
            "temperature 20 F stable",
        ] {
            assert!(Line::parse(bad).is_err(), "{bad}");
        }
        assert_eq!(Line::parse("humidity 70 % stable"), Ok(None));
        assert_eq!(Ask::parse("calibrate"), None);
    }
}
