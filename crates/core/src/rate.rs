//! [`FrameRate`]: frames a second.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::limits;

bounded! {
    /// Frames a second, exact: the NTSC rates are `24000/1001`, `30000/1001` and `60000/1001`.
    ///
    /// # Guarantees
    /// From 1/1000 to 1000.
    ///
    /// ```
    /// # use ratiomet_core::FrameRate;
    /// assert!(FrameRate::parse("24000/1001").is_ok());
    /// assert!(FrameRate::parse("0").is_err());
    /// ```
    FrameRate, limits::RATE, Sign::Never
}
