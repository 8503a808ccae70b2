//! Every rule of the slip catcher: one formula that fires it, and one nearby that must not.

use cerealis_core::formula::{AheadWish, Formula, Line, MakeUp, Slip, Strength, figures, slips};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::read;
use cerealis_core::units::{Celsius, Grams, Hours};
use cerealis_core::words::{Handling, Kind, Method, Stage, Style, Vessel};
use rstest::rstest;

/// A tin loaf in order: 500 g bread flour, 325 water, 10 salt, 5 instant yeast.
fn loaf() -> Formula {
    let mut f = Formula::beginning("Test", Style::Tin);
    f.lines = [("bread-flour", 500.0), ("water", 325.0), ("salt", 10.0), ("instant-yeast", 5.0)]
        .map(|(k, g)| Line::new(k, Stage::Dough, Grams(g)))
        .to_vec();
    f
}

fn gluten_free() -> Formula {
    Formula::beginning("Test", Style::GlutenFree)
}

/// Changes a line of the dough, or adds one.
fn with(mut f: Formula, key: &str, grams: f64) -> Formula {
    match f.lines.iter_mut().find(|l| l.ingredient == key) {
        Some(l) => l.grams = Grams(grams),
        None => f.lines.push(Line::new(key, Stage::Dough, Grams(grams))),
    }
    f
}

fn and(mut f: Formula, stage: Stage, key: &str, grams: f64) -> Formula {
    f.lines.push(Line::new(key, stage, Grams(grams)));
    f
}

fn but(mut f: Formula, change: impl FnOnce(&mut Formula)) -> Formula {
    change(&mut f);
    f
}

fn renamed(f: Formula, name: &str) -> Formula {
    but(f, |f| f.name = name.into())
}

fn found(f: &Formula) -> Vec<Slip> {
    slips(f, &figures(f, Catalogue::bundled()), Catalogue::bundled())
}

fn codes(f: &Formula) -> Vec<&'static str> {
    found(f).into_iter().map(|s| s.code).collect()
}

fn plan(stage: Stage, temperature: f64) -> AheadWish {
    AheadWish { stage, hours: None, place: None, temperature: Some(Celsius(temperature)) }
}

fn buns(pieces: u32, grams: f64) -> MakeUp {
    MakeUp::of(Kind::Bun, pieces, Grams(grams), Vessel::Sheet)
}

#[test]
fn a_loaf_in_order_has_no_slips() {
    assert_eq!(codes(&loaf()), [""; 0]);
    assert_eq!(codes(&gluten_free()), [""; 0]);
}

/// What a soaker's grain drinks makes no dough slack; what it cannot drink does.
#[test]
fn a_soaker_that_drinks_its_water_is_not_called_wet() {
    let soaked = |water| and(and(loaf(), Stage::Soaker, "rolled-oats", 100.0), Stage::Soaker, "water", water);
    let k = figures(&soaked(100.0), Catalogue::bundled());
    assert!(k.effective_hydration.0 > 80.0, "the figure itself counts it: {}", k.effective_hydration.0);
    assert_eq!(codes(&soaked(100.0)), [""; 0]);
    let wet = found(&soaked(260.0));
    let said = wet.iter().find(|s| s.code == "hydration-far").map(|s| s.text.as_str());
    assert!(said.is_some_and(|t| t.contains("without what the soaker holds")), "{said:?}");
    let dry = with(soaked(100.0), "water", 200.0);
    assert!(!codes(&dry).contains(&"hydration-far"), "40 % and what the soaker has are {k:?}");
}

#[rstest]
#[case("ounces-for-grams",
    but(loaf(), |f| f.lines.iter_mut().for_each(|l| l.grams = l.grams / 28.35)),
    but(loaf(), |f| f.lines.iter_mut().for_each(|l| l.grams = l.grams / 4.0)))]
