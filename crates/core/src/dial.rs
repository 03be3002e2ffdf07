//! [`Dial`]: one placement in each of the numbers that editing programs ask for.

use crate::space::{Axes, Axis, Delivery, Rect, Size, Stored, Upright};
use crate::{DeliveryFrame, Exact};

/// The numbers to type, measured against the whole delivery raster, not the picture area.
#[derive(Clone, Debug)]
pub struct Dial {
    /// Percent on each axis, where 100 puts one upright unit on one delivery line.
    pub native_percent: Axes,
    /// Multiples of the size at which the picture just fits the raster.
    pub over_fit: Axes,
    /// Multiples of the size at which the picture just fills the raster.
    pub over_fill: Axes,
    /// Multipliers for a program that takes stored pixels as square and has fitted that picture.
    pub uncorrected: Axes,
    /// From the raster's centre to the image's, delivery pixels right and down.
    pub centre_offset: Axes,
    /// From the raster's top left corner to the image's, delivery pixels right and down.
    pub top_left: Axes,
}

impl Dial {
    pub(crate) fn of(
        upright: &Size<Upright>,
        stored: &Size<Stored>,
        frame: &DeliveryFrame,
        units: &Axes,
        image: &Rect<Delivery>,
    ) -> Self {
        let raster = frame.raster().size();
        let lines = frame.lines();
        let (across, down) = (&lines.width / &upright.width, &lines.height / &upright.height);
        let (fit, fill) = if across < down { (across, down) } else { (down, across) };
        // The stored pixels, taken as square and fitted.
        let naive = (&lines.width / &stored.width).min(&lines.height / &stored.height);
        let over = |size: &Exact| {
            let (across, down) = ((&units.x / size).reduced(), (&units.y / size).reduced());
            Axes::new(across, down)
        };
        Self {
            native_percent: Axes::each(|axis| units.of(axis) * Exact::whole(100)),
            over_fit: over(&fit),
            over_fill: over(&fill),
            uncorrected: Axes::each(|axis| {
                (upright.along(axis) * units.of(axis) / (stored.along(axis) * &naive)).reduced()
            }),
            centre_offset: Axes::each(|axis: Axis| image.centre(axis) - raster.along(axis).half()),
            top_left: Axes::new(image.x.clone(), image.y.clone()),
        }
    }
}
