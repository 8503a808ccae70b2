//! What bakes in a pan: its own size there, alone or with others that it touches.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::pan::{PanForm, PanShape};
use super::size::Size;
use crate::fault::Check;
use crate::range::Range;

/// Pieces that lie in one pan, touching.
pub const TOGETHER: Range = Range::of("Pieces in one pan", 1.0, 60.0, "");

/// The pan that dough bakes in, and how much of it lies there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Bed {
    /// The inside of the pan.
    pub pan: PanForm,
    /// What it holds, measured by weight of water, ml; worked out from its form when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ml: Option<f64>,
    /// Pieces in it, touching, 1 to 60.
    #[serde(default = "alone")]
    #[schemars(transform = TOGETHER.limit())]
    pub pieces: u32,
}

fn alone() -> u32 {
    1
}

impl Bed {
    /// Notes what is out of range, under `path`.
    pub fn check(&self, c: &mut Check, path: &str) {
        self.pan.check(c, &format!("{path}.pan"));
        TOGETHER.check(c, &format!("{path}.pieces"), f64::from(self.pieces));
        if let Some(ml) = self.ml {
            c.range(&format!("{path}.ml"), "A pan", ml, 50.0, 20_000.0, "ml");
        }
    }

    /// The size of all that lies in it, `ml` of it in all: as high as it stands, its length and width those of a box
    /// on the same ground. What stands over the rim stands on straight walls; in a pan that is wider than it would
    /// spread it stands as high as it would in the open, `least` cm.
    pub fn size(&self, ml: f64, least: f64) -> Size {
        let scale = self.ml.map_or(1.0, |own| self.pan.ml() / own);
        let height = self.pan.height(ml * scale).max(least);
        let ground = ml * scale / height;
        let (width, length) = match self.pan.shape {
            PanShape::Tin | PanShape::Tray => {
                let width = self.pan.width_at(0.5 * height);
                (width, ground / width)
            }
            // A ring is a stick without ends, as wide as its channel.
            PanShape::Ring => {
                let channel = 0.5 * (self.pan.length - self.pan.width.unwrap_or(0.0));
                (channel, ground / channel)
            }
            PanShape::Round | PanShape::Basket | PanShape::Pot => (ground.sqrt(), ground.sqrt()),
        };
        Size { width, height, length }
    }

    /// A flat bake on bare metal that covers `ground` cm²: 1.4 times as long as wide.
    pub fn flat(ground: f64) -> Bed {
        let width = (ground / 1.4).sqrt().clamp(3.0, 70.0);
        let pan = PanForm {
            shape: PanShape::Tray,
            length: 1.4 * width,
            width: Some(width),
            base_length: None,
            base_width: None,
            depth: 0.5,
        };
        Bed { pan, ml: None, pieces: 1 }
    }
}

impl PanShape {
    /// Whether dough takes the shape of it in the oven: a round stands in its pot without touching its wall, and a
    /// basket does not go in.
    pub fn shapes_the_bake(self) -> bool {
        match self {
            PanShape::Tin | PanShape::Round | PanShape::Ring | PanShape::Tray => true,
            PanShape::Basket | PanShape::Pot => false,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// The box holds what lies in the pan, and a wider pan makes it lower.
        #[test]
        fn a_box_of_the_same_volume(
            shape in prop::sample::select(vec![PanShape::Tin, PanShape::Tray, PanShape::Round, PanShape::Ring]),
            length in 15.0..45.0f64, width in 4.0..12.0f64, depth in 2.0..12.0f64, ml in 100.0..6000.0f64,
        ) {
            let pan = PanForm { shape, length, width: Some(width), base_length: None, base_width: None, depth };
            let s = Bed { pan, ml: None, pieces: 1 }.size(ml, 0.0);
            prop_assert!((s.width * s.height * s.length / ml - 1.0).abs() < 1e-6, "{s:?} for {ml}");
            let wider = PanForm { length: 1.2 * length, width: Some(1.1 * width), ..pan };
            if shape != PanShape::Ring {
                let lower = Bed { pan: wider, ml: None, pieces: 1 }.size(ml, 0.0).height;
                prop_assert!(lower < s.height, "{lower} for {}", s.height);
            }
        }
    }
}
