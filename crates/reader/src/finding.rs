//! What is found in a method.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use cerealis_core::choice::choice;
use cerealis_core::finish::Score;
use cerealis_core::formula::{AheadWish, Formula, Line, MakeUp, SAID_MAX, Said};
use cerealis_core::oven::HotStart;
use cerealis_core::rise::Leg;
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, shown};
use cerealis_core::words::{Kind, Method, Stage, Vessel};

choice! {
    /// What was found.
    Found {
        /// Something made ahead ripens, min.
        Preferment = "preferment", "Levain or preferment";
        /// Seeds or grain soak, min.
        Soaker = "soaker", "Soaker";
        /// Yeast stands in liquid, min.
        Bloom = "bloom", "Blooming";
        /// The liquid, °C.
        Liquid = "liquid", "Liquid";
        /// Flour and water rest, min.
        Autolyse = "autolyse", "Autolyse";
        /// How it is mixed.
        MixedBy = "mixed-by", "Mixed";
        /// Kneading or mixing, min.
        Knead = "knead", "Kneading";
        /// How long a mixer runs slowly first, min.
        Slow = "slow", "Mixed slowly";
        /// The mixer's speed, counted from its slowest.
        Speed = "speed", "Mixer's speed";
        /// The butter goes in when the dough has been kneaded.
        LateButter = "late-butter", "Butter goes in late";
        /// Fruit, nuts or seeds go in when the dough has been kneaded.
        AddIns = "add-ins", "Fruit, nuts or seeds go in last";
        /// In how many portions late butter goes in.
        Portions = "portions", "Butter in portions";
        /// How long working it in takes, min.
        Butter = "butter", "Butter worked in over";
        /// Sets of folds.
        Folds = "folds", "Folds";
        /// How far apart folds are, min.
        FoldsEvery = "folds-every", "Folds every";
        /// The bulk rise, min.
        Bulk = "bulk", "Bulk rise";
        /// Where the bulk rise stands, °C.
        BulkPlace = "bulk-place", "Bulk rise at";
        /// How far the bulk rise goes, times its volume.
        BulkTarget = "bulk-target", "Bulk rise until";
        /// A second bulk rise, min.
        Second = "second", "Second rise";
        /// Kneading again after a rise, min.
        Kneads = "kneads", "Kneaded again";
        /// A rest on the bench, min.
        Rest = "rest", "Rest on the bench";
        /// How many pieces.
        Pieces = "pieces", "Pieces";
        /// What a piece weighs, g.
        PieceWeight = "piece-weight", "Each piece";
        /// Strands of a plait.
        Strands = "strands", "Strands";
        /// Two strands are laid as a cross.
        Crossed = "crossed", "Laid as a cross";
        /// How long a strand is rolled, cm.
        StrandLength = "strand-length", "Strands rolled to";
        /// The shape.
        Shape = "shape", "Shape";
        /// What it bakes on or in.
        BakesIn = "bakes-in", "Bakes on or in";
        /// The pan's inside, cm: its length and its width, or the width of a round one.
        Pan = "pan", "Pan";
        /// How deep the pan is, cm.
        PanDepth = "pan-depth", "Pan, deep";
        /// How many lie in one pan, touching.
        Together = "together", "Side by side";
        /// How thick it is rolled or pressed out, cm.
        Thick = "thick", "Rolled out";
        /// What the main pieces take of the dough, where the rest becomes another bread, g.
        MainPart = "main-part", "The first takes";
        /// What the rest of the dough becomes: how many of which shape.
        RestMakes = "rest-makes", "The rest becomes";
        /// The final proof, min.
        Proof = "proof", "Final proof";
        /// Where the proof stands, °C.
        ProofPlace = "proof-place", "Final proof at";
        /// How far the proof goes, times its volume.
        ProofTarget = "proof-target", "Proof until";
        /// Where it stands against the rim of its pan when it is proofed, cm.
        Rim = "rim", "Proof to the rim";
        /// The proof is uncovered.
        Bare = "bare", "Proof uncovered";
        /// A stay in the fridge, min; its key tells in which rise.
        Fridge = "fridge", "Fridge";
        /// How often it is brushed before the oven.
        Washes = "washes", "Brushed";
        /// The cuts; its key tells which.
        Cuts = "cuts", "Cut";
        /// A cross is piped on.
        Piped = "piped", "A cross piped on";
        /// A bath, min.
        Bath = "bath", "Bath";
        /// What the oven is heated to, °C.
        Preheat = "preheat", "Oven heated to";
        /// The hotter start, °C.
        HotStart = "hot-start", "Hotter at first";
        /// How long it is hotter, min.
        HotMinutes = "hot-minutes", "Hotter for";
        /// The oven, °C.
        Oven = "oven", "Oven";
        /// Steam, or water thrown in.
        Steam = "steam", "Steam";
        /// Under the lid, min.
        Covered = "covered", "Lid on for";
        /// With the lid off, min.
        Uncovered = "uncovered", "Lid off for";
        /// When foil goes on, min.
        Foil = "foil", "Foil after";
        /// The bake in all, min.
        Bake = "bake", "Bake";
        /// The core of the done loaf, °C.
        Core = "core", "Core";
        /// In the switched-off oven with its door ajar, min.
        Ajar = "ajar", "Door ajar for";
        /// In its tin when it is out, min.
        CoolsIn = "cools-in", "In its tin for";
        /// Cooling, min.
        Cool = "cool", "Cooling";
    }
}

