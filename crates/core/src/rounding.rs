//! [`Step`] and [`Rounding`]: how an exact side becomes whole pixels.

use crate::limits::{LARGEST_SIDE, SIDE};
use crate::{Error, Exact};

/// The grid that a side must lie on, in pixels.
///
/// Colour of a 4:2:0 picture is stored for two columns and two lines at a time, so sides are even;
/// many encoders want larger steps.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub enum Step {
    /// Any whole pixel.
    One,
    /// Even sides, the default.
    #[default]
    Two,
    /// Multiples of 4.
    Four,
    /// Multiples of 8.
    Eight,
    /// Multiples of 16, a macroblock.
    Sixteen,
}

impl Step {
    /// Every step, the finest first.
    pub const ALL: [Self; 5] = [Self::One, Self::Two, Self::Four, Self::Eight, Self::Sixteen];

    /// The step of so many pixels.
    ///
    /// # Errors
    /// For anything but 1, 2, 4, 8 and 16.
    pub fn new(pixels: u32) -> Result<Self, Error> {
        Self::ALL.into_iter().find(|step| step.pixels() == pixels).ok_or_else(Error::step)
    }

    /// The step in pixels.
    pub const fn pixels(self) -> u32 {
        match self {
            Self::One => 1,
            Self::Two => 2,
            Self::Four => 4,
            Self::Eight => 8,
            Self::Sixteen => 16,
        }
    }

    /// Whether a side lies on the grid.
    pub const fn holds(self, side: u32) -> bool {
        side.is_multiple_of(self.pixels())
    }
}

/// Which whole step an exact value becomes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Rounding {
    /// The largest multiple of the step that is not above the value: never shows more than was asked.
    #[default]
    Down,
    /// The smallest multiple that is not below the value.
    Up,
    /// The nearest multiple; a tie goes up.
    Nearest,
}

impl Rounding {
    /// Every way.
    pub const ALL: [Self; 3] = [Self::Down, Self::Up, Self::Nearest];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Down => "down",
            Self::Up => "up",
            Self::Nearest => "nearest",
        }
    }

    /// The multiple of the step that the value becomes, held within `i64`. It may be 0 or less.
    pub fn to_step(self, value: &Exact, step: Step) -> i64 {
        let pixels = i64::from(step.pixels());
        let size = Exact::whole(step.pixels());
        let steps = match self {
            Self::Down => (value / &size).floor_whole(),
            Self::Up => (value / &size).ceil_whole(),
            Self::Nearest => (value / &size + Exact::fraction(1, 2)).floor_whole(),
        };
        steps.saturating_mul(pixels)
    }

    /// A frame side: as [`Self::to_step`], but never under one step.
    ///
    /// # Errors
    /// [`Error::is_too_large`] when the side would pass the largest side of a frame.
    pub(crate) fn side(self, value: &Exact, step: Step, name: &'static str) -> Result<u32, Error> {
        let side = self.to_step(value, step).max(i64::from(step.pixels()));
        match u32::try_from(side) {
            Ok(side) if side <= LARGEST_SIDE => Ok(side),
            _ => Err(Error::too_large(name)),
        }
    }
}

/// A whole side within the bounds of a frame.
pub(crate) fn checked_side(side: u32) -> Result<u32, Error> {
    let value = Exact::whole(side);
    if SIDE.hold(&value) { Ok(side) } else { Err(Error::range(&SIDE, &value)) }
}
