//! The lumped dough against the series solution of a ball and a slab with a surface resistance
//! (Carslaw and Jaeger, *Conduction of Heat in Solids*; equations recalled, not read from the
//! source; their roots are found here by bisection).
//!
//! A lumped body follows its place with τ = ρ c L/h · (1 + Bi/n): L is volume over surface, n = 5
//! for a ball (Bi = h r/k) and 3 for a slab (Bi = h l/k). That is the form of `time_constant`.

use cerealis_core::rise::{AIR_RESISTANCE, DOUGH_RESISTANCE, time_constant};
use cerealis_core::words::Stands;

/// Thermal properties of dough, SI: conductivity, density times heat capacity (recalled from tables
/// of food properties, not read from the source).
const K: f64 = 0.48;
const RHO_C: f64 = 1100.0 * 2900.0;

#[derive(Clone, Copy)]
enum Body {
    Ball,
    Slab,
}

/// The first `n` roots of the body's transcendental equation.
fn roots(body: Body, bi: f64, n: usize) -> Vec<f64> {
    let pi = std::f64::consts::PI;
    // Each root lies in an interval of its own, where the function changes its sign once.
    let f = |z: f64| match body {
        Body::Ball => z * z.cos() - (1.0 - bi) * z.sin(),
        Body::Slab => z * z.sin() - bi * z.cos(),
    };
    let interval = |i: usize| match body {
        Body::Ball => (i as f64 * pi + 1e-9, (i + 1) as f64 * pi - 1e-9),
        Body::Slab => (i as f64 * pi + 1e-9, (i as f64 + 0.5) * pi),
    };
    (0..n)
        .map(|i| {
            let (mut a, mut b) = interval(i);
            let rising = f(b) > f(a);
            for _ in 0..200 {
                let m = 0.5 * (a + b);
                if (f(m) > 0.0) == rising { b = m } else { a = m }
            }
            0.5 * (a + b)
        })
        .collect()
}

/// Mean temperature left of a unit step after Fourier number `fo`.
fn mean(body: Body, bi: f64, fo: f64) -> f64 {
    roots(body, bi, 60)
        .into_iter()
        .map(|z| {
            let a = match body {
                Body::Ball => 6.0 * bi * bi / (z * z * (z * z + bi * (bi - 1.0))),
                Body::Slab => 2.0 * bi * bi / (z * z * (bi * bi + bi + z * z)),
            };
            a * (-z * z * fo).exp()
        })
        .sum()
}

/// The same by the lumped body.
fn lumped(body: Body, bi: f64, fo: f64) -> f64 {
    let tau = match body {
        Body::Ball => (1.0 + bi / 5.0) / (3.0 * bi),
        Body::Slab => (1.0 + bi / 3.0) / bi,
    };
    (-fo / tau).exp()
}

/// The furthest that the two are apart over the whole cooling, as a share of the first difference.
fn apart(body: Body, bi: f64) -> f64 {
    let slow = if matches!(body, Body::Ball) { 3.0 } else { 1.0 };
    (1..=80)
        .map(|i| 0.05 * f64::from(i) / (slow * bi.min(2.0)))
        .map(|fo| (mean(body, bi, fo) - lumped(body, bi, fo)).abs())
        .fold(0.0, f64::max)
}

#[test]
fn the_series_is_whole_at_the_start() {
    for body in [Body::Ball, Body::Slab] {
        assert!((mean(body, 1.0, 0.0) - 1.0).abs() < 1e-3);
    }
}

/// The range in which the lumped answer may be used: within 2 % of the first difference up to
/// Bi = 1, 4 % up to 3, 7 % at 6. Dough in still air has Bi = 0.3 to 2.
#[test]
fn the_lumped_dough_is_near_the_series() {
    for body in [Body::Ball, Body::Slab] {
        for (bi, within) in [(0.1, 0.01), (0.5, 0.02), (1.0, 0.02), (3.0, 0.04), (6.0, 0.07)] {
            let apart = apart(body, bi);
            assert!(apart < within, "Bi {bi}: {apart:.4}");
        }
    }
}

/// The constants of `time_constant` are those of a ball: its inner part from conduction alone, its
/// outer one from 18 W/m² K, which a flat dough in a bowl needs less of.
#[test]
fn the_constants_are_those_of_a_ball() {
    let radius = (3.0 / (4.0 * std::f64::consts::PI) / 1100.0f64).cbrt();
    let inside = RHO_C * radius * radius / (15.0 * K) / 3600.0;
    assert!((inside - DOUGH_RESISTANCE).abs() < 0.05 * DOUGH_RESISTANCE, "{inside}");
    let h = RHO_C * radius / 3.0 / (AIR_RESISTANCE * 3600.0);
    assert!((17.0..19.5).contains(&h), "{h} W/m² K");
    let bi = h * radius / K;
    assert!(bi < 3.0, "a kilogram is within the range: Bi {bi:.2}");
}

/// A kilogram from 25 °C into a fridge of 4 °C, as a ball by the series and by the lumped dough:
/// half a kelvin apart at most.
#[test]
fn a_kilogram_into_the_fridge() {
    let radius = (3.0 / (4.0 * std::f64::consts::PI) / 1100.0f64).cbrt();
    let h = RHO_C * radius / 3.0 / (AIR_RESISTANCE * 3600.0);
    let bi = h * radius / K;
    let tau = time_constant(1.0, Stands::Tub);
    for minutes in (15..=480).step_by(15) {
        let hours = f64::from(minutes) / 60.0;
        let fo = K / RHO_C * hours * 3600.0 / (radius * radius);
        let series = 4.0 + 21.0 * mean(Body::Ball, bi, fo);
        let lumped = 4.0 + 21.0 * (-hours / tau).exp();
        assert!((series - lumped).abs() < 0.6, "{minutes} min: {series:.2} for {lumped:.2}");
    }
}
