//! [`Desqueeze`]: stored pixels made into square ones.

use crate::error::Parameter;
use crate::space::{Axes, Axis, Delivery, Rect, Size, Stored};
use crate::{DisplayRatio, Error, Exact, PixelAspect, Raster, Rounding, Squeeze, Step};

/// What is asked: the square-pixel frames of a squeezed raster.
#[derive(Clone, Debug, PartialEq)]
pub struct DesqueezeRequest {
    /// The stored raster.
    pub raster: Raster<Stored>,
    /// The shape of its pixels.
    pub pixel_aspect: PixelAspect,
    /// What the lens did.
    pub squeeze: Squeeze,
    /// The ratio to cut it to, if any.
    pub target: Option<DisplayRatio>,
    /// The grid for the rounded sides.
    pub step: Step,
    /// How they are rounded.
    pub rounding: Rounding,
}

/// A whole square-pixel frame, and what its rounding does to circles.
#[derive(Clone, Debug)]
pub struct SquareFrame {
    /// The frame.
    pub frame: Raster<Delivery>,
    /// Its ratio over the true one, less 1.
    pub distortion: Exact,
}

/// The centred cut to a ratio.
#[derive(Clone, Debug)]
pub struct TargetCut {
    /// The part of the stored raster that stays.
    pub window: Rect<Stored>,
    /// Its share of the raster's area.
    pub kept: Exact,
    /// Stored pixels free on each side.
    pub room: Axes<Stored>,
    /// The cut made square by widening.
    pub widened: Raster<Delivery>,
    /// The cut made square by flattening.
    pub flattened: Raster<Delivery>,
}

/// Both ways of making a squeezed raster square.
#[derive(Clone, Debug)]
pub struct Desqueeze {
    /// Pixel aspect times squeeze.
    pub factor: Exact,
    /// Width over height, as seen.
    pub ratio: Exact,
    /// The lines kept, the width multiplied.
    pub widened: SquareFrame,
    /// The columns kept, the height divided.
    pub flattened: SquareFrame,
    /// The cut to the target ratio, if one was asked for.
    pub target: Option<TargetCut>,
}

impl Desqueeze {
    /// The square-pixel frames of the request.
    ///
    /// # Errors
    /// [`Error::is_too_large`] at `squeeze` when a side passes the largest side of a frame.
    ///
    /// ```
    /// use ratiomet_core::*;
    /// let scope = Desqueeze::of(&DesqueezeRequest {
    ///     raster: Raster::new(2880, 2160)?,
    ///     pixel_aspect: PixelAspect::SQUARE,
    ///     squeeze: Squeeze::parse("2")?,
    ///     target: None,
    ///     step: Step::Two,
    ///     rounding: Rounding::Down,
    /// })?;
    /// assert_eq!(scope.ratio.to_string(), "8/3");
    /// assert_eq!((scope.widened.frame.width(), scope.flattened.frame.height()), (5760, 1080));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(request: &DesqueezeRequest) -> Result<Self, Error> {
        let Size { width, height, .. } = request.raster.size();
        let factor = (request.pixel_aspect.value() * request.squeeze.value()).reduced();
        let ratio = &width * &factor / &height;
        let round = |value: &Exact, name| request.rounding.side(value, request.step, name);
        let at_squeeze = |error: Error| error.at(Parameter::Squeeze);
        let wide = |width: &Exact| round(&(width * &factor), "width").map_err(at_squeeze);
        let flat = |height: &Exact| round(&(height / &factor), "height").map_err(at_squeeze);
        let square = |frame: Raster<Delivery>| SquareFrame {
            distortion: Exact::whole(frame.width()) / Exact::whole(frame.height()) / &ratio - Exact::ONE,
            frame,
        };

        let widened = square(Raster::new(wide(&width)?, request.raster.height())?);
        let flattened = square(Raster::new(request.raster.width(), flat(&height)?)?);
        let target = request
            .target
            .as_ref()
            .map(DisplayRatio::value)
            .map(|wanted| {
                let (cut_width, cut_height) = (*wanted < ratio, *wanted > ratio);
                let kept = Size::new(
                    if cut_width { wanted * &height / &factor } else { width.clone() },
                    if cut_height { &width * &factor / wanted } else { height.clone() },
                );
                let whole = request.raster.size();
                let room = Axes::each(|axis: Axis| (whole.along(axis) - kept.along(axis)).half());
                // The side that is not desqueezed is rounded only where it was cut.
                let lines = if cut_height { round(&kept.height, "height")? } else { request.raster.height() };
                let columns = if cut_width { round(&kept.width, "width")? } else { request.raster.width() };
                Ok::<_, Error>(TargetCut {
                    kept: kept.area() / whole.area(),
                    widened: Raster::new(wide(&kept.width)?, lines)?,
                    flattened: Raster::new(columns, flat(&kept.height)?)?,
                    window: Rect::new(room.x.clone(), room.y.clone(), kept),
                    room,
                })
            })
            .transpose()?;
        Ok(Self { factor, ratio, widened, flattened, target })
    }
}