#[case("salt-missing", with(loaf(), "salt", 0.0), with(loaf(), "salt", 9.0))]
#[case("salt-tenfold", with(loaf(), "salt", 100.0), with(loaf(), "salt", 10.0))]
#[case("salt-spoon", with(loaf(), "salt", 30.0), with(loaf(), "salt", 14.0))]
#[case("salt-spoon", with(loaf(), "salt", 3.3), with(loaf(), "salt", 5.0))]
#[case("salt-far", with(loaf(), "salt", 16.0), with(loaf(), "salt", 11.0))]
#[case("salt-unusual", with(loaf(), "salt", 12.0), with(loaf(), "salt", 11.0))]
#[case("yeast-missing", with(loaf(), "instant-yeast", 0.0), with(loaf(), "instant-yeast", 1.0))]
#[case("yeast-tenfold", with(loaf(), "instant-yeast", 50.0), with(loaf(), "instant-yeast", 5.0))]
#[case("yeast-much", with(loaf(), "instant-yeast", 12.0), with(loaf(), "instant-yeast", 9.0))]
#[case("yeast-little", with(loaf(), "instant-yeast", 0.2), with(loaf(), "instant-yeast", 0.5))]
#[case(
    "levain-not-alive",
    and(and(loaf(), Stage::Poolish, "bread-flour", 50.0), Stage::Poolish, "water", 50.0),
    and(and(loaf(), Stage::Poolish, "bread-flour", 50.0), Stage::Poolish, "instant-yeast", 0.1)
)]
#[case("hydration-far", with(loaf(), "water", 440.0), with(loaf(), "water", 345.0))]
#[case("hydration-far", with(loaf(), "water", 250.0), with(loaf(), "water", 295.0))]
#[case("liquid-tenfold", with(loaf(), "water", 33.0), with(loaf(), "water", 330.0))]
#[case("liquid-tenfold", with(loaf(), "water", 3250.0), with(loaf(), "water", 440.0))]
#[case("line-empty", with(loaf(), "butter", 0.0), with(loaf(), "butter", 1.0))]
#[case("line-twice", and(loaf(), Stage::Dough, "salt", 0.5), and(loaf(), Stage::Topping, "salt", 0.5))]
#[case(
    "self-raising-with-yeast",
    with(loaf(), "self-raising-flour", 100.0),
    with(loaf(), "plain-flour", 100.0)
)]
#[case("nothing-to-bloom-in",
    but(loaf(), |f| {
        f.lines.retain(|l| l.ingredient != "instant-yeast" && l.ingredient != "water");
        f.lines.push(Line::new("active-dry-yeast", Stage::Dough, Grams(6.0)));
        f.lines.push(Line::new("egg", Stage::Dough, Grams(430.0)));
    }),
    but(loaf(), |f| f.lines[3].ingredient = "active-dry-yeast".into()))]
#[case("sugar-slows", with(loaf(), "sugar", 160.0), with(loaf(), "sugar", 100.0))]
#[case("spice-slows-yeast", with(loaf(), "cinnamon", 12.0), with(loaf(), "cinnamon", 5.0))]
#[case("spice-slows-yeast", with(loaf(), "cloves", 4.0), and(loaf(), Stage::Topping, "cloves", 4.0))]
#[case("butter-early", with(loaf(), "butter", 120.0), and(loaf(), Stage::LateButter, "butter", 120.0))]
#[case("malt-much", with(loaf(), "diastatic-malt", 15.0), with(loaf(), "diastatic-malt", 3.0))]
#[case("gluten-much", with(loaf(), "vital-gluten", 60.0), with(loaf(), "vital-gluten", 15.0))]
#[case(
    "prefermented-much",
    and(and(loaf(), Stage::Preferment, "bread-flour", 700.0), Stage::Preferment, "culture-100", 90.0),
    and(and(loaf(), Stage::Preferment, "bread-flour", 100.0), Stage::Preferment, "culture-100", 20.0)
)]
#[case(
    "scald-ratio",
    and(and(loaf(), Stage::Scald, "bread-flour", 25.0), Stage::Scald, "water", 20.0),
    and(and(loaf(), Stage::Scald, "bread-flour", 25.0), Stage::Scald, "milk", 110.0)
)]
#[case(
    "soaker-dry",
    and(loaf(), Stage::Soaker, "linseed", 60.0),
    and(and(loaf(), Stage::Soaker, "linseed", 60.0), Stage::Soaker, "water", 60.0)
)]
#[case("goes-in-hot",
    but(and(and(loaf(), Stage::Scald, "plain-flour", 20.0), Stage::Scald, "water", 80.0), |f| f.stages = vec![plan(Stage::Scald, 70.0)]),
    but(and(and(loaf(), Stage::Scald, "plain-flour", 20.0), Stage::Scald, "water", 80.0), |f| f.stages = vec![plan(Stage::Scald, 35.0)]))]
