//! [`Angle`] and [`Span`]: checked angles in degrees.

use crate::fraction::{self, Sign};
use crate::{Error, Exact};

/// An angle in degrees, within bounds that depend on what it turns.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Angle(Exact);

impl Angle {
    /// 0 degrees.
    pub const ZERO: Self = Self(Exact::ZERO);

    /// An angle written as a fraction, at most so many degrees either way.
    ///
    /// # Errors
    /// [`Error::is_syntax`] for other text, [`Error::is_range`] beyond the bound.
    pub fn within(text: &str, most: u32) -> Result<Self, Error> {
        let value = fraction::parse(text, Sign::Allowed)?;
        if value.abs() <= Exact::whole(most) { Ok(Self(value)) } else { Err(Error::angle(most, &value)) }
    }

    /// An angle over 0 and under 180 degrees: of a flat picture or view.
    ///
    /// # Errors
    /// As [`Angle::within`].
    pub fn of_view(text: &str) -> Result<Self, Error> {
        let value = fraction::parse(text, Sign::Allowed)?;
        if value.is_positive() && value < Exact::whole(180) { Ok(Self(value)) } else { Err(Error::view_angle(&value)) }
    }

    /// The degrees.
    pub const fn value(&self) -> &Exact {
        &self.0
    }

    pub(super) fn radians(&self) -> f64 {
        self.0.to_f64().to_radians()
    }
}

/// How much of a sphere a frame holds, in degrees across and up.
///
/// # Guarantees
/// Over 0; at most 360 across and 180 up.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Span {
    across: Exact,
    up: Exact,
}

impl Span {
    /// All of the sphere.
    pub const FULL: Self = Self { across: Exact::whole(360), up: Exact::whole(180) };

    /// A span across, written as a fraction.
    ///
    /// # Errors
    /// [`Error::is_syntax`] for other text, [`Error::is_range`] unless over 0 and at most 360.
    pub fn across(text: &str) -> Result<Exact, Error> {
        Self::side(text, 360)
    }

    /// A span up, written as a fraction.
    ///
    /// # Errors
    /// As [`Span::across`], at most 180.
    pub fn up(text: &str) -> Result<Exact, Error> {
        Self::side(text, 180)
    }

    fn side(text: &str, most: u32) -> Result<Exact, Error> {
        fraction::parse(text, Sign::Allowed)?.positive("a span", most, "degrees")
    }

    /// The span of two sides that were read by [`Span::across`] and [`Span::up`].
    ///
    /// # Errors
    /// [`Error::is_range`] beyond the same bounds.
    pub fn new(across: Exact, up: Exact) -> Result<Self, Error> {
        Ok(Self { across: across.positive("a span", 360, "degrees")?, up: up.positive("a span", 180, "degrees")? })
    }

    /// Degrees across and up.
    pub const fn degrees(&self) -> (&Exact, &Exact) {
        (&self.across, &self.up)
    }

    pub(super) fn is_full_across(&self) -> bool {
        self.across == Exact::whole(360)
    }
}
