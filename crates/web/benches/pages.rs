//! How long a page takes on the server. Figures are in docs/numbers.md.

#![allow(missing_docs, reason = "criterion makes the functions")]

use actix_web::{App, middleware, test};
use cerealis_store::{Backups, FormulaId, Store, demo_cupboard};
use cerealis_web::House;
use cerealis_web::formula_page::fill;
use cerealis_web::household::Household;
use cerealis_web::sharing::{Door, Share};
use criterion::{Criterion, criterion_group, criterion_main};

fn pages(c: &mut Criterion) {
    let dir = tempfile::tempdir().expect("a folder for the kitchen");
    let store = Store::open(&dir.path().join("kitchen.sqlite")).expect("a new kitchen");
    store.fill_with_demo().expect("the demo kitchen");
    let runtime = actix_web::rt::System::new();
    let path = dir.path().join("kitchen.sqlite");
    let house = House::new(store.clone(), Share::beside(&path), Backups::of(&path, None));
    let app = runtime.block_on(test::init_service(
        App::new()
            .wrap(middleware::from_fn(cerealis_web::security_guard))
            .configure(|config| cerealis_web::routes(config, &house, Door::Here)),
    ));
    for path in ["/formulas", "/formulas/1/rise", "/formulas/3/rise"] {
        c.bench_function(&format!("page: {path}"), |b| {
            b.iter(|| {
                let request =
                    test::TestRequest::get().uri(path).insert_header(("host", "127.0.0.1:8750")).to_request();
                runtime.block_on(test::call_service(&app, request)).status()
            });
        });
    }

    // A change at Rise that was never read before, answered as the page asks for it: the rail and Rise.
    let kitchen = store.kitchen().expect("the demo kitchen").kitchen;
    let house = &Household::of(kitchen, demo_cupboard(), jiff::Timestamp::now());
    for id in [1, 3, 6] {
        let stored = store.formula(FormulaId(id)).expect("a demo formula");
        let mut form = fill(&stored.formula, house);
        form.set("here", "rise");
        form.set("quick", "1");
        let mut n = 0;
        c.bench_function(&format!("preview: formula {id} at Rise"), |b| {
            b.iter(|| {
                n += 1;
                form.set("mix.desired", format!("{:.4}", 24.0 + 0.0001 * f64::from(n % 10_000)));
                let typed =
                    form_urlencoded::Serializer::new(String::new()).extend_pairs(form.values()).finish();
                let request = test::TestRequest::post()
                    .uri(&format!("/formulas/{id}/preview"))
                    .insert_header(("host", "127.0.0.1:8750"))
                    .insert_header(("origin", "http://127.0.0.1:8750"))
                    .insert_header(("content-type", "application/x-www-form-urlencoded"))
                    .set_payload(typed)
                    .to_request();
                let status = runtime.block_on(test::call_service(&app, request)).status();
                assert!(status.is_success());
            });
        });
    }
}

criterion_group!(benches, pages);
criterion_main!(benches);
