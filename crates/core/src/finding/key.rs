//! [`FindingKey`]: what tells a finding from others of its code.

use std::collections::BTreeMap;

use super::sentence::percent;
use super::{Finding, Squeezing};
use crate::Exact;
use crate::space::{Axes, Delivery, Factor};

/// The numbers of a finding by their names, as fine as they are shown: two findings of one code that
/// have the same key say the same, in whatever words.
#[derive(Clone, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub struct FindingKey(BTreeMap<String, String>);

impl FindingKey {
    /// The most numbers that a key holds.
    pub const MOST: usize = 8;
    /// The longest name or number, in characters.
    pub const LONGEST: usize = 120;

    /// A key that was kept; `None` when it has more or longer parts than any key.
    pub fn new(numbers: BTreeMap<String, String>) -> Option<Self> {
        let short = |text: &String| text.chars().count() <= Self::LONGEST && !text.chars().any(char::is_control);
        let sound = numbers.len() <= Self::MOST && numbers.iter().all(|(name, text)| short(name) && short(text));
        sound.then_some(Self(numbers))
    }

    /// The numbers by their names.
    pub const fn numbers(&self) -> &BTreeMap<String, String> {
        &self.0
    }
}

type Part = (&'static str, String);

fn pixels([x, y]: [&'static str; 2], axes: &Axes<Delivery>) -> [Part; 2] {
    [(x, axes.x.to_short_decimal(2)), (y, axes.y.to_short_decimal(2))]
}

fn percents([x, y]: [&'static str; 2], axes: &Axes<Factor>) -> [Part; 2] {
    [(x, percent(&axes.x)), (y, percent(&axes.y))]
}

impl Finding {
    /// What tells it from others of its code.
    ///
    /// ```
    /// use ratiomet_core::{Exact, Finding};
    /// let distorted = |n| Finding::Distorted { distortion: Exact::fraction(n, 1000) };
    /// assert_eq!(distorted(52).key(), distorted(52).key());
    /// assert_ne!(distorted(52).key(), distorted(60).key());
    /// ```
    pub fn key(&self) -> FindingKey {
        let mut parts: Vec<Part> = Vec::new();
        match self {
            Self::Bars { each_side, .. } => parts.extend(pixels(["x", "y"], each_side)),
            Self::OffEdge { beyond, travel } => {
                parts.extend(pixels(["beyond_x", "beyond_y"], beyond));
                parts.extend(pixels(["travel_x", "travel_y"], travel));
            }
            Self::DoubleBoxed { black } => parts.extend(pixels(["x", "y"], black)),
            Self::Distorted { distortion } => parts.push(("percent", percent(distortion))),
            Self::Enlarged { scale, whole, remainder, .. } => {
                let (least, most) =
                    (scale.x.clone().min(scale.y.clone()), remainder.x.clone().max(remainder.y.clone()));
                parts.extend([
                    ("percent", percent(&least)),
                    ("whole", whole.to_string()),
                    ("remainder", percent(&most)),
                ]);
            }
            Self::EnlargedOneWay { axis, scale } => {
                parts.extend([("axis", axis.word().to_owned()), ("percent", percent(scale))]);
            }
            Self::OddSize { raster, step } => {
                parts.extend([
                    ("raster", format!("{}x{}", raster.width(), raster.height())),
                    ("step", step.pixels().to_string()),
                ]);
            }
            Self::MostlyLost { kept, .. } => parts.push(("kept", percent(kept))),
            Self::Sideways { now, turned } => parts.extend([("now", percent(now)), ("turned", percent(turned))]),
            Self::NearPublished { raster, published } => parts.extend([
                ("raster", format!("{}x{}", raster.width(), raster.height())),
                ("published", format!("{}x{}", published.width, published.height)),
            ]),
            Self::SubjectCut { shown } => parts.push(("cut", percent(&(Exact::ONE - shown)))),
            Self::SubjectTight { free, margin } => {
                parts.extend([("free", percent(free)), ("margin", percent(margin))]);
            }
            Self::Squeeze(Squeezing::Missing { squeeze, set, .. }) => {
                parts.extend([("squeeze", squeeze.to_short_decimal(3)), ("set", set.to_short_decimal(3))]);
            }
            Self::Projection { from, to } => {
                parts.extend([("from", from.word().to_owned()), ("to", to.word().to_owned())]);
            }
            Self::SphereForm { from, to } => parts.extend([("from", from.clone()), ("to", to.clone())]),
            Self::SphereShape { of_frame, shape } => {
                let of = if *of_frame { "frame" } else { "source" };
                parts.extend([("of", of.to_owned()), ("percent", percent(shape))]);
            }
            Self::SphereCut { insets, rotation } => {
                let sides = insets.sides().map(|side| side.to_string());
                parts.extend([("insets", sides.join(",")), ("rotation", rotation.degrees().to_string())]);
            }
            Self::SphereEnlarged { scale } => parts.push(("percent", percent(scale))),
            Self::Squeeze(Squeezing::Twice { pixel_aspect, squeeze }) => parts
                .extend([("pixel_aspect", pixel_aspect.to_short_decimal(3)), ("squeeze", squeeze.to_short_decimal(3))]),
            Self::Detour { detail, direct, .. } => {
                parts.extend(percents(["detail_x", "detail_y"], detail));
                parts.extend(percents(["direct_x", "direct_y"], direct));
            }
            Self::RateMixed { from, to, .. } => {
                parts.extend([("from", from.to_short_decimal(3)), ("to", to.to_short_decimal(3))]);
            }
            Self::Range { from, to } => {
                parts.extend([("from", from.word().to_owned()), ("to", to.word().to_owned())]);
            }
            Self::OverLevel { set, needed, .. } => {
                let none = || "none".to_owned();
                parts.extend([
                    ("set", set.clone().unwrap_or_else(none)),
                    ("needed", needed.map_or_else(none, str::to_owned)),
                ]);
            }
            Self::NoSubject | Self::Interlaced | Self::NotSaid(_) | Self::SphereUnsaid | Self::SphereGone => {}
        }
        FindingKey(parts.into_iter().map(|(name, text)| (name.to_owned(), text)).collect())
    }
}
