//! Rates of yeast and culture, and all parameters of the rise in one place.

/// Osmolality of the reference dough: 2 % salt at 65 % water, osmol per kg of water.
pub const OSM_REF: f64 = 20.0 / 58.44 * 2.0 / 0.65;
/// Gas of 1 g instant yeast per 100 g flour at 28.5 °C, ml per h per 100 g flour (235 in the prototype; fitted to
/// docs/rises.md).
pub const YEAST_GAS: f64 = 230.0;
/// Temperature at which [`YEAST_GAS`] holds, °C.
pub const YEAST_GAS_AT: f64 = 28.5;
/// Cardinal temperatures of gas production: minimum (0.5 in the prototype; fitted to docs/rises.md), optimum, maximum,
/// °C.
pub const GAS_CARDINAL: Cardinal = Cardinal { min: 1.0, opt: 37.0, max: 47.0 };
/// Cardinal temperatures of yeast growth, °C.
pub const GROWTH_CARDINAL: Cardinal = Cardinal { min: 2.0, opt: 31.0, max: 41.0 };
/// Growth of yeast at its optimum, per h.
pub const YEAST_GROWTH: f64 = 0.30;
/// What yeast can grow by at most, g instant yeast per 100 g flour.
pub const YEAST_ROOM: f64 = 0.17;
/// Start-up of yeast, h.
pub const YEAST_LAG: f64 = 0.2;
/// Start-up of active dry yeast that was not bloomed, h.
pub const UNBLOOMED_LAG: f64 = 0.5;
/// How strongly salt and sugar hold yeast back, per osmol/kg over the reference.
pub const OSM_SLOWING: f64 = 0.33;
/// Gas of a culture of full strength at the rate 0.39 per h, ml per h per 100 g flour.
pub const CULTURE_GAS: f64 = 190.0;
/// The culture's growth rate to which [`CULTURE_GAS`] belongs, per h.
pub const CULTURE_GAS_AT: f64 = 0.39;
/// Start-up of a culture in new dough, h.
pub const CULTURE_LAG: f64 = 0.75;
/// A culture in salted dough against one without.
pub const CULTURE_SALTED: f64 = 0.85;
/// A levain is called ripe when its culture has this share of its full activity.
pub const RIPE: f64 = 0.8;
/// Gas from 1 g of sugar at 25 °C, ml.
pub const GAS_PER_SUGAR: f64 = 272.0;
/// Sugar that yeast finds in flour, g per 100 g flour.
pub const FLOUR_SUGAR: f64 = 2.2;
/// Sugar that the flour's amylases split off in dough in the end, g per 100 g flour (1.5 to 3 in the first hour of a
/// thin suspension at 27 °C, less and slowing in dough; recalled, not read from a source).
pub const MALTOSE: f64 = 2.7;
/// Time constant with which they do, h.
pub const AMYLASE: f64 = 8.0;
/// What gas that is made warms the dough by, K for each ml per 100 g flour: half to one and a half K over a warm bulk
/// rise (common practice, recalled).
pub const HEATS: f64 = 0.004;
/// Sugar left at which the rate is halved, g per 100 g flour.
pub const SUGAR_HALF: f64 = 0.25;
/// Gas that dissolves before any is seen, ml per ml of dough water, whatever its temperature (see
/// `docs/rise.md` for why).
pub const DISSOLVES: f64 = 0.75;
/// Density of dough without gas, g/ml.
pub const DOUGH_DENSITY: f64 = 1.14;
/// The share of what a dough can hold past which its surface falls.
pub const OVER: f64 = 0.9;
/// What is left of what a dough can hold when it has sunk as far as it sinks: while gas is made it keeps two thirds to
/// four fifths of its highest volume for hours (common practice, no source).
pub const SINKS_TO: f64 = 0.75;
/// How fast it comes to that once its surface falls, per h at [`YEAST_GAS_AT`]; as its gas is made, slower where it is
/// cooler (common practice, no source: it sinks by a fifth to a third over hours).
pub const WEAKENS: f64 = 0.24;
/// Acid of a ripe levain, in hours of a ripe culture at the bacteria's rate of 0.453 per h.
pub const LEVAIN_ACID: f64 = 6.0;
/// The bacteria's rate to which the acid belongs: theirs at 26 °C, per h.
pub const ACID_AT: f64 = 0.453;
/// Acid that makes one step of the sourness index of 0 to 10, same unit as [`LEVAIN_ACID`].
pub const SOURNESS_STEP: f64 = 0.9;
/// Spread of a kitchen against the model, as the standard deviation of a logarithm.
pub const KITCHEN_SPREAD: f64 = 0.2;

/// A cardinal temperature model with inflection (Rosso, Lobry and Flandrois 1993).
#[derive(Clone, Copy, Debug)]
pub struct Cardinal {
    /// No activity at or below, °C.
    pub min: f64,
    /// Full activity, °C.
    pub opt: f64,
    /// No activity at or above, °C.
    pub max: f64,
}

impl Cardinal {
    /// Activity at `t` °C, from 0 to 1 at the optimum.
    pub fn at(&self, t: f64) -> f64 {
        if t <= self.min || t >= self.max {
            return 0.0;
        }
        let Cardinal { min, opt, max } = *self;
        let top = (t - max) * (t - min).powi(2);
        let bottom = (opt - min) * ((opt - min) * (t - opt) - (opt - max) * (opt + min - 2.0 * t));
        top / bottom
    }
}

