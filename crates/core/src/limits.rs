//! The one table of bounds: checks, messages and the generators of the property tests read it.

use crate::Exact;

/// The least and the greatest value that a number may have, both allowed.
#[derive(Clone, Copy, Debug)]
pub struct Bounds {
    /// What the number is called in a sentence.
    pub name: &'static str,
    low: (i32, u32),
    high: (i32, u32),
}

impl Bounds {
    const fn new(name: &'static str, low: (i32, u32), high: (i32, u32)) -> Self {
        Self { name, low, high }
    }

    /// The least value allowed.
    pub const fn low(&self) -> Exact {
        Exact::fraction(self.low.0, self.low.1)
    }

    /// The greatest value allowed.
    pub const fn high(&self) -> Exact {
        Exact::fraction(self.high.0, self.high.1)
    }

    /// Whether the value lies within, ends included.
    pub fn hold(&self, value: &Exact) -> bool {
        *value >= self.low() && *value <= self.high()
    }

    /// What is accepted, as a phrase: `"from 1/10 to 10"`.
    pub fn accepted(&self) -> String {
        format!("from {} to {}", self.low(), self.high())
    }
}

/// A side of a raster, in pixels.
pub const SIDE: Bounds = Bounds::new("a frame side", (1, 1), (65_536, 1));
/// The largest side of a raster, in pixels.
pub const LARGEST_SIDE: u32 = 65_536;
/// Each side of the active picture, in stored pixels.
pub const SMALLEST_ACTIVE_SIDE: u32 = 2;
/// Width of a pixel over its height.
pub const PIXEL_ASPECT: Bounds = Bounds::new("a pixel aspect", (1, 10), (10, 1));
/// How many times a lens narrowed the picture.
pub const SQUEEZE: Bounds = Bounds::new("a squeeze", (1, 10), (10, 1));
/// Width of a picture over its height.
pub const DISPLAY_RATIO: Bounds = Bounds::new("a ratio", (1, 100), (100, 1));
/// Enlargement on top of a method.
pub const ZOOM: Bounds = Bounds::new("a zoom", (1, 1_000), (1_000, 1));
/// A place or a length in a picture, as a share of its side.
pub const SHARE: Bounds = Bounds::new("a share of the picture", (0, 1), (1, 1));
/// A part of both sides of a frame, in percent.
pub const PERCENT: Bounds = Bounds::new("a percentage", (1, 1), (100, 1));
/// Displacement in delivery pixels.
pub const SHIFT: Bounds = Bounds::new("a shift", (-1_000_000, 1), (1_000_000, 1));
/// Frames a second.
pub const RATE: Bounds = Bounds::new("a frame rate", (1, 1_000), (1_000, 1));
/// Bits a second, in the unit of the field.
pub const BITS: Bounds = Bounds::new("a rate of bits", (0, 1), (1_000_000, 1));
/// Digits in each part of a written fraction.
pub const DIGITS: usize = 12;
