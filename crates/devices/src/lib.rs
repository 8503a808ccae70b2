//! Devices of the bench: the lines that they speak, and simulated ones that ship with the program. `docs/devices.md`
//! describes the lines for who writes an adapter to a real one.

mod follow;
mod oven;
mod probe;
mod protocol;
mod scale;
mod serve;

pub use follow::{Heard, follow};
pub use oven::{Oven, OvenStep};
pub use probe::{Probe, ProbeStep};
pub use protocol::{Act, Ask, Kind, LINE_MAX, Line, Malformed, Quantity, VERSION};
pub use scale::{Scale, ScaleStep};
pub use serve::{HERTZ, serve};

/// A simulated device: what it shows moves with time.
pub trait Device: Send + 'static {
    /// What it greets with.
    fn greeting(&self) -> Line;

    /// Goes on by so many seconds, and says what it shows; nothing while it is dropped out.
    fn after(&mut self, seconds: f64) -> Option<Line>;

    /// Does what it is asked; what it answers, if anything.
    fn asked(&mut self, ask: Ask) -> Option<Line>;
}

/// Of the standard normal distribution, by Box and Muller.
fn normal(dice: &mut fastrand::Rng) -> f64 {
    let (a, b) = (dice.f64().max(1e-12), dice.f64());
    (-2.0 * a.ln()).sqrt() * (std::f64::consts::TAU * b).cos()
}
