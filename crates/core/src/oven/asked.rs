//! Asked of the oven: every size of a dough, what now when it only looks done, and one setting in
//! every notation.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::answer::{BakeInput, BakeOutput};
use super::physics::colour_word;
use super::search::bake;
use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::units::{Celsius, DEGREES, Grams, Minutes};
use crate::words::{Kind, Style, Vessel};

/// A size of a dough, and its bake.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct SizeRow {
    /// What the piece weighs.
    pub grams: Grams,
    /// Its shape.
    pub kind: Kind,
    /// Oven temperature.
    pub temperature: Celsius,
    /// Minutes.
    pub time: Minutes,
    /// Core when it comes out.
    pub core: Celsius,
    /// Loss in the oven, per cent.
    pub loss: f64,
}

/// What is asked of every size.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BySizeInput {
    /// The bake of one piece; its weight gives way to each size.
    #[serde(flatten)]
    pub bake: BakeInput,
    /// The sizes, 1 to 20 of them, 10 to 5000 g; from a 40 g roll to a 1.2 kg loaf when left out.
    #[serde(default = "usual_sizes")]
    pub sizes: Vec<Grams>,
}

/// From a 40 g roll to a 1.2 kg loaf.
pub fn usual_sizes() -> Vec<Grams> {
    [40.0, 60.0, 90.0, 150.0, 250.0, 400.0, 600.0, 900.0, 1200.0].map(Grams).to_vec()
}

/// A piece up to this weight is a roll, g (common practice).
const ROLL: f64 = 120.0;

impl BySizeInput {
    /// The bake of one of the sizes: small ones are rolls on a sheet, large ones keep the loaf's shape.
    fn of(&self, grams: Grams) -> BakeInput {
        let b = &self.bake;
        let small = grams.0 <= ROLL && b.kind != Kind::Flat;
        let kind = match (small, b.kind.is_small()) {
            (true, false) => Kind::Roll,
            (false, true) => Kind::Round,
            _ => b.kind,
        };
        let mut oven = b.oven;
        // Insisted minutes are those of this piece.
        oven.minutes = None;
        // Small pieces of a soft dough are baked as rolls.
        let style = match b.style {
            Style::Tin | Style::Braid if small => Style::SoftRoll,
            style => style,
        };
        if small {
            oven.vessel = Vessel::Sheet;
            oven.hot_start = None;
        }
        BakeInput { piece: grams, kind, style, oven, load: None, trays: 1, ..b.clone() }
    }
}

/// Finds temperature and minutes for every size of a dough.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn by_size(input: &BySizeInput) -> Result<Vec<SizeRow>, Faults> {
    let mut c = Check::new();
    c.range("sizes", "The number of sizes", input.sizes.len() as f64, 1.0, 20.0, "");
    for (i, s) in input.sizes.iter().enumerate() {
        c.range(&format!("sizes.{i}"), "A piece", s.0, 10.0, 5000.0, "g");
    }
    c.done(())?;
    input
        .sizes
        .iter()
        .map(|grams| {
            let of = input.of(*grams);
            let b = bake(&of)?;
            let (temperature, time, core, loss) = (b.temperature, b.time, b.core, b.loss);
            Ok(SizeRow { grams: *grams, kind: of.kind, temperature, time, core, loss })
        })
        .collect()
}

/// How a bread cools.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct CoolOutput {
    /// Minutes on a rack until its core is under 40 °C, or a rye has set.
    pub cool: Minutes,
    /// What it weighs when it comes out.
    pub hot: Grams,
    /// What it weighs when it has cooled.
    pub cold: Grams,
    /// What to do with the crust.
    pub crust: &'static str,
}

/// Works out how long a piece cools, from its bake.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn cool(input: &BakeInput) -> Result<CoolOutput, Faults> {
    let b = bake(input)?;
    Ok(CoolOutput { cool: b.cool, hot: b.hot, cold: b.baked, crust: b.crust })
}

/// What `what_now` asks for on the command line: the bake and the reading.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WhatNowInput {
    /// The bake as it was planned.
    pub bake: BakeInput,
    /// What was read.
    pub read: ProbeReading,
}

choice! {
    /// How a crust looks.
    Looks {
        /// Paler than it should be.
        Pale = "pale", "Still pale";
        /// As it should be.
        Right = "right", "As it should be";
        /// Darker than it should be.
        Dark = "dark", "Dark enough already";
    }
}

/// A thermometer in a loaf that is still baking.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ProbeReading {
    /// Minutes in the oven so far, 1 to 240.
    pub minutes: Minutes,
    /// Core temperature, 10 to 110 °C.
    pub core: Celsius,
    /// How the crust looks.
    pub looks: Looks,
}

/// What now.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct WhatNow {
    /// Minutes more until the core is done.
    pub more: Minutes,
    /// What to do, a sentence.
    pub says: String,
}

