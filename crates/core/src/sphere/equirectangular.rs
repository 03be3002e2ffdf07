//! [`EquirectangularFrame`]: sizes of a frame that holds a sphere, or a part of one.

use super::angle::Span;
use crate::bounded::bounded;
use crate::error::Parameter;
use crate::fraction::Sign;
use crate::rounding::{Rounding, Step};
use crate::space::{Axes, Delivery, Factor};
use crate::{Error, Exact, Raster, limits};

/// How the pictures for two eyes stand in one frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Layout {
    /// One picture for both.
    #[default]
    Mono,
    /// The left eye above the right one.
    TopBottom,
    /// The left eye beside the right one.
    SideBySide,
}

impl Layout {
    /// Every layout.
    pub const ALL: [Self; 3] = [Self::Mono, Self::TopBottom, Self::SideBySide];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Mono => "mono",
            Self::TopBottom => "top_bottom",
            Self::SideBySide => "side_by_side",
        }
    }
}

bounded! {
    /// Pixels for each degree.
    ///
    /// # Guarantees
    /// Over 0, up to 1,000,000.
    PixelsPerDegree, limits::PIXELS_PER_DEGREE, Sign::Never
}

/// What is known of one eye's size.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum EyeSize {
    /// Its width, which stays as it is.
    Width(u32),
    /// Its height, which stays as it is.
    Height(u32),
    /// How finely it is sampled, both ways.
    PixelsPerDegree(PixelsPerDegree),
}

/// A frame that holds a sphere.
#[derive(Clone, Debug)]
pub struct EquirectangularFrame {
    /// The picture for one eye.
    pub eye: Raster<Delivery>,
    /// The whole frame.
    pub frame: Raster<Delivery>,
    /// Pixels of one eye for each degree, across and up.
    pub pixels_per_degree: Axes<Factor>,
}

impl EquirectangularFrame {
    /// The frame of this size; the side that is not given follows the span, rounded to the nearest
    /// multiple of the step.
    ///
    /// # Errors
    /// [`Error::is_too_large`] at the value that was given, when a side would pass the largest one.
    ///
    /// ```
    /// use ratiomet_core::{Step, sphere::*};
    /// let sphere = EquirectangularFrame::of(&EyeSize::Width(5760), &Span::FULL, Layout::TopBottom, Step::Two)?;
    /// assert_eq!((sphere.eye.height(), sphere.frame.height()), (2880, 5760));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(size: &EyeSize, span: &Span, layout: Layout, step: Step) -> Result<Self, Error> {
        let (across, up) = (span.across.value(), span.up.value());
        let (given, sides) = match size {
            EyeSize::Width(width) => {
                let height = Exact::whole(*width) * up / across;
                (Parameter::Width, (Ok(*width), Rounding::Nearest.side(&height, step, "height")))
            }
            EyeSize::Height(height) => {
                let width = Exact::whole(*height) * across / up;
                (Parameter::Height, (Rounding::Nearest.side(&width, step, "width"), Ok(*height)))
            }
            EyeSize::PixelsPerDegree(fine) => {
                let side = |span, name| Rounding::Nearest.side(&(fine.value() * span), step, name);
                (Parameter::PixelsPerDegree, (side(across, "width"), side(up, "height")))
            }
        };
        let at = |error: Error| error.at(given);
        let (width, height) = (sides.0.map_err(at)?, sides.1.map_err(at)?);
        let eye = Raster::new(width, height).map_err(at)?;
        let doubled = |side: u32, name| match side.checked_mul(2) {
            Some(side) if side <= limits::LARGEST_SIDE => Ok(side),
            _ => Err(Error::too_large(name).at(given)),
        };
        let frame = match layout {
            Layout::Mono => eye,
            Layout::TopBottom => Raster::new(width, doubled(height, "height")?).map_err(at)?,
            Layout::SideBySide => Raster::new(doubled(width, "width")?, height).map_err(at)?,
        };
        let pixels_per_degree =
            Axes::new((Exact::whole(width) / across).reduced(), (Exact::whole(height) / up).reduced());
        Ok(Self { eye, frame, pixels_per_degree })
    }
}
