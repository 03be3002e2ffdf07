//! The one table of bounds: limits, checks, messages, the API's description and the generators of the
//! property tests all read it.

use std::fmt;

use crate::Exact;

/// The least and the greatest value that a number may have.
///
/// Its `Display` is a phrase that says what is accepted: `"a pixel aspect from 1/10 to 10"`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Bounds {
    name: &'static str,
    example: &'static str,
    unit: &'static str,
    low: (i32, u32),
    high: (i32, u32),
    ends: Ends,
}

/// Whether the bounds themselves are allowed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Ends {
    Both,
    Upper,
    Neither,
}

impl Bounds {
    const fn new(name: &'static str, example: &'static str, low: (i32, u32), high: (i32, u32)) -> Self {
        Self { name, example, unit: "", low, high, ends: Ends::Both }
    }

    /// Within so much either way.
    const fn either_way(name: &'static str, example: &'static str, most: i32, unit: &'static str) -> Self {
        Self { unit, ..Self::new(name, example, (-most, 1), (most, 1)) }
    }

    /// Over 0.
    const fn over_nothing(name: &'static str, example: &'static str, high: i32, unit: &'static str) -> Self {
        Self { unit, ends: Ends::Upper, ..Self::new(name, example, (0, 1), (high, 1)) }
    }

    /// What the number is called in a sentence, with its article.
    pub const fn name(&self) -> &'static str {
        self.name
    }

    /// A value or two as they are written.
    pub const fn example(&self) -> &'static str {
        self.example
    }

    /// The least value, or what every value is above.
    pub const fn low(&self) -> Exact {
        Exact::fraction(self.low.0, self.low.1)
    }

    /// The greatest value, or what every value is below.
    pub const fn high(&self) -> Exact {
        Exact::fraction(self.high.0, self.high.1)
    }

    /// Whether the least value itself is allowed.
    pub const fn holds_low(&self) -> bool {
        matches!(self.ends, Ends::Both)
    }

    /// Whether the greatest value itself is allowed.
    pub const fn holds_high(&self) -> bool {
        !matches!(self.ends, Ends::Neither)
    }

    /// Whether the value lies within.
    pub fn hold(&self, value: &Exact) -> bool {
        let (low, high) = (self.low(), self.high());
        let above = *value > low || (self.holds_low() && *value == low);
        above && (*value < high || (self.holds_high() && *value == high))
    }
}

impl fmt::Display for Bounds {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (name, low, high) = (self.name, self.low(), self.high());
        let unit = if self.unit.is_empty() { String::new() } else { format!(" {}", self.unit) };
        match self.ends {
            Ends::Both if low == -&high => write!(f, "{name} of at most {high}{unit} either way"),
            Ends::Both => write!(f, "{name} from {low} to {high}{unit}"),
            Ends::Upper => write!(f, "{name} over {low} and up to {high}{unit}"),
            Ends::Neither => write!(f, "{name} over {low} and under {high}{unit}"),
        }
    }
}

/// The largest side of a raster, in pixels.
pub const LARGEST_SIDE: u32 = 65_536;
/// A side of a raster, in pixels.
pub const SIDE: Bounds = Bounds { unit: "pixels", ..Bounds::new("a frame side", "1920", (1, 1), (65_536, 1)) };
/// Each side of the active picture, in stored pixels.
pub const SMALLEST_ACTIVE_SIDE: u32 = 2;
/// Width of a pixel over its height.
pub const PIXEL_ASPECT: Bounds = Bounds::new("a pixel aspect", "12:11 or 1.5", (1, 10), (10, 1));
/// How many times a lens narrowed the picture.
pub const SQUEEZE: Bounds = Bounds::new("a squeeze", "1.8 or 4/3", (1, 10), (10, 1));
/// Width of a picture over its height.
pub const DISPLAY_RATIO: Bounds = Bounds::new("a ratio", "2.39 or 16:9", (1, 100), (100, 1));
/// Enlargement on top of a method.
pub const ZOOM: Bounds = Bounds::new("a zoom", "1.25", (1, 1_000), (1_000, 1));
/// How far enlarging needs no look.
pub const TOLERANCE: Bounds = Bounds::new("an enlargement", "1.1", (1, 1), (10, 1));
/// What stays free beside a subject, as a share of the frame.
pub const MARGIN: Bounds = Bounds::new("a share of the frame", "0.05 or 1/20", (0, 1), (9, 20));
/// A place or a length in a picture, as a share of its side.
pub const SHARE: Bounds = Bounds::new("a share of the picture", "0.25 or 1/3", (0, 1), (1, 1));
/// A part of both sides of a frame, in percent.
pub const PERCENT: Bounds = Bounds::new("a percentage", "90 or 88.5", (1, 1), (100, 1));
/// Displacement in delivery pixels.
pub const SHIFT: Bounds = Bounds::either_way("a shift", "-12.5", 1_000_000, "pixels");
/// A number that somebody types into a dial, in the unit of its convention.
pub const DIAL: Bounds = Bounds::either_way("a number", "104.5 or 3/2", 1_000_000_000, "");
/// Frames a second.
pub const RATE: Bounds = Bounds::new("a frame rate", "25, 23.976 or 24000/1001", (1, 1_000), (1_000, 1));
/// Bits a second, in the unit of the field.
pub const BITS: Bounds = Bounds::new("a rate of bits", "12.5", (0, 1), (1_000_000, 1));
/// A running time.
pub const SECONDS: Bounds = Bounds::over_nothing("a running time", "90 or 12.5", 1_000_000_000, "seconds");
/// How finely a sphere is sampled.
pub const PIXELS_PER_DEGREE: Bounds = Bounds::over_nothing("a sampling", "16", 1_000_000, "pixels per degree");
/// How large a source is carried out by itself, in percent of its upright picture.
pub const OWN_SIZE: Bounds =
    Bounds { unit: "percent", ..Bounds::new("a share of its own size", "50 or 200", (10, 1), (400, 1)) };
/// Degrees around: longitude, yaw, roll.
pub const TURN: Bounds = Bounds::either_way("an angle", "-30 or 12.5", 360, "degrees");
/// Degrees up and down: latitude, pitch.
pub const LATITUDE: Bounds = Bounds::either_way("an angle", "-30 or 12.5", 90, "degrees");
/// Degrees that a flat picture or view can take up.
pub const FIELD_OF_VIEW: Bounds =
    Bounds { unit: "degrees", ends: Ends::Neither, ..Bounds::new("an angle", "90 or 62.5", (0, 1), (180, 1)) };
/// How far a flat picture stands, in its own widths.
pub const DISTANCE: Bounds = Bounds { unit: "widths", ..Bounds::new("a distance", "1.37", (1, 100), (1000, 1)) };
/// Degrees of a sphere that a frame holds across.
pub const SPAN_ACROSS: Bounds = Bounds::over_nothing("a span", "180", 360, "degrees");
/// Degrees of a sphere that a frame holds up and down.
pub const SPAN_UP: Bounds = Bounds::over_nothing("a span", "90", 180, "degrees");
/// How wide sharpening reaches, in pixels of the outcome.
pub const RADIUS: Bounds = Bounds { unit: "pixels", ..Bounds::new("a radius", "0.8 or 1", (3, 10), (20, 1)) };
/// How much is sharpened.
pub const AMOUNT: Bounds = Bounds::new("an amount", "0.4", (0, 1), (5, 1));
/// Digits in each part of a written fraction.
pub const DIGITS: usize = 12;
