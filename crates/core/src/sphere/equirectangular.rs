//! [`EquirectangularFrame`]: sizes of a frame that holds a sphere, or a part of one.

use super::angle::Span;
use crate::fraction::{self, Sign};
use crate::rounding::{Rounding, Step};
use crate::space::{Axes, Delivery};
use crate::{Error, Exact, Raster, limits};

/// How the pictures for two eyes stand in one frame.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
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
    /// Every layout by its word.
    pub const WORDS: [(&'static str, Self); 3] =
        [("mono", Self::Mono), ("top_bottom", Self::TopBottom), ("side_by_side", Self::SideBySide)];
}

/// Pixels for each degree.
///
/// # Guarantees
/// Over 0, up to 1,000,000.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PixelsPerDegree(Exact);

impl PixelsPerDegree {
    /// The number that a text spells, such as `"16"`.
    ///
    /// # Errors
    /// [`Error::is_syntax`] for other text, [`Error::is_range`] beyond the bounds.
    pub fn parse(text: &str) -> Result<Self, Error> {
        fraction::parse(text, Sign::Never)?.positive("a sampling", 1_000_000, "pixels per degree").map(Self)
    }

    /// The number.
    pub const fn value(&self) -> &Exact {
        &self.0
    }
}

/// What is known of one eye's size.
#[derive(Clone, Debug)]
pub enum Size {
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
    pub pixels_per_degree: Axes,
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
    pub fn of(size: &Size, span: &Span, layout: Layout, step: Step) -> Result<Self, Error> {
        let (across, up) = span.degrees();
        let (given, sides) = match size {
            Size::Width(width) => {
                let height = Exact::whole(*width) * up / across;
                ("width", (Ok(*width), Rounding::Nearest.side(&height, step, "height")))
            }
            Size::Height(height) => {
                let width = Exact::whole(*height) * across / up;
                ("height", (Rounding::Nearest.side(&width, step, "width"), Ok(*height)))
            }
            Size::PixelsPerDegree(fine) => {
                let side = |span, name| Rounding::Nearest.side(&(fine.value() * span), step, name);
                ("pixels_per_degree", (side(across, "width"), side(up, "height")))
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
