//! The three pixel spaces, and sizes and rectangles that belong to one of them.
//!
//! A stored pixel, a unit of the upright picture and a delivery pixel are different lengths. Each
//! size, rectangle and offset carries its space in its type, so that mixing two does not compile:
//!
//! ```compile_fail
//! # use ratiomet_core::{Exact, space::{Delivery, Size, Stored}};
//! fn stored() -> Size<Stored> { Size::new(Exact::ONE, Exact::ONE) }
//! let delivery: Size<Delivery> = stored();
//! ```
//! ```compile_fail
//! # use ratiomet_core::{Exact, space::{Delivery, Size, Upright}};
//! fn upright() -> Size<Upright> { Size::new(Exact::ONE, Exact::ONE) }
//! let delivery: Size<Delivery> = upright();
//! ```
//! ```compile_fail
//! # use ratiomet_core::{Exact, space::{Size, Stored, Upright}};
//! fn stored() -> Size<Stored> { Size::new(Exact::ONE, Exact::ONE) }
//! let upright: Size<Upright> = stored();
//! ```
//! ```compile_fail
//! # use ratiomet_core::space::{Delivery, Rect, Stored};
//! fn cut(a: &Rect<Delivery>, b: &Rect<Stored>) { a.intersection(b); }
//! ```
//!
//! Within one space they meet:
//! ```
//! # use ratiomet_core::space::{Delivery, Rect};
//! fn cut(a: &Rect<Delivery>, b: &Rect<Delivery>) { a.intersection(b); }
//! ```
//!
//! In every space x grows to the right and y downwards, from the top left corner.

use std::marker::PhantomData;

use crate::{Exact, Rotation};

/// Pixels as the file stores them, before turning, insets included.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Stored {}

/// The picture as it is seen: desqueezed and turned; one unit is the height of one stored pixel.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Upright {}

/// Pixels of the frame that is delivered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Delivery {}

/// Lines of the frame that is delivered, as long across as down: what its pixels are when their shape
/// is corrected.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Lines {}

/// Not a length: how many times larger something becomes, or which part of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Factor {}

/// Not a length: hundredths of a factor.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Percent {}

/// One value across and one up and down, in the unit `U`: pixels of a space, [`Factor`] or [`Percent`].
///
/// Factors are no pixels:
/// ```compile_fail
/// # use ratiomet_core::space::{Axes, Delivery, Factor};
/// fn move_by(pixels: Axes<Delivery>) {}
/// fn wrong(scale: Axes<Factor>) { move_by(scale); }
/// ```
pub struct Axes<U> {
    /// Across.
    pub x: Exact,
    /// Up and down.
    pub y: Exact,
    unit: PhantomData<U>,
}

// By hand, because a derived one would ask the same of the unit.
impl<U> Clone for Axes<U> {
    fn clone(&self) -> Self {
        Self::new(self.x.clone(), self.y.clone())
    }
}

impl<U> PartialEq for Axes<U> {
    fn eq(&self, other: &Self) -> bool {
        self.x == other.x && self.y == other.y
    }
}

impl<U> Eq for Axes<U> {}

impl<U> std::fmt::Debug for Axes<U> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "({}, {})", self.x, self.y)
    }
}

impl<U> Axes<U> {
    /// One value for each axis.
    pub const fn new(x: Exact, y: Exact) -> Self {
        Self { x, y, unit: PhantomData }
    }

    /// A value worked out for each axis by the same rule.
    pub(crate) fn each(rule: impl Fn(Axis) -> Exact) -> Self {
        Self::new(rule(Axis::X), rule(Axis::Y))
    }

    /// The value of an axis.
    pub const fn of(&self, axis: Axis) -> &Exact {
        match axis {
            Axis::X => &self.x,
            Axis::Y => &self.y,
        }
    }
}

/// One of the two directions of a frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Axis {
    /// Across.
    X,
    /// Up and down.
    Y,
}

impl Axis {
    /// Both axes.
    pub const BOTH: [Self; 2] = [Self::X, Self::Y];

    /// The other direction.
    #[must_use]
    pub const fn across(self) -> Self {
        match self {
            Self::X => Self::Y,
            Self::Y => Self::X,
        }
    }

    /// The word for it, the same in every format.
    pub const fn word(self) -> &'static str {
        match self {
            Self::X => "x",
            Self::Y => "y",
        }
    }
}

/// A width and a height in one space.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Size<S> {
    /// Across.
    pub width: Exact,
    /// Up and down.
    pub height: Exact,
    space: PhantomData<S>,
}

impl<S> Size<S> {
    /// A size of the space `S`.
    pub const fn new(width: Exact, height: Exact) -> Self {
        Self { width, height, space: PhantomData }
    }

    /// The side along an axis.
    pub const fn along(&self, axis: Axis) -> &Exact {
        match axis {
            Axis::X => &self.width,
            Axis::Y => &self.height,
        }
    }

    /// The sides exchanged where a turn exchanges them.
    #[must_use]
    pub(crate) fn turned(self, rotation: Rotation) -> Self {
        if rotation.swaps_axes() { Self::new(self.height, self.width) } else { self }
    }

    /// Width times height.
    pub fn area(&self) -> Exact {
        &self.width * &self.height
    }
}

/// A rectangle in one space, by its top left corner and its size.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Rect<S> {
    /// The left edge; x grows to the right.
    pub x: Exact,
    /// The top edge; y grows downwards.
    pub y: Exact,
    /// Width and height.
    pub size: Size<S>,
}

impl<S> Rect<S> {
    /// The rectangle with this corner and size.
    pub const fn new(x: Exact, y: Exact, size: Size<S>) -> Self {
        Self { x, y, size }
    }

    /// Where the rectangle begins along an axis.
    pub const fn start(&self, axis: Axis) -> &Exact {
        match axis {
            Axis::X => &self.x,
            Axis::Y => &self.y,
        }
    }

    /// Where the rectangle ends along an axis.
    pub fn end(&self, axis: Axis) -> Exact {
        self.start(axis) + self.size.along(axis)
    }

    /// The middle of the rectangle along an axis.
    pub fn centre(&self, axis: Axis) -> Exact {
        self.start(axis) + self.size.along(axis).half()
    }

    /// What both rectangles hold; `None` when that has no area.
    pub fn intersection(&self, other: &Self) -> Option<Self> {
        let span = |axis| {
            let (one, two) = (self.start(axis), other.start(axis));
            let start = if two > one { two } else { one }.clone();
            let length = self.end(axis).min(other.end(axis)) - &start;
            length.is_positive().then_some((start, length))
        };
        let ((x, width), (y, height)) = (span(Axis::X)?, span(Axis::Y)?);
        Some(Self::new(x, y, Size::new(width, height)))
    }
}

/// Four lengths in one space, one at each side of a rectangle.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Edges<S> {
    /// At the left side.
    pub left: Exact,
    /// At the top.
    pub top: Exact,
    /// At the right side.
    pub right: Exact,
    /// At the bottom.
    pub bottom: Exact,
    space: PhantomData<S>,
}

impl<S> Edges<S> {
    /// Four lengths of the space `S`.
    pub const fn new(left: Exact, top: Exact, right: Exact, bottom: Exact) -> Self {
        Self { left, top, right, bottom, space: PhantomData }
    }

    /// Whether one of the two sides across an axis has any length.
    pub fn any_along(&self, axis: Axis) -> bool {
        match axis {
            Axis::X => self.left.is_positive() || self.right.is_positive(),
            Axis::Y => self.top.is_positive() || self.bottom.is_positive(),
        }
    }
}
