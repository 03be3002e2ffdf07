//! [`Showing`]: the framing that shows a given part of the stored raster, as lists from set tell it.

use crate::fraction::writable;
use crate::placement::Placement;
use crate::space::{Axes, Axis, Delivery, Factor, Rect, Stored};
use crate::{DeliveryFrame, Exact, Framing, Method, Plan, Shift, Source, Zoom};

/// A framing that shows a part of a source.
#[derive(Clone, Debug, PartialEq)]
pub struct Showing {
    /// The framing.
    pub framing: Framing,
    /// How much more of the source it shows on each stored axis, in stored pixels, because the part has another ratio
    /// than the picture area; 0 where it has the same.
    pub more: Axes<Stored>,
}

impl Showing {
    /// The framing of a source in a frame that shows this part of its stored raster, whole and in the middle of the
    /// picture area; none for a part without a size, or one so small or so far out that no framing reaches it.
    ///
    /// ```
    /// use ratiomet_core::{showing::Showing, space::{Rect, Size}, *};
    /// let plain = |width, height| Raster::new(width, height);
    /// let source =
    ///     Source::new(plain(4096, 2160)?, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), Rotation::None)?;
    /// let hd = DeliveryFrame::new(Raster::new(1920, 1080)?, PixelAspect::SQUARE, None, Step::Two)?;
    /// let at = |value| Exact::whole(value);
    /// let part = Rect::new(at(100), at(0), Size::new(at(3840), at(2160)));
    /// let shown = Showing::of(&source, &hd, &part).unwrap();
    /// assert_eq!(shown.framing.method, Method::Fill);
    /// assert_eq!(shown.framing.shift_x.value(), &Exact::whole(14));
    /// # Ok::<(), Error>(())
    /// ```
    pub fn of(source: &Source, frame: &DeliveryFrame, part: &Rect<Stored>) -> Option<Self> {
        if !part.size.width.is_positive() || !part.size.height.is_positive() {
            return None;
        }
        let area = frame.picture_area().rect();
        let active = source.active();
        let upright = source.upright();
        // How large the whole picture becomes on each delivery axis when the part is as large as the area.
        let filled: Axes<Delivery> = Axes::each(|axis: Axis| {
            let stored = source.rotation().stored_along(axis).axis;
            area.size.along(axis) * active.size.along(stored) / part.size.along(stored)
        });
        let plain = Placement::of(&upright, frame, &Framing::of(Method::Fill));
        let zooms: Axes<Factor> = Axes::each(|axis: Axis| (filled.of(axis) / plain.size.along(axis)).reduced());
        // All of the part is seen: where the two do not agree, more of the source is.
        let zoom = zooms.x.clone().min(zooms.y.clone());
        let (method, zoom) = Self::spelled(source, frame, zoom);
        let zoomed = Framing { method, zoom: Zoom::new(writable(&zoom)).ok()?, ..Framing::default() };
        let size = Placement::of(&upright, frame, &zoomed).size;
        let shift = |axis: Axis| {
            let along = source.rotation().stored_along(axis);
            let (start, whole) = (active.start(along.axis), active.size.along(along.axis));
            let middle = part.start(along.axis) + part.size.along(along.axis).half() - start;
            let share = if along.backwards { whole - middle } else { middle } / whole;
            // The middle of the part comes to the middle of the area.
            Shift::new(writable(&((Exact::fraction(1, 2) - share) * size.along(axis)).reduced())).ok()
        };
        let framing = Framing { shift_x: shift(Axis::X)?, shift_y: shift(Axis::Y)?, ..zoomed };
        let window = Plan::of(source, frame, &framing).window?;
        let more: Axes<Stored> = Axes::each(|axis: Axis| {
            let more = window.size.along(axis) - part.size.along(axis);
            if more.abs() < HAIR { Exact::ZERO } else { more.reduced() }
        });
        Some(Self { framing, more })
    }

    /// The method and the zoom on top of it for a zoom on what just fills: fit where that shows the whole picture.
    fn spelled(source: &Source, frame: &DeliveryFrame, zoom: Exact) -> (Method, Exact) {
        let upright = source.upright();
        let size = |method| Placement::of(&upright, frame, &Framing::of(method)).size.width;
        let fit = size(Method::Fit) / size(Method::Fill);
        if zoom == fit && zoom != Exact::ONE { (Method::Fit, Exact::ONE) } else { (Method::Fill, zoom) }
    }
}

/// Under this a difference comes of how numbers are written.
const HAIR: Exact = Exact::fraction(1, 1000);
