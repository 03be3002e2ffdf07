//! [`Framing`]: how a picture is placed in a frame: method, zoom and shift.

use crate::bounded::bounded;
use crate::fraction::Sign;
use crate::space::{Axes, Axis, Delivery};
use crate::{Exact, limits};

/// The rule that sets the size of the picture before any zoom.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Method {
    /// The whole picture is seen, as large as the picture area allows.
    #[default]
    Fit,
    /// The picture area is covered, with as little cut away as that allows.
    Fill,
    /// The picture is as wide as the picture area.
    Width,
    /// The picture is as high as the picture area.
    Height,
    /// One upright unit on one delivery line.
    Native,
    /// Each axis by itself to the picture area; circles do not stay round.
    Stretch,
}

impl Method {
    /// Every method, in the order in which they are offered.
    pub const ALL: [Self; 6] = [Self::Fit, Self::Fill, Self::Width, Self::Height, Self::Native, Self::Stretch];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Fit => "fit",
            Self::Fill => "fill",
            Self::Width => "width",
            Self::Height => "height",
            Self::Native => "native",
            Self::Stretch => "stretch",
        }
    }
}

bounded! {
    /// Enlargement on top of the method, 1 for none.
    ///
    /// # Guarantees
    /// From 1/1000 to 1000.
    Zoom, limits::ZOOM, Sign::Never
}

impl Zoom {
    /// No enlargement on top.
    pub const NONE: Self = Self(Exact::ONE);
}

impl Default for Zoom {
    fn default() -> Self {
        Self::NONE
    }
}

bounded! {
    /// Displacement of the picture along one axis, in delivery pixels, right or down.
    ///
    /// # Guarantees
    /// At most 1,000,000 either way.
    Shift, limits::SHIFT, Sign::Allowed
}

impl Shift {
    /// Centred on the picture area.
    pub const NONE: Self = Self(Exact::ZERO);
}

impl Default for Shift {
    fn default() -> Self {
        Self::NONE
    }
}

/// How a picture is placed: the method, then the zoom, then the shift from the centre.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Framing {
    /// The rule that sets the size.
    pub method: Method,
    /// Enlargement on top of it.
    pub zoom: Zoom,
    /// Displacement to the right, in delivery pixels.
    pub shift_x: Shift,
    /// Displacement downwards, in delivery pixels.
    pub shift_y: Shift,
}

impl Framing {
    /// The method alone.
    pub fn of(method: Method) -> Self {
        Self { method, ..Self::default() }
    }

    /// The displacement along both axes.
    pub(crate) fn shift(&self) -> Axes<Delivery> {
        Axes::new(self.shift_x.value().clone(), self.shift_y.value().clone())
    }

    /// The displacement along one axis, in delivery pixels.
    pub(crate) const fn shift_along(&self, axis: Axis) -> &Exact {
        match axis {
            Axis::X => self.shift_x.value(),
            Axis::Y => self.shift_y.value(),
        }
    }
}
