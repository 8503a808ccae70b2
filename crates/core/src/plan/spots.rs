//! Where a dough can stand in a kitchen, and how much cooler it gets there by night.

use crate::kitchen::Kitchen;
use crate::rise::RiseWish;
use crate::units::Celsius;

/// The room, a place of the kitchen, or its fridge.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Spot {
    /// What it is called in a sentence.
    pub(super) name: String,
    /// How warm it is by day.
    pub(super) warm: Celsius,
    /// How a formula names it: by its temperature, or not at all where it is the room.
    place: Option<Celsius>,
    /// How much cooler it gets by night, K; the room goes by the kitchen's night.
    night: f64,
}

impl Spot {
    /// The room, and the kitchen's places.
    pub(super) fn all(kitchen: &Kitchen) -> Vec<Spot> {
        let room = Spot { name: "the room".into(), warm: kitchen.room, place: None, night: 0.0 };
        let place =
            |name: &String, warm: Celsius, night| Spot { name: name.clone(), warm, place: Some(warm), night };
        let places = kitchen.places.iter().map(|p| place(&p.name, p.really(), p.night));
        std::iter::once(room).chain(places).collect()
    }

    /// The fridge, which is as cold by night as by day.
    pub(super) fn fridge(kitchen: &Kitchen) -> Spot {
        Spot { name: "the fridge".into(), warm: kitchen.fridge, place: Some(kitchen.fridge), night: 0.0 }
    }

    /// A rise that stands here.
    pub(super) fn takes(&self, wish: &mut RiseWish) {
        (wish.place, wish.night) = (self.place, self.night);
    }

    /// Its key: letters and figures alone, whatever it is called.
    pub(super) fn key(&self) -> String {
        let plain: String = self.name.chars().filter(|c| c.is_ascii_alphanumeric()).collect();
        format!("{plain}-{:.0}", self.warm.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kitchen::KitchenPlace;

    /// A dough that is taken out of a cellar with cold nights takes none of them along.
    #[test]
    fn a_dough_takes_the_nights_of_where_it_stands() {
        let cellar = KitchenPlace {
            name: "Cellar".into(),
            temperature: Celsius(14.0),
            night: 5.0,
            tubs: None,
            measured: Some(Celsius(13.0)),
        };
        let kitchen = Kitchen { places: vec![cellar], ..Kitchen::default() };
        let mut wish = RiseWish::default();
        let spots = Spot::all(&kitchen);
        spots[1].takes(&mut wish);
        assert_eq!((wish.place, wish.night), (Some(Celsius(13.0)), 5.0));
        Spot::fridge(&kitchen).takes(&mut wish);
        assert_eq!((wish.place, wish.night), (Some(kitchen.fridge), 0.0));
        spots[0].takes(&mut wish);
        assert_eq!((wish.place, wish.night), (None, 0.0), "the room's nights are the kitchen's");
    }
}
