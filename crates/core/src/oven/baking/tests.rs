use super::super::around::{Heat, Outside, Surroundings, Wall};
use super::super::body::{BREAD, Body, Loaf};
use super::super::physics::{DOUGH_LIGHTNESS, boiling_point};
use super::*;
use approx::assert_relative_eq;

fn round() -> Loaf {
    Loaf {
        body: Body::Sphere,
        radius: 0.07,
        water: 150.0,
        solids: 180.0,
        solids_heat: 1700.0,
        start: 25.0,
        material: BREAD,
        browning: 1.0,
    }
}

fn oven() -> Surroundings {
    Surroundings::still(230.0)
}

/// Heat in = sensible + latent, to 0.5 %.
#[test]
fn energy_closes() {
    let (loaf, around) = (round(), oven());
    for cells in [12, 24, 48] {
        let mut bake = Bake::new(&loaf, &around, cells);
        bake.on_to(40.0);
        assert_relative_eq!(bake.heat_in, bake.heat_held(), max_relative = 0.005);
    }
}

/// Faces with the same surroundings are one surface, however it is shared out; but for rounding,
/// which may move the step in which a shell comes to the boil.
#[test]
fn equal_faces_are_one_surface() {
    let loaf = round();
    let whole = |shares: [f64; 3]| {
        let around = Surroundings { faces: shares.map(Outside::open), ..oven() };
        let mut bake = Bake::new(&loaf, &around, 24);
        bake.on_to(35.0);
        bake.moment()
    };
    let (a, b) = (whole([0.4, 0.3, 0.3]), whole([1.0, 0.0, 0.0]));
    assert_relative_eq!(a.core, b.core, max_relative = 1e-4);
    assert_relative_eq!(a.loss, b.loss, max_relative = 1e-3);
    assert_relative_eq!(a.lightness, a.lightness_base, max_relative = 1e-2);
}

/// A base on a hot stone colours sooner than on a cold sheet, and a face that meets nothing stays
/// moist.
#[test]
fn each_face_has_its_own_surroundings() {
    let loaf = round();
    let base = |wall: Wall| {
        let mut around = oven();
        around.faces[2].wall = Some(wall);
        let mut bake = Bake::new(&loaf, &around, 20);
        bake.on_to(25.0);
        assert_relative_eq!(bake.heat_in, bake.heat_held(), max_relative = 0.005);
        bake.moment().lightness_base
    };
    let stone = base(Wall { holds: 30_000.0, start: 230.0, contact: 80.0 });
    let sheet = base(Wall { holds: 4_000.0, start: 21.0, contact: 80.0 });
    assert!(stone < sheet, "{stone} on stone, {sheet} on a sheet");
    let mut around = oven();
    around.faces[1] = Outside { share: 0.3, convection: 0.0, emissivity: 0.0, wall: None };
    let mut bake = Bake::new(&loaf, &around, 20);
    bake.on_to(25.0);
    assert_eq!(bake.moment().lightness_sides, DOUGH_LIGHTNESS, "sides that touch stay white");
}

#[test]
fn an_oven_falls_when_it_is_loaded_and_after_a_hot_start() {
    let h = Heat { set: 200.0, first: Some((240.0, 10.0)), drop: 25.0, recovery: 5.0 };
    assert_relative_eq!(h.at(0.0), 215.0);
    assert!(h.at(9.9) > 235.0 && h.at(12.0) < 240.0 && h.at(60.0) < 201.0);
    assert_eq!(Heat::steady(180.0).at(33.0), 180.0);
}

#[test]
fn a_section_goes_from_the_core_to_the_crust() {
    let (loaf, around) = (round(), oven());
    let mut bake = Bake::new(&loaf, &around, 24);
    bake.on_to(20.0);
    let [top, sides, _] = bake.section(12);
    assert_eq!((top.len(), top[0]), (12, bake.core()));
    assert_relative_eq!(top[11], bake.moment().surface);
    assert!(top.windows(2).all(|w| w[1] >= w[0] - 1e-6), "{top:?}");
    assert_relative_eq!(top[7], sides[7]);
}

#[test]
fn the_core_never_passes_the_boiling_point_while_it_is_moist() {
    let (loaf, mut around) = (round(), oven());
    around.boiling = boiling_point(2000.0);
    let mut bake = Bake::new(&loaf, &around, 24);
    bake.on_to(90.0);
    assert!(bake.core() <= around.boiling + 1e-9);
}

#[test]
fn a_lid_never_browns_faster() {
    let loaf = round();
    let at = |lid: f64| {
        let around = Surroundings { lid, ..oven() };
        let mut bake = Bake::new(&loaf, &around, 20);
        bake.on_to(40.0);
        bake.moment().lightness
    };
    assert!(at(0.0) < at(15.0) && at(15.0) < at(30.0));
}

/// Halving the shells changes the time to the core's target by little, and ever less.
#[test]
fn the_grid_converges() {
    let (loaf, around) = (round(), oven());
    let time = |cells: usize| {
        Bake::new(&loaf, &around, cells).until(120.0, |m| m.core >= 95.0).last().unwrap().minutes
    };
    let (coarse, middle, fine) = (time(12), time(24), time(48));
    assert!((fine - middle).abs() <= (middle - coarse).abs() + KEPT_EVERY);
    assert_relative_eq!(middle, fine, max_relative = 0.03);
}
