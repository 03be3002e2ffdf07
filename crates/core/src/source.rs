//! [`Source`]: a clip or a camera setup, and the upright picture that it shows.

use crate::error::Parameter;
use crate::limits::SMALLEST_ACTIVE_SIDE;
use crate::space::{Axis, Rect, Size, Stored, Upright};
use crate::{Error, Exact, PixelAspect, Raster, Rotation, Squeeze};

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

impl Insets {
    /// Left, top, right and bottom.
    pub const fn sides(self) -> [u32; 4] {
        [self.left, self.top, self.right, self.bottom]
    }

    /// What is cut at the beginning and at the end of an axis.
    pub const fn along(self, axis: Axis) -> (u32, u32) {
        match axis {
            Axis::X => (self.left, self.right),
            Axis::Y => (self.top, self.bottom),
        }
    }

    /// The same borders when the picture is stored at another size of the same ratio, to the nearest pixel;
    /// in a raster of another ratio they stay as they are.
    #[must_use]
    pub fn resized(self, from: Raster<Stored>, to: Raster<Stored>) -> Self {
        if !from.is_shaped_like(to) {
            return self;
        }
        let side = |side: u32| {
            let scaled = Exact::whole(side) * Exact::whole(to.width()) / Exact::whole(from.width());
            u32::try_from((scaled + Exact::fraction(1, 2)).floor_whole()).unwrap_or(side)
        };
        Self::from(self.sides().map(side))
    }
}

impl From<[u32; 4]> for Insets {
    fn from([left, top, right, bottom]: [u32; 4]) -> Self {
        Self { left, top, right, bottom }
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
            return Err(Error::nothing_left((across, down)).at(Parameter::Active));
        }
        Ok(Self { raster, pixel_aspect, squeeze, insets, rotation })
    }

    /// The raster that the file stores.
    pub const fn raster(&self) -> Raster<Stored> {
        self.raster
    }

    /// The shape of the stored pixels.
    pub const fn pixel_aspect(&self) -> &PixelAspect {
        &self.pixel_aspect
    }

    /// What the lens did.
    pub const fn squeeze(&self) -> &Squeeze {
        &self.squeeze
    }

    /// What is cut off the stored raster.
    pub const fn insets(&self) -> Insets {
        self.insets
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
        self.seen(self.active().size).turned(self.rotation)
    }

    /// The whole stored raster as it would be seen, insets included, before it is turned.
    pub(crate) fn whole_unturned(&self) -> Size<Upright> {
        self.seen(self.raster.size())
    }

    /// The whole stored raster as it would be seen, insets included.
    pub(crate) fn whole_upright(&self) -> Size<Upright> {
        self.whole_unturned().turned(self.rotation)
    }

    fn seen(&self, stored: Size<Stored>) -> Size<Upright> {
        let width = (stored.width * self.pixel_aspect.value() * self.squeeze.value()).kept_short();
        Size::new(width, stored.height)
    }

    /// The active picture in stored pixels along the axes of the upright picture.
    pub(crate) fn turned_active(&self) -> Size<Stored> {
        self.active().size.turned(self.rotation)
    }

    /// Stored pixels that the insets cut before the picture begins, along an axis of the upright picture.
    pub(crate) fn cut_before(&self, upright: Axis) -> u32 {
        let stored = self.rotation.stored_along(upright);
        let (before, after) = self.insets.along(stored.axis);
        if stored.backwards { after } else { before }
    }
}
