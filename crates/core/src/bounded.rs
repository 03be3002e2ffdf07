//! The shared shape of the checked numbers: one private [`Exact`](crate::Exact) within its bounds.

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
                Self::new(crate::fraction::parse(text, $sign)?)
            }

            /// The bare number.
            pub fn value(&self) -> &crate::Exact {
                &self.0
            }
        }
    };
}
pub(crate) use bounded;