/// Something found in the method.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Finding {
    /// What it is.
    pub found: Found,
    /// Its low end, in the unit of what it is.
    pub low: f64,
    /// Its high end.
    pub high: f64,
    /// For pieces, vessel and mixing: the key of the choice.
    #[serde(default)]
    pub key: String,
    /// The sentence it stands in.
    pub text: String,
}

impl Finding {
    /// `190 °C`, `28 min`, `8 rolls`.
    pub fn figure(&self) -> String {
        let range = |show: &dyn Fn(f64) -> String| {
            if self.low == self.high {
                show(self.low)
            } else {
                format!("{} to {}", show(self.low), show(self.high))
            }
        };
        match self.found {
            Found::Oven
            | Found::Preheat
            | Found::HotStart
            | Found::Core
            | Found::Liquid
            | Found::BulkPlace
            | Found::ProofPlace => range(&|t| format!("{t:.0} °C")),
            Found::BulkTarget | Found::ProofTarget => range(&|x| format!("{x} times")),
            Found::PieceWeight | Found::MainPart => range(&|g| format!("{g:.0} g")),
            Found::Pieces => {
                let kind = Kind::from_key(&self.key).map_or("pieces", Kind::name);
                format!("{} × {}", range(&|n| format!("{n:.0}")), kind.to_lowercase())
            }
            Found::Pan if self.key == "round" => format!("round, {:.0} cm", self.low),
            Found::Pan => format!("{:.0} × {:.0} cm", self.low, self.high),
            Found::PanDepth => format!("{:.1} cm", self.low),
            Found::Together => format!("{:.0} in one pan", self.low),
            Found::StrandLength => format!("{:.0} cm", self.low),
            Found::Thick => format!("{:.1} cm thick", self.low),
            Found::Rim if self.low.abs() < 0.05 => "level with the rim".into(),
            Found::Rim if self.low < 0.0 => format!("{:.1} cm under the rim", -self.low),
            Found::Rim => format!("{:.1} cm over the rim", self.low),
            Found::Bare | Found::Piped | Found::LateButter | Found::AddIns | Found::Crossed => "yes".into(),
            Found::Speed => format!("{:.0}", self.low),
            Found::Cuts => Score::from_key(&self.key).map_or_else(String::new, |s| s.name().to_lowercase()),
            Found::RestMakes => {
                let kind = Kind::from_key(&self.key).map_or("pieces", Kind::name);
                format!("{:.0} × {}", self.low, kind.to_lowercase())
            }
            Found::Folds | Found::Strands | Found::Portions => range(&|n| format!("{n:.0}")),
            Found::Washes => format!("{:.0} times", self.low),
            Found::Shape => Kind::from_key(&self.key).map_or_else(String::new, |k| k.name().to_lowercase()),
            Found::BakesIn => {
                Vessel::from_key(&self.key).map_or_else(String::new, |v| v.name().to_lowercase())
            }
            Found::MixedBy => {
                Method::from_key(&self.key).map_or_else(String::new, |m| m.name().to_lowercase())
            }
            Found::Steam => "yes".into(),
            Found::Bath => range(&|m| format!("{:.0} s", 60.0 * m)),
            _ if self.high < 60.0 && self.low != self.high => {
                format!("{:.0} to {}", self.low, shown::time(Minutes(self.high)))
            }
            _ => range(&|m| shown::time(Minutes(m))),
        }
    }

