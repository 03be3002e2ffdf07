//! [`FramingSpec`] and [`Choice`]: what one conversion adds to its source and its frame.

use crate::fraction::Written;
use crate::{Framing, Method, Shift, Zoom};

/// A framing as it was entered.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FramingSpec {
    /// The rule that sets the size.
    pub method: Method,
    /// Enlargement on top of it.
    pub zoom: Written<Zoom>,
    /// Displacement to the right, in delivery pixels.
    pub shift_x: Written<Shift>,
    /// Displacement downwards, in delivery pixels.
    pub shift_y: Written<Shift>,
}

impl FramingSpec {
    /// A method alone, centred.
    pub fn of(method: Method) -> Self {
        let unmoved = || Written::plain("0", Shift::NONE);
        Self { method, zoom: Written::plain("1", Zoom::NONE), shift_x: unmoved(), shift_y: unmoved() }
    }

    /// The checked framing.
    pub fn framing(&self) -> Framing {
        Framing {
            method: self.method,
            zoom: self.zoom.value().clone(),
            shift_x: self.shift_x.value().clone(),
            shift_y: self.shift_y.value().clone(),
        }
    }
}

/// What one conversion of a project adds to its source and its frame.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Choice {
    /// It follows: the method is its source's, else its frame's, else the board's.
    Follows,
    /// It has a framing of its own.
    Own(FramingSpec),
}
