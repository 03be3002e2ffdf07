//! Checked angles in degrees: [`Turn`], [`Latitude`], [`FieldOfView`] and [`Span`].

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::{Exact, limits};

bounded! {
    /// Degrees around: a longitude, a yaw or a roll.
    ///
    /// # Guarantees
    /// At most 360 either way.
    Turn, limits::TURN, Sign::Allowed
}

bounded! {
    /// Degrees up or down: a latitude or a pitch.
    ///
    /// # Guarantees
    /// At most 90 either way.
    Latitude, limits::LATITUDE, Sign::Allowed
}

bounded! {
    /// How wide a flat picture or view is seen to be, in degrees.
    ///
    /// # Guarantees
    /// Over 0 and under 180: nothing flat is seen wider.
    FieldOfView, limits::FIELD_OF_VIEW, Sign::Allowed
}

bounded! {
    /// Degrees of a sphere that a frame holds across.
    ///
    /// # Guarantees
    /// Over 0, at most 360.
    Across, limits::SPAN_ACROSS, Sign::Allowed
}

bounded! {
    /// Degrees of a sphere that a frame holds up and down.
    ///
    /// # Guarantees
    /// Over 0, at most 180.
    UpAndDown, limits::SPAN_UP, Sign::Allowed
}

impl Turn {
    /// 0 degrees.
    pub const NONE: Self = Self(Exact::ZERO);

    pub(super) fn radians(&self) -> f64 {
        self.0.to_f64().to_radians()
    }
}

impl Latitude {
    /// 0 degrees.
    pub const NONE: Self = Self(Exact::ZERO);

    pub(super) fn radians(&self) -> f64 {
        self.0.to_f64().to_radians()
    }
}

impl FieldOfView {
    pub(super) fn radians(&self) -> f64 {
        self.0.to_f64().to_radians()
    }
}

/// How much of a sphere a frame holds.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Span {
    /// Degrees across.
    pub across: Across,
    /// Degrees up and down.
    pub up: UpAndDown,
}

impl Span {
    /// All of the sphere.
    pub const FULL: Self = Self { across: Across(Exact::whole(360)), up: UpAndDown(Exact::whole(180)) };

    /// The half of it in front.
    pub const FRONT: Self = Self { across: Across(Exact::whole(180)), up: UpAndDown(Exact::whole(180)) };

    pub(super) fn is_full_across(&self) -> bool {
        *self == Self { up: self.up.clone(), ..Self::FULL }
    }
}