    /// Whether it is a figure that a station works out by itself: it is kept beside that, and sets nothing.
    pub fn is_reckoned(&self) -> bool {
        matches!(
            self.found,
            Found::Bulk
                | Found::Second
                | Found::Proof
                | Found::Preferment
                | Found::Bake
                | Found::Uncovered
                | Found::Covered
                | Found::Core
                | Found::Liquid
                | Found::Cool
                | Found::Preheat
                | Found::Rest
                | Found::Foil
        )
    }

    /// Whether a station that works it out by itself goes by the recipe all the same.
    pub fn follows(&self) -> bool {
        let stands = matches!(self.found, Found::Bulk | Found::Proof) && self.low >= LEFT_ALONE;
        stands || matches!(self.found, Found::Covered | Found::Foil | Found::Cool | Found::Preheat)
    }

    /// Whether it sets a wish at a station.
    pub fn sets(&self) -> bool {
        match self.found {
            Found::Second | Found::Preferment => true,
            _ if self.follows() => true,
            _ => !self.is_reckoned(),
        }
    }

    /// Why it is hard to believe; `None` where it is within reason.
    pub fn doubt(&self) -> Option<String> {
        let (low, high, what) = match self.found {
            Found::Oven | Found::HotStart | Found::Preheat => (120.0, 300.0, "an oven"),
            Found::Core => (70.0, 101.0, "a core"),
            Found::Knead => (1.0, 45.0, "kneading"),
            Found::Bake => (4.0, 180.0, "a bake"),
            Found::Folds => (1.0, 8.0, "folds"),
            Found::Strands => (1.0, 8.0, "strands"),
            Found::PieceWeight => (5.0, 3000.0, "a piece"),
            Found::Pan => (8.0, 60.0, "a pan"),
            Found::PanDepth => (1.0, 20.0, "a pan's depth"),
            Found::Kneads => (1.0, 20.0, "kneading again"),
            Found::Slow => (1.0, 20.0, "mixing slowly"),
            Found::Speed => (1.0, 8.0, "a mixer's speed"),
            Found::Butter => (1.0, 40.0, "working butter in"),
            Found::Together => (2.0, 60.0, "one pan"),
            Found::Proof | Found::Bulk | Found::Second => (5.0, 36.0 * 60.0, "a rise"),
            _ => return None,
        };
        let fits = (low..=high).contains(&self.low) && (low..=high).contains(&self.high);
        (!fits).then(|| format!("{} is strange for {what}. Is it meant so?", self.figure()))
    }

