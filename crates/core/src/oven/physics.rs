//! Physics of the oven: vapour, altitude, crust colour.

use std::sync::OnceLock;

/// Stefan–Boltzmann constant, W/m² K⁴.
pub const STEFAN: f64 = 5.670_374e-8;
/// Latent heat of evaporation near 100 °C, J/kg.
pub const LATENT: f64 = 2.257e6;
/// Standard pressure, Pa.
pub const SEA_LEVEL: f64 = 101_325.0;

/// Saturation pressure of water in Pa, 1 to 150 °C (Antoine's equation with the constants
/// commonly tabled for 1 to 100 °C; recalled).
pub fn saturation(t: f64) -> f64 {
    133.322 * 10f64.powf(8.07131 - 1730.63 / (233.426 + t))
}

/// Pressure of the standard atmosphere in Pa at `m` metres, −500 to 9000.
pub fn pressure_at(m: f64) -> f64 {
    SEA_LEVEL * (1.0 - 2.25577e-5 * m).powf(5.25588)
}

/// Boiling point of water in °C at `m` metres: 100.0 at 0, 96.7 at 1000, 93.4 at 2000.
///
/// ```
/// use cerealis_core::oven::boiling_point;
/// assert!((boiling_point(1000.0) - 96.7).abs() < 0.1);
/// ```
pub fn boiling_point(m: f64) -> f64 {
    1730.63 / (8.07131 - (pressure_at(m) / 133.322).log10()) - 233.426
}

/// Rate at which a dry crust of `t` °C loses lightness, per minute, at water activity `aw`
/// (Purlis and Salvadori 2009, recalled); nothing under 120 °C.
pub fn browning_rate(t: f64, aw: f64) -> f64 {
    if t < 120.0 {
        return 0.0;
    }
    (7.9233e6 + 2.7397e6 / aw) * (-(8701.5 + 49.474 / aw) / (t + 273.15)).exp()
}

/// Lightness of raw dough.
pub const DOUGH_LIGHTNESS: f64 = 85.0;

/// A word for a crust of lightness `l`: golden is 70 to 62, dark under 50 (common practice).
pub fn colour_word(l: f64) -> &'static str {
    match l {
        l if l > 78.0 => "pale",
        l if l > 70.0 => "straw",
        l if l > 62.0 => "golden",
        l if l > 55.0 => "deep gold",
        l if l > 48.0 => "chestnut",
        l if l > 38.0 => "dark",
        _ => "too dark",
    }
}

/// Saturation pressure over standard pressure on a grid of half degrees, 0 to 130 °C: the
/// exponential would be most of the cost of a step.
pub(super) struct VapourTable([f64; 261]);

impl VapourTable {
    pub fn get() -> &'static VapourTable {
        static TABLE: OnceLock<VapourTable> = OnceLock::new();
        TABLE.get_or_init(|| {
            VapourTable(std::array::from_fn(|i| (saturation(0.5 * i as f64) / SEA_LEVEL).min(1.0)))
        })
    }

    pub fn at(&self, t: f64) -> f64 {
        let x = (2.0 * t).clamp(0.0, 259.0);
        let i = x as usize;
        self.0[i] + (x - i as f64) * (self.0[i + 1] - self.0[i])
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use approx::assert_relative_eq;

    /// Boiling points by altitude from the standard atmosphere (ISO 2533, recalled) and a
    /// vapour-pressure equation.
    #[test]
    fn boiling_points_by_altitude() {
        for (m, t) in [(0.0, 100.0), (1000.0, 96.7), (2000.0, 93.4)] {
            assert_relative_eq!(boiling_point(m), t, epsilon = 0.1);
        }
    }

    #[test]
    fn saturation_at_the_boiling_point_is_the_pressure() {
        for m in [0.0, 500.0, 1500.0, 3000.0] {
            assert_relative_eq!(saturation(boiling_point(m)), pressure_at(m), max_relative = 1e-9);
        }
    }

    #[test]
    fn browning_grows_with_heat_and_waits_for_it() {
        assert_eq!(browning_rate(110.0, 0.3), 0.0);
        assert!(browning_rate(180.0, 0.3) > 3.0 * browning_rate(150.0, 0.3));
    }
}
