//! A pan of the house, and how it is written as a line: “Weir tin: tin 24 × 12 to 22 × 10 × 9, lid”.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{PanForm, PanShape};
use crate::words::Made;

/// A pan of the house.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Pan {
    /// Its name, 1 to 40 characters.
    pub name: String,
    /// What it holds to the rim, 50 to 20 000 ml: by weight of water, or worked out from its form.
    pub ml: f64,
    /// Its form; unknown when left out.
    #[serde(default)]
    pub form: Option<PanForm>,
    /// Whether it has a lid.
    #[serde(default)]
    pub lid: bool,
    /// What it is made of.
    #[serde(default)]
    pub made: Made,
}

impl Pan {
    /// A pan of which only the volume is known.
    pub fn of_ml(name: impl Into<String>, ml: f64) -> Pan {
        Pan { name: name.into(), ml, form: None, lid: false, made: Made::default() }
    }

    /// Reads a line: a name, a colon, and the volume in ml, or the shape with its sizes in cm (at the
    /// rim, then “to” and those at the base, depth last); then `lid`, and what it is made of.
    ///
    /// ```
    /// use cerealis_core::shape::Pan;
    /// let pan = Pan::from_line("Weir tin: tin 24 x 12 to 22 x 10 x 9, lid, dark").unwrap();
    /// assert!(pan.lid && (2200.0..2400.0).contains(&pan.ml));
    /// assert_eq!(Pan::from_line(&pan.line()), Some(pan));
    /// ```
    pub fn from_line(line: &str) -> Option<Pan> {
        let (name, rest) = line.rsplit_once(':')?;
        let mut parts = rest.split(',').map(str::trim);
        let first = parts.next()?.to_lowercase().replace(['×', '*'], "x");
        let mut pan = Pan::of_ml(name.trim(), 0.0);
        if let Some(ml) = number(first.trim_end_matches("ml")) {
            pan.ml = ml;
        } else {
            let (word, sizes) = first.split_once(' ')?;
            let form = read_form(PanShape::from_key(word)?, sizes.trim_end_matches("cm"))?;
            pan.ml = form.ml();
            pan.form = Some(form);
        }
        for part in parts.map(str::to_lowercase) {
            match part.as_str() {
                "lid" | "with lid" => pan.lid = true,
                "" => {}
                other => match (number(other.strip_suffix("ml").unwrap_or("-")), Made::from_key(other)) {
                    // Measured with water, whatever its form says.
                    (Some(ml), _) => pan.ml = ml,
                    (None, Some(made)) => pan.made = made,
                    (None, None) => return None,
                },
            }
        }
        Some(pan)
    }

    /// The pan as a line that [`Pan::from_line`] reads.
    pub fn line(&self) -> String {
        let Some(f) = &self.form else {
            return format!("{}: {}{}", self.name, self.ml, self.extras());
        };
        let pair = |a: f64, b: Option<f64>| b.map_or(format!("{a}"), |b| format!("{a} × {b}"));
        let base = f.base_length.map_or(String::new(), |b| format!(" to {}", pair(b, f.base_width)));
        let measured =
            if (f.ml() - self.ml).abs() > 0.5 { format!(", {} ml", self.ml) } else { String::new() };
        let rim = pair(f.length, f.width);
        format!("{}: {} {rim}{base} × {}{measured}{}", self.name, f.shape.key(), f.depth, self.extras())
    }

    fn extras(&self) -> String {
        let made =
            if self.made == Made::default() { String::new() } else { format!(", {}", self.made.key()) };
        format!("{}{made}", if self.lid { ", lid" } else { "" })
    }
}

fn number(text: &str) -> Option<f64> {
    let text = text.trim();
    let plain = !text.is_empty() && text.chars().all(|c| c.is_ascii_digit() || c == '.');
    if plain { text.parse().ok().filter(|n: &f64| *n > 0.0) } else { None }
}

/// “24 x 12 to 22 x 10 x 9”, “22 x 10 x 9”, “24 to 22 x 8”, “24 x 8”: the depth comes last.
fn read_form(shape: PanShape, text: &str) -> Option<PanForm> {
    let read = |t: &str| -> Option<Vec<f64>> { t.split('x').map(number).collect() };
    let (rim, mut base) = match text.split_once(" to ") {
        Some((rim, base)) => (read(rim)?, read(base)?),
        None => (read(text)?, Vec::new()),
    };
    let mut rim = rim;
    let depth = if base.is_empty() { rim.pop()? } else { base.pop()? };
    let fits = (1..=2).contains(&rim.len()) && base.len() <= 2 && (rim.len() == 2 || base.len() < 2);
    fits.then(|| PanForm {
        shape,
        length: rim[0],
        width: rim.get(1).copied(),
        base_length: base.first().copied(),
        base_width: base.get(1).copied(),
        depth,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn lines_as_bakers_write_them() {
        let ml = |line: &str| Pan::from_line(line).map(|p| p.ml.round());
        assert_eq!(ml("Weir tin: 1850"), Some(1850.0));
        assert_eq!(ml("Small tin: 950 ml"), Some(950.0));
        assert_eq!(ml("Brick: tin 20 × 10 × 9"), Some(1800.0));
        assert_eq!(ml("Cake pan: round 20 x 7"), Some(2199.0));
        assert_eq!(ml("Basket: basket 20 x 9"), Some(1885.0));
        assert_eq!(ml("Ring: ring 24 x 6 x 8"), Some(3393.0));
        assert_eq!(ml("Weighed: tin 20 x 10 x 9, 1750 ml"), Some(1750.0));
        for wrong in [
            "tin 20 x 10 x 9",
            "A: tin",
            "A: tin 20",
            "A: saucer 20 x 3",
            "A: tin 20 x 10 x 9, gold",
            "A: -5",
        ] {
            assert_eq!(Pan::from_line(wrong), None, "{wrong}");
        }
    }

    proptest! {
        #[test]
        fn a_line_reads_back_as_the_pan(
            shape in prop::sample::select(PanShape::ALL.to_vec()), l in 100u32..400, w in 30u32..90, d in 20u32..150,
            base in prop::option::of(50u32..100), lid: bool, made in prop::sample::select(Made::ALL.to_vec()),
        ) {
            let mm = |x: u32| f64::from(x) / 10.0;
            let form = PanForm { shape, length: mm(l), width: Some(mm(w)), base_length: base.map(mm), base_width: base.map(|_| mm(w)), depth: mm(d) };
            let pan = Pan { form: Some(form), lid, made, ..Pan::of_ml("Mill pan", form.ml()) };
            prop_assert_eq!(Pan::from_line(&pan.line()), Some(pan));
        }
    }
}
