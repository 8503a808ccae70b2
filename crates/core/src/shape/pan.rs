//! Pans, baskets and pots: what they hold, how high a dough stands in them, and whether it fits.

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Faults};
use crate::rise::DOUGH_DENSITY;
use crate::units::Grams;

choice! {
    /// The shape of a pan.
    PanShape {
        /// Rectangular, its sides sloped or straight.
        Tin = "tin", "Tin";
        /// Round, its side sloped or straight.
        Round = "round", "Round pan";
        /// Round with a tube in the middle.
        Ring = "ring", "Ring pan";
        /// A basket or bowl: half an egg.
        Basket = "basket", "Basket";
        /// A pot with a lid: round and straight.
        Pot = "pot", "Pot";
        /// A flat tray or sheet.
        Tray = "tray", "Tray";
    }
}

/// The inside of a pan, cm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PanForm {
    /// Its shape.
    pub shape: PanShape,
    /// Length, or width of what is round, at the rim, 3 to 100 cm.
    pub length: f64,
    /// Width at the rim; the tube of a ring; the length again where it is left out. 1 to 100 cm.
    #[serde(default)]
    pub width: Option<f64>,
    /// Length at the base; as at the rim when left out.
    #[serde(default)]
    pub base_length: Option<f64>,
    /// Width at the base.
    #[serde(default)]
    pub base_width: Option<f64>,
    /// Depth, 0.5 to 40 cm.
    pub depth: f64,
}

impl PanForm {
    /// Notes what is out of range, under `path`.
    pub fn check(&self, c: &mut Check, path: &str) {
        c.range(&format!("{path}.length"), "A pan's length", self.length, 3.0, 100.0, "cm");
        c.range(&format!("{path}.depth"), "A pan's depth", self.depth, 0.5, 40.0, "cm");
        for (name, what, value) in [
            ("width", "A pan's width", self.width),
            ("base_length", "The base's length", self.base_length),
            ("base_width", "The base's width", self.base_width),
        ] {
            if let Some(v) = value {
                c.range(&format!("{path}.{name}"), what, v, 1.0, 100.0, "cm");
            }
        }
        if self.shape == PanShape::Ring {
            let tube = self.width.unwrap_or(0.0);
            c.range(&format!("{path}.width"), "The tube", tube, 1.0, (0.9 * self.length).max(1.0), "cm");
        }
    }

    /// Length and width at the rim and at the base.
    fn sides(&self) -> [(f64, f64); 2] {
        let rim = (self.length, self.width.unwrap_or(self.length));
        let base = (self.base_length.unwrap_or(rim.0), self.base_width.or(self.base_length).unwrap_or(rim.1));
        match self.shape {
            PanShape::Round | PanShape::Pot => {
                let across = self.base_length.unwrap_or(self.length);
                [(self.length, self.length), (across, across)]
            }
            _ => [rim, base],
        }
    }

    /// What it holds to a height of `h` cm, ml.
    ///
    /// ```
    /// use cerealis_core::shape::{PanForm, PanShape};
    /// let tin = PanForm { shape: PanShape::Tin, length: 20.0, width: Some(10.0), base_length: None, base_width: None, depth: 9.0 };
    /// assert_eq!(tin.holds(9.0), 1800.0);
    /// ```
    pub fn holds(&self, h: f64) -> f64 {
        // A depth that is none holds nothing; it is told at its field.
        let d = self.depth.max(0.0);
        let h = h.min(d).max(0.0);
        if !(d > 0.0 && h > 0.0) {
            return 0.0;
        }
        let [(l, w), (bl, bw)] = self.sides();
        let (dl, dw) = (l - bl, w - bw);
        let sloped =
            bl * bw * h + (bl * dw + bw * dl) * h * h / (2.0 * d) + dl * dw * h.powi(3) / (3.0 * d * d);
        match self.shape {
            PanShape::Tin | PanShape::Tray => sloped,
            PanShape::Round | PanShape::Pot => PI / 4.0 * sloped,
            PanShape::Ring => PI / 4.0 * (l * l - w * w) * h,
            PanShape::Basket => PI / 4.0 * l * w * (h * h / d - h.powi(3) / (3.0 * d * d)),
        }
    }