#[case(
    "held-back-much",
    and(with(loaf(), "water", 205.0), Stage::HeldBack, "water", 120.0),
    and(with(loaf(), "water", 295.0), Stage::HeldBack, "water", 30.0)
)]
#[case(
    "gluten-in-gluten-free",
    with(gluten_free(), "oat-flour", 50.0),
    with(gluten_free(), "teff-flour", 50.0)
)]
#[case("no-binder", but(gluten_free(), |f| f.lines.retain(|l| l.ingredient != "psyllium")),
    but(gluten_free(), |f| f.lines.iter_mut().filter(|l| l.ingredient == "psyllium").for_each(|l| l.ingredient = "xanthan".into())))]
#[case(
    "not-free-of",
    and(renamed(loaf(), "Nut-free loaf"), Stage::Topping, "walnuts", 20.0),
    and(renamed(loaf(), "Nut loaf"), Stage::Topping, "walnuts", 20.0)
)]
#[case("not-free-of", but(and(loaf(), Stage::Topping, "sesame-seeds", 5.0), |f| f.tags = vec!["sesame free".into()]),
    but(and(loaf(), Stage::Topping, "linseed", 5.0), |f| f.tags = vec!["sesame free".into()]))]
#[case("soda-with-yeast", with(loaf(), "baking-soda", 5.0), and(loaf(), Stage::Bath, "baking-soda", 50.0))]
#[case(
    "lye-in-dough",
    with(loaf(), "lye", 5.0),
    and(and(loaf(), Stage::Bath, "water", 1000.0), Stage::Bath, "lye", 35.0)
)]
#[case("oven-fahrenheit", but(loaf(), |f| f.oven.temperature = Some(Celsius(400.0))),
    but(loaf(), |f| f.oven.temperature = Some(Celsius(250.0))))]
#[case("oven-celsius-as-fahrenheit", but(loaf(), |f| f.oven.temperature = Some(Celsius(93.0))),
    but(loaf(), |f| f.oven.temperature = Some(Celsius(150.0))))]
#[case("dough-fahrenheit", but(loaf(), |f| f.mix.desired = Celsius(77.0)), but(loaf(), |f| f.mix.desired = Celsius(27.0)))]
#[case("place-fahrenheit", but(loaf(), |f| f.rise.proof.place = Some(Celsius(80.0))),
    but(loaf(), |f| f.rise.proof.place = Some(Celsius(38.0))))]
#[case("piece-ounces",
    but(loaf(), |f| { f.shape.pieces = 12; f.shape.piece_weight = Some(Grams(2.5)); }),
    but(loaf(), |f| { f.shape.pieces = 12; f.shape.piece_weight = Some(Grams(70.0)); }))]
#[case("pieces-do-not-add-up",
    but(loaf(), |f| { f.shape.pieces = 2; f.shape.piece_weight = Some(Grams(500.0)); }),
    but(loaf(), |f| { f.shape.pieces = 2; f.shape.piece_weight = Some(Grams(415.0)); }))]
#[case("pieces-do-not-add-up",
    but(loaf(), |f| { f.shape.piece_weight = Some(Grams(800.0)); f.makeups = vec![buns(8, 60.0)]; }),
    but(loaf(), |f| { f.shape.piece_weight = Some(Grams(360.0)); f.makeups = vec![buns(8, 60.0)]; }))]
#[case("bath-aluminium",
    and(and(loaf(), Stage::Bath, "water", 1000.0), Stage::Bath, "baking-soda", 50.0),
    but(and(and(loaf(), Stage::Bath, "water", 1000.0), Stage::Bath, "baking-soda", 50.0), |f| f.oven.vessel = Vessel::Stone))]
