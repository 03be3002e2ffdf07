//! [`Source`]: a clip or a camera setup, and the upright picture that it shows.

use crate::limits::SMALLEST_ACTIVE_SIDE;
use crate::space::{Rect, Size, Stored, Upright};
use crate::{Error, Exact, PixelAspect, Raster, Squeeze};

/// Stored pixels to leave off at each side: capture borders, or sensor area outside the guide.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Insets {
    /// Stored pixels off the left.
    pub left: u32,
    /// Stored pixels off the top.
    pub top: u32,
    /// Stored pixels off the right.
    pub right: u32,
    /// Stored pixels off the bottom.
    pub bottom: u32,
}

/// How far the stored picture must be turned, clockwise, to stand upright.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
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

impl Rotation {
    /// The turn of so many degrees clockwise.
    ///
    /// # Errors
    /// For anything but 0, 90, 180 and 270.
    pub fn new(degrees: u32) -> Result<Self, Error> {
        match degrees {
            0 => Ok(Self::None),
            90 => Ok(Self::Quarter),
            180 => Ok(Self::Half),
            270 => Ok(Self::ThreeQuarters),
            _ => Err(Error::rotation()),
        }
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

    /// The turn a quarter further.
    const fn further(self) -> Self {
        match self {
            Self::None => Self::Quarter,
            Self::Quarter => Self::Half,
            Self::Half => Self::ThreeQuarters,
            Self::ThreeQuarters => Self::None,
        }
    }
}

/// The geometry of footage: how it is stored and what it shows.
///
/// # Guarantees
/// The insets leave at least 2 stored pixels each way.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Source {
    raster: Raster<Stored>,
    pixel_aspect: PixelAspect,
    squeeze: Squeeze,
    insets: Insets,
    rotation: Rotation,
}

impl Source {
    /// Footage of this geometry.
    ///
    /// # Errors
    /// [`Error::is_nothing_left`] at `active` when the insets leave under 2 pixels on an axis.
    ///
    /// ```
    /// use ratiomet_core::{Insets, PixelAspect, Raster, Rotation, Source, Squeeze};
    /// let tape = Source::new(
    ///     Raster::new(720, 576)?,
    ///     PixelAspect::parse("12:11")?,
    ///     Squeeze::NONE,
    ///     Insets { left: 8, top: 4, right: 10, bottom: 6 },
    ///     Rotation::None,
    /// )?;
    /// assert_eq!(tape.upright().width.to_string(), "8424/11");
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn new(
        raster: Raster<Stored>,
        pixel_aspect: PixelAspect,
        squeeze: Squeeze,
        insets: Insets,
        rotation: Rotation,
    ) -> Result<Self, Error> {
        let left = |side: u32, a: u32, b: u32| i64::from(side) - i64::from(a) - i64::from(b);
        let across = left(raster.width(), insets.left, insets.right);
        let down = left(raster.height(), insets.top, insets.bottom);
        if across.min(down) < i64::from(SMALLEST_ACTIVE_SIDE) {
            return Err(Error::nothing_left((across, down)).at("active"));
        }
        Ok(Self { raster, pixel_aspect, squeeze, insets, rotation })
    }

    /// The raster that the file stores.
    pub const fn raster(&self) -> Raster<Stored> {
        self.raster
    }

    /// The turn that makes it stand upright.
    pub const fn rotation(&self) -> Rotation {
        self.rotation
    }

    /// The part of the raster that holds picture.
    pub fn active(&self) -> Rect<Stored> {
        let Insets { left, top, right, bottom } = self.insets;
        Rect::new(
            Exact::whole(left),
            Exact::whole(top),
            // OK because `new` has checked that at least 2 pixels remain.
            Size::new(
                Exact::whole(self.raster.width() - left - right),
                Exact::whole(self.raster.height() - top - bottom),
            ),
        )
    }

    /// The picture as it is seen: desqueezed, pixel shape corrected, turned. One unit is the height
    /// of one stored pixel.
    pub fn upright(&self) -> Size<Upright> {
        let stored = self.active().size;
        let seen = (stored.width * self.pixel_aspect.value() * self.squeeze.value()).reduced();
        if self.rotation.swaps_axes() { Size::new(stored.height, seen) } else { Size::new(seen, stored.height) }
    }

    /// The active picture in stored pixels along the axes of the upright picture.
    pub(crate) fn turned_active(&self) -> Size<Stored> {
        let Size { width, height, .. } = self.active().size;
        if self.rotation.swaps_axes() { Size::new(height, width) } else { Size::new(width, height) }
    }

    /// The same footage, turned a quarter further.
    pub(crate) fn turned_further(&self) -> Self {
        Self { rotation: self.rotation.further(), ..self.clone() }
    }
}
