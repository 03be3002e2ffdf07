//! [`DeliveryFrame`]: a frame to deliver, and the part of it that the picture should fill.

use crate::error::Parameter;
use crate::rounding::{Rounding, Step};
use crate::space::{Delivery, Lines, Rect, Size};
use crate::{DisplayRatio, Error, Exact, PixelAspect, Raster};

/// The part of a delivery raster that the picture should fill, in whole delivery pixels.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct PictureArea {
    /// The left edge, from the left of the raster.
    pub x: u32,
    /// The top edge, from the top of the raster.
    pub y: u32,
    /// Pixels across, at least 1.
    pub width: u32,
    /// Pixels down, at least 1.
    pub height: u32,
}

impl PictureArea {
    /// The same area as an exact rectangle.
    pub fn rect(&self) -> Rect<Delivery> {
        Rect::new(
            Exact::whole(self.x),
            Exact::whole(self.y),
            Size::new(Exact::whole(self.width), Exact::whole(self.height)),
        )
    }
}

/// A frame to deliver.
///
/// # Guarantees
/// The picture ratio, if there is one, leaves a picture area of at least one pixel each way; its
/// bars are equal and lie on the step.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DeliveryFrame {
    raster: Raster<Delivery>,
    pixel_aspect: PixelAspect,
    picture_ratio: Option<DisplayRatio>,
    step: Step,
    picture_area: PictureArea,
}

impl DeliveryFrame {
    /// A frame of this geometry. Without a picture ratio the picture should fill the whole raster.
    ///
    /// # Errors
    /// [`Error::is_nothing_left`] at `picture_ratio` when its bars leave no picture.
    ///
    /// ```
    /// use ratiomet_core::{DeliveryFrame, DisplayRatio, PixelAspect, Raster, Step};
    /// let masked = DeliveryFrame::new(
    ///     Raster::new(1920, 1080)?,
    ///     PixelAspect::SQUARE,
    ///     Some(DisplayRatio::parse("2.00")?),
    ///     Step::Two,
    /// )?;
    /// assert_eq!((masked.picture_area().y, masked.picture_area().height), (60, 960));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn new(
        raster: Raster<Delivery>,
        pixel_aspect: PixelAspect,
        picture_ratio: Option<DisplayRatio>,
        step: Step,
    ) -> Result<Self, Error> {
        let picture_area = picture_area(raster, &pixel_aspect, picture_ratio.as_ref(), step)?;
        Ok(Self { raster, pixel_aspect, picture_ratio, step, picture_area })
    }

    /// The raster that is delivered.
    pub const fn raster(&self) -> Raster<Delivery> {
        self.raster
    }

    /// The shape of its pixels.
    pub const fn pixel_aspect(&self) -> &PixelAspect {
        &self.pixel_aspect
    }

    /// The ratio of the picture inside, if it does not fill the raster.
    pub const fn picture_ratio(&self) -> Option<&DisplayRatio> {
        self.picture_ratio.as_ref()
    }

    /// The grid that its sides should lie on.
    pub const fn step(&self) -> Step {
        self.step
    }

    /// The part that the picture should fill.
    pub const fn picture_area(&self) -> PictureArea {
        self.picture_area
    }

    /// Width of the whole frame over its height, as seen.
    pub fn ratio(&self) -> Exact {
        Exact::whole(self.raster.width()) * self.pixel_aspect.value() / Exact::whole(self.raster.height())
    }

    /// The whole raster in delivery lines, which are as long across as down.
    pub(crate) fn lines(&self) -> Size<Lines> {
        in_lines(self.raster.size(), &self.pixel_aspect)
    }

    /// The picture area in delivery lines.
    pub(crate) fn picture_lines(&self) -> Size<Lines> {
        in_lines(self.picture_area.rect().size, &self.pixel_aspect)
    }
}

fn in_lines(pixels: Size<Delivery>, pixel_aspect: &PixelAspect) -> Size<Lines> {
    Size::new(pixels.width * pixel_aspect.value(), pixels.height)
}

fn picture_area(
    raster: Raster<Delivery>,
    pixel_aspect: &PixelAspect,
    picture_ratio: Option<&DisplayRatio>,
    step: Step,
) -> Result<PictureArea, Error> {
    let Size { width, height, .. } = raster.size();
    let whole = PictureArea { x: 0, y: 0, width: raster.width(), height: raster.height() };
    let Some(ratio) = picture_ratio.map(DisplayRatio::value) else {
        return Ok(whole);
    };
    // The bar at each end of the axis, and what it leaves.
    let masked = |side: u32, wanted: Exact| {
        let bar = Rounding::Nearest.to_step(&(Exact::whole(side) - wanted).half(), step);
        let bar = u32::try_from(bar).map_err(|_| Error::no_picture().at(Parameter::PictureRatio))?;
        match side.checked_sub(bar.saturating_mul(2)) {
            Some(left) if left > 0 => Ok((bar, left)),
            _ => Err(Error::no_picture().at(Parameter::PictureRatio)),
        }
    };
    let lines = &width * pixel_aspect.value();
    match ratio.cmp(&(&lines / &height)) {
        std::cmp::Ordering::Greater => {
            let (y, height) = masked(raster.height(), lines / ratio)?;
            Ok(PictureArea { y, height, ..whole })
        }
        std::cmp::Ordering::Less => {
            let (x, width) = masked(raster.width(), height * ratio / pixel_aspect.value())?;
            Ok(PictureArea { x, width, ..whole })
        }
        std::cmp::Ordering::Equal => Ok(whole),
    }
}
