//! [`Dial`]: one placement in each of the numbers that editing programs ask for.

use crate::space::{Axes, Axis, Delivery, Factor, Percent, Rect, Size, Stored, Upright};
use crate::{DeliveryFrame, Exact, Source};

/// The numbers to type, measured against the whole delivery raster, not the picture area.
#[derive(Clone, Debug, PartialEq)]
pub struct Dial {
    /// Percent on each axis, where 100 puts one upright unit on one delivery line. It is the same
    /// whether the clip is cut or not.
    pub native_percent: Axes<Percent>,
    /// Where the program holds the clip as it is planned: borders cut away, turned.
    pub cut: Typed,
    /// Where the program holds the whole stored raster, turned: what was cut away continues the image
    /// at the same scale on every side.
    pub uncut: Typed,
    /// Where the program fits the whole clip as it lies, and turns it afterwards.
    pub unturned: Sizes,
}

/// Multiples of the size that a program begins with.
#[derive(Clone, Debug, PartialEq)]
pub struct Sizes {
    /// Of the size at which the picture just fits the raster.
    pub over_fit: Axes<Factor>,
    /// Of the size at which the picture just fills the raster.
    pub over_fill: Axes<Factor>,
}

/// A placement in the numbers of a program that holds a picture of some size.
#[derive(Clone, Debug, PartialEq)]
pub struct Typed {
    /// Multiples of the fitted and of the filling size.
    pub sizes: Sizes,
    /// Multipliers for a program that takes stored pixels as square and has fitted that picture.
    pub uncorrected: Axes<Factor>,
    /// From the raster's centre to the image's, delivery pixels right and down.
    pub centre_offset: Axes<Delivery>,
    /// From the raster's top left corner to the image's, delivery pixels right and down.
    pub top_left: Axes<Delivery>,
}

impl Dial {
    /// The numbers of a placement: the scale in delivery lines per upright unit, where the active picture
    /// lands, and delivery pixels per stored one.
    pub(crate) fn of(
        source: &Source,
        frame: &DeliveryFrame,
        units: &Axes<Factor>,
        image: &Rect<Delivery>,
        scale: &Axes<Factor>,
    ) -> Self {
        let cut = Typed::of(&source.upright(), &source.turned_active(), frame, units, image);
        let whole = source.insets() == crate::Insets::default();
        let uncut = if whole {
            cut.clone()
        } else {
            let stored = source.raster().size().turned(source.rotation());
            let corner = |axis| {
                let before = Exact::whole(source.cut_before(axis)) * scale.of(axis);
                (image.start(axis) - before).reduced()
            };
            let side = |axis| (stored.along(axis) * scale.of(axis)).reduced();
            let size = Size::new(side(Axis::X), side(Axis::Y));
            let image = Rect::new(corner(Axis::X), corner(Axis::Y), size);
            Typed::of(&source.whole_upright(), &stored, frame, units, &image)
        };
        let unturned = if source.rotation().swaps_axes() {
            Sizes::of(&source.whole_unturned(), frame, units)
        } else {
            uncut.sizes.clone()
        };
        let native_percent = Axes::new(&units.x * Exact::whole(100), &units.y * Exact::whole(100));
        Self { native_percent, cut, uncut, unturned }
    }
}

impl Sizes {
    fn of(picture: &Size<Upright>, frame: &DeliveryFrame, units: &Axes<Factor>) -> Self {
        let lines = frame.lines();
        let (across, down) = (&lines.width / &picture.width, &lines.height / &picture.height);
        let (fit, fill) = if across < down { (across, down) } else { (down, across) };
        let over = |size: &Exact| Axes::each(|axis| units.of(axis) / size);
        Self { over_fit: over(&fit), over_fill: over(&fill) }
    }
}

impl Typed {
    fn of(
        picture: &Size<Upright>,
        stored: &Size<Stored>,
        frame: &DeliveryFrame,
        units: &Axes<Factor>,
        image: &Rect<Delivery>,
    ) -> Self {
        let (raster, lines) = (frame.raster().size(), frame.lines());
        // The stored pixels, taken as square and fitted.
        let naive = (&lines.width / &stored.width).min(&lines.height / &stored.height);
        let taken = |axis| picture.along(axis) * units.of(axis) / (stored.along(axis) * &naive);
        Self {
            sizes: Sizes::of(picture, frame, units),
            uncorrected: Axes::each(taken),
            centre_offset: Axes::each(|axis: Axis| image.centre(axis) - raster.along(axis).half()),
            top_left: Axes::new(image.x.clone(), image.y.clone()),
        }
    }
}
