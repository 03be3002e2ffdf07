//! [`Plan`]: what becomes of a source in a frame, worked out exactly.

use crate::dial::Dial;
use crate::placement::Placement;
use crate::space::{Axes, Axis, Delivery, Edges, Factor, Rect, Size, Stored, Upright};
use crate::{DeliveryFrame, Exact, Framing, PictureArea, Source};

/// How one source lands in one delivery frame. What there is to say about it is found by
/// [`checks::of`](crate::checks::of).
#[derive(Clone, Debug, PartialEq)]
pub struct Plan {
    /// The picture as it is seen, in units of one stored line.
    pub upright: Size<Upright>,
    /// The part of the frame that the picture should fill.
    pub picture_area: PictureArea,
    /// Where the whole active picture lands; it may pass the frame.
    pub image: Rect<Delivery>,
    /// Delivery pixels per stored pixel, along the delivery's axes.
    pub scale: Axes<Factor>,
    /// Delivery pixels of the picture area that stay uncovered, each axis for itself.
    pub bars: Edges<Delivery>,
    /// The part of the stored raster that reaches the picture area, insets counted in, before
    /// turning; none when the picture misses the area.
    pub window: Option<Rect<Stored>>,
    /// The visible part of the upright picture's area, 0 to 1.
    pub kept: Exact,
    /// The part of the picture area that the picture covers, 0 to 1.
    pub covered: Exact,
    /// How much wider than high a circle comes out, less 1; 0 means round.
    pub distortion: Exact,
    /// How far the shift may go either way from 0 before the coverage on that axis changes, in
    /// delivery pixels.
    pub travel: Axes<Delivery>,
    /// Further zoom until an axis reaches one delivery pixel per stored pixel; under 1 that axis is
    /// being enlarged.
    pub reserve: Axes<Factor>,
    /// The same placement in the numbers that editing programs ask for.
    pub dial: Dial,
}

impl Plan {
    /// The plan for one source, one frame and one framing. There is always one: the types of the
    /// arguments exclude what cannot be planned.
    ///
    /// ```
    /// use ratiomet_core::*;
    /// let source = Source::new(
    ///     Raster::new(3840, 2160)?,
    ///     PixelAspect::SQUARE,
    ///     Squeeze::parse("1.8")?,
    ///     Insets::default(),
    ///     Rotation::None,
    /// )?;
    /// let scope = DeliveryFrame::new(Raster::new(4096, 1716)?, PixelAspect::SQUARE, None, Step::Two)?;
    /// let plan = Plan::of(&source, &scope, &Framing::of(Method::Fill));
    /// assert_eq!(plan.upright.width, Exact::whole(6912));
    /// assert_eq!(plan.dial.cut.sizes.over_fit.x, Exact::fraction(429, 320));
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(source: &Source, frame: &DeliveryFrame, framing: &Framing) -> Self {
        let upright = source.upright();
        let picture_area = frame.picture_area();
        let area = picture_area.rect();
        let placement = Placement::of(&upright, frame, framing);

        let corner = |axis| area.centre(axis) + framing.shift_along(axis) - placement.size.along(axis).half();
        let image = Rect::new(corner(Axis::X).kept_short(), corner(Axis::Y).kept_short(), placement.size.clone());
        let stored = source.turned_active();
        let scale = Axes::each(|axis| image.size.along(axis) / stored.along(axis));
        let bars = bars(&image, &area);
        let visible = image.intersection(&area);
        let window = visible.as_ref().map(|visible| window(source, &image, visible));
        let seen = visible.map_or(Exact::ZERO, |visible| visible.size.area());
        let kept = &seen / image.size.area();
        let covered = &seen / area.size.area();
        let distortion = if placement.units.x == placement.units.y {
            Exact::ZERO
        } else {
            &placement.units.x / &placement.units.y - Exact::ONE
        };
        let travel = Axes::each(|axis| (image.size.along(axis) - area.size.along(axis)).abs().half());
        let reserve = Axes::each(|axis| Exact::ONE / scale.of(axis));
        let dial = Dial::of(source, frame, &placement.units, &image, &scale);
        Self { upright, picture_area, image, scale, bars, window, kept, covered, distortion, travel, reserve, dial }
    }

    /// The part of the upright picture that reaches the picture area; none when it misses the area.
    pub fn seen(&self) -> Option<Rect<Upright>> {
        let area = self.picture_area.rect();
        let visible = self.image.intersection(&area)?;
        let units = |axis| self.upright.along(axis) / self.image.size.along(axis);
        let (x, y) = (units(Axis::X), units(Axis::Y));
        Some(Rect::new(
            (&visible.x - &self.image.x) * &x,
            (&visible.y - &self.image.y) * &y,
            Size::new(visible.size.width * x, visible.size.height * y),
        ))
    }

    /// What is cut off each side of the upright picture; none when all of it is.
    pub fn cut(&self) -> Option<Edges<Upright>> {
        let seen = self.seen()?;
        let (right, bottom) = (&self.upright.width - seen.end(Axis::X), &self.upright.height - seen.end(Axis::Y));
        Some(Edges::new(seen.x, seen.y, right, bottom))
    }
}

/// What the image leaves uncovered at each side of the picture area, at most its whole side.
fn bars(image: &Rect<Delivery>, area: &Rect<Delivery>) -> Edges<Delivery> {
    let held = |gap: Exact, axis| if gap.is_positive() { gap.min(area.size.along(axis).clone()) } else { Exact::ZERO };
    let before = |axis| held(image.start(axis) - area.start(axis), axis);
    let after = |axis| held(area.end(axis) - image.end(axis), axis);
    Edges::new(before(Axis::X), before(Axis::Y), after(Axis::X), after(Axis::Y))
}

/// The stored pixels behind the visible part of the image.
fn window(source: &Source, image: &Rect<Delivery>, visible: &Rect<Delivery>) -> Rect<Stored> {
    let active = source.active();
    // Start and length of the visible part as shares of the image.
    let share = |axis: Axis| {
        let whole = image.size.along(axis);
        let start = (visible.start(axis) - image.start(axis)) / whole;
        (start, visible.size.along(axis) / whole)
    };
    // The stored axes as they ran before the clockwise turn.
    let along = |axis: Axis| {
        let upright = source.rotation().upright_along(axis);
        let (start, length) = share(upright.axis);
        if upright.backwards { (Exact::ONE - start - &length, length) } else { (start, length) }
    };
    let (across, down) = (along(Axis::X), along(Axis::Y));
    Rect::new(
        &active.x + &active.size.width * across.0,
        &active.y + &active.size.height * down.0,
        Size::new(active.size.width * across.1, active.size.height * down.1),
    )
}
