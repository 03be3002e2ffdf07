//! What the core refuses, and why.

use std::fmt;

use crate::Exact;
use crate::fraction::Sign;
use crate::limits::{Bounds, DIGITS, LARGEST_SIDE, SMALLEST_ACTIVE_SIDE};

/// A refusal: which parameter, and what would be accepted.
///
/// The `Display` text is a phrase that says what is accepted, ready for a person.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Error {
    kind: Kind,
    parameter: &'static str,
}

#[derive(Clone, Debug, PartialEq, Eq)]
enum Kind {
    Syntax { signed: bool },
    Range { name: &'static str, accepted: String, given: String },
    Step,
    Rotation,
    NothingLeft { left: (i64, i64) },
    NoPicture,
    ResultTooLarge { side: &'static str },
    OutsidePicture,
    Entry { low: String, high: String, given: String },
    NoWindow,
    NothingShown,
    NoCell,
    Chroma { sampling: &'static str, given: u32 },
    Positive { name: &'static str, most: u32, unit: &'static str, given: String },
    Angle { most: u32, given: String },
    ViewAngle { given: String },
}

impl Error {
    pub(crate) fn syntax(sign: Sign) -> Self {
        Self::of(Kind::Syntax { signed: sign == Sign::Allowed })
    }

    pub(crate) fn range(bounds: &Bounds, given: &Exact) -> Self {
        Self::of(Kind::Range { name: bounds.name, accepted: bounds.accepted(), given: given.to_string() })
    }

    pub(crate) fn step() -> Self {
        Self::of(Kind::Step)
    }

    pub(crate) fn rotation() -> Self {
        Self::of(Kind::Rotation)
    }

    pub(crate) fn nothing_left(left: (i64, i64)) -> Self {
        Self::of(Kind::NothingLeft { left })
    }

    pub(crate) fn no_picture() -> Self {
        Self::of(Kind::NoPicture)
    }

    pub(crate) fn too_large(side: &'static str) -> Self {
        Self::of(Kind::ResultTooLarge { side })
    }

    pub(crate) fn outside_picture() -> Self {
        Self::of(Kind::OutsidePicture)
    }

    pub(crate) fn entry(low: &Exact, high: &Exact, given: &Exact) -> Self {
        let short = |value: &Exact| value.to_short_decimal(4);
        Self::of(Kind::Entry { low: short(low), high: short(high), given: short(given) })
    }

    pub(crate) fn no_window() -> Self {
        Self::of(Kind::NoWindow)
    }

    pub(crate) fn nothing_shown() -> Self {
        Self::of(Kind::NothingShown)
    }

    pub(crate) fn no_cell() -> Self {
        Self::of(Kind::NoCell)
    }

    pub(crate) fn chroma(sampling: &'static str, given: u32) -> Self {
        Self::of(Kind::Chroma { sampling, given })
    }

    pub(crate) fn positive(name: &'static str, most: u32, unit: &'static str, given: &Exact) -> Self {
        Self::of(Kind::Positive { name, most, unit, given: given.to_string() })
    }

    pub(crate) fn angle(most: u32, given: &Exact) -> Self {
        Self::of(Kind::Angle { most, given: given.to_string() })
    }

    pub(crate) fn view_angle(given: &Exact) -> Self {
        Self::of(Kind::ViewAngle { given: given.to_string() })
    }

    const fn of(kind: Kind) -> Self {
        Self { kind, parameter: "" }
    }

    /// The same refusal, laid at the door of a parameter.
    #[must_use]
    pub(crate) fn at(mut self, parameter: &'static str) -> Self {
        self.parameter = parameter;
        self
    }

    /// The parameter that caused it, by the name it has in the documented requests; empty when the
    /// refused value itself is meant.
    pub fn parameter(&self) -> &'static str {
        self.parameter
    }

    /// The text is not a fraction.
    pub fn is_syntax(&self) -> bool {
        matches!(self.kind, Kind::Syntax { .. })
    }

    /// The value is a number, but outside its bounds.
    pub fn is_range(&self) -> bool {
        matches!(
            self.kind,
            Kind::Range { .. }
                | Kind::Step
                | Kind::Rotation
                | Kind::OutsidePicture
                | Kind::Entry { .. }
                | Kind::NoWindow
                | Kind::NothingShown
                | Kind::NoCell
                | Kind::Chroma { .. }
                | Kind::Positive { .. }
                | Kind::Angle { .. }
                | Kind::ViewAngle { .. }
        )
    }

    /// Insets or a ratio leave no picture.
    pub fn is_nothing_left(&self) -> bool {
        matches!(self.kind, Kind::NothingLeft { .. } | Kind::NoPicture)
    }

    /// A side of the result would pass the largest side of a frame.
    pub fn is_too_large(&self) -> bool {
        matches!(self.kind, Kind::ResultTooLarge { .. })
    }
}

impl fmt::Display for Error {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.kind {
            Kind::Syntax { signed } => {
                write!(
                    f,
                    "a number such as 2.39, 16:9 or 24000/1001: digits with at most one decimal point between them, at \
                     most {DIGITS} digits in each part"
                )?;
                if *signed {
                    write!(f, ", a minus sign allowed in front")?;
                }
                Ok(())
            }
            Kind::Range { name, accepted, given } => write!(f, "{name} {accepted}; {given} is outside"),
            Kind::Step => write!(f, "a step of 1, 2, 4, 8 or 16 pixels"),
            Kind::Rotation => write!(f, "a clockwise turn of 0, 90, 180 or 270 degrees"),
            Kind::NothingLeft { left: (width, height) } => write!(
                f,
                "insets that leave at least {SMALLEST_ACTIVE_SIDE} stored pixels each way; these leave {} by {}",
                (*width).max(0),
                (*height).max(0)
            ),
            Kind::NoPicture => {
                write!(f, "a picture ratio nearer to the frame's own: with this one the bars leave no picture")
            }
            Kind::OutsidePicture => {
                write!(f, "a box of some size inside the picture: corner and side together at most 1 on each axis")
            }
            Kind::Entry { low, high, given } if low == high => {
                write!(f, "{low}: the whole side is seen here, so that this number cannot change; {given} is outside")
            }
            Kind::Entry { low, high, given } => {
                write!(f, "a number from {low} to {high} for this picture in this frame; {given} is outside")
            }
            Kind::NoWindow => {
                write!(f, "a number for a picture that is seen: this one lies outside the picture area")
            }
            Kind::NothingShown => {
                write!(f, "a framing that shows something: this one leaves the picture area empty")
            }
            Kind::NoCell => {
                write!(f, "insets that leave at least one whole cell of the chroma grid")
            }
            Kind::Chroma { sampling, given } => {
                write!(f, "an even number of pixels, as {sampling} sampling needs; {given} is odd")
            }
            Kind::Positive { name, most, unit, given } => {
                write!(f, "{name} over 0 and up to {most} {unit}; {given} is outside")
            }
            Kind::Angle { most, given } => {
                write!(f, "an angle of at most {most} degrees either way; {given} is outside")
            }
            Kind::ViewAngle { given } => {
                write!(f, "an angle over 0 and under 180 degrees, as a flat picture can have; {given} is outside")
            }
            Kind::ResultTooLarge { side } => {
                write!(
                    f,
                    "values whose result keeps each side within {LARGEST_SIDE} pixels; the {side} would pass that"
                )
            }
        }
    }
}

impl std::error::Error for Error {}
