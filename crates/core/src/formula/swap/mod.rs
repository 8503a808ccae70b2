//! Swaps: this for that, with what has to change along.

mod alike;
mod flour;
mod keep;
mod kinds;
mod leaven;
mod offers;
mod work;

pub use kinds::{Swap, SwapInput, Swapped};
pub use offers::{Offer, offers};
pub use work::swap;
