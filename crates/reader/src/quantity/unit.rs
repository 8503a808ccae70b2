//! Units of the kitchen, and how they are written and said.

use schemars::JsonSchema;
use serde::Serialize;
use winnow::Result;
use winnow::combinator::repeat;
use winnow::prelude::*;
use winnow::token::take_while;

/// A unit of the kitchen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Unit {
    /// Milligram.
    Milligram,
    /// Gram.
    Gram,
    /// Kilogram.
    Kilogram,
    /// Ounce, 28.35 g.
    Ounce,
    /// Pound, 453.6 g.
    Pound,
    /// Millilitre.
    Millilitre,
    /// Centilitre.
    Centilitre,
    /// Decilitre.
    Decilitre,
    /// Litre.
    Litre,
    /// US fluid ounce, 29.57 ml.
    FluidOunce,
    /// Cup, by setting.
    Cup,
    /// Tablespoon, by setting.
    Tablespoon,
    /// Teaspoon, a third of a US tablespoon.
    Teaspoon,
    /// US pint, two cups.
    Pint,
    /// US quart, four cups.
    Quart,
    /// Stick of butter.
    Stick,
    /// Packet, sachet or envelope.
    Packet,
    /// Cube of fresh yeast.
    Cube,
    /// Large egg; eggs by size.
    Large,
    /// Medium egg.
    Medium,
    /// Small egg.
    Small,
    /// Extra large egg.
    ExtraLarge,
    /// Clove.
    Clove,
    /// Slice or piece.
    Piece,
    /// Handful.
    Handful,
    /// Pinch.
    Pinch,
    /// Dessertspoon, two teaspoons.
    Dessertspoon,
    /// Spoon, of no said size.
    Spoon,
    /// Glug out of a bottle.
    Glug,
    /// Knob of butter.
    Knob,
    /// Splash.
    Splash,
    /// Turn of a mill, or a few strokes on a grater.
    Grinding,
    /// What nobody weighs: a sprig, a bunch, a thumb, a scoop, a wineglass, a teacup, a gill, a quartern.
    Unweighed,
}

impl Unit {
    /// Whether it is a size of what is counted.
    pub(crate) fn is_size(self) -> bool {
        matches!(self, Unit::Small | Unit::Medium | Unit::Large | Unit::ExtraLarge)
    }
}

/// Reads a unit, with or without a full stop, plural, whatever its case; `T` and `t` differ.
pub(crate) fn unit(input: &mut &str) -> Result<Unit> {
    let letters: &str = take_while(1.., |c: char| c.is_alphabetic()).parse_next(input)?;
    let found = match letters {
        "T" | "Tb" | "TB" => Some(Unit::Tablespoon),
        "t" => Some(Unit::Teaspoon),
        _ => by_word(&letters.to_lowercase(), input),
    };
    let Some(found) = found else { return Err(winnow::error::ContextError::new()) };
    repeat::<_, _, (), _, _>(0..=1, '.').parse_next(input)?;
    Ok(found)
}

/// Cloves are a measure of garlic, and a spice by themselves.
fn of_garlic(rest: &str) -> bool {
    let rest = rest.trim_start();
    rest.starts_with("garlic") || rest.starts_with("of garlic")
}

/// What stands behind `spoon` or `spoons`, where the text goes on so.
fn spoons_follow(rest: &str) -> Option<&str> {
    let after = rest.trim_start_matches([' ', '-']).strip_prefix("spoon")?;
    let after = after.strip_prefix("ful").unwrap_or(after);
    Some(after.strip_prefix('s').unwrap_or(after)).filter(|r| !r.starts_with(char::is_alphabetic))
}