/// Works out what to do with a loaf whose core has been read, from the course that was expected.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn what_now(bake: &BakeOutput, read: &ProbeReading) -> Result<WhatNow, Faults> {
    let mut c = Check::new();
    c.range("minutes", "Minutes in the oven", read.minutes.0, 1.0, 240.0, "min");
    c.range("core", "A core", read.core.0, 10.0, 110.0, "°C");
    c.done(())?;
    if read.core.0 > bake.boiling.0 + 1.5 {
        let text = format!(
            "Water boils at {:.0} °C here, and a moist core is never hotter. Is the probe in the middle of the loaf?",
            bake.boiling.0
        );
        return Err(Fault::new("impossible", "core", text).into());
    }
    let when = |core: f64| bake.curve.iter().find(|m| m.core >= core).map(|m| m.minutes);
    let target = bake.core_target.0;
    let more = match (when(read.core.0), when(target)) {
        _ if read.core.0 >= target => 0.0,
        // It goes on at the pace that it has had so far.
        (Some(at), Some(done)) if at > 0.5 => (done - at) * (read.minutes.0 / at).clamp(0.6, 2.0),
        _ => (bake.time.0 - read.minutes.0).max(3.0),
    };
    let more = more.ceil();
    let says = match (read.looks, more > 0.0) {
        (Looks::Right, false) => "It is done: take it out.".to_owned(),
        (Looks::Pale, false) => format!(
            "The core is done and the crust is pale. Turn the oven up by 20 {DEGREES} for five minutes, out of the tin if it has one; the core cannot pass {:.0} °C while it is moist.",
            bake.boiling.0
        ),
        (Looks::Dark, false) => {
            format!("The core is done: take it out now. Next time set the oven 15 {DEGREES} lower.")
        }
        (Looks::Pale, true) => format!("About {more:.0} min more as it is: colour and core come together."),
        (Looks::Right, true) => format!(
            "It only looks done: the core needs about {more:.0} min more. Lay foil over it loosely, and look again at half of that."
        ),
        (Looks::Dark, true) => format!(
            "Cover it with foil now and turn the oven down by 20 {DEGREES}. The core needs about {:.0} min more. Next time set the oven 15 {DEGREES} lower from the start.",
            1.15 * more
        ),
    };
    Ok(WhatNow { more: Minutes(more), says })
}

/// How much lower an oven with its fan on is set, K (common practice, no source).
pub const FAN_LOWER: f64 = 20.0;

/// One setting in every notation that ovens have.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Notations {
    /// Without the fan, to five degrees.
    pub still: Celsius,
    /// With the fan.
    pub fan: Celsius,
    /// Degrees Fahrenheit without the fan, to five degrees.
    pub fahrenheit: f64,
    /// Gas mark: ¼, ½, 1 to 10; `None` beyond them.
    pub gas: Option<String>,
}

impl Notations {
    /// Of a temperature found for an oven with or without its fan. Fan ovens are set 20 K lower; gas
    /// mark 1 is 275 °F and each mark 25 °F more (common practice, no source).
    pub fn of(temperature: Celsius, fan: bool) -> Notations {
        // An oven is not set finer than five degrees. Each scale is rounded by itself, from the one exact
        // figure: 350 °F stays that.
        let wanted = if fan { temperature.0 + FAN_LOWER } else { temperature.0 };
        let still = 5.0 * (wanted / 5.0).round();
        let exact = wanted * 1.8 + 32.0;
        let mark = ((exact - 250.0) / 25.0).round();
        let gas = match mark {
            m if (1.0..=10.0).contains(&m) => Some(format!("{m:.0}")),
            0.0 => Some("½".to_owned()),
            -1.0 => Some("¼".to_owned()),
            _ => None,
        };
        Notations {
            still: Celsius(still),
            fan: Celsius(still - FAN_LOWER),
            fahrenheit: 5.0 * (exact / 5.0).round(),
            gas,
        }
    }
}

/// A step of the colour card: lightness, the colour's word, and what bread it is usual for.
pub fn colour_card() -> [(f64, &'static str); 6] {
    [82.0, 74.0, 66.0, 58.0, 51.0, 42.0].map(|l| (l, colour_word(l)))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Gas marks and degrees as ovens are marked (common practice, no source).
    #[test]
    fn one_setting_in_every_notation() {
        for (c, f, gas) in
            [(150.0, 300.0, "2"), (180.0, 355.0, "4"), (200.0, 390.0, "6"), (220.0, 430.0, "7")]
        {
            let n = Notations::of(Celsius(c), false);
            assert_eq!((n.fahrenheit, n.gas.as_deref()), (f, Some(gas)), "{c}");
            assert_eq!(n.fan, Celsius(c - 20.0));
        }
        assert_eq!(Notations::of(Celsius(180.0), true).still, Celsius(200.0));
        assert_eq!(Notations::of(Celsius(120.0), false).gas.as_deref(), Some("½"));
        assert_eq!(Notations::of(Celsius(290.0), false).gas, None);
    }
}
