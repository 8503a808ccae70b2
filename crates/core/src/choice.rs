//! Choices: enums that a baker picks from, each with a key for files and forms and a name to show.

/// One of a few named choices.
pub trait Choice: Copy + 'static {
    /// Every choice, in the order in which it is offered.
    fn all() -> &'static [Self];
    /// Its name as shown.
    fn name(self) -> &'static str;
    /// Its key as written in files and forms.
    fn key(self) -> &'static str;
}

/// Declares an enum with `ALL`, `name`, `key` and `from_key`; serialised by its keys.
#[macro_export]
macro_rules! choice {
    ($(#[$doc:meta])* $name:ident { $($(#[$vdoc:meta])* $variant:ident = $key:literal, $shown:literal;)+ }) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
        #[derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
        pub enum $name {
            $($(#[$vdoc])* #[serde(rename = $key)] $variant,)+
        }

        impl $name {
            /// Every choice, in the order in which it is offered.
            pub const ALL: [$name; [$($key),+].len()] = [$($name::$variant),+];

            /// Its name as shown.
            pub fn name(self) -> &'static str {
                match self { $($name::$variant => $shown,)+ }
            }

            /// Its key as written in files and forms.
            pub fn key(self) -> &'static str {
                match self { $($name::$variant => $key,)+ }
            }

            /// The choice of this key.
            pub fn from_key(key: &str) -> Option<$name> {
                Self::ALL.into_iter().find(|c| c.key() == key)
            }
        }

        impl $crate::choice::Choice for $name {
            fn all() -> &'static [Self] {
                &Self::ALL
            }

            fn name(self) -> &'static str {
                $name::name(self)
            }

            fn key(self) -> &'static str {
                $name::key(self)
            }
        }
    };
}

pub use choice;

#[cfg(test)]
mod tests {
    use crate::words::{Kind, Method, Stage, Style, Vessel};

    #[test]
    fn keys_round_trip_and_are_what_files_hold() {
        macro_rules! check {
            ($($t:ty),+) => {$(
                for c in <$t>::ALL {
                    assert_eq!(<$t>::from_key(c.key()), Some(c));
                    assert_eq!(serde_json::to_value(c).unwrap(), c.key());
                }
                assert_eq!(<$t>::from_key("Sourdough!"), None);
            )+};
        }
        check!(Stage, Style, Method, Kind, Vessel);
    }
}
