//! What to do with a dough as it stands.

use crate::rise::{ForecastOutput, Poke, Which};
use crate::units::Minutes;

/// What to do now (common practice, no source).
pub(super) fn advice(
    which: Which,
    poke: Option<Poke>,
    elapsed: Minutes,
    forecast: &ForecastOutput,
) -> String {
    let f = &forecast.after;
    let over = f.stands_until.is_some_and(|until| elapsed > until) || (f.most <= 1.02 && elapsed > f.time);
    let text = match (which, poke) {
        (Which::Proof, Some(Poke::Stays)) => {
            "The dent stays: it is over-proofed. Bake it at once in a hot oven without scoring; or press it out, shape it again and let it rise for half as long; or make flat bread of it."
        }
        (Which::Proof, Some(Poke::Slowly)) => "The dent comes back slowly: it is ready. Into the oven.",
        (Which::Proof, Some(Poke::Springs)) => {
            "It springs back: not yet. Poke again when half of the time left is over."
        }
        _ if elapsed < f.early => "It is on its way. Look again at the early end of the time.",
        // Is it lost? Bake it now, knock it back, or proof it less.
        (Which::Proof, _) if over => {
            "It has stood longer than it bears, and is not lost. Bake it at once without scoring: it comes out lower. Or press it out, shape it again, and let it rise for half as long."
        }
        _ if over => {
            "It has stood longer than it bears, and is not lost: knock it back, shape it now, and proof it a quarter shorter. Where it runs and tears, press it out as flat bread."
        }
        (Which::Bulk | Which::Second, _) if elapsed < f.time => {
            "It may be ready any time now. Go by the mark on the tub."
        }
        (Which::Bulk | Which::Second, _) => {
            "By the forecast it is ready. Go by the mark on the tub, then go on."
        }
        _ if elapsed < f.time => "It may be ready any time now. Poke it with a floured finger.",
        _ => "By the forecast it is ready. Poke it: when the dent comes back slowly, bake.",
    };
    text.to_owned()
}