    /// Puts it where it belongs. What a station works out by itself is kept beside it, in what the recipe said.
    pub fn put_into(&self, formula: &mut Formula) {
        let middle = 0.5 * (self.low + self.high);
        let hours = Hours(middle / 60.0);
        if self.is_reckoned() {
            formula.said.push(self.clone().into());
        }
        match self.found {
            Found::Portions => formula.mix.butter_portions = Some(self.low.clamp(1.0, 20.0) as u32),
            Found::Butter => formula.mix.butter = Some(Minutes(middle.round().clamp(1.0, 40.0))),
            Found::Kneads => formula.rise.kneads = Some(Minutes(middle.round().clamp(1.0, 20.0))),
            Found::StrandLength => formula.shape.strand_length = Some(self.low),
            Found::Thick => formula.shape.rolled = Some(self.low),
            Found::Rim => formula.rise.rim = Some(self.low),
            Found::Bare => formula.rise.uncovered = true,
            Found::Cuts => formula.finish.score = Score::from_key(&self.key),
            Found::Slow => {
                let slow = Minutes(middle.clamp(1.0, 20.0));
                formula.mix.slow = Some(slow);
                // What was said of kneading is all of it, the slow minutes too.
                formula.mix.knead = formula.mix.knead.map(|all| Minutes((all - slow).0.max(1.0)));
            }
            Found::Speed => formula.mix.speed = Some(self.low.clamp(1.0, 8.0) as u32),
            Found::Crossed => {
                formula.shape.crossed = true;
                formula.shape.strands = 2;
            }
            Found::Piped => formula.finish.piped = true,
            Found::MainPart => {
                let each = middle / f64::from(formula.shape.pieces);
                formula.shape.piece_weight = Some(Grams(each.clamp(5.0, 20_000.0)));
            }
            Found::RestMakes => self.rest_makes(formula),
            Found::Bath if matches!(formula.shape.kind, Kind::Bun | Kind::Roll) => {
                formula.shape.kind = Kind::Dipped;
            }
            Found::Washes if self.low >= 2.0 => wash_twice(formula),
            Found::Autolyse => formula.mix.autolyse = Minutes(middle.clamp(0.0, 180.0)),
            Found::Bloom => formula.mix.bloom = Some(Minutes(middle.round().clamp(1.0, 30.0))),
            Found::Knead => formula.mix.knead = Some(Minutes(middle.round().clamp(1.0, 45.0))),
            Found::Folds => formula.mix.folds = Some(self.low.clamp(1.0, 8.0) as u32),
            Found::FoldsEvery => formula.mix.folds_every = Some(Minutes(middle.clamp(10.0, 120.0))),
            Found::BulkTarget => formula.rise.bulk.target = middle,
            Found::ProofTarget => formula.rise.proof.target = middle,
            Found::BulkPlace => formula.rise.bulk.place = Some(Celsius(middle)),
            Found::ProofPlace => formula.rise.proof.place = Some(Celsius(middle)),
            Found::Second if formula.rise.second.target <= 1.0 => formula.rise.second.target = 1.7,
            Found::Fridge => {
                let rise = if self.key == "proof" { &mut formula.rise.proof } else { &mut formula.rise.bulk };
                // An hour on the counter comes before its night in the fridge.
                let before = formula.said.iter().find(|s| s.what == self.key);
                rise.legs = before.map_or(Vec::new(), |b| {
                    let hours = Hours((b.low / 60.0).clamp(0.05, 72.0));
                    vec![Leg { hours, place: rise.place.unwrap_or(COUNTER) }]
                });
                rise.place = Some(FRIDGE);
                rise.stays = Some(Hours(hours.0.clamp(0.25, 72.0)));
                if self.key == "proof" {
                    // It is baked when its time is over, whatever it has grown by: most of its rise it has had.
                    rise.target = rise.target.min(COLD_PROOF);
                }
            }
            Found::Bulk if self.follows() => formula.rise.bulk.stays = Some(Hours(hours.0.clamp(0.25, 72.0))),
            Found::Proof if self.follows() => {
                formula.rise.proof.stays = Some(Hours(hours.0.clamp(0.25, 72.0)));
            }
            Found::Soaker => stands(formula, Stage::Soaker, hours),
            Found::Preferment => {
                let made = [Stage::Preferment, Stage::Poolish, Stage::Biga, Stage::Sponge];
                let there = made.into_iter().find(|s| formula.lines.iter().any(|l| l.stage == *s));
                if let Some(stage) = there {
                    stands(formula, stage, hours);
                }
            }
            Found::Oven => formula.oven.temperature = Some(Celsius(middle.round())),
            Found::HotStart => {
                let minutes = formula.oven.hot_start.map_or(Minutes(10.0), |h| h.minutes);
                let temperature = Celsius(middle.round().clamp(120.0, 300.0));
                formula.oven.hot_start = Some(HotStart { temperature, minutes });
            }
            Found::HotMinutes => {
                let temperature = formula.oven.hot_start.map_or(Celsius(240.0), |h| h.temperature);
                let minutes = Minutes(middle.clamp(1.0, 60.0));
                formula.oven.hot_start = Some(HotStart { temperature, minutes });
            }
            Found::Steam => formula.oven.steam = true,
            Found::Pieces => {
                formula.shape.pieces = self.low.round().clamp(1.0, 200.0) as u32;
                formula.shape.piece_weight = None;
                self.shape(formula);
            }
            Found::PieceWeight => formula.shape.piece_weight = Some(Grams(middle.clamp(5.0, 20_000.0))),
            Found::Strands => formula.shape.strands = self.low.clamp(1.0, 8.0) as u32,
            Found::Shape => self.shape(formula),
            Found::Pan => {
                let cm = |n: f64| Some((10.0 * n).round() / 10.0);
                formula.shape.tin_length = cm(self.low);
                formula.shape.tin_width = if self.key == "round" { None } else { cm(self.high) };
            }
            Found::PanDepth => formula.shape.tin_depth = Some((10.0 * self.low).round() / 10.0),
            Found::Together => formula.shape.together = Some(self.low as u32),
            Found::BakesIn => {
                if let Some(vessel) = Vessel::from_key(&self.key) {
                    formula.oven.vessel = vessel;
                }
            }
            // A lid comes off when the recipe takes it off; of a lidded tin it stays.
            Found::Covered if formula.oven.vessel != Vessel::Lidded => {
                formula.oven.covered = Some(Minutes(middle.round().clamp(1.0, 180.0)));
            }
            Found::Foil => match self.key.as_str() {
                "from-the-start" => formula.oven.foiled = Some(Minutes(middle.round().clamp(1.0, 180.0))),
                _ => formula.oven.foil_after = Some(Minutes(middle.round().clamp(1.0, 180.0))),
            },
            Found::Preheat => formula.oven.heated_to = Some(Celsius(middle.round().clamp(120.0, 300.0))),
            Found::Ajar => formula.oven.ajar = Some(Minutes(middle.round().clamp(1.0, 60.0))),
            Found::CoolsIn => formula.oven.cools_in = Some(Minutes(middle.round().clamp(1.0, 120.0))),
            Found::Cool => formula.oven.cool = Some(Minutes(middle.round().clamp(5.0, 2880.0))),
            Found::MixedBy => {
                if let Some(method) = Method::from_key(&self.key) {
                    formula.mix.method = method;
                }
            }
            _ => {}
        }
    }

