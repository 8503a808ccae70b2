//! Pictures and the rail for every demo formula.

use cerealis_core::finish::Score;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::oven::{BySizeInput, by_size, usual_sizes};
use cerealis_core::pantry::Catalogue;
use cerealis_core::rise::{Which, matters};
use cerealis_core::shape::{BraidInput, Hand, Pan, braid};
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::{Celsius, Grams};
use cerealis_core::words::{Kind, Station};
use cerealis_store::FormulaId;
use cerealis_store::{demo_formulas, demo_kitchen};
use cerealis_web::formula_page::Rail;
use cerealis_web::picture::{self, Over, Room, band, flour_bar, oven_curves, rise_curve, tub};
use rstest::rstest;

fn stations(f: &Formula, kitchen: &Kitchen) -> Stations {
    let now = "2026-11-21T08:00:00Z".parse().unwrap();
    read(f, kitchen, Catalogue::bundled(), now).unwrap_or_else(|e| panic!("{}: {e}", f.name))
}

/// Every number in an attribute of a picture.
fn numbers(svg: &str, attribute: &str) -> Vec<f64> {
    svg.split(&format!(" {attribute}=\""))
        .skip(1)
        .map(|rest| {
            rest.split('"').next().unwrap().parse().unwrap_or_else(|_| panic!("{attribute} in {rest:.60}"))
        })
        .collect()
}

fn inside(svg: &str, room: Room) {
    assert!(!svg.contains("NaN") && !svg.contains("inf"), "{svg}");
    for x in numbers(svg, "x").into_iter().chain(numbers(svg, "x1")).chain(numbers(svg, "x2")) {
        assert!((-0.5..=room.width() + 0.5).contains(&x), "x = {x} is outside a picture of {}", room.width());
    }
}

#[rstest]
fn every_picture_of_the_demo_stays_inside(#[values(Room::Wide, Room::Narrow)] room: Room) {
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let s = stations(&f, &kitchen);
        inside(&flour_bar(&f, Catalogue::bundled(), s.figures.flour, room), room);
        inside(&band("test", &s, &kitchen, room), room);
        inside(&oven_curves(&s.bake, room), room);
        inside(&picture::mix_strip(&s.mix, &s.goes_in, room), room);
        inside(&picture::matters(&matters(&s.rise_input, Which::Bulk).unwrap(), room), room);
        for r in [&s.rise.bulk, &s.rise.proof].into_iter().flatten() {
            let readings = [(20.0, 1.2), (60.0, 9.0)];
            let over =
                Over { other: Some(r), readings: &readings, now: Some(45.0), pull: Some("rise.bulk.target") };
            inside(&rise_curve("Rise", r, 2.0, &over, room), room);
            inside(&tub(s.figures.dough.0, 2.0, r.most, kitchen.tub, room), room);
        }
    }
}

/// Every shape has its cut loaf, with a moment for each stop of the slider; pans, trays, plaits and cuts
/// stay inside their pictures.
#[rstest]
fn every_shape_is_drawn(#[values(Room::Wide, Room::Narrow)] room: Room) {
    let mut kitchen = demo_kitchen();
    let wild = "Pan \"><script>";
    kitchen.pans.push(Pan::of_ml(wild, 1200.0));
    for kind in Kind::ALL {
        let mut f = demo_formulas().remove(1);
        f.shape.kind = kind;
        f.shape.strands = 4;
        let s = stations(&f, &kitchen);
        let cut = picture::cut_loaf(kind, &s.bake, room);
        inside(&cut, room);
        let moments = picture::cut_moments(&s.bake).replace("&quot;", "\"").replace("&#39;", "'");
        let moments: serde_json::Value = serde_json::from_str(&moments).unwrap();
        let all = moments["moments"].as_array().unwrap();
        assert_eq!(all.len(), s.bake.cuts.len());
        assert!(all[0]["says"].as_str().unwrap().contains("After 0 min"), "{}", all[0]["says"]);
        let bands = all[0]["t"][0].as_array().unwrap().len() - 1;
        assert_eq!(cut.matches("data-at=\"0:").count(), bands, "{kind:?}: the top in every band");
        if let Some(tray) = &s.work.tray {
            inside(&picture::tray(tray, room), room);
        }
        assert_eq!(s.work.braid.is_some(), kind.is_plaited());
        f.shape.pan = Some(wild.into());
        let pan = stations(&f, &kitchen).work.pan.unwrap();
        let svg = picture::pan(&pan, room);
        inside(&svg, room);
        assert!(!svg.contains("<script>"));
        let rows = by_size(&BySizeInput { bake: s.bake_input.clone(), sizes: usual_sizes() }).unwrap();
        inside(&picture::by_size(&rows, s.shape.piece, room), room);
    }
}

