//! What a plan needs of everything, as it is shown.

use cerealis_core::plan::Needed;
use cerealis_core::units::{Grams, shown};

/// An ingredient to be bought, or that is there.
pub struct ShoppingRow {
    /// Its name.
    pub name: String,
    /// How much is needed.
    pub needs: String,
    /// How much is there; nothing where that is not known.
    pub there: String,
    /// How much is missing; nothing where none is.
    pub buy: String,
    /// What that costs.
    pub cost: String,
}

/// An ingredient of a plan as it is shown.
pub fn shopping_row(n: &Needed, money: &dyn Fn(f64) -> String) -> ShoppingRow {
    let grams = |g: Grams| format!("{} g", shown::grams(g));
    ShoppingRow {
        name: n.name.clone(),
        needs: grams(n.needs),
        there: n.there.map_or(String::new(), grams),
        buy: if n.buy.0 > 0.0 { grams(n.buy) } else { String::new() },
        cost: n.cost.filter(|_| n.buy.0 > 0.0).map_or(String::new(), money),
    }
}
