//! Whatever a household writes its figures in: every form and every import stores the same grams.

use crate::house::{Kitchen, demo, empty, get, on_page, post, set, text};
use actix_web::dev::Service;
use actix_web::http::StatusCode;
use cerealis_core::formats::{Format, export};
use cerealis_core::kitchen::Kitchen as Settings;
use cerealis_core::notation::{ClockFace, Lengths, Notation, Temperatures, Weights};
use cerealis_core::pantry::Cupboard;
use cerealis_store::FormulaId;

/// Every way to write weights with every way to write degrees, and lengths and clocks in turn.
fn notations() -> Vec<Notation> {
    let mut all = Vec::new();
    for temperatures in Temperatures::ALL {
        for weights in Weights::ALL {
            let turn = all.len() / 2 + all.len() % 2;
            let lengths = Lengths::ALL[turn % Lengths::ALL.len()];
            let clock = ClockFace::ALL[all.len() % ClockFace::ALL.len()];
            all.push(Notation { temperatures, weights, lengths, clock });
        }
    }
    assert!(all.len() >= 4 * 4, "{}", all.len());
    all
}

fn writes_in(kitchen: &Kitchen, n: Notation) {
    let there = kitchen.store.kitchen().unwrap().kitchen;
    let settings =
        Settings { units: n.temperatures, weights: n.weights, lengths: n.lengths, clock: n.clock, ..there };
    assert_eq!(settings.notation(), n);
    kitchen.store.save_kitchen(None, &settings).unwrap();
}

/// The grams of each line of a formula.
fn grams(kitchen: &Kitchen, id: FormulaId) -> Vec<(String, f64)> {
    let formula = kitchen.store.formula(id).unwrap().formula;
    formula.lines.into_iter().map(|l| (l.ingredient, l.grams.0)).collect()
}

/// What is imported, each in a form of its own.
fn texts() -> Vec<String> {
    let loaf = &cerealis_store::demo_formulas()[0];
    let lines = "500 g bread flour\n0.4 g instant yeast\n11 oz water\n2 tsp salt\n1 1/2 cups milk\n2 lb rye flour\n1 tbsp honey\n100 g butter";
    vec![
        lines.to_owned(),
        export(loaf, None, Format::JsonLd, &Cupboard::default()),
        export(loaf, None, Format::Csv, &Cupboard::default()),
        export(loaf, None, Format::Json, &Cupboard::default()),
    ]
}

#[actix_web::test]
async fn every_import_stores_the_same_grams_in_every_notation() {
    let mut first: Vec<Option<Vec<(String, f64)>>> = vec![None; texts().len()];
    for n in notations() {
        for (which, pasted) in texts().into_iter().enumerate() {
            let kitchen = empty();
            writes_in(&kitchen, n);
            let app = app!(kitchen);
            // As the page has it, and once corrected, before it is accepted.
            let (_, page) = text(app.call(get("/formulas/bring").to_request()).await.unwrap()).await;
            let mut typed = on_page(&page);
            set(&mut typed, "text", &pasted);
            set(&mut typed, "op", "read");
            let (status, page) =
                text(app.call(post("/formulas/bring", &typed).to_request()).await.unwrap()).await;
            let mut saved = kitchen.store.formulas().unwrap();
            if saved.is_empty() {
                assert_eq!(status, StatusCode::OK, "{page:.600}");
                let mut rows = on_page(&page);
                set(&mut rows, "text", &pasted);
                set(&mut rows, "op", "again");
                let (_, page) =
                    text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
                let mut rows = on_page(&page);
                set(&mut rows, "name", "Loaf");
                set(&mut rows, "op", "accept");
                let done = app.call(post("/formulas/bring", &rows).to_request()).await.unwrap();
                let (status, page) = text(done).await;
                assert_eq!(status, StatusCode::SEE_OTHER, "{n:?} {which}: {page:.2000}");
                saved = kitchen.store.formulas().unwrap();
            }
            let stored = grams(&kitchen, saved[0].id);
            match &first[which] {
                None => first[which] = Some(stored),
                Some(there) => assert_eq!(&stored, there, "{n:?}, text {which}"),
            }
        }
    }
    let lines = first[0].clone().unwrap();
    assert_eq!(lines[0], ("bread-flour".into(), 500.0));
    assert_eq!(lines.last().unwrap(), &("butter".into(), 100.0));
}