/// A picture for each step of each plait, the moving strand dark all along its way.
#[rstest]
fn every_plait_is_drawn(
    #[values(1, 2, 3, 4, 5, 6)] strands: u32,
    #[values(Hand::Right, Hand::Left)] hand: Hand,
) {
    for round in [false, true] {
        let input = BraidInput { dough: Grams(700.0), strands, round, crossed: false, hand, length: 28.0 };
        let Ok(plait) = braid(&input) else {
            assert!(round && strands != 4);
            continue;
        };
        let pictures = picture::braid(&plait, input.hand);
        assert_eq!(pictures.len(), plait.steps.len());
        for (n, svg) in pictures.iter().enumerate() {
            assert!(!svg.contains("NaN"), "{svg}");
            let moving = if round {
                svg.matches("class=\"carry\"").count()
            } else {
                svg.matches("strand moves").count()
            };
            assert_eq!(moving > 0, !(round && n == 0), "step {n} of {strands} strands");
        }
    }
    for score in Score::ALL {
        for kind in [Kind::Batard, Kind::Flat] {
            let svg = picture::score(score, kind, kind.size(1500.0));
            assert_eq!(svg.matches("class=\"cut\"").count(), score.cuts(kind).len());
        }
    }
}

/// A bar is as long against the flour as its percentage says.
#[test]
fn the_flour_bar_is_to_scale() {
    let kitchen = demo_kitchen();
    let f = &demo_formulas()[0];
    let s = stations(f, &kitchen);
    let svg = flour_bar(f, Catalogue::bundled(), s.figures.flour, Room::Wide);
    let width = |class: &str| {
        let at = svg.find(&format!("class=\"{class}\"")).unwrap_or_else(|| panic!("no {class}"));
        let rect = &svg[svg[..at].rfind("<rect").unwrap()..at];
        numbers(rect, "width")[0]
    };
    let water = f.lines.iter().find(|l| l.ingredient == "water").unwrap().grams.0;
    assert!((width("tone-liquid") / width("frame") - water / s.figures.flour.0).abs() < 0.002);
}

/// The band begins with the first stir and ends with the cut; its volume swells, is cut, swells
/// again, springs and then stays.
#[test]
fn the_band_tells_the_dough_s_course() {
    use cerealis_core::stations::Phase;
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let s = stations(&f, &kitchen);
        let course = s.course();
        assert!(course.windows(2).all(|w| w[1].minutes >= w[0].minutes - 1e-9), "{}: time goes back", f.name);
        assert!((course.last().unwrap().minutes - s.day.length.0).abs() < 1e-6);
        let volume = |phase: Phase| course.iter().rfind(|p| p.phase == phase).unwrap().volume;
        if s.rise.bulk.is_some() {
            assert!(volume(Phase::Bulk) > volume(Phase::Shaping), "{}: shaping takes gas out", f.name);
        }
        assert!(volume(Phase::Proof) > volume(Phase::Shaping), "{}", f.name);
        assert!(volume(Phase::Oven) > volume(Phase::Proof), "{}", f.name);
        assert_eq!(volume(Phase::Cooling), volume(Phase::Oven), "{}", f.name);
    }
}

