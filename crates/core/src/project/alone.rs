//! [`Alone`]: a source carried out by itself, without any frame of its project.

use crate::project::{Deliverable, Footage};
use crate::{Error, Exact, Framing, Method, Plan, limits};

/// How large a source is carried out by itself: whole percent of its upright picture.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct OwnSize(u32);

impl OwnSize {
    /// A whole percentage.
    ///
    /// # Errors
    /// [`Error::is_range`] outside 10 to 400.
    pub fn new(percent: u32) -> Result<Self, Error> {
        let value = Exact::whole(percent);
        if limits::OWN_SIZE.hold(&value) { Ok(Self(percent)) } else { Err(Error::range(&limits::OWN_SIZE, &value)) }
    }
}

/// A source upright in square pixels, at some share of its own size.
#[derive(Clone, Debug)]
pub struct Alone {
    /// The frame that it makes: each side the nearest even number.
    pub frame: Deliverable,
    /// How it lies in there: round, and without bars, so that less than a pixel is cut where a side was rounded.
    pub plan: Plan,
}

impl Alone {
    /// A source at some share of its own size.
    ///
    /// # Errors
    /// [`Error::is_too_large`] when a side would pass the largest side of a frame.
    pub fn of(footage: &Footage, size: OwnSize) -> Result<Self, Error> {
        let frame = Deliverable::as_footage_at(footage, &Exact::fraction(size.0.cast_signed(), 100))?;
        let plan = Plan::of(footage.geometry.source(), frame.geometry.frame(), &Framing::of(Method::Fill));
        Ok(Self { frame, plan })
    }
}
