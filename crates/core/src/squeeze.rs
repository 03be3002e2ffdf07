//! [`Squeeze`]: what an anamorphic lens did to the picture.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::{Exact, limits};

bounded! {
    /// The horizontal factor by which a lens narrowed the picture: 2 for a classic scope lens.
    ///
    /// # Guarantees
    /// From 1/10 to 10.
    ///
    /// ```
    /// # use ratiomet_core::Squeeze;
    /// assert!(Squeeze::parse("1.8").is_ok());
    /// assert!(Squeeze::parse("10.01").is_err());
    /// ```
    ///
    /// A pixel aspect is not a squeeze:
    /// ```compile_fail
    /// # use ratiomet_core::{PixelAspect, Squeeze};
    /// let squeeze: Squeeze = PixelAspect::SQUARE;
    /// ```
    Squeeze, limits::SQUEEZE, Sign::Never
}

impl Squeeze {
    /// A spherical lens, which narrows nothing.
    pub const NONE: Self = Self(Exact::ONE);
}

impl Default for Squeeze {
    fn default() -> Self {
        Self::NONE
    }
}
