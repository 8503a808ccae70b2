//! A pan of the house.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::PanForm;
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
    /// How many of them there are, 1 to 40; no matter when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub count: Option<u32>,
}

impl Pan {
    /// A pan of which only the volume is known.
    pub fn of_ml(name: impl Into<String>, ml: f64) -> Pan {
        Pan { name: name.into(), ml, form: None, lid: false, made: Made::default(), count: None }
    }
}

#[cfg(test)]
mod tests {
    use super::super::PanShape;
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case(PanShape::Tin, 20.0, Some(10.0), 9.0, 1800.0)]
    #[case(PanShape::Round, 20.0, None, 7.0, 2199.0)]
    #[case(PanShape::Basket, 20.0, None, 9.0, 1885.0)]
    #[case(PanShape::Ring, 24.0, Some(6.0), 8.0, 3393.0)]
    fn what_pans_hold(
        #[case] shape: PanShape,
        #[case] length: f64,
        #[case] width: Option<f64>,
        #[case] depth: f64,
        #[case] ml: f64,
    ) {
        let form = PanForm { shape, length, width, base_length: None, base_width: None, depth };
        assert_eq!(form.ml().round(), ml);
    }
}