#[test]
fn the_night_is_hatched_where_the_baker_sleeps() {
    let mut kitchen = demo_kitchen();
    let f = demo_formulas().into_iter().find(|f| f.name.contains("no-knead")).unwrap();
    let s = stations(&f, &kitchen);
    assert!(band("test", &s, &kitchen, Room::Wide).contains(">sleep<"));
    kitchen.sleep_to = kitchen.sleep_from;
    assert!(!band("test", &s, &kitchen, Room::Wide).contains(">sleep<"));
}

#[test]
fn the_rail_says_what_a_change_did() {
    let kitchen = demo_kitchen();
    let saved = demo_formulas().remove(0);
    let before = stations(&saved, &kitchen);
    let mut draft = saved.clone();
    draft.mix.desired = Celsius(27.0);
    let now = stations(&draft, &kitchen);
    let rail = Rail::new(FormulaId(1), Station::Mix, (&draft, &now), Some((&saved, &before)));
    let was = |station: Station| rail.stops.iter().find(|s| s.station == station).unwrap().was.clone();
    assert!(was(Station::Rise).unwrap().starts_with('\u{2212}'), "a warmer dough is quicker");
    assert!(was(Station::Day).unwrap().starts_with('\u{2212}'));
    assert!(was(Station::Mix).unwrap().starts_with("was "));
    assert_eq!(was(Station::Formula), None);
    assert_eq!(was(Station::Shape), None);
    let same = Rail::new(FormulaId(1), Station::Mix, (&saved, &before), Some((&saved, &before)));
    assert!(same.stops.iter().all(|s| s.was.is_none()));
}

/// Headlines for what is unusual: ice, water that cannot do it, no liquid, no rise.
#[test]
fn the_rail_has_a_headline_for_every_case() {
    let mut kitchen = demo_kitchen();
    let mut f = demo_formulas().remove(0);
    let figure = |f: &Formula, k: &Kitchen, station: Station| {
        let s = stations(f, k);
        let rail = Rail::new(FormulaId(1), station, (f, &s), None);
        let stop = rail.stops.into_iter().find(|s| s.station == station).unwrap();
        (stop.figure, stop.under)
    };
    kitchen.room = Celsius(32.0);
    kitchen.tap = Celsius(26.0);
    f.mix.desired = Celsius(24.0);
    assert!(
        figure(&f, &kitchen, Station::Mix).0.ends_with("g ice"),
        "{:?}",
        figure(&f, &kitchen, Station::Mix)
    );
    kitchen.room = Celsius(3.0);
    kitchen.tap = Celsius(3.0);
    f.mix.desired = Celsius(33.0);
    assert_eq!(figure(&f, &kitchen, Station::Mix).1, "water alone cannot");
    f.mix.desired = Celsius(25.0);
    kitchen.room = Celsius(21.0);
    f.rise.bulk.target = 1.0;
    assert_eq!(figure(&f, &kitchen, Station::Rise).1, "one rise");
    f.rise.proof.target = 1.0;
    assert_eq!(figure(&f, &kitchen, Station::Rise).0, "none");
    f.lines.iter_mut().filter(|l| l.ingredient == "water").for_each(|l| l.ingredient = "egg".into());
    assert_eq!(figure(&f, &kitchen, Station::Mix).0, "none");
}

/// A name is only ever text, wherever it is shown.
#[test]
fn a_wild_name_is_only_text() {
    let kitchen = demo_kitchen();
    let mut f = demo_formulas().remove(0);
    f.name = "<img src=x onerror=alert(1)>".into();
    f.lines[0].grams = Grams(400.0);
    let s = stations(&f, &kitchen);
    use askama::Template;
    let sheet = cerealis_web::formula_page::Sheet::new(FormulaId(1), &f, &s, &kitchen, Catalogue::bundled())
        .render()
        .unwrap();
    assert!(!sheet.contains("<img src=x"));
}
