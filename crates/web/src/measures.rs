//! What the program counts of itself: requests by their route, engines, how long they took.

use std::sync::LazyLock;
use std::time::{Duration, Instant};

use prometheus_client::encoding::EncodeLabelSet;
use prometheus_client::metrics::counter::Counter;
use prometheus_client::metrics::family::Family;
use prometheus_client::metrics::gauge::Gauge;
use prometheus_client::metrics::histogram::Histogram;

/// What was asked, and what came of it.
#[derive(Clone, Debug, Hash, PartialEq, Eq, EncodeLabelSet)]
pub struct Asked {
    /// Its method.
    pub method: String,
    /// Its route.
    pub route: String,
    /// The status of its answer.
    pub status: u16,
}

/// Something that takes time.
#[derive(Clone, Debug, Hash, PartialEq, Eq, EncodeLabelSet)]
pub struct Of {
    /// What.
    pub what: String,
}

/// Bounds of times, s.
const BOUNDS: [f64; 10] = [0.001, 0.003, 0.01, 0.03, 0.1, 0.3, 1.0, 3.0, 10.0, 30.0];

fn histogram() -> Histogram {
    Histogram::new(BOUNDS)
}

/// Times by what takes them.
pub type Times = Family<Of, Histogram, fn() -> Histogram>;

/// What is counted, for the whole program.
pub struct Measures {
    /// Requests by route and status.
    pub requests: Family<Asked, Counter>,
    /// Times to an answer, by route.
    pub answers: Times,
    /// Times of the engines.
    pub engines: Times,
    /// Requests that are being answered.
    pub open: Gauge,
    /// Pages that listen to what happens.
    pub listening: Gauge,
}

/// Those of this program.
pub static MEASURES: LazyLock<Measures> = LazyLock::new(|| Measures {
    requests: Family::default(),
    answers: Family::new_with_constructor(histogram),
    engines: Family::new_with_constructor(histogram),
    open: Gauge::default(),
    listening: Gauge::default(),
});

/// Runs an engine, and notes how long it took.
pub fn timed<T>(engine: &str, run: impl FnOnce() -> T) -> T {
    let began = Instant::now();
    let done = run();
    took(engine, began.elapsed());
    done
}

fn took(engine: &str, time: Duration) {
    MEASURES.engines.get_or_create(&Of { what: engine.into() }).observe(time.as_secs_f64());
}