#[case(
    "bath-strong",
    and(and(loaf(), Stage::Bath, "water", 1000.0), Stage::Bath, "lye", 100.0),
    and(and(loaf(), Stage::Bath, "water", 1000.0), Stage::Bath, "lye", 40.0)
)]
#[case("knocked-down-wet",
    but(with(loaf(), "water", 430.0), |f| { f.style = Style::Flat; f.rise.handling = Handling::Firm; f.mix.method = Method::Fold; }),
    but(with(loaf(), "water", 430.0), |f| { f.style = Style::Flat; f.rise.handling = Handling::Gentle; }))]
#[case("rise-past-the-dough", but(with(loaf(), "dark-rye-flour", 500.0), |f| f.rise.bulk.target = 2.5),
    but(loaf(), |f| f.rise.bulk.target = 2.5))]
#[case("strand-size",
    but(loaf(), |f| { f.shape.kind = Kind::Braid; f.shape.pieces = 12; f.shape.strands = 6; }),
    but(loaf(), |f| { f.shape.kind = Kind::Braid; f.shape.strands = 4; }))]
#[case("fat-tenfold", with(loaf(), "butter", 700.0), with(loaf(), "butter", 250.0))]
#[case("fat-much", with(loaf(), "butter", 450.0), with(loaf(), "butter", 300.0))]
#[case("sugar-tenfold", with(loaf(), "sugar", 600.0), with(loaf(), "sugar", 60.0))]
#[case("sugar-much", with(loaf(), "sugar", 260.0), with(loaf(), "sugar", 120.0))]
#[case("spice-tenfold", with(loaf(), "cinnamon", 50.0), with(loaf(), "caraway", 50.0))]
#[case("preferment-hot",
    but(and(and(loaf(), Stage::Poolish, "bread-flour", 50.0), Stage::Poolish, "instant-yeast", 0.1), |f| f.mix.preferment = Some(Celsius(75.0))),
    but(and(and(loaf(), Stage::Poolish, "bread-flour", 50.0), Stage::Poolish, "instant-yeast", 0.1), |f| f.mix.preferment = Some(Celsius(30.0))))]
#[case("dry-yeast-not-bloomed",
    but(loaf(), |f| { f.lines[3].ingredient = "active-dry-yeast".into(); f.mix.method = Method::None; }),
    but(loaf(), |f| { f.lines[3].ingredient = "active-dry-yeast".into(); f.mix.method = Method::Hand; }))]
#[case("no-such-plait",
    but(loaf(), |f| { f.shape.kind = Kind::Braid; f.shape.strands = 8; }),
    but(loaf(), |f| { f.shape.kind = Kind::Braid; f.shape.strands = 6; }))]
#[case("egg-much", with(loaf(), "egg", 450.0), with(loaf(), "egg", 300.0))]
#[case(
    "levain-seed-little",
    and(and(loaf(), Stage::Preferment, "bread-flour", 100.0), Stage::Preferment, "culture-100", 0.5),
    and(and(loaf(), Stage::Preferment, "bread-flour", 100.0), Stage::Preferment, "culture-100", 5.0)
)]
#[case("piece-too-heavy", but(loaf(), |f| f.lines.iter_mut().for_each(|l| l.grams = l.grams * 5.0)),
    but(loaf(), |f| f.lines.iter_mut().for_each(|l| l.grams = l.grams * 3.0)))]
fn each_rule_fires_and_holds_its_tongue(#[case] code: &str, #[case] fires: Formula, #[case] quiet: Formula) {
    assert!(codes(&fires).contains(&code), "{:?}", codes(&fires));
    assert!(!codes(&quiet).contains(&code), "{:?}", codes(&quiet));
    // A mend mends: what it offers does not have the slip any more.
    let slip = found(&fires).into_iter().find(|s| s.code == code).unwrap();
    if let Some(mend) = slip.mend {
        assert!(!mend.label.is_empty());
        assert!(!codes(&mend.formula).contains(&code), "{} after {}", code, mend.label);
        // Nor another of its kind: what it offers is not unusual in the same figure at once.
        let kind = code.split('-').next().unwrap();
        let told = ["salt", "yeast", "fat", "sugar"].contains(&kind);
        let again = |c: &&&str| told && c.starts_with(kind) && **c != "sugar-slows";
        assert_eq!(codes(&mend.formula).iter().find(again), None, "{code} after {}", mend.label);
    }
}

