//! Rise: how fast a dough swells, and when it is ready.
//!
//! Baker's yeast and a culture make gas at rates that follow the dough's temperature; the gas
//! first dissolves, then swells the dough until its flour can hold no more. See `docs/rise.md`
//! for what is assumed and how it was checked.
//!
//! `rates.rs` holds every parameter, `dough.rs` and `places.rs` what goes in, `model.rs` the
//! equations. On them stand the forecast (`rise.rs`), preferments (`levain.rs`), the questions put
//! the other way round (`inverse.rs`), what a degree or a gram is worth (`matters.rs`), and what a
//! reading at the tub tells (`readings.rs`).

mod course;
mod dough;
mod inverse;
mod levain;
mod likely;
mod matters;
mod model;
mod places;
mod rates;
mod readings;
mod wish;

pub use course::{Forecast, Moment, RiseInput, RiseOutput, Sourness, rise};
pub use dough::Dough;
pub use inverse::{InverseInput, InverseOutput, Lever, Which, rise_inverse};
pub use levain::{Ripening, ripen};
pub use likely::Likely;
pub use matters::{Matter, matters};
pub use places::{AIR_RESISTANCE, DOUGH_RESISTANCE, Place, Stretch, time_constant};
pub use rates::{
    ACID_AT, AMYLASE, BACTERIA_RATE, CULTURE_GAS, CULTURE_GAS_AT, CULTURE_LAG, CULTURE_RATE, CULTURE_SALTED,
    Cardinal, DISSOLVES, DOUGH_DENSITY, FLOUR_SUGAR, GAS_CARDINAL, GAS_PER_SUGAR, GROWTH_CARDINAL, HEATS,
    KITCHEN_SPREAD, LEVAIN_ACID, MALTOSE, OSM_REF, OSM_SLOWING, OVER, RIPE, SINKS_TO, SOURNESS_STEP,
    SUGAR_HALF, UNBLOOMED_LAG, WEAKENS, YEAST_GAS, YEAST_GAS_AT, YEAST_GROWTH, YEAST_LAG, YEAST_ROOM,
    bacteria_rate, culture_rate, fatty, home_culture_rate, killed, osmotic, swollen,
};
pub use readings::{ForecastInput, ForecastOutput, Poke, Question, Reading, forecast_with};
pub use wish::{
    KNEADS, LEG, LEG_PLACE, LEGS_MAX, LEVAIN_PLACE, Leg, Liveliness, NIGHT, PLACE, RIM, RiseWish, RisesWish,
    STAYS, TARGET,
};
