//! The pantry: what there is to bake with, and how it is measured.

mod catalogue;
mod cupboard;
mod ingredient;
mod measures;
mod own;

pub use catalogue::Catalogue;
pub use cupboard::{Cupboard, OWN_MAX, Renamed};
pub use ingredient::{ALLERGENS, Composition, Group, Ingredient, Kept, Measure};
pub use measures::{
    Cup, FLOUR_CUP, FLUID_OUNCE, Measures, TEASPOON, Tablespoon, US_CUP, US_TABLESPOON, density, household,
};
pub use own::OwnIngredient;