#[test]
fn a_slip_can_be_meant() {
    let mut f = with(loaf(), "salt", 12.0);
    f.meant = vec!["salt-unusual".into()];
    let all = found(&f);
    assert!(all.iter().all(|s| s.meant) && all.len() == 1, "{all:?}");
    f.lines[2].grams = Grams(16.0);
    assert!(found(&f).iter().any(|s| s.code == "salt-far" && !s.meant), "another slip is said again");
}

fn station_codes(f: &Formula) -> Vec<&'static str> {
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let s = read(f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
    s.slips.into_iter().map(|s| s.code).collect()
}

#[test]
fn egg_and_milk_left_out_long_are_told() {
    let enriched = with(with(loaf(), "egg", 50.0), "water", 280.0);
    assert!(!station_codes(&enriched).contains(&"egg-or-milk-left-out"));
    let slow = with(enriched.clone(), "instant-yeast", 0.6);
    assert!(station_codes(&slow).contains(&"egg-or-milk-left-out"));
    let cold = but(slow, |f| f.rise.bulk.place = Some(Celsius(5.0)));
    let lean = with(loaf(), "instant-yeast", 0.6);
    assert!(!station_codes(&lean).contains(&"egg-or-milk-left-out"));
    assert!(station_codes(&cold).contains(&"egg-or-milk-left-out"), "the proof still stands warm");
}

#[test]
fn water_too_hot_for_yeast_is_told() {
    let cold = but(loaf(), |f| {
        f.mix.desired = Celsius(36.0);
        f.mix.flour = Some(Celsius(5.0));
    });
    assert!(station_codes(&cold).contains(&"liquid-hot"), "{:?}", station_codes(&cold));
    assert!(!station_codes(&loaf()).contains(&"liquid-hot"));
}

/// Temperatures that can only be °F are taken as such until they are mended.
#[test]
fn the_stations_take_what_was_meant() {
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let f = but(loaf(), |f| {
        f.oven.temperature = Some(Celsius(400.0));
        f.mix.desired = Celsius(77.0);
        f.rise.bulk.place = Some(Celsius(75.0));
    });
    let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
    assert_eq!(s.notations.fahrenheit, 400.0, "what was typed is what is shown");
    assert_eq!(s.slips.iter().filter(|s| s.code.ends_with("fahrenheit")).count(), 3);
}

/// Rules that show only once the stations are read.
#[rstest]
#[case("stands-too-long", but(loaf(), |f| f.rise.bulk.stays = Some(Hours(20.0))), loaf())]
#[case("too-young", but(with(loaf(), "instant-yeast", 0.3), |f| f.rise.bulk.stays = Some(Hours(1.0))),
    but(loaf(), |f| f.rise.bulk.stays = Some(Hours(1.2))))]
#[case("rise-very-long", but(with(loaf(), "instant-yeast", 0.08), |f| f.rise.bulk.place = Some(Celsius(13.0))), loaf())]
#[case("levain-over-ripe", but(levain(), |f| f.stages = vec![stands(30.0)]), levain())]
#[case("levain-not-ripe", but(levain(), |f| f.stages = vec![stands(1.0)]), levain())]
#[case("oven-far", but(loaf(), |f| f.oven.temperature = Some(Celsius(130.0))),
    but(loaf(), |f| f.oven.temperature = Some(Celsius(185.0))))]
#[case("oven-past-its-end", but(loaf(), |f| f.oven.temperature = Some(Celsius(295.0))),
    but(loaf(), |f| f.oven.temperature = Some(Celsius(250.0))))]
fn the_stations_tell_of_slips_too(#[case] code: &str, #[case] fires: Formula, #[case] quiet: Formula) {
    assert!(station_codes(&fires).contains(&code), "{:?}", station_codes(&fires));
    assert!(!station_codes(&quiet).contains(&code), "{:?}", station_codes(&quiet));
}

