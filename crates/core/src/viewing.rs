//! [`Viewing`]: a delivered frame on the screen of somebody who watches it.

use crate::space::{Axis, Edges, Rect, Size};
use crate::{DeliveryFrame, Exact, Raster};

/// Pixels of a screen, which are square.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Screen {}

/// What a player does with a frame of another shape.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Show {
    /// All of the frame is seen.
    #[default]
    Fit,
    /// The screen is filled.
    Fill,
}

impl Show {
    /// Both.
    pub const ALL: [Self; 2] = [Self::Fit, Self::Fill];

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Fit => "fit",
            Self::Fill => "fill",
        }
    }
}

/// A frame on a screen. All lengths are exact screen pixels.
#[derive(Clone, Debug)]
pub struct Viewing {
    /// The whole frame; it may pass the screen.
    pub frame: Rect<Screen>,
    /// The part of it that the picture should fill.
    pub picture: Rect<Screen>,
    /// Black that the player adds around the frame.
    pub player_bars: Edges<Screen>,
    /// Black of the frame itself, as far as the screen shows it.
    pub baked_bars: Edges<Screen>,
    /// The part of the screen that shows picture.
    pub picture_share: Exact,
    /// The part of the picture area that the screen does not show.
    pub cut: Exact,
    /// Whether black of either sort stands on both axes.
    pub double_boxed: bool,
}

impl Viewing {
    /// A frame on a screen, in its middle.
    ///
    /// ```
    /// use ratiomet_core::{viewing::*, *};
    /// let masked = DeliveryFrame::new(
    ///     Raster::new(1920, 1080)?,
    ///     PixelAspect::SQUARE,
    ///     Some(DisplayRatio::parse("2.39")?),
    ///     Step::Two,
    /// )?;
    /// // A scope picture with baked bars on a screen of its own shape: small, boxed all around.
    /// let viewing = Viewing::of(&masked, Raster::new(2390, 1000)?, Show::Fit);
    /// assert!(viewing.double_boxed);
    /// # Ok::<(), Error>(())
    /// ```
    pub fn of(delivery: &DeliveryFrame, screen: Raster<Screen>, show: Show) -> Self {
        let lines = delivery.lines();
        let sides = screen.size();
        let (across, down) = (&sides.width / &lines.width, &sides.height / &lines.height);
        let scale = match show {
            Show::Fit => across.min(down),
            Show::Fill => across.max(down),
        };
        let size = Size::new((&lines.width * &scale).reduced(), (&lines.height * &scale).reduced());
        let corner = |axis: Axis| (sides.along(axis) - size.along(axis)).half().reduced();
        let frame: Rect<Screen> = Rect::new(corner(Axis::X), corner(Axis::Y), size);
        // Screen pixels per delivery pixel.
        let per = |axis: Axis| frame.size.along(axis) / delivery.raster().size().along(axis);
        let area = delivery.picture_area().rect();
        let start = |axis: Axis| (frame.start(axis) + area.start(axis) * per(axis)).reduced();
        let length = |axis: Axis| (area.size.along(axis) * per(axis)).reduced();
        let picture = Rect::new(start(Axis::X), start(Axis::Y), Size::new(length(Axis::X), length(Axis::Y)));
        let whole: Rect<Screen> = Rect::new(Exact::ZERO, Exact::ZERO, sides);
        let player_bars = between(&whole, &frame, &whole);
        let baked_bars = between(&frame, &picture, &whole);
        let seen = picture.intersection(&whole).map_or(Exact::ZERO, |seen| seen.size.area());
        let black = |axis| player_bars.any_along(axis) || baked_bars.any_along(axis);
        Self {
            picture_share: (&seen / whole.size.area()).reduced(),
            cut: (Exact::ONE - seen / picture.size.area()).reduced(),
            double_boxed: black(Axis::X) && black(Axis::Y),
            frame,
            picture,
            player_bars,
            baked_bars,
        }
    }
}

/// What lies between the edges of two rectangles, the inner one last, as far as the screen shows it.
fn between(outer: &Rect<Screen>, inner: &Rect<Screen>, screen: &Rect<Screen>) -> Edges<Screen> {
    let shown = |from: Exact, to: Exact, axis: Axis| {
        let from = from.max(screen.start(axis).clone());
        let to = to.min(screen.end(axis));
        let length = to - from;
        if length.is_positive() { length.reduced() } else { Exact::ZERO }
    };
    let before = |axis: Axis| shown(outer.start(axis).clone(), inner.start(axis).clone(), axis);
    let after = |axis: Axis| shown(inner.end(axis), outer.end(axis), axis);
    Edges::new(before(Axis::X), before(Axis::Y), after(Axis::X), after(Axis::Y))
}