    /// What stands in it to a height, ml: over the rim as on straight walls.
    pub fn holds_to(&self, h: f64) -> f64 {
        self.holds(h) + (h - self.depth).max(0.0) * self.opening()
    }

    /// What it holds to the rim, ml.
    pub fn ml(&self) -> f64 {
        self.holds(self.depth)
    }

    /// Its opening, cm².
    fn opening(&self) -> f64 {
        let [(l, w), _] = self.sides();
        match self.shape {
            PanShape::Tin | PanShape::Tray => l * w,
            PanShape::Ring => PI / 4.0 * (l * l - w * w),
            _ => PI / 4.0 * l * w,
        }
    }

    /// How high so many ml stand in it, cm; over the rim as on straight walls.
    pub fn height(&self, ml: f64) -> f64 {
        if ml >= self.ml() {
            return self.depth + (ml - self.ml()) / self.opening();
        }
        let (mut low, mut high) = (0.0, self.depth);
        for _ in 0..50 {
            let mid = 0.5 * (low + high);
            if self.holds(mid) < ml { low = mid } else { high = mid }
        }
        0.5 * (low + high)
    }

    /// Width of its section at a height, cm: along its shorter side.
    pub fn width_at(&self, h: f64) -> f64 {
        let [(l, w), (bl, bw)] = self.sides();
        let k = (h / self.depth).clamp(0.0, 1.0);
        match self.shape {
            PanShape::Basket => l.min(w) * (1.0 - (1.0 - k).powi(2)).max(0.0).sqrt(),
            PanShape::Ring => l,
            _ => bl.min(bw) + k * (l.min(w) - bl.min(bw)),
        }
    }
}

/// What kind of dough fills a pan.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PanInput {
    /// The pan.
    pub pan: PanForm,
    /// What it holds, measured by weight of water, ml; worked out from its form when left out.
    #[serde(default)]
    pub ml: Option<f64>,
    /// Whether its lid goes on.
    #[serde(default)]
    pub lidded: bool,
    /// Whether it lies low by intent: several pieces side by side, or a flat bake. It has no line to rise to.
    #[serde(default)]
    pub low: bool,
    /// How high a piece stands in the open, cm, when filled, ready and baked: in a roomy pan it stands no lower.
    #[serde(default)]
    pub open: Option<[f64; 3]>,
    /// Dough for one pan, 1 to 20 000 g.
    pub dough: Grams,
    /// Whole-grain flour, per cent of flour.
    #[serde(default)]
    pub whole_grain: f64,
    /// Whether the dough has no gluten.
    #[serde(default)]
    pub gluten_free: bool,
    /// Volume against the dough without gas when filled, 1 to 5.
    #[serde(default = "filled")]
    pub shaped_volume: f64,
    /// The same when it is ready for the oven.
    #[serde(default = "ready")]
    pub proofed_volume: f64,
    /// Volume after oven spring over that, 1 to 2.
    #[serde(default = "springs")]
    pub spring: f64,
}

fn filled() -> f64 {
    1.2
}
fn ready() -> f64 {
    2.2
}
fn springs() -> f64 {
    1.15
}

/// How a dough stands in a pan.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct PanOutput {
    /// What the pan holds to the rim, ml.
    pub ml: f64,
    /// Dough that is usual for it, least and most.
    pub usual: (Grams, Grams),
    /// Too much dough, or below zero too little; nought where it fits.
    pub over: Grams,
    /// Height when filled, when ready, and after the oven, cm.
    pub heights: [f64; 3],
    /// The line to wait for, cm under the rim; below zero over it.
    pub ready_line: f64,
    /// Times its filled volume at which it stands at that line.
    pub ready_times: f64,
    /// Whether it comes to that line by the time it is proofed, within a tenth of its height.
    pub reaches: bool,
    /// What to know, and what to do.
    pub says: String,
}

