//! How long a page takes on the server. Figures are in docs/numbers.md.

#![allow(missing_docs, reason = "criterion makes the functions")]

use actix_web::{App, middleware, test};
use cerealis_store::Store;
use criterion::{Criterion, criterion_group, criterion_main};

fn pages(c: &mut Criterion) {
    let dir = tempfile::tempdir().expect("a folder for the kitchen");
    let store = Store::open(&dir.path().join("kitchen.sqlite")).expect("a new kitchen");
    store.fill_with_demo().expect("the demo kitchen");
    let runtime = actix_web::rt::System::new();
    let app = runtime.block_on(test::init_service(
        App::new()
            .wrap(middleware::from_fn(cerealis_web::guard))
            .configure(|config| cerealis_web::routes(config, store.clone())),
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
}

criterion_group!(benches, pages);
criterion_main!(benches);
