//! [`PixelAspect`]: the shape of one pixel.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::{Exact, limits};

bounded! {
    /// Width of one pixel over its height (ISO/IEC 14496-12 `pasp`; ITU-T H.264
    /// `sample_aspect_ratio`).
    ///
    /// # Guarantees
    /// From 1/10 to 10.
    ///
    /// There is no arithmetic on it: times a squeeze it is neither a pixel aspect nor a squeeze, and
    /// the types say where such a product is wanted.
    ///
    /// ```
    /// # use ratiomet_core::PixelAspect;
    /// assert!(PixelAspect::parse("12:11").is_ok());
    /// assert!(PixelAspect::parse("0").is_err());
    /// ```
    PixelAspect, limits::PIXEL_ASPECT, Sign::Never
}

impl PixelAspect {
    /// Pixels as wide as they are high.
    pub const SQUARE: Self = Self(Exact::ONE);
}

impl Default for PixelAspect {
    fn default() -> Self {
        Self::SQUARE
    }
}
