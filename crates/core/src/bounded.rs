//! The shared shape of the checked numbers: one private [`Exact`](crate::Exact) within its bounds.

use crate::fraction::{self, Sign};
use crate::limits::Bounds;
use crate::{Error, Exact};

/// A number that keeps within its row of the table of bounds.
pub trait Bounded: Sized {
    /// Its row.
    const BOUNDS: Bounds;
    /// Whether it may be written with a minus sign.
    const SIGN: Sign;

    /// The number as people write it, such as `"2.39"` or `"16:9"`.
    ///
    /// # Errors
    /// [`Error::is_syntax`] for other text, [`Error::is_range`] outside the bounds.
    fn parse(text: &str) -> Result<Self, Error> {
        let value = fraction::parse(text, Self::SIGN).map_err(|error| error.in_place_of(Self::BOUNDS))?;
        Self::checked(value)
    }

    /// The checked number.
    ///
    /// # Errors
    /// [`Error::is_range`] outside the bounds.
    fn checked(value: Exact) -> Result<Self, Error>;
}

/// Declares a checked number type over [`Exact`](crate::Exact).
macro_rules! bounded {
    ($(#[$doc:meta])* $name:ident, $bounds:expr, $sign:expr) => {
        $(#[$doc])*
        #[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
        pub struct $name(crate::Exact);

        impl $name {
            /// The checked number.
            ///
            /// # Errors
            /// [`Error::is_range`](crate::Error::is_range) outside the bounds named on the type.
            pub fn new(value: crate::Exact) -> Result<Self, crate::Error> {
                if $bounds.hold(&value) {
                    Ok(Self(value.reduced()))
                } else {
                    Err(crate::Error::range(&$bounds, &value))
                }
            }

            /// The number as people write it, such as `"2.39"` or `"16:9"`.
            ///
            /// # Errors
            /// [`Error::is_syntax`](crate::Error::is_syntax) for other text, and those of `new`.
            pub fn parse(text: &str) -> Result<Self, crate::Error> {
                <Self as crate::bounded::Bounded>::parse(text)
            }

            /// The bare number.
            pub const fn value(&self) -> &crate::Exact {
                &self.0
            }
        }

        impl crate::bounded::Bounded for $name {
            const BOUNDS: crate::limits::Bounds = $bounds;
            const SIGN: crate::fraction::Sign = $sign;

            fn checked(value: crate::Exact) -> Result<Self, crate::Error> {
                Self::new(value)
            }
        }
    };
}
pub(crate) use bounded;
