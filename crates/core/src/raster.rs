//! [`Raster`]: whole pixels across and down.

use std::fmt;
use std::marker::PhantomData;

use crate::rounding::checked_side;
use crate::space::{Axis, Delivery, Size, Stored};
use crate::{Error, Exact};

/// The size of a picture in whole pixels of the space `S`.
///
/// # Guarantees
/// Each side is from 1 to 65,536.
///
/// ```
/// # use ratiomet_core::{Raster, space::Stored};
/// assert_eq!(Raster::<Stored>::new(2880, 2160)?.to_string(), "2880×2160");
/// assert!(Raster::<Stored>::new(0, 2160).is_err());
/// # Ok::<(), ratiomet_core::Error>(())
/// ```
///
/// Footage is not a delivery frame:
/// ```compile_fail
/// # use ratiomet_core::{Raster, space::{Delivery, Stored}};
/// let frame: Raster<Delivery> = Raster::<Stored>::new(2880, 2160).unwrap();
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Raster<S> {
    width: u32,
    height: u32,
    space: PhantomData<S>,
}

impl<S> Raster<S> {
    /// A raster of so many pixels.
    ///
    /// # Errors
    /// [`Error::is_range`] when a side is outside its bounds.
    pub fn new(width: u32, height: u32) -> Result<Self, Error> {
        Ok(Self { width: checked_side(width)?, height: checked_side(height)?, space: PhantomData })
    }

    /// Pixels across.
    pub const fn width(&self) -> u32 {
        self.width
    }

    /// Pixels down.
    pub const fn height(&self) -> u32 {
        self.height
    }

    /// Pixels along an axis.
    pub const fn along(&self, axis: Axis) -> u32 {
        match axis {
            Axis::X => self.width,
            Axis::Y => self.height,
        }
    }

    /// Whether another raster has the same proportion of sides.
    pub fn is_shaped_like(&self, other: Self) -> bool {
        u64::from(self.width) * u64::from(other.height) == u64::from(other.width) * u64::from(self.height)
    }

    /// The same size as exact lengths.
    pub fn size(&self) -> Size<S> {
        Size::new(Exact::whole(self.width), Exact::whole(self.height))
    }
}

impl Raster<Delivery> {
    /// The stored raster of the file that this frame becomes when it is handed on.
    pub(crate) const fn handed_on(self) -> Raster<Stored> {
        Raster { width: self.width, height: self.height, space: PhantomData }
    }
}

impl<S> fmt::Display for Raster<S> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}×{}", self.width, self.height)
    }
}