fn by_word(word: &str, rest: &mut &str) -> Option<Unit> {
    Some(match word {
        "mg" | "milligram" | "milligrams" => Unit::Milligram,
        "g" | "gr" | "gm" | "gms" | "gs" | "gram" | "grams" | "gramme" | "grammes" => Unit::Gram,
        "kg" | "kgs" | "kilo" | "kilos" | "kilogram" | "kilograms" => Unit::Kilogram,
        "oz" | "ounce" | "ounces" => Unit::Ounce,
        "lb" | "lbs" | "pound" | "pounds" => Unit::Pound,
        "ml" | "mls" | "mil" | "mils" | "millilitre" | "millilitres" | "milliliter" | "milliliters" => {
            Unit::Millilitre
        }
        "cl" | "centilitre" | "centilitres" => Unit::Centilitre,
        "dl" | "decilitre" | "decilitres" | "deciliter" | "deciliters" => Unit::Decilitre,
        "l" | "ltr" | "ltrs" | "lt" | "litre" | "litres" | "liter" | "liters" => Unit::Litre,
        "cup" | "cups" | "c" => Unit::Cup,
        "tbsp" | "tbsps" | "tbs" | "tbl" | "tablespoon" | "tablespoons" | "tablespoonful"
        | "tablespoonfuls" | "tbspn" | "tblsp" | "tb" => Unit::Tablespoon,
        "tsp" | "tsps" | "teaspoon" | "teaspoons" | "teaspoonful" | "teaspoonfuls" => Unit::Teaspoon,
        "pint" | "pints" | "pt" => Unit::Pint,
        "quart" | "quarts" | "qt" => Unit::Quart,
        "stick" | "sticks" => Unit::Stick,
        "pkt" | "pkts" | "pk" | "packet" | "packets" | "package" | "packages" | "pkg" | "pkgs" | "sachet"
        | "sachets" | "envelope" | "envelopes" => Unit::Packet,
        "cube" | "cubes" | "block" | "blocks" => Unit::Cube,
        "dessertspoon" | "dessertspoons" | "dsp" | "dstspn" => Unit::Dessertspoon,
        "spoon" | "spoons" | "spoonful" | "spoonfuls" => Unit::Spoon,
        "glug" | "glugs" => Unit::Glug,
        "knob" | "knobs" => Unit::Knob,
        "splash" | "splashes" | "drop" | "drops" => Unit::Splash,
        "grind" | "grinds" | "grinding" | "grindings" | "grating" | "gratings" | "twist" | "twists" => {
            Unit::Grinding
        }
        "sprig" | "sprigs" | "bunch" | "bunches" | "thumb" | "scoop" | "scoops" | "wineglass"
        | "wineglasses" | "wineglassful" | "teacup" | "teacups" | "teacupful" | "teacupfuls" | "gill"
        | "gills" | "quartern" | "leaf" | "leaves" | "stalk" | "stalks" | "bowl" | "bowlful" | "ladle"
        | "mug" | "mugs" | "glass" => Unit::Unweighed,
        "large" => Unit::Large,
        "medium" => Unit::Medium,
        "small" => Unit::Small,
        "clove" | "cloves" if of_garlic(rest) => Unit::Clove,
        "piece" | "pieces" | "slice" | "slices" => Unit::Piece,
        "handful" | "handfuls" => Unit::Handful,
        "pinch" | "pinches" | "dash" | "dashes" => Unit::Pinch,
        "soup" => {
            *rest = spoons_follow(rest)?;
            Unit::Tablespoon
        }
        "coffee" | "mustard" | "salt" => {
            *rest = spoons_follow(rest)?;
            Unit::Spoon
        }
        "fl" | "fluid" => {
            let tail = rest.trim_start_matches(['.', ' ']);
            let left = ["ounces", "ounce", "oz"].iter().find_map(|o| tail.strip_prefix(o))?;
            *rest = left;
            Unit::FluidOunce
        }
        "extra" => {
            *rest = rest.trim_start_matches(['-', ' ']).strip_prefix("large")?;
            Unit::ExtraLarge
        }
        _ => return None,
    })
}
