//! Heat capacities, after Choi and Okos.

use crate::pantry::Composition;

/// Heat capacity in kJ/kg K of something of this composition at `t` °C, −40 to 150.
///
/// ```
/// use cerealis_core::{mix::heat_capacity, pantry::Composition};
/// let water = Composition { water: 100.0, ..Default::default() };
/// assert!((heat_capacity(&water, 20.0) - 4.177).abs() < 0.01);
/// ```
pub fn heat_capacity(c: &Composition, t: f64) -> f64 {
    let poly = |a: f64, b: f64, d: f64| a + b * t + d * t * t;
    let whole = c.water + c.protein + c.fat + c.carb + c.fibre + c.ash;
    if whole <= 0.0 {
        return 0.0;
    }
    (c.water * poly(4.1762, -9.0864e-5, 5.4731e-6)
        + c.protein * poly(2.0082, 1.2089e-3, -1.3129e-6)
        + c.fat * poly(1.9842, 1.4733e-3, -4.8008e-6)
        + c.carb * poly(1.5488, 1.9625e-3, -5.9399e-6)
        + c.fibre * poly(1.8459, 1.8306e-3, -4.6509e-6)
        + c.ash * poly(1.0926, 1.8896e-3, -3.6817e-6))
        / whole
}

pub(super) fn water_heat_capacity(t: f64) -> f64 {
    heat_capacity(&Composition { water: 100.0, ..Composition::default() }, t)
}
