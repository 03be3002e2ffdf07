//! Checked angles in degrees: [`Turn`], [`Latitude`], [`FieldOfView`] and [`Span`]; and [`Distance`], which stands for one.

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
    /// How far from the middle of a sphere a flat picture stands, in its own widths.
    ///
    /// # Guarantees
    /// From a hundredth to 1000.
    Distance, limits::DISTANCE, Sign::Never
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
    /// How wide a flat picture is seen to be that stands so far, to a millionth of a degree.
    pub fn at(distance: &Distance) -> Self {
        let degrees = 2.0 * (0.5 / distance.0.to_f64()).atan().to_degrees();
        // OK because the bounds of distances lie well within 0 and 180 degrees.
        Self::parse(&format!("{degrees:.6}")).unwrap_or(Self(Exact::whole(90)))
    }

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
