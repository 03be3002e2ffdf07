//! [`Tolerance`]: how far enlarging needs no look.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::{Exact, limits};

bounded! {
    /// Delivery pixels per stored pixel up to which an enlargement is only noted.
    ///
    /// # Guarantees
    /// From 1 to 10.
    Tolerance, limits::TOLERANCE, Sign::Never
}

impl Default for Tolerance {
    /// 11/10: a tenth more.
    fn default() -> Self {
        Self(Exact::fraction(11, 10))
    }
}