    /// What the main pieces leave of the dough, or half of it, becomes pieces of another shape.
    fn rest_makes(&self, formula: &mut Formula) {
        let Some(kind) = Kind::from_key(&self.key) else { return };
        let dough: Grams = formula.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams).sum();
        let main = formula.shape.piece_weight.map(|w| w * f64::from(formula.shape.pieces));
        let left =
            main.map(|main| dough - main).filter(|left| left.0 >= 0.1 * dough.0).unwrap_or(dough / 2.0);
        let pieces = self.low.round().clamp(1.0, 200.0);
        let vessel = if kind == Kind::Tin { Vessel::Tin } else { Vessel::Sheet };
        let each = Grams((left.0 / pieces).round().max(5.0));
        formula.makeups = vec![MakeUp::of(kind, pieces as u32, each, vessel)];
    }

    fn shape(&self, formula: &mut Formula) {
        if let Some(kind) = Kind::from_key(&self.key) {
            formula.shape.kind = kind;
        }
    }
}

/// A rise of so many minutes is one that is slept through: it stands as long as it is said (common practice, no
/// source).
const LEFT_ALONE: f64 = 8.0 * 60.0;

/// How far a shaped dough rises by in a fridge, times (common practice, no source).
const COLD_PROOF: f64 = 1.2;

/// A household's fridge, where a recipe only says that it is one (common practice, no source).
const FRIDGE: Celsius = Celsius(5.0);

/// A counter in a household's room (common practice, no source).
const COUNTER: Celsius = Celsius(21.0);

/// One wash that is brushed on twice: half of it when it is shaped, half before the oven.
fn wash_twice(formula: &mut Formula) {
    if formula.lines.iter().any(|l| l.stage == Stage::SecondWash) {
        return;
    }
    let mut second = Vec::new();
    for line in formula.lines.iter_mut().filter(|l| l.stage == Stage::Wash) {
        line.grams = line.grams / 2.0;
        second.push(Line { stage: Stage::SecondWash, ..line.clone() });
    }
    formula.lines.extend(second);
}

/// How long something that is made ahead stands.
fn stands(formula: &mut Formula, stage: Stage, hours: Hours) {
    let hours = Some(Hours(hours.0.clamp(0.25, 72.0)));
    match formula.stages.iter_mut().find(|s| s.stage == stage) {
        Some(plan) => plan.hours = hours,
        None => formula.stages.push(AheadWish { stage, hours, place: None, temperature: None }),
    }
}

impl From<Finding> for Said {
    fn from(f: Finding) -> Said {
        Said {
            what: f.found.key().into(),
            low: f.low,
            high: f.high,
            text: f.text.chars().take(SAID_MAX).collect(),
        }
    }
}
