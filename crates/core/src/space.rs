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

use crate::Exact;

/// Pixels as the file stores them, before turning, insets included.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Stored {}

/// The picture as it is seen: desqueezed and turned; one unit is the height of one stored pixel.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Upright {}

/// Pixels of the frame that is delivered.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Delivery {}

/// One value across and one up and down, of no space: factors, or lengths whose space is named
/// where they stand.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Axes {
    /// Across.
    pub x: Exact,
    /// Up and down.
    pub y: Exact,
}

impl Axes {
    /// One value for each axis.
    pub const fn new(x: Exact, y: Exact) -> Self {
        Self { x, y }
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
            let start = self.start(axis).clone().max(other.start(axis).clone());
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