/// What is accepted as it was read is the formula that is proposed of the text, with all that is ticked.
#[actix_web::test]
async fn what_is_accepted_as_read_is_what_is_proposed() {
    use cerealis_core::pantry::{Catalogue, Measures};
    use cerealis_reader::{ReadInput, read};
    let texts = [
        "Seeded loaf\nMakes 1 loaf\n450 g bread flour\n50 g rye flour\n330 g water\n9 g salt\n7 g instant yeast\n40 g sunflower seeds\n\n1. Mix everything but the seeds.\n2. Knead for 8 mins, working the seeds in at the end. Rise 75 minutes until doubled.\n3. Roll up and lay in a buttered 2 lb loaf tin. Prove 40 minutes.\n4. Slash once. Bake for 35 minutes at 220 °C.",
        "Rich buns\n500 g bread flour\n250 g milk\n9 g salt\n7 g instant yeast\n120 g butter\n1 egg, for brushing\n\nMethod\nKnead 8 minutes in a stand mixer. Add the butter in four portions, which takes 10 minutes. Rise 1 hour. Divide into 12 buns and put them on a baking sheet. Prove 45 minutes. Brush with egg. Bake 16 minutes at 200 °C.",
    ];
    let mut stages = Vec::new();
    for pasted in texts {
        let kitchen = empty();
        let app = app!(kitchen);
        let (_, page) = text(app.call(get("/formulas/bring").to_request()).await.unwrap()).await;
        let mut typed = on_page(&page);
        set(&mut typed, "text", pasted);
        set(&mut typed, "op", "read");
        let (_, page) = text(app.call(post("/formulas/bring", &typed).to_request()).await.unwrap()).await;
        let mut rows = on_page(&page);
        set(&mut rows, "op", "accept");
        let done = app.call(post("/formulas/bring", &rows).to_request()).await.unwrap();
        assert_eq!(done.status(), StatusCode::SEE_OTHER);
        let saved = kitchen.store.formula(kitchen.store.formulas().unwrap()[0].id).unwrap().formula;
        let input = ReadInput { text: pasted.into(), measures: Measures::default() };
        let told = read(&input, Catalogue::bundled()).unwrap().proposal.unwrap().formula;
        let lines = |f: &cerealis_core::formula::Formula| -> Vec<_> {
            f.lines.iter().map(|l| (l.ingredient.clone(), l.stage, (1e3 * l.grams.0).round())).collect()
        };
        assert_eq!(lines(&saved), lines(&told));
        assert_eq!((&saved.mix, &saved.rise, &saved.shape), (&told.mix, &told.rise, &told.shape));
        assert_eq!((&saved.finish, &saved.oven, saved.style), (&told.finish, &told.oven, told.style));
        stages.extend(lines(&saved).into_iter().map(|l| l.1.key()));
    }
    assert!(stages.contains(&"add-ins") && stages.contains(&"late-butter"), "{stages:?}");
}

#[actix_web::test]
async fn forms_that_nobody_changed_store_the_same_grams_in_every_notation() {
    for n in notations() {
        let kitchen = demo();
        let before = cerealis_store::demo_cupboard();
        let formula = kitchen.store.formula(FormulaId(3)).unwrap().formula;
        kitchen
            .store
            .change_cupboard(None, |c| {
                c.stock.insert("bread-flour".into(), 1234.5);
                c.stock.insert("salt".into(), 7.0);
                Ok(())
            })
            .unwrap();
        let stock = kitchen.store.cupboard().unwrap().cupboard.stock;
        writes_in(&kitchen, n);
        let settings = kitchen.store.kitchen().unwrap().kitchen;
        let app = app!(kitchen);
        // The cupboard: what is there, and what is typed anew in the household's own unit.
        let (_, page) = text(app.call(get("/cupboard").to_request()).await.unwrap()).await;
        let mut typed = on_page(&page);
        let done = app.call(post("/cupboard/prices", &typed).to_request()).await.unwrap();
        assert_eq!(done.status(), StatusCode::SEE_OTHER);
        assert_eq!(kitchen.store.cupboard().unwrap().cupboard.stock, stock, "{n:?}");
        set(&mut typed, "stock.salt", "250 g");
        set(&mut typed, "over", "1");
        app.call(post("/cupboard/prices", &typed).to_request()).await.unwrap();
        assert_eq!(kitchen.store.cupboard().unwrap().cupboard.stock["salt"], 250.0, "{n:?}");
        assert_eq!(kitchen.store.cupboard().unwrap().cupboard.own, before.own);
        // A formula, and a line of it in grams.
        let (_, page) = text(app.call(get("/formulas/3/formula").to_request()).await.unwrap()).await;
        let mut typed = on_page(&page);
        typed.retain(|(name, _)| name != "op");
        let done = app.call(post("/formulas/3", &typed).to_request()).await.unwrap();
        assert!(
            done.status().is_redirection() || done.status() == StatusCode::OK,
            "{n:?}: {}",
            done.status()
        );
        assert_eq!(kitchen.store.formula(FormulaId(3)).unwrap().formula, formula, "{n:?}");
        // The kitchen.
        let (_, page) = text(app.call(get("/kitchen").to_request()).await.unwrap()).await;
        let mut typed = on_page(&page);
        set(&mut typed, "pressed", "1");
        app.call(post("/kitchen", &typed).to_request()).await.unwrap();
        assert_eq!(kitchen.store.kitchen().unwrap().kitchen, settings, "{n:?}");
        // An ingredient of one's own: its figures are in grams, and say so.
        let key = &before.own[0].key;
        let (_, page) =
            text(app.call(get(&format!("/cupboard/own/{key}")).to_request()).await.unwrap()).await;
        let mut typed = on_page(&page);
        set(&mut typed, "over", "1");
        app.call(post(&format!("/cupboard/own/{key}"), &typed).to_request()).await.unwrap();
        assert_eq!(kitchen.store.cupboard().unwrap().cupboard.own, before.own, "{n:?}");
        // A weight at the bench.
        let bake = kitchen.store.running_bakes().unwrap()[0].clone();
        let shows = n.written(431.0, cerealis_core::notation::Quantity::Grams);
        let press = [("op", "weigh:0"), ("grams", &format!("{shows}")), ("typed_in", &n.key())]
            .map(|(k, v)| (k.to_owned(), v.to_owned()));
        app.call(post(&format!("/bakes/{}", bake.id), &press).to_request()).await.unwrap();
        let weighed = kitchen.store.bake(bake.id).unwrap().events.last().cloned().unwrap();
        if let cerealis_core::bake::What::Weighed { grams, .. } = weighed.what {
            assert!((grams.0 - 431.0).abs() < 0.51, "{n:?}: {grams:?}");
        }
    }
}