fn levain() -> Formula {
    let mut f = and(and(loaf(), Stage::Preferment, "bread-flour", 60.0), Stage::Preferment, "water", 60.0);
    f = and(f, Stage::Preferment, "culture-100", 15.0);
    f.lines.sort_by_key(|l| l.stage);
    f
}

fn stands(hours: f64) -> AheadWish {
    AheadWish { stage: Stage::Preferment, hours: Some(Hours(hours)), place: None, temperature: None }
}

/// Breads in order, some of them rich, wet or odd: none of them is told to stop and check.
#[test]
fn what_is_in_order_is_never_told_to_stop() {
    let rich = |egg: f64, butter: f64, milk: f64| {
        let mut f = Formula::beginning("Rich", Style::Braid);
        f.lines = [
            ("bread-flour", Stage::Dough, 500.0),
            ("egg", Stage::Dough, egg),
            ("milk", Stage::Dough, milk),
            ("sugar", Stage::Dough, 60.0),
            ("salt", Stage::Dough, 10.0),
            ("instant-yeast", Stage::Dough, 7.0),
            ("butter", Stage::LateButter, butter),
        ]
        .map(|(k, s, g)| Line::new(k, s, Grams(g)))
        .to_vec();
        f
    };
    let all = [
        rich(300.0, 250.0, 60.0),
        rich(250.0, 300.0, 0.0),
        rich(100.0, 80.0, 150.0),
        but(loaf(), |f| f.oven.temperature = Some(Celsius::from_fahrenheit(375.0))),
        but(with(levain(), "milk", 150.0), |f| {
            f.lines.retain(|l| l.ingredient != "water" || l.stage != Stage::Dough)
        }),
        Formula::beginning("Rye", Style::Rye),
        Formula::beginning("No-knead", Style::NoKnead),
        Formula::beginning("Flat", Style::Flat),
    ];
    for f in &all {
        let strong: Vec<_> =
            found(f).into_iter().filter(|s| s.strength == Strength::Strong).map(|s| s.text).collect();
        assert!(strong.is_empty(), "{}: {strong:?}", f.name);
    }
}

/// A figure that is neither in its range nor °F for one is refused, not taken for something else.
#[test]
fn what_cannot_be_fahrenheit_is_refused() {
    for t in [5.0, 40.0, 45.0, 105.0] {
        let f = but(loaf(), |f| f.mix.desired = Celsius(t));
        let faults = f.check(Catalogue::bundled()).unwrap_err();
        assert_eq!(faults.0[0].path, "mix.desired", "{t}");
    }
    assert!(but(loaf(), |f| f.mix.desired = Celsius(77.0)).check(Catalogue::bundled()).is_ok());
}

/// Own ingredients are looked at as what they are like.
#[test]
fn own_ingredients_do_not_escape_the_rules() {
    use cerealis_core::pantry::{Cupboard, OwnIngredient};
    let own = |key: &str, like: &str, allergens: Option<Vec<String>>| OwnIngredient {
        key: key.into(),
        name: key.into(),
        like: like.into(),
        allergens,
        ..OwnIngredient::default()
    };
    let cupboard = Cupboard {
        own: vec![
            own("own-soda", "baking-soda", None),
            own("own-malt", "diastatic-malt", None),
            own("own-culture", "culture-100", Some(Vec::new())),
        ],
        ..Cupboard::default()
    };
    let c = Catalogue::bundled().with(&cupboard.own);
    let codes =
        |f: &Formula| -> Vec<&str> { slips(f, &figures(f, &c), &c).into_iter().map(|s| s.code).collect() };
    assert!(codes(&with(loaf(), "own-soda", 5.0)).contains(&"soda-with-yeast"));
    assert!(codes(&with(loaf(), "own-malt", 15.0)).contains(&"malt-much"));
    // A culture without gluten neither binds the dough nor makes it safe.
    let free = but(gluten_free(), |f| f.lines.retain(|l| l.ingredient != "psyllium"));
    let fed = with(free, "own-culture", 40.0);
    assert!(codes(&fed).contains(&"no-binder"), "{:?}", codes(&fed));
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let s = read(&fed, &Kitchen::default(), &c, now).unwrap();
    assert!(s.cautions.iter().any(|t| t.contains("coeliac")), "{:?}", s.cautions);
}