/// Grams of dough for a ml of pan, least and most (common practice, no source).
pub fn fill_rule(whole_grain: f64, gluten_free: bool, lidded: bool) -> (f64, f64) {
    let share = (whole_grain / 100.0).clamp(0.0, 1.0);
    let of = |white: (f64, f64), whole: (f64, f64)| {
        (white.0 + share * (whole.0 - white.0), white.1 + share * (whole.1 - white.1))
    };
    match (gluten_free, lidded) {
        (true, _) => (0.6, 0.75),
        (false, true) => of((0.48, 0.55), (0.53, 0.62)),
        (false, false) => of((0.45, 0.5), (0.5, 0.6)),
    }
}

/// Grams of dough for a ml of pan where it lies low: rolls side by side, a flat bake (common practice, no source).
const LOW_FILL: (f64, f64) = (0.1, 0.45);

/// Puts a dough in a pan.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn pan(input: &PanInput) -> Result<PanOutput, Faults> {
    let mut c = Check::new();
    input.pan.check(&mut c, "pan");
    if let Some(ml) = input.ml {
        c.range("ml", "A pan", ml, 50.0, 20_000.0, "ml");
    }
    c.range("dough", "The dough", input.dough.0, 1.0, 20_000.0, "g");
    c.range("whole_grain", "Whole grain", input.whole_grain, 0.0, 100.0, "%");
    c.range("shaped_volume", "The filled volume", input.shaped_volume, 1.0, 5.0, "times");
    c.range("proofed_volume", "The proofed volume", input.proofed_volume, 1.0, 5.0, "times");
    c.range("spring", "The spring", input.spring, 1.0, 2.0, "times");
    c.done(())?;
    let form = &input.pan;
    let ml = input.ml.unwrap_or_else(|| form.ml());
    // A pan that was measured with water is as its form, but for the scale.
    let scale = form.ml() / ml;
    let bare = input.dough.0 / DOUGH_DENSITY;
    let height = |times: f64| form.height(bare * times * scale);
    let level = [input.shaped_volume, input.proofed_volume, input.proofed_volume * input.spring].map(height);
    let open = input.open.unwrap_or_default();
    let at = [0, 1, 2].map(|n| level[n].max(open[n]));
    let (low, high) =
        if input.low { LOW_FILL } else { fill_rule(input.whole_grain, input.gluten_free, input.lidded) };
    let usual = (Grams(low * ml), Grams(high * ml));
    let over = if input.dough > usual.1 {
        input.dough - usual.1
    } else if input.dough < usual.0 {
        input.dough - usual.0
    } else {
        Grams(0.0)
    };
    // Ready: a lidded pan at 80 to 85 %, a batter below the rim, others at the rim or a finger over.
    let share = if input.lidded {
        0.825
    } else if input.gluten_free {
        0.9
    } else {
        1.0
    };
    let line = if input.low { at[1] } else { form.height(share * form.ml()) };
    Ok(PanOutput {
        ml,
        usual,
        over,
        heights: at,
        ready_line: form.depth - line,
        ready_times: if input.low {
            input.proofed_volume / input.shaped_volume
        } else {
            share * ml / (bare * input.shaped_volume)
        },
        reaches: at[1] >= 0.9 * line,
        says: says(input, over, at[1], line),
    })
}

