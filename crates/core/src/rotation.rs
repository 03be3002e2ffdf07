//! [`Rotation`]: how far a stored picture is turned to stand upright.

use crate::Error;
use crate::space::Axis;

/// How far the stored picture must be turned, clockwise, to stand upright.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Rotation {
    /// It stands upright as stored.
    #[default]
    None,
    /// A quarter turn clockwise.
    Quarter,
    /// Upside down.
    Half,
    /// A quarter turn anticlockwise.
    ThreeQuarters,
}

/// A stored axis as it runs along an axis of the upright picture.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct StoredAxis {
    /// Which axis of the stored raster.
    pub axis: Axis,
    /// Whether it runs from the right to the left, or from the bottom to the top.
    pub backwards: bool,
}

impl Rotation {
    /// Every turn, by its degrees.
    pub const ALL: [Self; 4] = [Self::None, Self::Quarter, Self::Half, Self::ThreeQuarters];

    /// The turn of so many degrees clockwise.
    ///
    /// # Errors
    /// For anything but 0, 90, 180 and 270.
    pub fn new(degrees: u32) -> Result<Self, Error> {
        Self::ALL.into_iter().find(|turn| turn.degrees() == degrees).ok_or_else(Error::rotation)
    }

    /// The turn in degrees, clockwise.
    pub const fn degrees(self) -> u32 {
        match self {
            Self::None => 0,
            Self::Quarter => 90,
            Self::Half => 180,
            Self::ThreeQuarters => 270,
        }
    }

    /// Whether width and height change places.
    pub const fn swaps_axes(self) -> bool {
        matches!(self, Self::Quarter | Self::ThreeQuarters)
    }

    /// The stored axis that runs along an axis of the upright picture: after a quarter turn clockwise
    /// the stored bottom lies left, and the stored left on top.
    ///
    /// ```
    /// use ratiomet_core::{Rotation, space::Axis};
    /// let across = Rotation::Quarter.stored_along(Axis::X);
    /// assert_eq!((across.axis, across.backwards), (Axis::Y, true));
    /// ```
    pub const fn stored_along(self, upright: Axis) -> StoredAxis {
        let axis = if self.swaps_axes() { upright.across() } else { upright };
        let backwards = match self {
            Self::None => false,
            Self::Half => true,
            Self::Quarter => matches!(upright, Axis::X),
            Self::ThreeQuarters => matches!(upright, Axis::Y),
        };
        StoredAxis { axis, backwards }
    }

    /// The axis of the upright picture along which a stored axis runs, and whether backwards.
    pub const fn upright_along(self, stored: Axis) -> StoredAxis {
        let axis = if self.swaps_axes() { stored.across() } else { stored };
        StoredAxis { axis, backwards: self.stored_along(axis).backwards }
    }
}