/// Growth rate of a sourdough's yeast, °C against per h, after Gänzle, Ehmann and Hammes 1998
/// (recalled, not read from the source).
pub const CULTURE_RATE: [(f64, f64); 13] = [
    (0.0, 0.0),
    (4.0, 0.008),
    (8.0, 0.021),
    (12.0, 0.052),
    (16.0, 0.114),
    (20.0, 0.225),
    (24.0, 0.365),
    (26.0, 0.414),
    (28.0, 0.417),
    (30.0, 0.346),
    (32.0, 0.202),
    (34.0, 0.050),
    (36.0, 0.0),
];

/// Growth rate of a culture's yeast at `t` °C, per h; 0 outside 0 to 36 °C.
pub fn culture_rate(t: f64) -> f64 {
    between(&CULTURE_RATE, t)
}

/// How much faster a strain grows at its optimum for each K that the optimum lies higher.
pub const WARMER_STRAIN: f64 = 0.06;

/// Growth rate of the yeasts of a home culture at `t` °C, per h: those of the published strain, and of strains of
/// whose optima lie up to 4 K higher, the one that thrives. A home culture peaks in 3 to 5 h at 28 to 30 °C, past the
/// optimum of the published one (common practice, no source).
pub fn home_culture_rate(t: f64) -> f64 {
    let strain = |warmer: f64| culture_rate(t - warmer) * (1.0 + WARMER_STRAIN * warmer);
    [0.0, 1.0, 2.0, 3.0, 4.0].map(strain).into_iter().fold(0.0, f64::max)
}

/// A table read at `t`, straight between its points; 0 outside it.
fn between(table: &[(f64, f64)], t: f64) -> f64 {
    let first_above = table.partition_point(|&(at, _)| at < t);
    if first_above == 0 || first_above == table.len() {
        return 0.0;
    }
    let ((t0, r0), (t1, r1)) = (table[first_above - 1], table[first_above]);
    r0 + (r1 - r0) * (t - t0) / (t1 - t0)
}

/// Growth rate of a sourdough's lactic bacteria, °C against per h, after Gänzle, Ehmann and Hammes
/// 1998 (recalled, not read from the source).
pub const BACTERIA_RATE: [(f64, f64); 14] = [
    (0.0, 0.0),
    (4.0, 0.026),
    (8.0, 0.047),
    (12.0, 0.084),
    (16.0, 0.144),
    (20.0, 0.239),
    (24.0, 0.374),
    (26.0, 0.453),
    (28.0, 0.535),
    (30.0, 0.609),
    (32.0, 0.658),
    (34.0, 0.657),
    (36.0, 0.582),
    (42.0, 0.0),
];

/// Growth rate of a culture's bacteria at `t` °C, per h; 0 outside 0 to 42 °C.
pub fn bacteria_rate(t: f64) -> f64 {
    between(&BACTERIA_RATE, t)
}

/// The share of yeast and culture that heat kills an hour at `t` °C: little under 47, half in some
/// twenty minutes at 50, nearly all within minutes over 55 (common practice, no source).
pub fn killed(t: f64) -> f64 {
    if t <= 45.0 { 0.0 } else { (0.4 * ((0.5 * (t - 47.0)).exp() - (-1.0f64).exp())).max(0.0) }
}

/// How a dough of this osmolality slows yeast, against the reference; at most 1.5 times as fast.
pub fn osmotic(osmolality: f64) -> f64 {
    (-OSM_SLOWING * (osmolality - OSM_REF)).exp().min(1.5)
}

/// How `percent` fat on flour slows yeast.
pub fn fatty(percent: f64) -> f64 {
    (1.0 - 0.01 * (percent - 5.0).max(0.0)).max(0.3)
}

/// Volume of a dough against its volume without gas, from free gas per dough volume `x` and the
/// most it can hold.
pub fn swollen(x: f64, hold: f64) -> f64 {
    if x <= 0.0 {
        return 1.0;
    }
    1.0 + x / (1.0 + (x / (hold - 1.0)).powi(3)).cbrt()
}

#[cfg(test)]
mod tests {
    use super::*;
    use approx::assert_relative_eq;

    #[test]
    fn cardinal_points() {
        assert_eq!(GAS_CARDINAL.at(1.0), 0.0);
        assert_relative_eq!(GAS_CARDINAL.at(37.0), 1.0);
        assert_eq!(GAS_CARDINAL.at(47.0), 0.0);
        assert_eq!(GAS_CARDINAL.at(60.0), 0.0);
        assert_relative_eq!(GROWTH_CARDINAL.at(31.0), 1.0);
    }

    /// The rate doubles for each 8 to 10 °C between 15 and 30 (common practice, no source): as
    /// the mean over that range.
    #[test]
    fn the_rate_doubles_for_each_eight_to_ten_degrees() {
        let doublings = (GAS_CARDINAL.at(30.0) / GAS_CARDINAL.at(15.0)).log2();
        let each = 15.0 / doublings;
        assert!((8.0..=10.0).contains(&each), "{each}");
    }

    #[test]
    fn the_culture_has_its_tabled_rates() {
        for (t, rate) in CULTURE_RATE {
            assert_relative_eq!(culture_rate(t), rate, epsilon = 1e-12);
        }
        for (t, rate) in BACTERIA_RATE {
            assert_relative_eq!(bacteria_rate(t), rate, epsilon = 1e-12);
        }
        assert_eq!(culture_rate(40.0), 0.0);
        assert_eq!(culture_rate(-5.0), 0.0);
    }

    #[test]
    fn a_dough_never_swells_past_what_it_holds() {
        assert_relative_eq!(swollen(1000.0, 3.8), 3.8, epsilon = 1e-6);
        assert_relative_eq!(swollen(0.1, 3.8), 1.1, epsilon = 1e-3);
    }
}