fn says(input: &PanInput, over: Grams, ready: f64, line: f64) -> String {
    let g = over.0.abs();
    if over.0 > 0.0 {
        let rolls = (g / 60.0).round().max(1.0);
        let rest = if g < 30.0 {
            "Bake it as it is, and watch that it does not run over.".to_owned()
        } else {
            format!("Make {rolls:.0} roll{} of it, or take a larger pan.", if rolls > 1.0 { "s" } else { "" })
        };
        let lid = if input.lidded { " Under a lid it presses out at the seam." } else { "" };
        return format!("Too much for this pan by {g:.0} g. {rest}{lid}");
    }
    if over.0 < 0.0 {
        return format!(
            "Too little for this pan by {g:.0} g: it ends {:.1} cm under its line. Take a smaller pan, or scale the dough up.",
            (line - ready).max(0.0)
        );
    }
    if ready < 0.9 * line {
        return "It fits the pan, but is not proofed far enough to reach its line. Let it rise further."
            .into();
    }
    if input.low {
        return format!("It fits this pan, and stands {ready:.1} cm high in it when it is ready.");
    }
    "It fits this pan.".into()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn form(shape: PanShape, length: f64, width: f64, base: (f64, f64), depth: f64) -> PanForm {
        PanForm {
            shape,
            length,
            width: Some(width),
            base_length: Some(base.0),
            base_width: Some(base.1),
            depth,
        }
    }

    fn tin() -> PanForm {
        form(PanShape::Tin, 24.0, 12.0, (22.0, 10.0), 9.0)
    }

    fn input(dough: f64, lidded: bool) -> PanInput {
        PanInput {
            pan: tin(),
            ml: None,
            lidded,
            low: false,
            open: None,
            dough: Grams(dough),
            whole_grain: 0.0,
            gluten_free: false,
            shaped_volume: 1.2,
            proofed_volume: 2.2,
            spring: 1.15,
        }
    }

    #[test]
    fn too_much_and_too_little_are_said_with_what_to_do() {
        let ml = tin().ml();
        let fits = pan(&input(0.475 * ml, false)).unwrap();
        assert_eq!((fits.over, fits.says.as_str()), (Grams(0.0), "It fits this pan."));
        assert!(fits.ready_line.abs() < 1e-9, "open: at the rim");
        let much = pan(&input(0.5 * ml + 140.0, false)).unwrap();
        assert!(
            (much.over.0 - 140.0).abs() < 1e-6
                && much.says.contains("140 g")
                && much.says.contains("2 rolls")
        );
        let little = pan(&input(0.3 * ml, false)).unwrap();
        assert!(little.over.0 < 0.0 && little.says.contains("smaller pan") && !little.reaches);
        let lidded = pan(&input(0.5 * ml, true)).unwrap();
        assert!((1.0..2.0).contains(&lidded.ready_line), "80 to 85 % of 9 cm: {}", lidded.ready_line);
        assert_eq!(pan(&PanInput { dough: Grams(0.0), ..input(1.0, false) }).unwrap_err().0[0].path, "dough");
    }

    #[test]
    fn water_measures_what_a_rule_cannot() {
        let by_water = pan(&PanInput { ml: Some(tin().ml() * 1.1), ..input(800.0, false) }).unwrap();
        let by_rule = pan(&input(800.0, false)).unwrap();
        assert!(by_water.heights[1] < by_rule.heights[1] && by_water.usual.0 > by_rule.usual.0);
    }

    proptest! {
        /// Volumes against numerical integration of the section, in thousands of slices.
        #[test]
        fn volumes_are_the_sum_of_their_slices(
            shape in prop::sample::select(PanShape::ALL.to_vec()),
            length in 10.0..40.0f64, width in 3.0..9.0f64, taper in 0.6..1.0f64, depth in 2.0..15.0f64, part in 0.1..1.0f64,
        ) {
            let f = form(shape, length, width, (length * taper, width * taper), depth);
            let n = 4000;
            let h = part * depth;
            let area = |z: f64| {
                let k = z / depth;
                let (l, w) = (length * (taper + (1.0 - taper) * k), width * (taper + (1.0 - taper) * k));
                match shape {
                    PanShape::Tin | PanShape::Tray => l * w,
                    PanShape::Round | PanShape::Pot => PI / 4.0 * l * l,
                    PanShape::Ring => PI / 4.0 * (length * length - width * width),
                    PanShape::Basket => PI / 4.0 * length * width * (1.0 - (1.0 - k).powi(2)),
                }
            };
            let sum: f64 = (0..n).map(|i| area((f64::from(i) + 0.5) / f64::from(n) * h) * h / f64::from(n)).sum();
            prop_assert!((f.holds(h) - sum).abs() < 1e-3 * sum, "{} for {sum}", f.holds(h));
            prop_assert!((f.height(f.holds(h)) - h).abs() < 1e-6, "the height gives it back");
        }

        #[test]
        fn more_dough_stands_higher(dough in 100.0..2000.0f64) {
            let (a, b) = (pan(&input(dough, false)).unwrap(), pan(&input(1.05 * dough, false)).unwrap());
            prop_assert!(a.heights.iter().zip(&b.heights).all(|(x, y)| x < y));
            prop_assert!(a.heights[0] < a.heights[1] && a.heights[1] < a.heights[2]);
        }
    }
}
