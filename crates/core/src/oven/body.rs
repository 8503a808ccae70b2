//! What bakes: its shape, and what it is made of.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The ideal body that stands for the loaf.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Body {
    /// A round or a roll.
    Sphere,
    /// A tin, a bâtard, a plait.
    Cylinder,
    /// A flat bake, heated from both faces.
    Slab,
}

impl Body {
    /// Exponent of the radius in a face's area.
    pub(super) fn exponent(self) -> i32 {
        match self {
            Body::Sphere => 2,
            Body::Cylinder => 1,
            Body::Slab => 0,
        }
    }
}

/// How heat moves in the crumb and crust.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Material {
    /// Conductivity of moist crumb without vapour transport, W/m K.
    pub crumb: f64,
    /// What evaporation and condensation in the pores add at the boiling point, W/m K.
    pub vapour: f64,
    /// Conductivity of dry crust, W/m K.
    pub crust: f64,
    /// Whether water boils off; without, this is pure conduction.
    pub evaporates: bool,
}

/// Bread: 0.25 W/m K and 0.65 to 0.75 more at the boiling point; dry crust 0.07.
pub const BREAD: Material = Material { crumb: 0.25, vapour: 0.70, crust: 0.07, evaporates: true };

/// The loaf as it goes in, at the size it has after oven spring.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Loaf {
    /// The body that stands for it.
    pub body: Body,
    /// Its radius, or half its thickness, in m.
    pub radius: f64,
    /// Water in kg per m³ of loaf.
    pub water: f64,
    /// Everything else in kg per m³ of loaf.
    pub solids: f64,
    /// Heat capacity of that, J/kg K.
    pub solids_heat: f64,
    /// Temperature when it goes in, °C.
    pub start: f64,
    /// How heat moves in it.
    pub material: Material,
    /// How fast its crust colours against a lean dough.
    pub browning: f64,
}

/// The faces of a loaf, in the order of every array of three.
pub const FACES: [&str; 3] = ["top", "sides", "base"];
