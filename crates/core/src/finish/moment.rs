//! When something of the finish goes on, and on which pieces.

use std::fmt;
use std::str::FromStr;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The latest minute of a bake that can be named.
pub const LATEST_MINUTE: u32 = 180;

/// When something of the finish goes on. Written as `shaped`, `before`, `before:15`, `minute:12`, `to-go:5`,
/// `hot` and `cold`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub enum GoesOnAt {
    /// As soon as the pieces are shaped.
    Shaped,
    /// So many minutes before the oven, 1 to 180.
    Earlier(u32),
    /// Right before the oven.
    Before,
    /// After so many minutes in the oven, 1 to 180.
    Minute(u32),
    /// So many minutes before it comes out, 1 to 180.
    ToGo(u32),
    /// When it is out, and hot.
    Hot,
    /// When it is cold.
    Cold,
}

impl GoesOnAt {
    /// As it is said to the baker.
    pub fn says(self) -> String {
        match self {
            GoesOnAt::Shaped => "when they are shaped".into(),
            GoesOnAt::Earlier(n) => format!("{n} min before the oven"),
            GoesOnAt::Before => "right before the oven".into(),
            GoesOnAt::Minute(n) => format!("after {n} min in the oven"),
            GoesOnAt::ToGo(n) => format!("{n} min before they come out"),
            GoesOnAt::Hot => "when they are out, hot".into(),
            GoesOnAt::Cold => "when they are cold".into(),
        }
    }
}

impl fmt::Display for GoesOnAt {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            GoesOnAt::Shaped => write!(f, "shaped"),
            GoesOnAt::Earlier(n) => write!(f, "before:{n}"),
            GoesOnAt::Before => write!(f, "before"),
            GoesOnAt::Minute(n) => write!(f, "minute:{n}"),
            GoesOnAt::ToGo(n) => write!(f, "to-go:{n}"),
            GoesOnAt::Hot => write!(f, "hot"),
            GoesOnAt::Cold => write!(f, "cold"),
        }
    }
}

impl FromStr for GoesOnAt {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let (word, minute) = match text.split_once(':') {
            Some((word, n)) => (word, n.parse().ok().filter(|n| (1..=LATEST_MINUTE).contains(n))),
            None => (text, None),
        };
        let counted = text.contains(':');
        match (word, minute) {
            ("shaped", None) if !counted => Ok(GoesOnAt::Shaped),
            ("before", None) if !counted => Ok(GoesOnAt::Before),
            ("hot", None) if !counted => Ok(GoesOnAt::Hot),
            ("cold", None) if !counted => Ok(GoesOnAt::Cold),
            ("before", Some(n)) => Ok(GoesOnAt::Earlier(n)),
            ("minute", Some(n)) => Ok(GoesOnAt::Minute(n)),
            ("to-go", Some(n)) => Ok(GoesOnAt::ToGo(n)),
            _ => Err(format!(
                "“{text}” is no moment: shaped, before, before:15, minute:12, to-go:5, hot or cold, with 1 to {LATEST_MINUTE} minutes."
            )),
        }
    }
}

/// On which pieces something of the finish goes. Written as `main`, `all`, `none`, and `2`, `3`, … for the
/// further make-ups as they are numbered at Shape, where the main one is the first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub enum Pieces {
    /// On the main pieces alone.
    #[default]
    Main,
    /// On all.
    All,
    /// On those of one further make-up alone, 0 for the first of them.
    MakeUp(u32),
    /// On none: those it was for are gone.
    None,
}

impl Pieces {
    /// Whether it goes on the main pieces (`None`), or on those of a further make-up.
    pub fn on(self, makeup: Option<u32>) -> bool {
        match self {
            Pieces::Main => makeup.is_none(),
            Pieces::All => true,
            Pieces::MakeUp(n) => makeup == Some(n),
            Pieces::None => false,
        }
    }

    /// On the main ones, as is usual.
    pub fn is_main(&self) -> bool {
        *self == Pieces::Main
    }

    /// The same when a further make-up has gone: those behind it move up.
    pub fn without(self, gone: u32) -> Pieces {
        match self {
            Pieces::MakeUp(n) if n == gone => Pieces::None,
            Pieces::MakeUp(n) if n > gone => Pieces::MakeUp(n - 1),
            other => other,
        }
    }
}

impl fmt::Display for Pieces {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Pieces::Main => write!(f, "main"),
            Pieces::All => write!(f, "all"),
            Pieces::MakeUp(n) => write!(f, "{}", n + 2),
            Pieces::None => write!(f, "none"),
        }
    }
}

impl FromStr for Pieces {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        match (text, text.parse()) {
            ("main", _) => Ok(Pieces::Main),
            ("all", _) => Ok(Pieces::All),
            ("none", _) => Ok(Pieces::None),
            (_, Ok(n @ 2..=9)) => Ok(Pieces::MakeUp(n - 2)),
            _ => Err(format!(
                "“{text}” names no pieces: main, all, none, or the number of a further make-up from 2."
            )),
        }
    }
}

macro_rules! as_text {
    ($($name:ident = $title:literal, $pattern:literal);+) => {$(
        impl TryFrom<String> for $name {
            type Error = String;

            fn try_from(text: String) -> Result<Self, String> {
                text.parse()
            }
        }

        impl From<$name> for String {
            fn from(of: $name) -> String {
                of.to_string()
            }
        }

        impl JsonSchema for $name {
            fn schema_name() -> std::borrow::Cow<'static, str> {
                stringify!($name).into()
            }

            fn json_schema(_: &mut schemars::SchemaGenerator) -> schemars::Schema {
                schemars::json_schema!({ "type": "string", "description": $title, "pattern": $pattern })
            }
        }
    )+};
}
as_text!(
    GoesOnAt = "When something of the finish goes on.", "^(shaped|before(:[0-9]+)?|minute:[0-9]+|to-go:[0-9]+|hot|cold)$";
    Pieces = "On which pieces something of the finish goes.", "^(main|all|none|[2-9])$"
);

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn what_is_written_is_read_again(n in 1..=LATEST_MINUTE, k in 0u32..7) {
            for at in [GoesOnAt::Shaped, GoesOnAt::Earlier(n), GoesOnAt::Before, GoesOnAt::Minute(n),
                GoesOnAt::ToGo(n), GoesOnAt::Hot, GoesOnAt::Cold] {
                prop_assert_eq!(at.to_string().parse(), Ok(at));
            }
            for on in [Pieces::Main, Pieces::All, Pieces::None, Pieces::MakeUp(k)] {
                prop_assert_eq!(on.to_string().parse(), Ok(on));
            }
        }

        /// What was for pieces that are gone goes on none of those that are left: somebody may not bear it.
        #[test]
        fn pieces_that_are_gone_leave_their_finish_to_nobody(k in 0u32..7, gone in 0u32..7, other in 0u32..6) {
            let after = Pieces::MakeUp(k).without(gone);
            prop_assert!(!after.on(None));
            let was = if other >= gone { other + 1 } else { other };
            prop_assert_eq!(after.on(Some(other)), Pieces::MakeUp(k).on(Some(was)));
        }
    }

    #[test]
    fn no_other_word_is_a_moment_or_pieces() {
        for text in ["", "hot:3", "minute", "minute:0", "minute:181", "before:x", "Shaped"] {
            assert!(text.parse::<GoesOnAt>().is_err(), "{text}");
        }
        for text in ["", "1", "10", "first"] {
            assert!(text.parse::<Pieces>().is_err(), "{text}");
        }
    }
}
