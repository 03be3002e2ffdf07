//! [`DisplayRatio`]: the shape of a picture as it is seen.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::limits;

bounded! {
    /// Width of a picture over its height, both as seen: 2.39 for scope, 9/16 for an upright story.
    ///
    /// # Guarantees
    /// From 1/100 to 100.
    ///
    /// ```
    /// # use ratiomet_core::DisplayRatio;
    /// assert!(DisplayRatio::parse("2.39:1").is_ok());
    /// assert!(DisplayRatio::parse("1:0").is_err());
    /// ```
    ///
    /// The ratio of a picture says nothing of the shape of its pixels:
    /// ```compile_fail
    /// # use ratiomet_core::{DisplayRatio, PixelAspect};
    /// let ratio: DisplayRatio = PixelAspect::SQUARE;
    /// ```
    DisplayRatio, limits::DISPLAY_RATIO, Sign::Never
}
