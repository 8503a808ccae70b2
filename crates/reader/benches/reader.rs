//! How long reading takes. `cargo bench -p cerealis-reader`

use std::hint::black_box;

use cerealis_core::pantry::{Catalogue, Measures};
use cerealis_reader::{ReadInput, read};
use criterion::{Criterion, criterion_group, criterion_main};

fn reader(c: &mut Criterion) {
    let kinds = [
        "3 3/4 cups plus 1 tablespoon unbleached all-purpose flour, sifted, plus more for dusting",
        "2 1/4 tsp instant yeast",
        "1 stick butter, softened, divided",
        "2 large eggs, beaten",
    ];
    let text = kinds.iter().copied().cycle().take(400).collect::<Vec<_>>().join("\n");
    let input = ReadInput { text, measures: Measures::default() };
    c.bench_function("reader: 400 lines", |b| b.iter(|| read(black_box(&input), Catalogue::bundled())));
}

criterion_group!(recipes, reader);
criterion_main!(recipes);
